import type { Cell, LaidCells } from '../cell';
import { Corners } from '../net';
import { movedBy } from '../polygon';

/** A rectangle that repeats, with the cells that begin in it. */
export interface Unit {
  widthMm: number;
  heightMm: number;
  cells: readonly Cell[];
  courses: number;
}

/** As many units side by side and one above another as come nearest to a size. */
export function repeatedUnit(unit: Unit, wanted: { width: number; height: number }): LaidCells {
  const across = Math.max(1, Math.round(wanted.width / unit.widthMm));
  const up = Math.max(1, Math.round(wanted.height / unit.heightMm));
  const cells: Cell[] = [];
  for (let j = 0; j < up; j++)
    for (let i = 0; i < across; i++)
      for (const cell of unit.cells)
        cells.push(copied(cell, i * unit.widthMm, j * unit.heightMm, j * unit.courses));
  return {
    repeatMm: { width: across * unit.widthMm, height: up * unit.heightMm },
    cells,
    courses: up * unit.courses,
  };
}

function copied(cell: Cell, dx: number, dy: number, courses: number): Cell {
  const { disc } = cell;
  return {
    ...cell,
    outline: movedBy(cell.outline, dx, dy),
    course: cell.course + courses,
    ...(disc ? { disc: { ...disc, centre: [disc.centre[0] + dx, disc.centre[1] + dy] as const } } : {}),
  };
}

/**
 * The rectangle of a lattice: its points within it, each with the cells of the lattice.
 * @param a,b vectors of the lattice, mm
 * @param size a rectangle whose sides are vectors of the lattice
 */
export function unitOfLattice(
  a: readonly [number, number],
  b: readonly [number, number],
  { widthMm, heightMm, courses }: { widthMm: number; heightMm: number; courses: number },
  cells: readonly Cell[],
): Unit {
  const count = Math.round((widthMm * heightMm) / Math.abs(a[0] * b[1] - a[1] * b[0]));
  const found = new Corners({ width: widthMm, height: heightMm });
  for (let ring = 0; found.places.length < count && ring <= 4 * count; ring++)
    for (let i = -ring; i <= ring; i++)
      for (let j = -ring; j <= ring; j++) {
        if (Math.max(Math.abs(i), Math.abs(j)) !== ring) continue;
        found.numberOf([i * a[0] + j * b[0], i * a[1] + j * b[1]]);
      }
  const sorted = [...found.places].sort((p, q) => p[1] - q[1] || p[0] - q[0]);
  const rows = [...new Set(sorted.map(([, y]) => Math.round(y * 100)))];
  return {
    widthMm,
    heightMm,
    courses,
    cells: sorted.flatMap(([x, y]) =>
      cells.map((cell) => copied(cell, x, y, rows.indexOf(Math.round(y * 100)))),
    ),
  };
}
