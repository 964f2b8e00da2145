import { useEffect, useRef } from 'react';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { OneOf, Quiet } from '../../controls/basics';
import { scaleOptions } from '../../controls/drawing-scales';
import { sizedContext } from '../../controls/canvas-size';
import { Ruler } from '../../controls/rulers';
import { benchSlice } from '../bench-slice';
import { offerPlate } from '../keys/plate-in-view';
import { FillSheet } from '../FillSheet';
import { scaleWords, type Placed } from './plate-view';
import { usePlateView } from './use-plate-view';

export type { Placed } from './plate-view';

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
  /* While it is being moved, nothing on it takes the pointer. */
  &[data-moving] > * {
    pointer-events: none;
  }
`;
const Bar = styled.footer`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
  padding: 5px 6px;
  button {
    padding: 0 3px;
  }
  border-top: 1px solid ${({ theme }) => theme.line};
  min-height: 36px;
`;

/**
 * A flat picture of known size with millimetre rulers along its edges, at a drawing scale, that can be moved. What is on
 * it is painted by `paint` and laid over it by `children`.
 */
export function RuledView({
  name,
  title,
  keptAs,
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
  /** Under which name its place is kept while something else is shown. */
  keptAs: string;
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
  const surround = useAppSelector((s) => s.settings.surround);
  const view = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { placed, chosen, moving, zoom, fit } = usePlateView(view, keptAs, fieldMm, pans, still);
  const { box, left, top, pxPerMm, scale, moves } = placed;
  useEffect(() => offerPlate({ zoom, fit }), [zoom, fit]);

  useEffect(() => {
    const dpr = window.devicePixelRatio || 1;
    const target = canvas.current!;
    const context = sizedContext(target, box.w, box.h);
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = SURROUNDS[surround]!;
    context.fillRect(0, 0, target.width, target.height);
    // Smooth enlarging and shrinking takes too long for every step of a gesture.
    context.imageSmoothingQuality = moves ? 'low' : 'high';
    paint(context, { box, left, top, pxPerMm, scale, moves }, dpr);
  }, [paint, box, left, top, pxPerMm, scale, moves, surround]);

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
          aria-label="Flat view; arrow keys move it, plus and minus zoom"
          style={{
            cursor: moving === 'moves' ? 'grabbing' : moving === 'ready' || pans ? cursor : undefined,
          }}
          data-moving={moving ?? undefined}
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
          onChange={(value) => (value === 0 ? fit() : dispatch(benchSlice.actions.changed({ scale: value })))}
        />
        {bar}
      </Bar>
    </Frame>
  );
}
