import { useId } from 'react';
import styled from 'styled-components';
import type { FoundTelltale } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { OverPlate } from './OverPlate';
import { pathOf, type PlaceView } from './handles/place-view';
import type { Placed } from './RuledView';

const Over = styled(OverPlate)`
  pointer-events: none;
  g.found {
    pointer-events: all;
    cursor: pointer;
    outline: none;
  }
  text:focus-visible {
    text-decoration: underline;
  }
  text {
    pointer-events: all;
    cursor: pointer;
    outline: none;
    font-size: 12px;
    font-weight: 600;
    fill: ${({ theme }) => theme.mark};
    stroke: ${({ theme }) => theme.sheet};
    stroke-width: 3.5px;
    paint-order: stroke;
  }
`;

/** Places of the plate as shares of the repeat, wherever it begins. */
export function repeatView(
  { left, top, pxPerMm }: Placed,
  repeatMm: { width: number; height: number },
  edgesAt: readonly [number, number],
): PlaceView {
  const [w, h] = [repeatMm.width * pxPerMm, repeatMm.height * pxPerMm];
  return {
    toScreen: ([x, y]) => [left + (x + edgesAt[0]) * w, top + (y + edgesAt[1]) * h],
    toPlace: (x, y) => [(x - left) / w - edgesAt[0], (y - top) / h - edgesAt[1]],
    step: { x: 1 / Math.max(1, w), y: 1 / Math.max(1, h) },
    longSharePerPx: 1 / Math.max(w, h),
  };
}

/** Draws something at every place where it shows in the first repeat of the plate, and cuts it off at its edges. */
export function InFirstRepeat({
  placed: { left, top, pxPerMm },
  repeatMm,
  children,
}: {
  placed: Placed;
  repeatMm: { width: number; height: number };
  children: React.ReactNode;
}) {
  const id = useId();
  const [w, h] = [repeatMm.width * pxPerMm, repeatMm.height * pxPerMm];
  return (
    <>
      <clipPath id={id}>
        <rect x={left} y={top} width={w} height={h} />
      </clipPath>
      <g clipPath={`url(#${id})`}>
        {[-1, 0, 1].flatMap((y) =>
          [-1, 0, 1].map((x) => (
            <g key={`${x} ${y}`} transform={`translate(${x * w} ${y * h})`} aria-hidden={x !== 0 || y !== 0}>
              {children}
            </g>
          )),
        )}
      </g>
    </>
  );
}

/** What gives the repetition away, by number; the one in hand is outlined fully. */
export function RepetitionOnPlate({
  telltales,
  view,
  placed,
  repeatMm,
  selected,
  onSelect,
}: {
  telltales: readonly FoundTelltale[];
  view: PlaceView;
  placed: Placed;
  repeatMm: { width: number; height: number };
  selected: string | null;
  onSelect: (index: string) => void;
}) {
  const wrap = (v: number, edge: number) => {
    const shown = v + edge;
    return shown - Math.floor(shown) - edge;
  };
  const begin = view.toPlace(placed.left, placed.top);
  return (
    <Over>
      <InFirstRepeat placed={placed} repeatMm={repeatMm}>
        {telltales.map((g, k) => {
          const d = pathOf(view, g.outline, true);
          const inHand = selected === String(k);
          return (
            <g
              key={k}
              className="found"
              onPointerDown={(e) => {
                e.stopPropagation();
                onSelect(String(k));
              }}
            >
              <path d={d} fill="transparent" stroke="#F7F7F7" strokeWidth="3" />
              <path
                d={d}
                fill="transparent"
                stroke="#A6281C"
                strokeWidth={inHand ? 2.2 : 1.2}
                strokeDasharray={inHand ? 'none' : '4 3'}
              />
            </g>
          );
        })}
      </InFirstRepeat>
      {telltales.map((g, k) => {
        // The number stands where the middle is shown.
        const [x, y] = view.toScreen([wrap(g.at[0], -begin[0]), wrap(g.at[1], -begin[1])]);
        return (
          <text
            key={k}
            x={x}
            y={y}
            textAnchor="middle"
            dominantBaseline="central"
            role="button"
            tabIndex={0}
            aria-pressed={selected === String(k)}
            aria-label={`Telltale ${k + 1}, contrast ${printNumber(g.contrast, 1)} ΔE`}
            onPointerDown={(e) => {
              e.stopPropagation();
              onSelect(String(k));
            }}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              onSelect(String(k));
            }}
          >
            {k + 1}
          </text>
        );
      })}
    </Over>
  );
}
