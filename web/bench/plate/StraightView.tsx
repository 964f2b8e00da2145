import { useEffect, useRef } from 'react';
import styled from 'styled-components';
import type { Preparation } from '@jossel/core/sample';
import type { Quad } from '@jossel/core/straighten';
import { printLength } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Quiet } from '../../controls/basics';
import { useStraightDraft } from '../use-sample';

const Frame = styled.section`
  display: grid;
  grid-template-rows: 36px minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
  header,
  footer {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 4px 12px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    white-space: nowrap;
    overflow: hidden;
  }
  footer {
    border: 0;
    border-top: 1px solid ${({ theme }) => theme.line};
    white-space: normal;
  }
  .ground {
    display: grid;
    place-items: center;
    min-height: 0;
    padding: 12px;
    overflow: hidden;
    position: relative;
  }
  canvas {
    position: absolute;
    inset: 12px;
    width: calc(100% - 24px);
    height: calc(100% - 24px);
    object-fit: contain;
  }
`;

/** What becomes of the frame, or of the area in hand: straightened, while it is dragged. */
export function StraightView({
  sample,
  settings,
  areaId,
  sizeMm,
}: {
  sample: Sample;
  settings: Preparation;
  areaId: string | null;
  sizeMm: { width: number; height: number } | null;
}) {
  const surround = useAppSelector((s) => s.settings.surround);
  const units = useAppSelector((s) => s.settings.units);
  const grid = useAppSelector((s) => s.bench.grid);
  const area = areaId ? settings.areas.find((a) => a.id === areaId) : undefined;
  const { value, sentence } = useStraightDraft(sample, settings, (area?.corners as Quad | undefined) ?? null);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!value || !canvas.current) return;
    const { width, height } = value.canvas;
    canvas.current.width = width;
    canvas.current.height = height;
    const context = canvas.current.getContext('2d')!;
    context.drawImage(value.canvas, 0, 0);
    if (!grid) return;
    context.strokeStyle = 'rgba(27, 27, 27, 0.55)';
    context.beginPath();
    for (let k = 1; k < 8; k++) {
      context.moveTo((k * width) / 8, 0);
      context.lineTo((k * width) / 8, height);
      context.moveTo(0, (k * height) / 8);
      context.lineTo(width, (k * height) / 8);
    }
    context.stroke();
  }, [value, grid]);
  return (
    <Frame aria-label="Straightened" data-ms={value ? Math.round(value.ms) : undefined}>
      <header>
        <h2>Straightened</h2>
        <Quiet>{area ? area.name : 'frame'}</Quiet>
      </header>
      <div className="ground" style={{ background: SURROUNDS[surround]! }}>
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${area ? area.name : 'The frame'} as a true rectangle`}
        />
      </div>
      <footer>
        {sentence ? (
          <span role="alert">{sentence}</span>
        ) : (
          <Quiet>
            {sizeMm && `${printLength(sizeMm.width, units, 1)} × ${printLength(sizeMm.height, units, 1)}`}
            {value && `, width to height ${value.ratio.toFixed(3)}`}
          </Quiet>
        )}
      </footer>
    </Frame>
  );
}
