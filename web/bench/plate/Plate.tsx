import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { MAP_NAMES, type Recipe } from '@jossel/core/finish';
import { printArea, printLength } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Button, DRAWING_SCALES, OneOf, OnOff, Progress, Quiet, scaleOptions } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { Ruler } from '../../controls/rulers';
import { benchSlice } from '../bench-slice';
import type { Drawing } from '../use-drawn';
import { SectionView } from './SectionView';
import { shrunk, tileOf } from './tile';

const Frame = styled.section`
  display: grid;
  grid-template-rows: 36px 22px minmax(0, 1fr) auto auto;
  min-height: 0;
  min-width: 0;
`;
const Caption = styled.header`
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 8px 0 10px;
  border-bottom: 1px solid ${({ theme }) => theme.line};
  min-width: 0;
  overflow: hidden;
  h2 {
    white-space: nowrap;
  }
  .end {
    margin-left: auto;
    display: flex;
    gap: 8px;
    align-items: center;
  }
`;
const Ruled = styled.div`
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  min-height: 0;
`;
const View = styled.div`
  position: relative;
  overflow: hidden;
  min-height: 0;
  cursor: grab;
  touch-action: none;
  canvas {
    display: block;
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
`;
const Line = styled.div`
  position: absolute;
  left: 0;
  right: 0;
  height: 15px;
  margin-top: -7px;
  cursor: row-resize;
  touch-action: none;
  display: flex;
  align-items: center;
  color: ${({ theme }) => theme.mark};
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  b {
    position: absolute;
    background: ${({ theme }) => theme.mark};
    color: ${({ theme }) => theme.onMark};
    width: 15px;
    text-align: center;
    font-size: 11px;
    line-height: 15px;
  }
  b:last-child {
    right: 0;
  }
`;
const Bar = styled.footer`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
  padding: 5px 8px;
  border-top: 1px solid ${({ theme }) => theme.line};
  min-height: 36px;
`;
const Working = styled.div`
  position: absolute;
  left: 8px;
  top: 8px;
  padding: 3px 8px;
  background: ${({ theme }) => theme.sheet};
  font-size: 12px;
  display: grid;
  gap: 3px;
`;

const MAP_WORDS: Record<(typeof MAP_NAMES)[number], string> = {
  colour: 'colour',
  height: 'height',
  normal: 'normals',
  roughness: 'roughness',
  metalness: 'metalness',
  occlusion: 'occlusion',
};
const FIELDS = ([1, 2, 3, 4, 5] as const).map((value) => ({ value, name: `${value}×${value}` }));

