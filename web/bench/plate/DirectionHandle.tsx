import styled from 'styled-components';
import type { LayoutSettings } from '@jossel/core/layout';
import { OverPlate } from './OverPlate';
import type { Placed } from './RuledView';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Dial = styled(OverPlate)`
  pointer-events: none;
  g[role='slider'] {
    pointer-events: all;
    cursor: grab;
    outline: none;
  }
  circle {
    fill: ${({ theme }) => theme.sheet};
    stroke: ${({ theme }) => theme.mark};
    stroke-width: 1.2px;
  }
  g:focus-visible circle {
    stroke-width: 3px;
  }
  path {
    fill: none;
    stroke: ${({ theme }) => theme.ink};
    stroke-width: 1.4px;
  }
  path.tick {
    stroke: ${({ theme }) => theme.quiet};
    stroke-width: 1px;
  }
`;

type Direction = LayoutSettings['turnedDeg'];
const DIRECTIONS: readonly Direction[] = [0, 45, 90, 135];
const RADIUS_PX = 19;
/** Distance from the corner of the repeat, px. */
const IN_PX = 30;

/** Which way the layout runs: a dial in the corner of the repeat, turned by pointer or arrow keys in steps of 45°. */
export function DirectionHandle({
  value,
  placed,
  repeatMm,
  onChange,
}: {
  value: Direction;
  placed: Placed;
  repeatMm: { width: number; height: number };
  onChange: (deg: Direction) => void;
}) {
  const x = placed.left + IN_PX;
  const y = placed.top + repeatMm.height * placed.pxPerMm - IN_PX;
  const step = (by: 1 | -1) => {
    const at = DIRECTIONS.indexOf(value);
    onChange(DIRECTIONS[(at + by + DIRECTIONS.length) % DIRECTIONS.length]!);
  };
  const turnTo = (dial: DOMRect, [px, py]: readonly [number, number]) => {
    const [dx, dy] = [px - dial.left - dial.width / 2, dial.top + dial.height / 2 - py];
    if (Math.hypot(dx, dy) < 4) return;
    const deg = (Math.atan2(dy, dx) * 180) / Math.PI;
    const next = DIRECTIONS[(((Math.round(deg / 45) % 4) + 4) % 4) as 0 | 1 | 2 | 3]!;
    if (next !== value) onChange(next);
  };
  const drag = usePointerDrag({
    begin: ({ target }) => target.querySelector('circle')!.getBoundingClientRect(),
    move: (dial, _by, at) => turnTo(dial, at),
  });
  return (
    <Dial>
      <g
        role="slider"
        tabIndex={0}
        aria-label="Direction of laying, on the plate"
        aria-valuemin={0}
        aria-valuemax={135}
        aria-valuenow={value}
        aria-valuetext={`${value}°`}
        transform={`translate(${x} ${y})`}
        {...drag()}
        onKeyDown={(e) => {
          const by = { ArrowUp: 1, ArrowLeft: 1, ArrowDown: -1, ArrowRight: -1 }[e.key];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          step(by as 1 | -1);
        }}
      >
        <circle r={RADIUS_PX} />
        {DIRECTIONS.map((deg) => (
          <path
            key={deg}
            className="tick"
            transform={`rotate(${-deg})`}
            d={`M${RADIUS_PX - 4} 0H${RADIUS_PX - 1}M${1 - RADIUS_PX} 0H${4 - RADIUS_PX}`}
          />
        ))}
        <path
          transform={`rotate(${-value})`}
          d={`M${4 - RADIUS_PX} 0H${RADIUS_PX - 5}M${RADIUS_PX - 11} -4.5L${RADIUS_PX - 5} 0L${RADIUS_PX - 11} 4.5`}
        />
      </g>
    </Dial>
  );
}
