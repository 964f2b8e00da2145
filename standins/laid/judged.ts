import type { FoundStructure } from '@jossel/core/size';
import { UNIT_SQUARE, type Point } from '@jossel/core/straighten';
import type { Scene } from './scenes';

/** How what was found of a scene stands to the truth. */
export interface Judged {
  /** The lattice is the true one, or rightly none. */
  right: boolean;
  /** It was used although it is not the true one. */
  misled: boolean;
  /** Largest error of a period that was found right, as a share; null: none was. */
  periodOff: number | null;
  /** How far those sides of the proposed frame that the structure tells lean on the surface, at most, degrees. */
  leanDeg: number | null;
}

/** A period is the true one when it is off by less, as a share, and a shift by less. */
const SAME_PERIOD = 0.01;
const SAME_SHIFT = 0.01;

export function judge({ laying: { truth }, shot, toSurface }: Scene, found: FoundStructure): Judged {
  const none = truth.acrossMm === null && truth.upMm === null;
  if (!found.across && !found.up) return { right: none, misled: false, periodOff: null, leanDeg: null };
  const mm = shot.widthMm / shot.widthPx;
  const off = (axis: FoundStructure['across'], sidePx: number, trueMm: number | null) =>
    axis === null || trueMm === null
      ? axis === trueMm
        ? 0
        : Infinity
      : Math.abs((axis.period * sidePx * mm) / trueMm - 1);
  const periodOff = Math.max(
    off(found.across, shot.widthPx, truth.acrossMm),
    off(found.up, shot.heightPx, truth.upMm),
  );
  const shift = Math.abs((found.stagger ?? 0) - truth.stagger);
  const right = !none && periodOff < SAME_PERIOD && Math.min(shift, 1 - shift) < SAME_SHIFT;
  return {
    right,
    misled: !right,
    periodOff: right ? periodOff : null,
    leanDeg: leanOf(found, shot, toSurface),
  };
}

function leanOf(found: FoundStructure, shot: Scene['shot'], toSurface: Scene['toSurface']): number {
  const corners = found.straighten?.corners ?? UNIT_SQUARE;
  const [a, b, c, d] = corners.map(([x, y]) => toSurface([x * shot.widthPx, y * shot.heightPx])) as [
    Point,
    Point,
    Point,
    Point,
  ];
  const lying = [Math.atan2(b[1] - a[1], b[0] - a[0]), Math.atan2(c[1] - d[1], c[0] - d[0])];
  const standing = [Math.atan2(d[0] - a[0], d[1] - a[1]), Math.atan2(c[0] - b[0], c[1] - b[1])];
  // Boards without ends in line say nothing of what stands across them.
  const { across, up } = found;
  const leans = [...(up === null ? [] : lying), ...(across === null ? [] : standing)];
  return (Math.max(...leans.map(Math.abs)) * 180) / Math.PI;
}
