import { distanceTo, maskWhere } from '../../raster';
import { median, Neighbours, type Pieces } from '../../pieces';

/** Pieces, and where the mortar between them is: 1, however wide it is. */
export interface Masonry {
  pieces: Pieces;
  mortar: Uint8Array;
}

/** Where a joint ends inside a piece instead of meeting another joint. */
export interface JointEnd {
  /** Place of the end, px. */
  x: number;
  y: number;
  /** Number of the piece that it ends in. */
  piece: number;
}

/** A joint is followed on a circle of so many times its half width, and at least so many pixels. */
const RADIUS = 3;
const LEAST_RADIUS_PX = 4;
const DIRECTIONS = 32;
/** What fills more of that circle is no joint that comes in from one side, but mortar all round. */
const MOST_OF_CIRCLE = 0.3;
const SQUARE = { x: 1, y: 1 };

/**
 * Ends of joints: the middle of a joint from which, on a circle about it, joint goes on in one direction only.
 * @param wraps whether the picture goes on over its edges; where it does not, what reaches an edge is no end
 */
export function jointEnds({ pieces, mortar }: Masonry, wraps: boolean): JointEnd[] {
  const { widthPx: w, heightPx: h } = pieces;
  const half = distanceTo(
    maskWhere(mortar, (v) => v === 0),
    w,
    h,
    SQUARE,
    wraps,
  ).data;
  const middles = ridge(half, new Neighbours(w, h, wraps));
  const usual = median(middles.map((i) => half[i]!));
  if (usual === undefined) return [];
  const radius = Math.max(LEAST_RADIUS_PX, Math.round(RADIUS * usual));
  const ends: JointEnd[] = [];
  for (const i of middles) {
    if (half[i]! < usual / 2) continue;
    const [x, y] = [i % w, Math.floor(i / w)];
    const on = endsAt(mortar, { x, y, w, h }, radius, wraps);
    if (on === null || ends.some((e) => isNear(e, x, y, radius, w, h))) continue;
    ends.push({ x, y, piece: pieces.label[on]! });
  }
  return ends;
}

const wrapped = (v: number, n: number) => ((v % n) + n) % n;

/** Middles of the joints: pixels of mortar that are at least as far from the faces as every pixel around them. */
function ridge(half: Float32Array, around: Neighbours): number[] {
  const out: number[] = [];
  for (let i = 0; i < half.length; i++) {
    if (half[i] === 0) continue;
    const beside = around.of(i);
    let highest = true;
    for (let k = 0; k < beside && highest; k++) highest = half[around.at[k]!]! <= half[i]!;
    if (highest) out.push(i);
  }
  return out;
}

/** The pixel that a joint points at, when from a place it goes on in one direction only, the opposite; null: it is no end. */
function endsAt(
  mortar: Uint8Array,
  { x, y, w, h }: Record<'x' | 'y' | 'w' | 'h', number>,
  radius: number,
  wraps: boolean,
): number | null {
  const around: number[] = [];
  for (let k = 0; k < DIRECTIONS; k++) {
    const angle = (2 * Math.PI * k) / DIRECTIONS;
    const [u, v] = [Math.round(x + radius * Math.cos(angle)), Math.round(y + radius * Math.sin(angle))];
    if (!wraps && (u < 0 || v < 0 || u >= w || v >= h)) return null;
    around.push(wrapped(v, h) * w + wrapped(u, w));
  }
  const begins = [...around.keys()].filter(
    (k) => mortar[around[k]!] && !mortar[around[(k + DIRECTIONS - 1) % DIRECTIONS]!],
  );
  const inJoint = around.filter((i) => mortar[i]).length;
  if (begins.length !== 1 || inJoint > MOST_OF_CIRCLE * DIRECTIONS) return null;
  return around[(begins[0]! + (inJoint >> 1) + DIRECTIONS / 2) % DIRECTIONS]!;
}

/** Whether a place belongs to an end that is known already. */
function isNear(end: JointEnd, x: number, y: number, radius: number, w: number, h: number): boolean {
  const off = (a: number, b: number, n: number) => Math.min(Math.abs(a - b), n - Math.abs(a - b));
  return off(end.x, x, w) <= 2 * radius && off(end.y, y, h) <= 2 * radius;
}
