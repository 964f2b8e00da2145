import type { PlacementMap } from '../placement';
import { whereCopiesMeet } from '../where-copies-meet';

/** How many boards a repeat is laid of; null: it is not laid of whole boards. */
export const boardsLaid = ({ cells }: PlacementMap): number | null =>
  cells?.sharp === 'by-area' && cells.boardOf ? Math.max(...cells.boardOf) + 1 : null;

/** How many lines where copies meet cross a course, on average over the whole repeat. @param along the axis of the courses */
export function linesAcrossCourses(
  map: PlacementMap,
  along: 'across' | 'up',
  widthPx: number,
  heightPx: number,
): number {
  const meet = whereCopiesMeet(map, widthPx, heightPx);
  const [length, lines, step, next] =
    along === 'across' ? [widthPx, heightPx, 1, widthPx] : [heightPx, widthPx, widthPx, 1];
  let runs = 0;
  for (let line = 0; line < lines; line++)
    for (let k = 0; k < length; k++) {
      const before = meet[line * next + ((k + length - 1) % length) * step];
      if (meet[line * next + k * step] === 1 && before === 0) runs++;
    }
  return runs / lines;
}
