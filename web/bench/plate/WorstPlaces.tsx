import styled from 'styled-components';
import type { RenderReport } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { OverPlate } from './OverPlate';
import type { Placed } from './RuledView';

const Mark = styled.g`
  path {
    stroke: ${({ theme }) => theme.mark};
    stroke-width: 2px;
  }
  text {
    font-size: 11px;
    fill: ${({ theme }) => theme.ink};
    stroke: ${({ theme }) => theme.sheet};
    stroke-width: 3px;
    paint-order: stroke;
  }
`;
const Over = styled(OverPlate)`
  pointer-events: none;
`;

const wrap = (v: number) => v - Math.floor(v);

export interface EdgeMarks {
  placed: Placed;
  repeatMm: { width: number; height: number };
  /** Where the edges of the repeat are shown, as shares of it from the corner of what is shown. */
  edgesAt: readonly [number, number];
  seam: RenderReport['seam'];
}

/** Where both edges of the repeat show most, marked across them with the figure there. */
export function WorstMarks({ placed: { left, top, pxPerMm }, repeatMm, edgesAt, seam }: EdgeMarks) {
  const [w, h] = [repeatMm.width * pxPerMm, repeatMm.height * pxPerMm];
  const [x, y] = [left + edgesAt[0] * w, top + edgesAt[1] * h];
  const mark = (upright: boolean) => {
    const { at, figure } = upright ? seam.worst.acrossWidth : seam.worst.acrossHeight;
    // On the upright edge the place runs down from the top edge, wherever that is shown.
    const [px, py] = upright ? [x, top + wrap(at + edgesAt[1]) * h] : [left + wrap(at + edgesAt[0]) * w, y];
    return (
      <Mark aria-hidden="true">
        <path d={upright ? `M${px - 9} ${py}h18` : `M${px} ${py - 9}v18`} />
        <text x={px + 12} y={py - 5}>
          {printNumber(figure, 2)} here
        </text>
      </Mark>
    );
  };
  return (
    <>
      {mark(true)}
      {mark(false)}
    </>
  );
}

/** The same where the repeat is shown several times: on the edges between its first copies. */
export const WorstPlaces = (marks: Omit<EdgeMarks, 'edgesAt'>) => (
  <Over role="img" aria-label="Where the edges of the repeat show most">
    <WorstMarks {...marks} edgesAt={[1, 1]} />
  </Over>
);
