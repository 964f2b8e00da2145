import Flatbush from 'flatbush';
import { atOnce, type Steps } from '../steps';
import type { Cell } from './cell';
import { boxOf, type Point } from './polygon';

/** Corners and edges that the cells of a layout share, on a repeat that closes on itself. */

interface Size {
  width: number;
  height: number;
}

/** A place is the same as another when they differ by less, mm. */
const SAME_MM = 1e-3;
/** A corner lies on an edge when it is nearer than this to it, mm. */
const ON_EDGE_MM = 2e-3;

/** A place brought into the repeat. */
export function within([x, y]: Point, { width, height }: Size): Point {
  const fold = (v: number, side: number) => {
    const rest = v - side * Math.floor(v / side);
    return rest >= side - SAME_MM / 2 ? 0 : rest;
  };
  return [fold(x, width), fold(y, height)];
}

const NEAR = [0, -1, 1] as const;

/** Gives every place its number; places that are one have one number. */
export class Corners {
  readonly places: Point[] = [];
  /** By column and row of a fine raster. */
  private readonly numbers = new Map<number, Map<number, number>>();

  constructor(private readonly repeatMm: Size) {}

  numberOf(place: Point): number {
    const [x, y] = within(place, this.repeatMm);
    const column = Math.round(x / SAME_MM);
    const row = Math.round(y / SAME_MM);
    for (const i of NEAR) {
      const inColumn = this.numbers.get(column + i);
      if (!inColumn) continue;
      for (const j of NEAR) {
        const known = inColumn.get(row + j);
        if (known !== undefined) return known;
      }
    }
    const own = this.numbers.get(column) ?? new Map<number, number>();
    this.numbers.set(column, own.set(row, this.places.length));
    this.places.push([x, y]);
    return this.places.length - 1;
  }
}

/** A cell with every corner of its neighbours that lies on its edges. */
export interface SplitCell {
  outline: Point[];
  /** Number of each corner. */
  corners: number[];
  /** Width of the joint at the edge from each corner on, mm. */
  jointMm: number[];
}

/** Cells whose corners or edges are looked at before others may have their turn. */
export const CELLS_BETWEEN_TURNS = 200;

/** Cells whose edges are split at the corners of others, and all of these corners. */
export interface SplitCells {
  cells: SplitCell[];
  corners: Corners;
}

/** Splits the edges of all cells at the corners of others, so that two cells that meet share whole edges. */
export const splitAtCorners = (cells: readonly Cell[], repeatMm: Size): SplitCells =>
  atOnce(splittingSteps(cells, repeatMm));

/** The same in steps. */
export function* splittingSteps(cells: readonly Cell[], repeatMm: Size): Steps<SplitCells> {
  const corners = new Corners(repeatMm);
  const numbered: number[][] = [];
  for (const [k, { outline }] of cells.entries()) {
    if (k % CELLS_BETWEEN_TURNS === 0) yield;
    numbered.push(outline.map((p) => corners.numberOf(p)));
  }
  const index = new Flatbush(Math.max(1, corners.places.length));
  if (corners.places.length === 0) index.add(0, 0);
  for (const [x, y] of corners.places) index.add(x, y);
  index.finish();
  const split: SplitCell[] = [];
  for (const [k, cell] of cells.entries()) {
    if (k % CELLS_BETWEEN_TURNS === 0) yield;
    split.push(splitCell(cell, numbered[k]!, corners, index, repeatMm));
  }
  return { cells: split, corners };
}

function splitCell(
  { outline, jointMm }: Cell,
  numbers: readonly number[],
  { places }: Corners,
  index: Flatbush,
  size: Size,
): SplitCell {
  const out: SplitCell = { outline: [], corners: [], jointMm: [] };
  outline.forEach((a, k) => {
    const b = outline[(k + 1) % outline.length]!;
    out.outline.push(a);
    out.corners.push(numbers[k]!);
    out.jointMm.push(jointMm[k]!);
    for (const { at, number } of onEdge(a, b, places, index, size)) {
      out.outline.push(at);
      out.corners.push(number);
      out.jointMm.push(jointMm[k]!);
    }
  });
  return out;
}

/** Corners that lie within an edge, from its beginning. */
function onEdge(a: Point, b: Point, places: readonly Point[], index: Flatbush, { width, height }: Size) {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const [ux, uy] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  const box = boxOf([a, b]);
  const found: { t: number; at: Point; number: number }[] = [];
  for (let i = Math.floor((box.left - 1) / width); i <= Math.floor((box.right + 1) / width); i++)
    for (let j = Math.floor((box.bottom - 1) / height); j <= Math.floor((box.top + 1) / height); j++) {
      const [dx, dy] = [i * width, j * height];
      const near = index.search(
        box.left - dx - ON_EDGE_MM,
        box.bottom - dy - ON_EDGE_MM,
        box.right - dx + ON_EDGE_MM,
        box.top - dy + ON_EDGE_MM,
      );
      for (const number of near) {
        const [px, py] = places[number]!;
        const [rx, ry] = [px + dx - a[0], py + dy - a[1]];
        const t = rx * ux + ry * uy;
        const off = Math.abs(rx * uy - ry * ux);
        if (off < ON_EDGE_MM && t > ON_EDGE_MM && t < length - ON_EDGE_MM)
          found.push({ t, at: [px + dx, py + dy], number });
      }
    }
  return found.sort((p, q) => p.t - q.t);
}

/** Two cells that share an edge, and how long it is. */
export interface Shared {
  a: number;
  b: number;
  lengthMm: number;
  /** Whether it is one cell that meets itself round the repeat. */
  itself: boolean;
}

/** Which cells meet, each pair once, with the whole length along which they do. */
export function* neighbourSteps(cells: readonly SplitCell[], repeatMm: Size): Steps<Shared[]> {
  const middles = new Corners(repeatMm);
  const edges = new Map<number, { cell: number; ux: number; uy: number }[]>();
  const pairs = new Map<string, Shared>();
  for (const [cell, { outline }] of cells.entries()) {
    if (cell % CELLS_BETWEEN_TURNS === 0) yield;
    outline.forEach((p, k) => {
      const q = outline[(k + 1) % outline.length]!;
      const [ux, uy] = [q[0] - p[0], q[1] - p[1]];
      const middle = middles.numberOf([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]);
      const here = edges.get(middle) ?? [];
      edges.set(middle, here);
      // At one place two edges run, one either way.
      const other = here.find((e) => e.ux * ux + e.uy * uy < 0);
      if (other) addPair(pairs, other.cell, cell, Math.hypot(ux, uy));
      else here.push({ cell, ux, uy });
    });
  }
  return [...pairs.values()];
}

function addPair(pairs: Map<string, Shared>, one: number, other: number, lengthMm: number): void {
  const [a, b] = one < other ? [one, other] : [other, one];
  const known = pairs.get(`${a} ${b}`);
  if (known) known.lengthMm += lengthMm;
  else pairs.set(`${a} ${b}`, { a, b, lengthMm, itself: a === b });
}
