import { makePlane, type Plane } from '../../raster';
import { compose, invert, type Homography } from '../../straighten';

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

/** A plane as a map takes it, at its own size; what lies beyond its edges is 0. */
export function warped(plane: Plane, map: Homography): Plane {
  const { widthPx: w, heightPx: h, data } = plane;
  const out = makePlane(w, h);
  const [a, b, c, d, e, f, g, i, j] = invert(map);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const scale = 1 / (g * x + i * y + j);
      const [u, v] = [(a * x + b * y + c) * scale, (d * x + e * y + f) * scale];
      if (!(u >= 0 && v >= 0 && u < w - 1 && v < h - 1)) continue;
      const [x0, y0] = [Math.floor(u), Math.floor(v)];
      const [fx, fy] = [u - x0, v - y0];
      const k = y0 * w + x0;
      out.data[y * w + x] =
        (data[k]! * (1 - fx) + data[k + 1]! * fx) * (1 - fy) +
        (data[k + w]! * (1 - fx) + data[k + w + 1]! * fx) * fy;
    }
  return out;
}

/** Steepest lean that is looked for, as a tangent: about 8°. */
const STEEPEST = 0.14;
const STEP = 0.0045;
/** Lines are seen where what runs along them holds so many times what chance gives. */
const SEEN = 4;

/**
 * The direction in which a picture has lines, near to one axis: the one along which steps of lightness add up most.
 * @param lines 'lying' for lines across the picture, 'standing' for those up it
 * @returns tangent, and how far it stands above chance; null: no lines are seen
 */
export function lineDirection(
  { widthPx: w, heightPx: h, data }: Plane,
  usable: Plane,
  lines: 'lying' | 'standing',
): { tangent: number; strength: number } | null {
  const lying = lines === 'lying';
  const by = lying ? w : 1;
  const [along, across] = lying ? [w, h] : [h, w];
  const steps = new Float32Array(w * h);
  for (let i = by; i < data.length; i++)
    if (usable.data[i]! >= 1 && usable.data[i - by]! >= 1) steps[i] = data[i]! - data[i - by]!;
  const strengthAt = (tangent: number) => {
    const reach = Math.ceil((STEEPEST * along) / 2) + 2;
    const sums = new Float64Array(across + 2 * reach);
    const counts = new Float64Array(sums.length);
    let all = 0;
    for (let t = 0; t < along; t += 2) {
      const shift = (t - along / 2) * tangent;
      const whole = Math.floor(shift);
      const f = shift - whole;
      for (let s = 0; s < across; s++) {
        const v = steps[lying ? s * w + t : t * w + s]!;
        if (v === 0) continue;
        const k = s - whole + reach;
        sums[k]! += v * (1 - f);
        sums[k - 1]! += v * f;
        counts[k]! += (1 - f) * (1 - f);
        counts[k - 1]! += f * f;
        all += v * v;
      }
    }
    let held = 0;
    let n = 0;
    for (let k = 0; k < sums.length; k++)
      if (counts[k]! > along / 8) {
        held += (sums[k]! * sums[k]!) / counts[k]!;
        n++;
      }
    return n && all ? held / n / (all / ((along * across) / 2)) : 0;
  };
  const tangents: number[] = [];
  for (let t = -STEEPEST; t <= STEEPEST; t += STEP) tangents.push(t);
  const found = tangents.map(strengthAt);
  const middle = [...found].sort((a, b) => a - b)[found.length >> 1]!;
  const best = found.indexOf(Math.max(...found));
  if (found[best]! < SEEN * middle || best === 0 || best === found.length - 1) return null;
  let [tangent, value] = [tangents[best]!, found[best]!];
  for (let step = STEP / 2; step > 1e-4; step /= 2)
    for (const t of [tangent - step, tangent + step]) {
      const v = strengthAt(t);
      if (v > value) [tangent, value] = [t, v];
    }
  return { tangent, strength: value / middle };
}
