import { useLayoutEffect, useRef, type ReactNode } from 'react';
import styled, { useTheme } from 'styled-components';
import type { Drawn } from '../../workers/render.worker';
import { printNumber } from '@jossel/core/units';
import { Quiet } from '../../controls/basics';
import type { Theme } from '../../app/theme';
import { scaleWords } from './plate-view';
import { profileAlong, type Profile, type SectionWindow } from './section-profile';
import { sizedContext } from '../../controls/canvas-size';
import { tickStep } from '../../controls/rulers';

const Box = styled.section`
  display: grid;
  grid-template-rows: 26px 1fr;
  height: 118px;
  position: relative;
  border-top: 1px solid ${({ theme }) => theme.strong};
  min-width: 0;
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 0 10px;
  }
  .drawn {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr);
    min-height: 0;
  }
  svg,
  canvas {
    display: block;
  }
  svg.depth {
    color: ${({ theme }) => theme.quiet};
    font-size: 10px;
  }
`;

const HEIGHT_PX = 90;

/** The relief along line A–A, on the same millimetre axis as the plate above it; its depth scale is stated. */
export function SectionView({
  drawn,
  window,
  atShare,
  edgesAt,
  fieldMm,
  children,
}: {
  /** A detail over its right end. */
  children?: ReactNode;
  drawn: Drawn | null;
  window: SectionWindow;
  atShare: number;
  /** Where the repeat begins on the plate, as shares of it. */
  edgesAt: readonly [number, number];
  fieldMm: number;
}) {
  const profile =
    drawn && window.widthPx > 0 ? profileAlong(drawn, window, atShare, edgesAt, fieldMm, HEIGHT_PX) : null;
  const shown = profile !== null && profile.y.length > 1;
  return (
    <Box aria-label="Section A–A">
      <header>
        <h2>Section A–A</h2>
        <Quiet>
          along {scaleWords(window.scale)}
          {profile &&
            `, deep ${profile.deep >= 1 ? `${profile.deep}:1` : `1:${Math.round(1 / profile.deep)}`}`}
          ; depth in mm
        </Quiet>
      </header>
      <div className="drawn">
        {shown ? <DepthRuler levelPx={profile.levelPx} pxPerMm={profile.pxPerDepthMm} /> : <span />}
        <Cut widthPx={window.widthPx} relief={profile} />
      </div>
      {children}
    </Box>
  );
}

/** The profile as it is cut, hatched below, with the level that stays in place; painted, as it changes with every drag. */
function Cut({ relief, widthPx }: { relief: Profile | null; widthPx: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  useLayoutEffect(() => {
    const context = sizedContext(canvas.current!, widthPx, HEIGHT_PX);
    context.fillStyle = theme.field;
    context.fillRect(0, 0, widthPx, HEIGHT_PX);
    if (!relief || relief.y.length < 2) return;
    paintCut(context, relief, theme);
    context.setLineDash([10, 3, 2, 3]);
    context.lineWidth = 0.7;
    context.strokeStyle = theme.mark;
    context.beginPath();
    context.moveTo(0, relief.levelPx);
    context.lineTo(widthPx, relief.levelPx);
    context.stroke();
  });
  return (
    <canvas
      ref={canvas}
      style={{ width: Math.max(0, widthPx), height: HEIGHT_PX }}
      role="img"
      aria-label="Profile of the relief along line A–A"
    />
  );
}

/** Distance of the lines of the hatch, px. */
const HATCH_PX = 8.5;

function paintCut(context: CanvasRenderingContext2D, { y, from }: Profile, theme: Theme): void {
  const outline = new Path2D();
  const end = from + y.length - 1;
  outline.moveTo(from, HEIGHT_PX + 2);
  y.forEach((v, k) => outline.lineTo(from + k, v));
  outline.lineTo(end, HEIGHT_PX + 2);
  outline.closePath();
  context.save();
  context.clip(outline);
  context.strokeStyle = theme.line;
  context.lineWidth = 1;
  context.beginPath();
  // Lines at 45° through the whole section; the outline keeps them to what is cut.
  for (let x = Math.floor((from - HEIGHT_PX) / HATCH_PX) * HATCH_PX; x <= end; x += HATCH_PX) {
    context.moveTo(x, HEIGHT_PX);
    context.lineTo(x + HEIGHT_PX, 0);
  }
  context.stroke();
  context.restore();
  context.strokeStyle = theme.ink;
  context.lineWidth = 1;
  context.lineJoin = 'round';
  context.stroke(outline);
}

/** Depth in millimetres beside the profile; 0 is the level that stays in place. */
function DepthRuler({ levelPx, pxPerMm }: { levelPx: number; pxPerMm: number }) {
  const step = tickStep(pxPerMm, 20);
  const digits = step < 1 ? Math.ceil(-Math.log10(step)) : 0;
  const ticks: number[] = [];
  for (let k = Math.ceil(-levelPx / pxPerMm / step); ; k++) {
    const y = levelPx + k * step * pxPerMm;
    if (y > HEIGHT_PX - 4) break;
    if (y >= 6) ticks.push(k);
  }
  return (
    <svg className="depth" width={34} height={HEIGHT_PX} aria-hidden="true">
      {ticks.map((k) => (
        <g key={k} transform={`translate(0 ${(levelPx + k * step * pxPerMm).toFixed(1)})`}>
          <path d="M34 0h-5" stroke="currentColor" />
          <text x="27" y="3.5" textAnchor="end" fill="currentColor">
            {printNumber(-k * step, digits)}
          </text>
        </g>
      ))}
    </svg>
  );
}
