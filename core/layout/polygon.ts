/** Polygons in mm, x to the right and y up, their corners anticlockwise, without a repeated last corner. */

export type Point = readonly [x: number, y: number];
export type Outline = readonly Point[];

/** Area, mm²; negative where the corners run clockwise. */
export function areaOf(outline: Outline): number {
  let twice = 0;
  for (let k = 0; k < outline.length; k++) {
    const [ax, ay] = outline[k]!;
    const [bx, by] = outline[(k + 1) % outline.length]!;
    twice += ax * by - bx * ay;
  }
  return twice / 2;
}

export function perimeterOf(outline: Outline): number {
  let length = 0;
  for (let k = 0; k < outline.length; k++) {
    const [a, b] = [outline[k]!, outline[(k + 1) % outline.length]!];
    length += Math.hypot(b[0] - a[0], b[1] - a[1]);
  }
  return length;
}

/** Centre of area; of corners where there is no area. */
export function centreOf(outline: Outline): Point {
  const [ox, oy] = outline[0]!;
  let [twice, x, y] = [0, 0, 0];
  for (let k = 0; k < outline.length; k++) {
    const [ax, ay] = [outline[k]![0] - ox, outline[k]![1] - oy];
    const next = outline[(k + 1) % outline.length]!;
    const [bx, by] = [next[0] - ox, next[1] - oy];
    const cross = ax * by - bx * ay;
    twice += cross;
    x += (ax + bx) * cross;
    y += (ay + by) * cross;
  }
  if (twice !== 0) return [ox + x / (3 * twice), oy + y / (3 * twice)];
  const sum = outline.reduce<Point>((s, p) => [s[0] + p[0], s[1] + p[1]], [0, 0]);
  return [sum[0] / outline.length, sum[1] / outline.length];
}

export interface Box {
  left: number;
  bottom: number;
  right: number;
  top: number;
}

export function boxOf(outline: Outline): Box {
  const box = { left: Infinity, bottom: Infinity, right: -Infinity, top: -Infinity };
  for (const [x, y] of outline) {
    box.left = Math.min(box.left, x);
    box.bottom = Math.min(box.bottom, y);
    box.right = Math.max(box.right, x);
    box.top = Math.max(box.top, y);
  }
  return box;
}

export const movedBy = (outline: Outline, dx: number, dy: number): Point[] =>
  outline.map(([x, y]) => [x + dx, y + dy]);

/** Turned anticlockwise about a place. */
export function turnedBy(outline: Outline, deg: number, about: Point = [0, 0]): Point[] {
  const [cos, sin] = quarterExact(deg);
  return outline.map(([x, y]) => {
    const [dx, dy] = [x - about[0], y - about[1]];
    return [about[0] + cos * dx - sin * dy, about[1] + sin * dx + cos * dy];
  });
}

/** Cosine and sine of an angle, exact at whole quarters of a turn. */
export function quarterExact(deg: number): [cos: number, sin: number] {
  const quarters = deg / 90;
  if (Number.isInteger(quarters)) {
    const turn = ((quarters % 4) + 4) % 4;
    return [
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
    ][turn] as [number, number];
  }
  const angle = (deg * Math.PI) / 180;
  return [Math.cos(angle), Math.sin(angle)];
}

/** Below this a corner or a difference of lengths is none: a thousandth of what can be laid, mm. */
export const SAME_PLACE_MM = 1e-4;

/**
 * Moves every edge inwards by its own distance, keeping corners sharp.
 * @param outline corners anticlockwise
 * @param inMm of the edge from corner k to the next
 * @returns null: nothing is left
 */
export function insetByEdges(outline: Outline, inMm: readonly number[]): Point[] | null {
  const n = outline.length;
  const edges = outline.map((a, k) => {
    const b = outline[(k + 1) % n]!;
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const [ux, uy] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
    return { x: a[0] - uy * inMm[k]!, y: a[1] + ux * inMm[k]!, ux, uy };
  });
  const out: Point[] = [];
  for (let k = 0; k < n; k++) {
    const before = edges[(k + n - 1) % n]!;
    const after = edges[k]!;
    const cross = before.ux * after.uy - before.uy * after.ux;
    // Edges that run on in one line have no crossing: the corner moves straight inwards.
    if (Math.abs(cross) < 1e-9) {
      out.push([after.x, after.y]);
      continue;
    }
    const t = ((after.x - before.x) * after.uy - (after.y - before.y) * after.ux) / cross;
    out.push([before.x + t * before.ux, before.y + t * before.uy]);
  }
  return keepsItsEdges(edges, out) ? out : null;
}

/** Whether every edge still runs the way it did. */
function keepsItsEdges(edges: readonly { ux: number; uy: number }[], outline: Outline): boolean {
  return edges.every(({ ux, uy }, k) => {
    const [a, b] = [outline[k]!, outline[(k + 1) % outline.length]!];
    return (b[0] - a[0]) * ux + (b[1] - a[1]) * uy > -SAME_PLACE_MM;
  });
}

/** Leaves out corners that lie on a straight line between their neighbours. */
export function withoutStraightCorners(outline: Outline): Point[] {
  const n = outline.length;
  return outline.filter((p, k) => {
    const [a, b] = [outline[(k + n - 1) % n]!, outline[(k + 1) % n]!];
    const [ux, uy] = [p[0] - a[0], p[1] - a[1]];
    const [vx, vy] = [b[0] - p[0], b[1] - p[1]];
    return Math.abs(ux * vy - uy * vx) > 1e-9 * (Math.hypot(ux, uy) * Math.hypot(vx, vy) + 1e-9);
  });
}

/**
 * The part of an outline behind a line (Sutherland, Hodgman 1974); what falls apart stays joined along the line, with the area it has.
 * @param normal points to what is cut off
 */
export function cutOff(outline: Outline, [x, y]: Point, [nx, ny]: Point): Point[] {
  const side = outline.map(([px, py]) => (px - x) * nx + (py - y) * ny);
  const out: Point[] = [];
  outline.forEach((p, k) => {
    const n = (k + 1) % outline.length;
    const [q, a, b] = [outline[n]!, side[k]!, side[n]!];
    if (a <= 0) out.push(p);
    if (a < 0 !== b < 0 && a !== 0 && b !== 0) {
      const t = a / (a - b);
      out.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
    }
  });
  return out;
}

/** The convex outline about some corners (Andrew's monotone chain). */
export function hullOf(outline: Outline): Point[] {
  const sorted = [...outline].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (points: readonly Point[]) => {
    const chain: Point[] = [];
    for (const p of points) {
      while (chain.length >= 2) {
        const [a, b] = [chain[chain.length - 2]!, chain[chain.length - 1]!];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/** Whether a place lies within an outline (even-odd). */
export function holds(outline: Outline, [x, y]: Point): boolean {
  let inside = false;
  outline.forEach(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length]!;
    if (ay <= y !== by <= y && x < ax + ((y - ay) * (bx - ax)) / (by - ay)) inside = !inside;
  });
  return inside;
}
