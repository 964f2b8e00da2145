import { squared } from '../exact';
import { blurSteps, halve, makePlane, type Plane } from '../raster';
import { rowSpans, spans, type Steps } from '../steps';
import { scaleSteps } from './joints';

/** Planes smaller than this are not divided further. */
const LEAST_PX = 8;
/** Standard deviation of the blur before a plane is halved, px. */
const BEFORE_HALVING_PX = 1;

/**
 * Holds the slope of every octave of detail below a bound: a height is divided into octaves of wavelength (Laplacian pyramid,
 * Burt, Adelson 1983), and each that stands steeper is scaled down to it. What is longer than the last octave is held as one.
 * @param height one repeat, mm
 * @param mmPerPx size of a pixel
 * @param steepestDeg root mean square slope that every octave may have
 */
export function* boundedSlopesSteps(
  height: Plane,
  mmPerPx: { x: number; y: number },
  steepestDeg: number,
): Steps<Plane> {
  if (steepestDeg >= 90) return height;
  const { widthPx: w, heightPx: h } = height;
  const most = Math.tan((steepestDeg * Math.PI) / 180);
  /** Scales an octave down to the bound where it is steeper. */
  const hold = function* ({ data, ...px }: Plane): Steps<void> {
    const slope = yield* slopeSteps({ data, ...px }, mmPerPx);
    if (!(slope > most)) return;
    const gain = most / slope;
    for (const { from, to } of spans(data.length)) {
      yield;
      for (let i = from; i < to; i++) data[i]! *= gain;
    }
  };
  if (Math.min(w, h) < 2 * LEAST_PX) {
    const whole = { ...height, data: height.data.slice() };
    yield* hold(whole);
    return whole;
  }
  const soft = yield* blurSteps(height, BEFORE_HALVING_PX, BEFORE_HALVING_PX);
  yield;
  const longer = halve(soft);
  const { data: without } = yield* scaleSteps(longer, w, h);
  const fine = makePlane(w, h);
  for (const { from, to } of spans(without.length)) {
    yield;
    for (let i = from; i < to; i++) fine.data[i] = height.data[i]! - without[i]!;
  }
  yield* hold(fine);
  const mm = { x: (mmPerPx.x * w) / longer.widthPx, y: (mmPerPx.y * h) / longer.heightPx };
  const { data: bounded } = yield* scaleSteps(yield* boundedSlopesSteps(longer, mm, steepestDeg), w, h);
  for (const { from, to } of spans(bounded.length)) {
    yield;
    for (let i = from; i < to; i++) fine.data[i]! += bounded[i]!;
  }
  return fine;
}

/** Root mean square slope of a height that closes on itself, as a tangent. */
function* slopeSteps({ widthPx: w, heightPx: h, data }: Plane, mm: { x: number; y: number }): Steps<number> {
  let sum = 0;
  for (const { from, to } of rowSpans(h, w)) {
    yield;
    for (let y = from; y < to; y++) {
      const row = y * w;
      const next = y + 1 < h ? row + w : 0;
      for (let x = 0; x < w; x++) {
        const v = data[row + x]!;
        sum +=
          squared((data[x + 1 < w ? row + x + 1 : row]! - v) / mm.x) + squared((data[next + x]! - v) / mm.y);
      }
    }
  }
  return Math.sqrt(sum / (w * h));
}
