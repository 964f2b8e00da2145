import styled from 'styled-components';
import { printLength } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import type { Placed } from './plate-view';
import { endsMm, moved, withEnd, type End, type SectionLine } from './section-line';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Drawn = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  color: ${({ theme }) => theme.mark};
  .cut {
    stroke: currentColor;
    /* The line of a cut: long and short by turns. */
    stroke-dasharray: 18 4 3 4;
    fill: none;
  }
  .grip {
    fill: transparent;
    pointer-events: fill;
    touch-action: none;
  }
  g[role='slider'] {
    outline: none;
    touch-action: none;
  }
  g.end {
    pointer-events: all;
    cursor: move;
    rect {
      fill: currentColor;
    }
    text {
      fill: ${({ theme }) => theme.onMark};
      font-size: 11px;
      font-weight: 650;
    }
  }
  g.end:focus-visible rect,
  g:focus-visible .cut {
    stroke: ${({ theme }) => theme.ink};
    stroke-width: 2px;
  }
`;

const BADGE_PX = 15;
/** Within this of the line it is taken hold of, px. */
const GRIP_PX = 15;

/**
 * The line that the section is taken along: it is dragged as a whole or by its ends, which are its letters; arrow keys move it
 * by pixels.
 */
export function SectionLineOnPlate({
  line,
  placed,
  repeatMm,
  fieldMm,
  onPut,
}: {
  line: SectionLine;
  placed: Placed;
  repeatMm: { width: number; height: number };
  fieldMm: { width: number; height: number };
  onPut: (line: SectionLine) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const { left, top, pxPerMm } = placed;
  const { from, to } = endsMm(line, repeatMm, fieldMm.width);
  const level = typeof line === 'number';
  const px = ([x, y]: readonly [number, number]) => [left + x * pxPerMm, top + y * pxPerMm] as const;
  const [a, b] = [px(from), px(to)];
  const drag = usePointerDrag({
    begin: (_press, apply: (begun: SectionLine, byMm: readonly [number, number]) => SectionLine) => ({
      apply,
      line,
    }),
    move: ({ apply, line: begun }, [dx, dy]) => onPut(apply(begun, [dx / pxPerMm, dy / pxPerMm])),
  });
  const keys =
    (apply: (byMm: readonly [number, number]) => SectionLine, upright: boolean) =>
    (e: React.KeyboardEvent) => {
      const by = ARROWS[e.key];
      if (!by || (upright && by[0] !== 0)) return;
      e.preventDefault();
      e.stopPropagation();
      const step = (e.shiftKey ? 10 : 1) / pxPerMm;
      onPut(apply([by[0] * step, by[1] * step]));
    };
  const move = (begun: SectionLine, by: readonly [number, number]) => moved(begun, by, repeatMm, fieldMm);
  const moveEnd = (end: End) => (begun: SectionLine, by: readonly [number, number]) => {
    const at = endsMm(begun, repeatMm, fieldMm.width)[end];
    return withEnd(begun, end, [at[0] + by[0], at[1] + by[1]], repeatMm, fieldMm);
  };
  // The letters of a level line stand at the edges of what is seen.
  const shown = (x: number) => Math.min(placed.box.w - BADGE_PX / 2, Math.max(BADGE_PX / 2, x));
  return (
    <Drawn>
      <g
        role="slider"
        tabIndex={0}
        aria-label="Line A–A of the section"
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={Math.round(repeatMm.height)}
        aria-valuenow={Math.round(from[1])}
        aria-valuetext={
          level ? `${printLength(from[1], units, 0)} from the top` : placeWords(from, to, units)
        }
        style={{ cursor: level ? 'row-resize' : 'move' }}
        {...drag(move)}
        onKeyDown={keys((by) => move(line, by), level)}
      >
        <rect
          className="grip"
          y={-GRIP_PX / 2}
          width={Math.hypot(b[0] - a[0], b[1] - a[1])}
          height={GRIP_PX}
          transform={`translate(${a[0]} ${a[1]}) rotate(${(Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI})`}
        />
        <line className="cut" x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />
      </g>
      {(['from', 'to'] as const).map((end) => {
        const [x, y] = end === 'from' ? a : b;
        return (
          <g
            key={end}
            className="end"
            role="slider"
            tabIndex={0}
            aria-label={end === 'from' ? 'Left end of the section' : 'Right end of the section'}
            aria-valuenow={Math.round((end === 'from' ? from : to)[0])}
            aria-valuetext={placeWords(from, to, units)}
            transform={`translate(${(level ? shown(x) : x) - BADGE_PX / 2} ${y - BADGE_PX / 2})`}
            {...drag(moveEnd(end))}
            onKeyDown={keys((by) => moveEnd(end)(line, by), false)}
          >
            <rect width={BADGE_PX} height={BADGE_PX} />
            <text x={BADGE_PX / 2} y={11.5} textAnchor="middle">
              A
            </text>
          </g>
        );
      })}
    </Drawn>
  );
}

const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function placeWords(
  from: readonly [number, number],
  to: readonly [number, number],
  units: 'metric' | 'imperial',
): string {
  const [a, b] = [from, to].map(([x, y]) => `${printLength(x, units, 0)}, ${printLength(y, units, 0)}`);
  return `from ${a} to ${b}`;
}
