import { areaOf, type Outline, type Point } from './polygon';

/** Joins outlines that share whole edges. */

const key = ([x, y]: Point) => `${Math.round(x * 1e4)} ${Math.round(y * 1e4)}`;

/**
 * The outline of two areas side by side that share edges, corner by corner; null: they do not meet along one line.
 * @returns anticlockwise
 */
export function merged(a: Outline, b: Outline): Point[] | null {
  const next = new Map<string, { from: Point; to: Point }>();
  for (const outline of [a, b])
    outline.forEach((from, k) => {
      const to = outline[(k + 1) % outline.length]!;
      next.set(`${key(from)} ${key(to)}`, { from, to });
    });
  for (const [name, { from, to }] of [...next]) if (next.delete(`${key(to)} ${key(from)}`)) next.delete(name);
  const starts = new Map([...next.values()].map((edge) => [key(edge.from), edge]));
  if (starts.size !== next.size || next.size === 0) return null;
  const first = starts.values().next().value!;
  const out: Point[] = [];
  for (let edge = first; ;) {
    out.push(edge.from);
    starts.delete(key(edge.from));
    const following = starts.get(key(edge.to));
    if (!following) break;
    edge = following;
  }
  return starts.size === 0 && areaOf(out) > 0 ? out : null;
}

/** Length of the edges that two outlines share, corner by corner, mm. */
export function sharedLength(a: Outline, b: Outline): number {
  const edges = new Set(b.map((from, k) => `${key(b[(k + 1) % b.length]!)} ${key(from)}`));
  return a.reduce((sum, from, k) => {
    const to = a[(k + 1) % a.length]!;
    return edges.has(`${key(from)} ${key(to)}`) ? sum + Math.hypot(to[0] - from[0], to[1] - from[1]) : sum;
  }, 0);
}
