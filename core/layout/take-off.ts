import type { LayoutGeometry } from './lay';
import { boxOf, turnedBy } from './polygon';

/** Quantities of a layout, for estimates. */
export interface TakeOff {
  piecesPerM2: number;
  /** Length of the joints per m², mm. */
  jointMmPerM2: number;
  /** Share of the area that is joints, 0–1. */
  jointShare: number;
  /** Share of the pieces by kind of the blend, 0–1; the finish itself first. */
  shares: number[];
  /** What is cut off from pieces of full size to make the others of the pattern, as a share of what is bought, 0–1. */
  waste: number;
}

/**
 * Quantities of a layout.
 * @param kindOf kind of the blend of every piece
 * @param kinds how many kinds the blend has, the finish itself among them
 */
export function takeOffOf(geometry: LayoutGeometry, kindOf: Uint8Array, kinds: number): TakeOff {
  const { pieces, neighbours, repeatMm } = geometry;
  const areaMm2 = repeatMm.width * repeatMm.height;
  const perM2 = (v: number) => (v * 1e6) / areaMm2;
  const laidMm2 = pieces.reduce((sum, p) => sum + p.areaMm2, 0);
  const shares = Array<number>(kinds).fill(0);
  for (const k of kindOf) shares[k]! += 1 / pieces.length;
  return {
    piecesPerM2: perM2(pieces.length),
    jointMmPerM2: perM2(neighbours.reduce((sum, n) => sum + n.lengthMm, 0)),
    jointShare: 1 - laidMm2 / areaMm2,
    shares,
    waste: wasteOf(geometry),
  };
}

/** Pieces are cut from blanks: the smallest box along the piece. */
function wasteOf({ pieces }: LayoutGeometry): number {
  let [bought, used] = [0, 0];
  for (const { outline, centre, directionDeg, areaMm2 } of pieces) {
    const box = boxOf(turnedBy(outline, -directionDeg, centre));
    bought += (box.right - box.left) * (box.top - box.bottom);
    used += areaMm2;
  }
  return bought > 0 ? 1 - used / bought : 0;
}
