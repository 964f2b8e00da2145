import type { ColourPicture } from '../raster';

/**
 * A placement map says, for each place in the repeat, where in the sample it comes from. It is solved once, in mm,
 * and applied at any resolution and to every map of the sample alike, so that colour and relief stay together.
 */
export interface PlacementMap {
  repeatMm: { width: number; height: number };
  /** Copies with a weight from place to place: blended, mirrored or as it is. */
  layers: readonly Layer[];
  /** Copies cut out along outlines, as solved; in place of layers. */
  cells?: Cells;
}

/** A repeat cut from copies: a raster over it that says which copy lies where. */
export interface Cells {
  widthPx: number;
  heightPx: number;
  /** Index into `placements` for each cell. */
  copy: Uint16Array;
  placements: readonly Placement[];
  /** Which edges meet. */
  closed: { across: boolean; up: boolean };
  /**
   * Joints of a regular structure: 1 where the row and the next, the column and the next, belong to different pieces.
   * What is evened out in one piece does not go over to the next.
   */
  parted: { rows: Uint8Array; columns: Uint8Array };
  /**
   * 1 where a cell lies inside a piece that the sample shows, 0 in a joint: what meets in a joint is not evened out. None: it shows no
   * pieces.
   */
  inPiece?: Uint8Array;
  /**
   * Copies meet in joints of their own: they are neither mixed there nor evened out. `by-area`: a pixel over several cells shows of each
   * copy as much as it has of them; true, as repeats of boards were kept before version 7: the nearest cell has all.
   */
  sharp?: true | 'by-area';
  /** Number of the board that each placement is a part of; none: each is one. */
  boardOf?: readonly number[];
}

/** One copy of the sample laid over the repeat, with its weight from place to place. */
export interface Layer {
  placement: Placement;
  across: Ramp;
  up: Ramp;
}

/**
 * sample mm = offset + sign · repeat mm, on each axis (x to the right, y downwards from the top edge); where `swapped`,
 * the sample's x follows the repeat's y and the other way round.
 */
export interface Placement {
  sourceIndex: number;
  swapped?: boolean;
  signX: 1 | -1;
  signY: 1 | -1;
  offsetXMm: number;
  offsetYMm: number;
}

/** Weight along one axis: straight lines between knots; two knots at one place make a step. */
export interface Ramp {
  atMm: readonly number[];
  weight: readonly number[];
}

/** A sample at the density of the repeat's pixels, and the size of its area. */
export interface PlacedSource {
  picture: ColourPicture;
  pxPerMm: { x: number; y: number };
}

const SAME_PLACE_MM = 1e-3;

/**
 * Whether one copy runs on from a place of the repeat to its neighbour.
 * @param dxMm, dyMm the repeat's own size where the neighbour lies over an edge, else 0
 */
export function runsOn(a: Placement, b: Placement, dxMm: number, dyMm: number): boolean {
  const near = (p: number, q: number) => Math.abs(p - q) < SAME_PLACE_MM;
  if (a === b && dxMm === 0 && dyMm === 0) return true;
  if (a.sourceIndex !== b.sourceIndex || a.signX !== b.signX || a.signY !== b.signY) return false;
  if (Boolean(a.swapped) !== Boolean(b.swapped)) return false;
  const [x, y] = a.swapped ? [dyMm, dxMm] : [dxMm, dyMm];
  return near(b.offsetXMm, a.offsetXMm + a.signX * x) && near(b.offsetYMm, a.offsetYMm + a.signY * y);
}
