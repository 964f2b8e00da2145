import type { Outline, Point } from './polygon';

/**
 * Room for one piece with half of each joint around it. The cells of a bond cover its repeat without a gap and without
 * an overlap; what is left of a cell once its joints are taken off is the piece.
 */
export interface Cell {
  outline: Outline;
  /** Width of the joint at the edge from corner k to the next, mm. */
  jointMm: readonly number[];
  /** Number of the course from the bottom, from 0. */
  course: number;
  /** Along the piece, anticlockwise from the room's x. */
  directionDeg: number;
  /** Length and width that the piece has by its kind, mm. */
  nominalMm: { length: number; width: number };
  /** What a bond has more than one of: stretcher, header, dot, batten … */
  kind: string;
  /** A piece that is rounder than its cell. */
  disc?: { centre: Point; diameterMm: number };
  /** A cell that is not convex, as rough stone is: joints are taken off evenly, and corners are round by this radius, mm. */
  roundMm?: number;
  /** Face above the others, mm: a batten, a seam. */
  raisedMm?: number;
  /** One side stands out over the opposite one, mm: a slate, a shiplap board. The direction is that of the side. */
  lap?: { mm: number; directionDeg: number };
}

/** What a bond lays on its repeat. */
export interface LaidCells {
  repeatMm: { width: number; height: number };
  cells: Cell[];
  courses: number;
}

export interface RectangleKind {
  /** Joint at the vertical edges, mm. */
  acrossMm: number;
  /** Joint at the horizontal edges, mm. */
  alongMm: number;
  course: number;
  directionDeg?: number;
  kind?: string;
}

/** The cell of a rectangular piece; its direction is along x unless it is given. */
export function rectangle(
  [x, y]: Point,
  { width, height }: { width: number; height: number },
  { acrossMm, alongMm, course, directionDeg = 0, kind = 'piece' }: RectangleKind,
): Cell {
  const lying = directionDeg % 180 === 0;
  const [wide, high] = [width - acrossMm, height - alongMm];
  return {
    outline: [
      [x, y],
      [x + width, y],
      [x + width, y + height],
      [x, y + height],
    ],
    jointMm: [alongMm, acrossMm, alongMm, acrossMm],
    course,
    directionDeg,
    nominalMm: lying ? { length: wide, width: high } : { length: high, width: wide },
    kind,
  };
}
