import { framePx, toFrame, type Frame, type Point } from '../straighten';
import type { Preparation } from './settings';

/**
 * What was marked in a picture, in a picture that shows its frame alone: places are shares of that one then.
 * @param frame of the picture that the places were marked in
 */
export function preparationInFrame(preparation: Preparation, frame: Frame): Preparation {
  const { areas, keepOuts, continuityLines, parts } = preparation;
  const moved = ([x, y]: Point): [number, number] => {
    const [u, v] = toFrame(frame, [x, y]);
    return [held(u), held(v)];
  };
  const widths = widthInFrame(frame);
  const width = (of: number) => Math.min(1, Math.max(LEAST_WIDTH, of * widths));
  return {
    bowLines: [],
    frame: null,
    areas: areas.map((area) => ({ ...area, corners: area.corners.map(moved) as typeof area.corners })),
    keepOuts: keepOuts.map((mark) =>
      mark.kind === 'stroke'
        ? { ...mark, points: mark.points.map(moved), width: width(mark.width) }
        : { ...mark, points: mark.points.map(moved) },
    ),
    continuityLines: continuityLines.map((line) => ({
      ...line,
      points: line.points.map(moved),
      width: width(line.width),
    })),
    parts: parts.map((part) => ({
      ...part,
      picks: part.picks.map((pick) => ({ ...pick, at: moved(pick.at) })),
    })),
  };
}

/** Places may lie beside the picture, but not farther than this. */
const held = (share: number): number => Math.min(2, Math.max(-1, share));
const LEAST_WIDTH = 0.0002;

/** How much larger a width is as a share of the frame's longer side than of the picture's. */
function widthInFrame(frame: Frame): number {
  const { across, up } = framePx(frame);
  return Math.max(frame.picture.widthPx, frame.picture.heightPx) / Math.max(across, up);
}
