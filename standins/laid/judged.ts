import type { StraighteningFound } from '@jossel/core/size';
import type { Point } from '@jossel/core/straighten';
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

export function judge({ laying: { truth }, shot, toSurface }: Scene, found: StraighteningFound): Judged {
  const none = truth.acrossMm === null && truth.upMm === null;
  if (found.kind === 'no-structure') return { right: none, misled: false, periodOff: null, leanDeg: null };
  const { structure } = found;
  const mm = shot.widthMm / shot.widthPx;
  const off = (share: number | null, sidePx: number, trueMm: number | null) =>
    share === null || trueMm === null
      ? share === trueMm
        ? 0
        : Infinity
      : Math.abs((share * sidePx * mm) / trueMm - 1);
  const periodOff = Math.max(
    off(structure.across, shot.widthPx, truth.acrossMm),
    off(structure.up, shot.heightPx, truth.upMm),
  );
  const shift = Math.abs(structure.stagger - truth.stagger);
  const right = !none && periodOff < SAME_PERIOD && Math.min(shift, 1 - shift) < SAME_SHIFT;
  return {
    right,
    misled: !right,
    periodOff: right ? periodOff : null,
    leanDeg: leanOf(found, shot, toSurface),
  };
}

function leanOf(
  found: Exclude<StraighteningFound, { kind: 'no-structure' }>,
  shot: Scene['shot'],
  toSurface: Scene['toSurface'],
): number {
  const corners =
    found.kind === 'leans'
      ? found.proposed.corners
      : ([
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ] as const);
  const [a, b, c, d] = corners.map(([x, y]) => toSurface([x * shot.widthPx, y * shot.heightPx])) as [
    Point,
    Point,
    Point,
    Point,
  ];
  const lying = [Math.atan2(b[1] - a[1], b[0] - a[0]), Math.atan2(c[1] - d[1], c[0] - d[0])];
  const standing = [Math.atan2(d[0] - a[0], d[1] - a[1]), Math.atan2(c[0] - b[0], c[1] - b[1])];
  // Boards without ends in line say nothing of what stands across them.
  const { across, up } = found.structure;
  const leans = [...(up === null ? [] : lying), ...(across === null ? [] : standing)];
  return (Math.max(...leans.map(Math.abs)) * 180) / Math.PI;
}
