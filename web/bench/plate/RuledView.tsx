import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { DRAWING_SCALES, OneOf, Quiet, scaleOptions } from '../../controls/basics';
import { Ruler } from '../../controls/rulers';
import { benchSlice } from '../bench-slice';
import { FillSheet } from '../FillSheet';

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
    flex: none;
    display: flex;
    gap: 8px;
    align-items: center;
  }
`;
const Ruled = styled.div`
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  /* The ruler is as long as the view was: it must not hold the view open when that shrinks. */
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
  overflow: hidden;
`;
const View = styled.div`
  position: relative;
  overflow: hidden;
  min-height: 0;
  touch-action: none;
  > canvas {
    display: block;
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
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

/** Drawing scales, with those in between that sheets use as well, so that what is shown fills the view. */
const FITTING = [
  0.1,
  0.2,
  0.25,
  0.5,
  0.75,
  ...DRAWING_SCALES,
  1.5,
  2.5,
  3,
  4,
  6,
  7.5,
  12.5,
  15,
  25,
  30,
  40,
  75,
  100,
  150,
  200,
  500,
].sort((a, b) => a - b);

const scaleWords = (scale: number) =>
  scale < 1 ? `${Number((1 / scale).toPrecision(2))}:1` : `1:${Number(scale.toPrecision(2))}`;

/** How a field of known size lies in the view: screen pixel = left + mm · pxPerMm. */
export interface Placed {
  box: { w: number; h: number };
  left: number;
  top: number;
  pxPerMm: number;
  /** Drawing scale as 1 : scale. */
  scale: number;
}

/**
 * A flat picture of known size with millimetre rulers along its edges, at a drawing scale, that can be moved. What is on
 * it is painted by `paint` and laid over it by `children`.
 */
export function RuledView({
  name,
  title,
  fieldMm,
  quiet,
  end,
  about,
  paint,
  children,
  below,
  bar,
  cursor = 'grab',
  pans = true,
  still = false,
  data,
}: {
  name: string;
  title: string;
  fieldMm: { width: number; height: number };
  quiet?: React.ReactNode;
  end?: React.ReactNode;
  /** What the picture shows, for those who do not see it. */
  about: (placed: Placed) => string;
  /** Draws onto the canvas; told again whenever it changes. */
  paint: (context: CanvasRenderingContext2D, placed: Placed, dpr: number) => void;
  children?: (placed: Placed) => React.ReactNode;
  below?: (placed: Placed) => React.ReactNode;
  bar?: React.ReactNode;
  cursor?: string;
  /** Dragging the ground moves the picture. */
  pans?: boolean;
  /** Fills the view whatever its size in mm, so that it does not move under the hand while its size is worked out. */
  still?: boolean;
  data?: Record<string, string | number | undefined>;
}) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.bench.scale);
  const { screenPxPerMm, surround } = useAppSelector((s) => s.settings);
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

  const fits = (s: number) =>
    (fieldMm.width * screenPxPerMm) / s <= box.w - 16 && (fieldMm.height * screenPxPerMm) / s <= box.h - 16;
  const tightly = Math.max(
    (fieldMm.width * screenPxPerMm) / Math.max(1, box.w - 24),
    (fieldMm.height * screenPxPerMm) / Math.max(1, box.h - 24),
  );
  const scale = chosen ?? (still ? tightly : (FITTING.find(fits) ?? 500));
  const pxPerMm = screenPxPerMm / scale;
  // A field smaller than the view lies in its middle; a larger one can be moved as far as its edges.
  const place = (fieldPx: number, boxPx: number, moved: number) =>
    fieldPx <= boxPx ? (boxPx - fieldPx) / 2 : Math.min(24, Math.max(boxPx - fieldPx - 24, moved));
  const left = place(fieldMm.width * pxPerMm, box.w, pan.x + (box.w - fieldMm.width * pxPerMm) / 2);
  const top = place(fieldMm.height * pxPerMm, box.h, pan.y + (box.h - fieldMm.height * pxPerMm) / 2);
  const placed: Placed = { box, left, top, pxPerMm, scale };

  useEffect(() => {
    const dpr = window.devicePixelRatio || 1;
    const target = canvas.current!;
    target.width = Math.max(1, Math.round(box.w * dpr));
    target.height = Math.max(1, Math.round(box.h * dpr));
    const context = target.getContext('2d')!;
    context.fillStyle = SURROUNDS[surround]!;
    context.fillRect(0, 0, target.width, target.height);
    paint(context, { box, left, top, pxPerMm, scale }, dpr);
  }, [paint, box, left, top, pxPerMm, scale, surround]);

  return (
    <Frame aria-label={name} {...data}>
      <Caption>
        <h2>
          {title} {still && chosen === null ? 'about ' : ''}
          {scaleWords(scale)}
        </h2>
        <Quiet style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis', minWidth: 0 }}>
          {quiet}
        </Quiet>
        <div className="end">
          {end}
          <FillSheet view="plate" />
        </div>
      </Caption>
      <Ruled>
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
          style={{ cursor }}
          onPointerDown={(e) => {
            if (!pans && e.button !== 1) return;
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
          <canvas ref={canvas} role="img" aria-label={about(placed)} />
          {children?.(placed)}
        </View>
      </Ruled>
      {below?.(placed) ?? <span />}
      <Bar>
        <OneOf
          label="Drawing scale"
          value={chosen ?? 0}
          options={[{ value: 0, name: 'fit' }, ...scaleOptions]}
          onChange={(value) => {
            setPan({ x: 0, y: 0 });
            dispatch(benchSlice.actions.changed({ scale: value === 0 ? null : value }));
          }}
        />
        {bar}
      </Bar>
    </Frame>
  );
}
