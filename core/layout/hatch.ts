import type { LaidPiece, LayoutGeometry } from './lay';
import { splitAtCorners } from './net';
import { boxOf, movedBy, type Point } from './polygon';

/** The line hatch of a layout: its outlines in mm, each line once, clipped to the repeat so that it closes when tiled. */

/** A line of the hatch: from corner to corner; a closed one comes back to its first. */
export interface HatchLine {
  points: Point[];
  closed: boolean;
  /** Kind of the blend of the piece it belongs to; 0: the finish itself. */
  kind: number;
}

export const HATCH_DETAILS = ['full', 'simple'] as const;
/** full: every outline; simple: the courses alone, or every fourth outline where there are none. */
export type HatchDetail = (typeof HATCH_DETAILS)[number];

const EVERY = 4;

/** @param kindOf kind of the blend of every piece */
export function hatchOf(geometry: LayoutGeometry, kindOf: Uint8Array, detail: HatchDetail): HatchLine[] {
  if (detail === 'full') return clippedLines(outlinesOf(geometry, geometry.pieces, kindOf), geometry);
  const level = courseLines(geometry);
  return (
    level ??
    clippedLines(
      outlinesOf(
        geometry,
        geometry.pieces.filter((p) => p.id % EVERY === 0),
        kindOf,
      ),
      geometry,
    )
  );
}

/** One line for each course of rectangles that lie level; null: there are no such courses. */
function courseLines({ pieces, courses, repeatMm }: LayoutGeometry): HatchLine[] | null {
  const lower = new Map<number, number>();
  for (const { course, outline, centre } of pieces) {
    const bottom = Math.min(...outline.map(([, y]) => y));
    if (centre[1] < 0 || centre[1] > repeatMm.height) return null;
    const known = lower.get(course);
    if (known !== undefined && Math.abs(known - bottom) > 0.01) return null;
    lower.set(course, bottom);
  }
  if (lower.size < 2 || lower.size !== courses) return null;
  return [...lower.values()].map((y) => ({
    points: [
      [0, y],
      [repeatMm.width, y],
    ],
    closed: false,
    kind: 0,
  }));
}

/** Outlines of pieces; where two pieces touch, what they share is one line. */
function outlinesOf(geometry: LayoutGeometry, pieces: readonly LaidPiece[], kindOf: Uint8Array): HatchLine[] {
  const { cells } = splitAtCorners(
    pieces.map((p) => ({
      outline: p.outline,
      jointMm: p.outline.map(() => 0),
      course: 0,
      directionDeg: 0,
      nominalMm: p.nominalMm,
      kind: '',
    })),
    geometry.repeatMm,
  );
  const lines: HatchLine[] = [];
  const drawn = new Set<string>();
  cells.forEach((cell, k) => {
    const kind = kindOf[pieces[k]!.id]!;
    const fresh = cell.corners.map((from, n) => {
      const to = cell.corners[(n + 1) % cell.corners.length]!;
      const [a, b] = [cell.outline[n]!, cell.outline[(n + 1) % cell.outline.length]!];
      // Round a small repeat two lines may have the same ends: their direction is part of the name.
      const way = (dx: number, dy: number) => `${Math.round(dx * 100)} ${Math.round(dy * 100)}`;
      if (drawn.has(`${to} ${from} ${way(a[0] - b[0], a[1] - b[1])}`)) return false;
      drawn.add(`${from} ${to} ${way(b[0] - a[0], b[1] - a[1])}`);
      return true;
    });
    if (fresh.every(Boolean)) lines.push({ points: pieces[k]!.outline, closed: true, kind });
    else lines.push(...runsOf(cell.outline, fresh, kind));
  });
  return lines;
}

/** Parts of an outline that are not drawn yet, as open lines. */
function runsOf(outline: readonly Point[], fresh: readonly boolean[], kind: number): HatchLine[] {
  const n = outline.length;
  const start = fresh.indexOf(false);
  const lines: HatchLine[] = [];
  let run: Point[] = [];
  for (let step = 1; step <= n; step++) {
    const k = (start + step) % n;
    if (fresh[k]) {
      if (run.length === 0) run.push(outline[k]!);
      run.push(outline[(k + 1) % n]!);
    } else if (run.length > 0) {
      lines.push({ points: run, closed: false, kind });
      run = [];
    }
  }
  return lines;
}

const EDGE_MM = 1e-4;

/** Lines within the repeat; those that run over its edge go on at the other side. */
function clippedLines(lines: readonly HatchLine[], { repeatMm }: LayoutGeometry): HatchLine[] {
  const { width, height } = repeatMm;
  const out: HatchLine[] = [];
  for (const line of lines) {
    const { left, right, bottom, top } = boxOf(line.points);
    for (let i = Math.ceil(-right / width - EDGE_MM); i * width + left < width - EDGE_MM; i++)
      for (let j = Math.ceil(-top / height - EDGE_MM); j * height + bottom < height - EDGE_MM; j++) {
        const moved = movedBy(line.points, i * width, j * height);
        const box = boxOf(moved);
        const inside =
          box.left > -EDGE_MM &&
          box.right < width - EDGE_MM &&
          box.bottom > -EDGE_MM &&
          box.top < height - EDGE_MM;
        if (inside) out.push({ ...line, points: moved });
        else out.push(...cutToRepeat(line.closed ? [...moved, moved[0]!] : moved, repeatMm, line.kind));
      }
  }
  return out;
}

/** Parts of a line within the repeat; what lies on its far edges lies on the near ones already. */
function cutToRepeat(
  points: readonly Point[],
  repeatMm: LayoutGeometry['repeatMm'],
  kind: number,
): HatchLine[] {
  const runs: Point[][] = [];
  for (let k = 0; k + 1 < points.length; k++) {
    const part = clippedTo(points[k]!, points[k + 1]!, repeatMm);
    if (!part) continue;
    const [from, to] = part;
    const last = runs.at(-1)?.at(-1);
    if (last && Math.abs(last[0] - from[0]) + Math.abs(last[1] - from[1]) < EDGE_MM) runs.at(-1)!.push(to);
    else runs.push([from, to]);
  }
  return runs.map((run) => ({ points: run, closed: false, kind }));
}

/** The part of a straight line within the repeat (after Liang, Barsky 1984); null: there is none, or it lies on a far edge. */
function clippedTo(a: Point, b: Point, { width, height }: LayoutGeometry['repeatMm']): [Point, Point] | null {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  let [enters, leaves] = [0, 1];
  for (const [towards, room] of [
    [-dx, a[0]],
    [dx, width - a[0]],
    [-dy, a[1]],
    [dy, height - a[1]],
  ] as const) {
    if (towards === 0) {
      if (room < -EDGE_MM) return null;
      continue;
    }
    const t = room / towards;
    if (towards < 0) enters = Math.max(enters, t);
    else leaves = Math.min(leaves, t);
  }
  if ((leaves - enters) * Math.hypot(dx, dy) < EDGE_MM) return null;
  const at = (t: number): Point => [a[0] + t * dx, a[1] + t * dy];
  const part: [Point, Point] = [at(enters), at(leaves)];
  const onFarEdge =
    part.every(([x]) => Math.abs(x - width) < EDGE_MM) ||
    part.every(([, y]) => Math.abs(y - height) < EDGE_MM);
  return onFarEdge ? null : part;
}
