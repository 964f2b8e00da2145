import styled from 'styled-components';
import { brokenByKind } from '@jossel/core/finish';
import type { PiecesJudged } from '@jossel/core/repeat';
import { OverPlate } from './OverPlate';
import type { PlaceView } from './handles/place-view';
import { InFirstRepeat } from './RepetitionOnPlate';
import type { Placed } from './RuledView';

const Over = styled(OverPlate)`
  pointer-events: none;
  rect {
    fill: none;
    stroke-width: 1.6px;
  }
  rect.under {
    stroke: ${({ theme }) => theme.sheet};
    stroke-width: 3.6px;
  }
  rect.line {
    stroke: ${({ theme }) => theme.mark};
  }
  rect.fused {
    stroke-dasharray: 5 3;
  }
  rect.mixed {
    stroke-dasharray: 1.5 3;
  }
`;

/** Pieces that are broken where copies of the sample meet: cut ones in a full line, fused ones in a dashed line, those of mixed tones in a dotted one. */
export function BrokenOnPlate({
  broken,
  view,
  placed,
  repeatMm,
}: {
  broken: PiecesJudged['broken'];
  view: PlaceView;
  placed: Placed;
  repeatMm: { width: number; height: number };
}) {
  return (
    <Over role="img" aria-label={`Pieces broken: ${brokenByKind(broken)}`}>
      <InFirstRepeat placed={placed} repeatMm={repeatMm}>
        {broken.map(({ kind, left, top, width, height }) => {
          const [x, y] = view.toScreen([left, top]);
          const [right, bottom] = view.toScreen([left + width, top + height]);
          const box = { x, y, width: right - x, height: bottom - y };
          return (
            <g key={`${left} ${top}`}>
              <rect className="under" {...box} />
              <rect className={`line ${kind}`} {...box} />
            </g>
          );
        })}
      </InFirstRepeat>
    </Over>
  );
}
