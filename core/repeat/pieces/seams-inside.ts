import type { Pieces } from '../../pieces';
import type { Plane } from '../../raster';

/** Pieces inside which a seam shows: the line along which two copies meet in them has steps that the piece has nowhere else. */

/** Steps across the line over those that the piece has in the same direction elsewhere. */
const SHOWS = 1.7;
/** Steps of less, ΔE*ab, are not seen. */
const LEAST_SEEN = 1.2;
/** The line is at least this share of the piece's shorter side. */
const LEAST_LENGTH = 0.4;
/** Both sides of a step lie so far apart, px: a seam is mixed over a pixel. */
const APART_PX = 2;

interface Steps {
  across: number;
  count: number;
  elsewhere: number;
  others: number;
}

/**
 * @param meet 1 where copies meet, one for each pixel; edges of the picture meet
 * @returns numbers of the pieces in which a seam shows
 */
export function piecesWithSeams(pieces: Pieces, lab: readonly Plane[], meet: Uint8Array): number[] {
  const along = (['x', 'y'] as const).map((axis) => stepsOf(pieces, lab, meet, axis));
  return pieces.pieces.flatMap(({ widthPx, heightPx }, k) => {
    const shows = along.some((steps) => {
      const { across, count, elsewhere, others } = steps[k]!;
      if (count < LEAST_LENGTH * Math.min(widthPx, heightPx) || others < count) return false;
      const [step, usual] = [across / count, elsewhere / others];
      return step > LEAST_SEEN && step > SHOWS * usual;
    });
    return shows ? [k] : [];
  });
}

/** Steps of each piece along one axis: across lines where copies meet, and elsewhere. */
function stepsOf(
  { widthPx: w, heightPx: h, label, pieces }: Pieces,
  lab: readonly Plane[],
  meet: Uint8Array,
  axis: 'x' | 'y',
): Steps[] {
  const out = pieces.map((): Steps => ({ across: 0, count: 0, elsewhere: 0, others: 0 }));
  const next = (i: number, by: number) => {
    const x = i % w;
    const y = (i - x) / w;
    return axis === 'x' ? y * w + ((x + by) % w) : ((y + by) % h) * w + x;
  };
  for (let i = 0; i < label.length; i++) {
    const k = label[i]!;
    const [one, middle, other] = [i, next(i, 1), next(i, APART_PX + 1)];
    const beside = next(i, APART_PX);
    if (k < 0 || label[middle] !== k || label[beside] !== k || label[other] !== k) continue;
    // Two pixels beside each other are marked where copies meet between them.
    const between = meet[middle] === 1 && meet[beside] === 1;
    if (!between && (meet[one] || meet[middle] || meet[beside] || meet[other])) continue;
    const step = Math.hypot(...lab.map(({ data }) => data[other]! - data[one]!));
    if (between) {
      out[k]!.across += step;
      out[k]!.count++;
    } else {
      out[k]!.elsewhere += step;
      out[k]!.others++;
    }
  }
  return out;
}
