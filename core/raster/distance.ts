import { squared } from '../exact';
import { atOnce, type Steps } from '../steps';
import { makePlane, type Plane } from './plane';

/**
 * Exact Euclidean distance of every pixel centre to the nearest pixel of a set, in mm, with pixels of any shape.
 * Source: Felzenszwalb, Huttenlocher, "Distance Transforms of Sampled Functions", 2012: lower envelope of parabolas,
 * one axis after the other.
 *
 * @param inside 1 for pixels of the set
 * @param mmPerPx size of a pixel
 * @param wraps the edges of the picture meet; distances are then true up to half its shorter side
 * @returns distance in mm; Infinity everywhere when the set is empty
 */
export const distanceTo = (...of: Parameters<typeof distanceSteps>): Plane => atOnce(distanceSteps(...of));

/** As `distanceTo`, left between lines. */
export function* distanceSteps(
  inside: Uint8Array,
  widthPx: number,
  heightPx: number,
  mmPerPx: { x: number; y: number },
  wraps = false,
): Steps<Plane> {
  if (wraps) return yield* distanceOverEdges(inside, widthPx, heightPx, mmPerPx);
  const out = makePlane(widthPx, heightPx);
  const { data } = out;
  for (let i = 0; i < data.length; i++) data[i] = inside[i] ? 0 : Infinity;
  const longest = Math.max(widthPx, heightPx);
  const f = new Float64Array(longest);
  const vertex = new Int32Array(longest);
  const border = new Float64Array(longest + 1);
  function line(start: number, step: number, count: number, mm: number): void {
    const s2 = mm * mm;
    let k = -1;
    for (let q = 0; q < count; q++) {
      f[q] = data[start + q * step]!;
      if (f[q] === Infinity) continue;
      let s = -Infinity;
      while (k >= 0) {
        const v = vertex[k]!;
        s = (f[q]! + s2 * q * q - f[v]! - s2 * v * v) / (2 * s2 * (q - v));
        if (s > border[k]!) break;
        k--;
      }
      k++;
      vertex[k] = q;
      border[k] = k === 0 ? -Infinity : s;
      border[k + 1] = Infinity;
    }
    if (k < 0) return;
    let j = 0;
    for (let q = 0; q < count; q++) {
      while (border[j + 1]! < q) j++;
      const v = vertex[j]!;
      data[start + q * step] = s2 * squared(q - v) + f[v]!;
    }
  }
  for (let y = 0; y < heightPx; y++) {
    yield;
    line(y * widthPx, 1, widthPx, mmPerPx.x);
  }
  for (let x = 0; x < widthPx; x++) {
    yield;
    line(x, widthPx, heightPx, mmPerPx.y);
  }
  for (let i = 0; i < data.length; i++) data[i] = Math.sqrt(data[i]!);
  return out;
}

/** The same where edges meet: with so much of the picture around it as it goes on over them. */
function* distanceOverEdges(
  inside: Uint8Array,
  w: number,
  h: number,
  mmPerPx: { x: number; y: number },
): Steps<Plane> {
  const by = Math.ceil(Math.min(w, h) / 2);
  const [wide, high] = [w + 2 * by, h + 2 * by];
  const around = new Uint8Array(wide * high);
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++)
      around[y * wide + x] = inside[((((y - by) % h) + h) % h) * w + ((((x - by) % w) + w) % w)]!;
  const { data } = yield* distanceSteps(around, wide, high, mmPerPx);
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    out.data.set(data.subarray((y + by) * wide + by, (y + by) * wide + by + w), y * w);
  return out;
}