/** The finish flat, with millimetre rulers, at a drawing scale; below it the section along the line on it. */
export function Plate({ recipe, drawing }: { recipe: Recipe; drawing: Drawing }) {
  const dispatch = useAppDispatch();
  const set = (change: Parameters<typeof benchSlice.actions.changed>[0]) =>
    dispatch(benchSlice.actions.changed(change));
  const { map, scale: chosen, field, shifted, sectionAt } = useAppSelector((s) => s.bench);
  const { screenPxPerMm, surround, units } = useAppSelector((s) => s.settings);
  const { drawn, busy } = drawing;
  const view = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [box, setBox] = useState({ w: 0, h: 0 });
  const [pan, setPan] = useState({ x: 0, y: 0 });

  useLayoutEffect(() => {
    const observer = new ResizeObserver(
      ([entry]) =>
        entry && setBox({ w: Math.floor(entry.contentRect.width), h: Math.floor(entry.contentRect.height) }),
    );
    observer.observe(view.current!);
    return () => observer.disconnect();
  }, []);

  const repeat = drawn?.report.repeatMm ?? { width: 1000, height: 1000 };
  const fieldMm = { width: repeat.width * field, height: repeat.height * field };
  const fits = (s: number) =>
    (fieldMm.width * screenPxPerMm) / s <= box.w - 16 && (fieldMm.height * screenPxPerMm) / s <= box.h - 16;
  const scale = chosen ?? [...DRAWING_SCALES, 100, 200, 500].find(fits) ?? 500;
  const pxPerMm = screenPxPerMm / scale;
  // A field smaller than the view lies in its middle; a larger one can be moved as far as its edges.
  const place = (fieldPx: number, boxPx: number, moved: number) =>
    fieldPx <= boxPx ? (boxPx - fieldPx) / 2 : Math.min(24, Math.max(boxPx - fieldPx - 24, moved));
  const left = place(fieldMm.width * pxPerMm, box.w, pan.x + (box.w - fieldMm.width * pxPerMm) / 2);
  const top = place(fieldMm.height * pxPerMm, box.h, pan.y + (box.h - fieldMm.height * pxPerMm) / 2);
  const metal = recipe.response.metal;
  const tile = useMemo(() => (drawn ? tileOf(drawn, map, metal) : null), [drawn, map, metal]);

  useEffect(() => {
    const dpr = window.devicePixelRatio || 1;
    const target = canvas.current!;
    target.width = Math.max(1, Math.round(box.w * dpr));
    target.height = Math.max(1, Math.round(box.h * dpr));
    const context = target.getContext('2d')!;
    context.fillStyle = SURROUNDS[surround]!;
    context.fillRect(0, 0, target.width, target.height);
    if (!tile) return;
    const [w, h] = [repeat.width * pxPerMm * dpr, repeat.height * pxPerMm * dpr];
    const small = shrunk(tile, w, h);
    const pattern = context.createPattern(small, 'repeat')!;
    const half = shifted ? 0.5 : 0;
    pattern.setTransform(
      new DOMMatrix()
        .translate(left * dpr - half * w, top * dpr - half * h)
        .scale(w / small.width, h / small.height),
    );
    context.imageSmoothingQuality = 'high';
    context.fillStyle = pattern;
    context.fillRect(left * dpr, top * dpr, fieldMm.width * pxPerMm * dpr, fieldMm.height * pxPerMm * dpr);
  }, [
    tile,
    box,
    left,
    top,
    pxPerMm,
    shifted,
    surround,
    repeat.width,
    repeat.height,
    fieldMm.width,
    fieldMm.height,
  ]);

  const lineY = top + sectionAt * repeat.height * pxPerMm;
  const moveLine = (share: number) => set({ sectionAt: Math.min(0.999, Math.max(0.001, share)) });

  function save() {
    if (!tile) return;
    tile.toBlob((blob) => {
      if (!blob) return;
      const link = document.createElement('a');
      link.href = URL.createObjectURL(blob);
      link.download = `${map}-${tile.width}px.png`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 1000);
    }, 'image/png');
  }

  return (
    <Frame aria-label="Plate" data-drawn={drawn ? drawn.serial : undefined}>
      <Caption>
        <h2>Plate 1:{scale}</h2>
        <Quiet style={{ whiteSpace: 'nowrap' }}>{drawn && printArea(fieldMm, units)}</Quiet>
        <div className="end">
          <Choice
            hideLabel
            inline
            label="Map on the plate"
            value={map}
            options={MAP_NAMES.map((value) => ({ value, name: MAP_WORDS[value] }))}
            onChange={(value) => set({ map: value })}
          />
          <Button weight="quiet" isDisabled={!tile} onPress={save}>
            Save picture
          </Button>
        </div>
      </Caption>
      <Ruled style={{ overflow: 'hidden' }}>
        <span />
        <Ruler along="top" lengthPx={box.w} startMm={-left / pxPerMm} pxPerMm={pxPerMm} />
      </Ruled>
      <Ruled>
        <Ruler along="left" lengthPx={box.h} startMm={-top / pxPerMm} pxPerMm={pxPerMm} />
        <View
          ref={view}
          tabIndex={0}
          role="group"
          aria-label="Flat view; arrow keys move it"
          onPointerDown={(e) => {
            const start = { x: e.clientX - pan.x, y: e.clientY - pan.y };
            const target = e.currentTarget;
            target.setPointerCapture(e.pointerId);
            target.onpointermove = (m) => setPan({ x: m.clientX - start.x, y: m.clientY - start.y });
            target.onpointerup = () => (target.onpointermove = null);
          }}
          onKeyDown={(e) => {
            const by = { ArrowLeft: [40, 0], ArrowRight: [-40, 0], ArrowUp: [0, 40], ArrowDown: [0, -40] }[
              e.key
            ];
            if (!by || e.target !== e.currentTarget) return;
            e.preventDefault();
            setPan({ x: pan.x + by[0]!, y: pan.y + by[1]! });
          }}
        >
          <canvas
            ref={canvas}
            role="img"
            aria-label={`${MAP_WORDS[map]} of the finish at 1:${scale}, ${field} by ${field} repeats${shifted ? ', shifted by half' : ''}`}
          />
          {drawn && (
            <Line
              style={{ top: lineY }}
              role="slider"
              tabIndex={0}
              aria-label="Line A–A of the section"
              aria-orientation="vertical"
              aria-valuemin={0}
              aria-valuemax={Math.round(repeat.height)}
              aria-valuenow={Math.round(sectionAt * repeat.height)}
              aria-valuetext={`${printLength(sectionAt * repeat.height, units, 0)} from the top`}
              onPointerDown={(e) => {
                e.stopPropagation();
                const target = e.currentTarget;
                const start = e.clientY;
                target.setPointerCapture(e.pointerId);
                target.onpointermove = (m) =>
                  moveLine(sectionAt + (m.clientY - start) / (repeat.height * pxPerMm));
                target.onpointerup = () => (target.onpointermove = null);
              }}
              onKeyDown={(e) => {
                if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
                e.preventDefault();
                e.stopPropagation();
                moveLine(
                  sectionAt +
                    ((e.key === 'ArrowDown' ? 1 : -1) * (e.shiftKey ? 10 : 1)) / (repeat.height * pxPerMm),
                );
              }}
            >
              <svg aria-hidden="true">
                <path
                  d={`M15 7.5H${Math.max(15, box.w - 15)}`}
                  stroke="currentColor"
                  strokeWidth="1"
                  strokeDasharray="18 4 3 4"
                />
              </svg>
              <b>A</b>
              <b>A</b>
            </Line>
          )}
          {busy && !drawn && (
            <Working>
              Computing the repeat
              <Progress label="Computing the repeat" value={0.5} />
            </Working>
          )}
        </View>
      </Ruled>
      <SectionView
        drawn={drawn}
        atShare={sectionAt}
        shifted={shifted}
        fieldMm={fieldMm.width}
        window={{ widthPx: box.w, pxPerMm, startMm: -left / pxPerMm, scale }}
      />
      <Bar>
        <OneOf
          label="Drawing scale"
          value={chosen ?? 0}
          options={[{ value: 0, name: 'fit' }, ...scaleOptions]}
          onChange={(value) => {
            setPan({ x: 0, y: 0 });
            set({ scale: value === 0 ? null : value });
          }}
        />
        <OneOf
          label="Repeats shown"
          value={field}
          options={FIELDS}
          onChange={(value) => set({ field: value })}
        />
        <OnOff name="shift by half" value={shifted} onChange={(value) => set({ shifted: value })} />
      </Bar>
    </Frame>
  );
}
