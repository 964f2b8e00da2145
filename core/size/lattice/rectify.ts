import { halve, makePlane, type Plane } from '../../raster';
import { compose, invert, type Homography } from '../../straighten';
import type { Features } from './features';

/** How a picture leans: small departures of a plane seen askew, about the middle of the picture. */
export interface Lean {
  /** What stands leans by this tangent; to the right towards the bottom where it is negative. */
  standing: number;
  /** What lies falls by this tangent; downwards to the right where it is negative. */
  lying: number;
  /** How much nearer the right side is than the middle, per half of the longer side, and the bottom. */
  nearer: readonly [number, number];
}

/** The map that rectifies a leaning picture of this size, in its pixels. It keeps the middle and the scale there. */
export function rectifierOf(
  { standing, lying, nearer: [g, h] }: Lean,
  widthPx: number,
  heightPx: number,
): Homography {
  const half = Math.max(widthPx, heightPx) / 2;
  const [cx, cy] = [(widthPx - 1) / 2, (heightPx - 1) / 2];
  const toMiddle: Homography = [1 / half, 0, -cx / half, 0, 1 / half, -cy / half, 0, 0, 1];
  return compose(invert(toMiddle), compose([1, standing, 0, lying, 1, 0, g, h, 1], toMiddle));
}

/** A map of a picture as it is for the picture at half the scale, each of whose pixels is four of the other. */
export const atHalfScale = (map: Homography): Homography =>
  compose([0.5, 0, -0.25, 0, 0.5, -0.25, 0, 0, 1], compose(map, [2, 0, 0.5, 0, 2, 0.5, 0, 0, 1]));

/** Features as a map takes them, at their own size. What lies beyond the edges, or next to what is not usable, is not usable. */
export function warped({ lightness, edges, usable }: Features, map: Homography): Features {
  const { widthPx: w, heightPx: h } = usable;
  const out = { lightness: makePlane(w, h), edges: makePlane(w, h), usable: makePlane(w, h) };
  const [a, b, c, d, e, f, g, i, j] = invert(map);
  for (let y = 0, to = 0; y < h; y++)
    for (let x = 0; x < w; x++, to++) {
      const scale = 1 / (g * x + i * y + j);
      const u = (a * x + b * y + c) * scale;
      const v = (d * x + e * y + f) * scale;
      if (!(u >= 0 && v >= 0 && u < w - 1 && v < h - 1)) continue;
      const x0 = Math.floor(u);
      const y0 = Math.floor(v);
      const fx = u - x0;
      const fy = v - y0;
      const k = y0 * w + x0;
      const between = (p: Float32Array) =>
        (p[k]! * (1 - fx) + p[k + 1]! * fx) * (1 - fy) + (p[k + w]! * (1 - fx) + p[k + w + 1]! * fx) * fy;
      out.lightness.data[to] = between(lightness.data);
      out.edges.data[to] = between(edges.data);
      if (between(usable.data) > 0.99) out.usable.data[to] = 1;
    }
  return out;
}

/** Steepest lean that is looked for, as a tangent: about 8°. */
const STEEPEST = 0.14;
/** Leans that are tried lie so far apart at half the scale, where lines are as distinct and quicker to follow. */
const STEP = 0.009;
const FINEST_STEP = 1e-4;
/** Lines are seen where what runs along them holds so many times what chance gives. */
const SEEN = 4;

/**
 * The direction in which a picture has lines, near to one axis: the one along which steps of lightness add up most.
 * @param lines 'lying' for lines across the picture, 'standing' for those up it
 * @returns tangent, and how far it stands above chance; null: no lines are seen
 */
export function lineDirection(
  lightness: Plane,
  usable: Plane,
  lines: 'lying' | 'standing',
): { tangent: number; strength: number } | null {
  const coarse = stepsAcross(halve(lightness), halve(usable), lines);
  const tangents: number[] = [];
  for (let t = -STEEPEST; t <= STEEPEST; t += STEP) tangents.push(t);
  const found = tangents.map((t) => strengthAt(coarse, t));
  const middle = [...found].sort((a, b) => a - b)[found.length >> 1]!;
  const best = found.indexOf(Math.max(...found));
  if (found[best]! < SEEN * middle || best === 0 || best === found.length - 1) return null;
  const strength = found[best]! / middle;
  const fine = stepsAcross(lightness, usable, lines);
  let tangent = tangents[best]!;
  let value = strengthAt(fine, tangent);
  for (let step = STEP / 2; step > FINEST_STEP; step /= 2)
    for (const t of [tangent - step, tangent + step]) {
      const v = strengthAt(fine, t);
      if (v > value) [tangent, value] = [t, v];
    }
  return { tangent, strength };
}

/** Steps of lightness across the direction of lines; row by row along them. */
interface Steps {
  along: number;
  across: number;
  data: Float32Array;
}

function stepsAcross(
  { widthPx: w, heightPx: h, data }: Plane,
  usable: Plane,
  lines: 'lying' | 'standing',
): Steps {
  const lying = lines === 'lying';
  const by = lying ? w : 1;
  const [along, across] = lying ? [w, h] : [h, w];
  const out = new Float32Array(w * h);
  for (let i = by; i < data.length; i++) {
    if (usable.data[i]! < 1 || usable.data[i - by]! < 1) continue;
    const [x, y] = [i % w, (i / w) | 0];
    out[lying ? x * h + y : i] = data[i]! - data[i - by]!;
  }
  return { along, across, data: out };
}

/** How strongly steps add up along lines of a tangent, against what chance gives: 1 where there are none. */
function strengthAt({ along, across, data }: Steps, tangent: number): number {
  const reach = Math.ceil((STEEPEST * along) / 2) + 2;
  const sums = new Float64Array(across + 2 * reach);
  const counts = new Float64Array(sums.length);
  let all = 0;
  for (let t = 0; t < along; t += 2) {
    const shift = (t - along / 2) * tangent;
    const whole = Math.floor(shift);
    const f = shift - whole;
    for (let s = 0, k = reach - whole; s < across; s++, k++) {
      const v = data[t * across + s]!;
      if (v === 0) continue;
      sums[k]! += v * (1 - f);
      sums[k - 1]! += v * f;
      counts[k]! += (1 - f) * (1 - f);
      counts[k - 1]! += f * f;
      all += v * v;
    }
  }
  let [held, n] = [0, 0];
  for (let k = 0; k < sums.length; k++)
    if (counts[k]! > along / 8) {
      held += (sums[k]! * sums[k]!) / counts[k]!;
      n++;
    }
  return n && all ? held / n / (all / ((along * across) / 2)) : 0;
}
