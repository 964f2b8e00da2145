import { RectClipLines64 } from 'clipper2-ts';
import type { LaidPiece, LayoutGeometry } from './lay';
import { splitAtCorners } from './net';
import type { Point } from './polygon';

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

/** @param dealt kind of the blend of every piece */
export function hatchOf(geometry: LayoutGeometry, dealt: Uint8Array, detail: HatchDetail): HatchLine[] {
  if (detail === 'full') return clippedLines(outlinesOf(geometry, geometry.pieces, dealt), geometry);
  const level = courseLines(geometry);
  return (
    level ??
    clippedLines(
      outlinesOf(
        geometry,
        geometry.pieces.filter((p) => p.id % EVERY === 0),
        dealt,
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
function outlinesOf(geometry: LayoutGeometry, pieces: readonly LaidPiece[], dealt: Uint8Array): HatchLine[] {
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
    const kind = dealt[pieces[k]!.id]!;
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

/** Lines are clipped in whole numbers of this part of a mm. */
const PER_MM = 1e5;
const EDGE_MM = 1e-4;

/** Lines within the repeat; those that run over its edge go on at the other side. */
function clippedLines(
  lines: readonly HatchLine[],
  { repeatMm: { width, height } }: LayoutGeometry,
): HatchLine[] {
  const out: HatchLine[] = [];
  const clip = new RectClipLines64({
    left: 0,
    top: 0,
    right: Math.round(width * PER_MM),
    bottom: Math.round(height * PER_MM),
  });
  for (const line of lines) {
    const xs = line.points.map(([x]) => x);
    const ys = line.points.map(([, y]) => y);
    const [left, right, bottom, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    for (let i = Math.ceil(-right / width - EDGE_MM); i * width + left < width - EDGE_MM; i++)
      for (let j = Math.ceil(-top / height - EDGE_MM); j * height + bottom < height - EDGE_MM; j++) {
        const moved = line.points.map(([x, y]): Point => [x + i * width, y + j * height]);
        const inside = moved.every(([x, y]) => x >= 0 && x <= width && y >= 0 && y <= height);
        if (inside) out.push({ ...line, points: moved });
        else out.push(...cutAt(clip, line.closed ? [...moved, moved[0]!] : moved, line.kind));
      }
  }
  return out.filter(({ points }) => !alongFarEdge(points, width, height));
}

function cutAt(clip: RectClipLines64, points: readonly Point[], kind: number): HatchLine[] {
  const path = points.map(([x, y]) => ({ x: Math.round(x * PER_MM), y: Math.round(y * PER_MM) }));
  return clip.execute([path]).map((found) => ({
    points: found.map(({ x, y }): Point => [x / PER_MM, y / PER_MM]),
    closed: false,
    kind,
  }));
}

/** A line on the far edge of the repeat is the one on its near edge. */
const alongFarEdge = (points: readonly Point[], width: number, height: number) =>
  points.every(([x]) => Math.abs(x - width) < EDGE_MM) ||
  points.every(([, y]) => Math.abs(y - height) < EDGE_MM);
