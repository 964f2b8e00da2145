import { squared } from '../exact';
import {
  blurSteps,
  halve,
  makeColourPicture,
  makePlane,
  channelSteps,
  resampleSteps,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '../raster';
import { atOnce, spans, type Steps } from '../steps';

/** Detail finer than a picture's own pixels, made from the picture itself. */

/** Side of the patches that are compared, and how far apart they lie, px of the enlarged picture. */
const PATCH = 6;
const STEP = 3;
/** Rounds of the search. */
const ROUNDS = 4;
const SEED = 20;
/** Patches that are searched for before others may have their turn. */
const SEARCHED_BETWEEN_TURNS = 4000;
/** How often what is off after halving is added. */
const MATCHED_ROUNDS = 6;
/** How much weaker one octave may be than the one before. */
const LEAST_FALL = 0.35;

const even = (v: number) => (v < 0 ? -Math.sqrt(-v) : Math.sqrt(v));
const back = (v: number) => (v < 0 ? -v * v : v * v);

/** A plane at twice its pixels, smooth. */
const smoothTwice = (plane: Plane, widthPx = 2 * plane.widthPx, heightPx = 2 * plane.heightPx) =>
  resampleSteps(plane, { leftPx: 0, topPx: 0, stepX: 0.5, stepY: 0.5 }, widthPx, heightPx);

/**
 * A picture at twice its pixels, with detail in the octave it does not have.
 *
 * Finishes look alike at neighbouring scales. Smoothed by an octave, the picture looks like its own enlargement smoothed
 * by an octave, so for each patch of the smooth enlargement the most similar patch of the smoothed picture is searched, and
 * what smoothing took from that one is added here. Its energy is kept where patches overlap, and falls from octave to
 * octave as it does in the picture. In the end the enlargement, halved, is the picture again.
 *
 * Sources: Freeman, Jones, Pasztor, "Example-Based Super-Resolution", 2002; Glasner, Bagon, Irani, "Super-Resolution from
 * a Single Image", 2009; the search after Barnes et al., "PatchMatch", 2009.
 *
 * @param picture linear light, or data of 0–1
 * @returns the picture at twice the width and height; what it shows beyond the picture's own pixels is inferred
 */
export const enlargeTwice = (picture: ColourPicture): ColourPicture => atOnce(enlargingSteps(picture));

/** The same in steps. */
export function* enlargingSteps(picture: ColourPicture): Steps<ColourPicture> {
  const { widthPx: w, heightPx: h } = picture;
  const twice = (plane: Plane) => smoothTwice(plane);
  if (Math.min(w, h) < 4 * PATCH) return yield* channelSteps(picture, twice);
  const evened = yield* channelSteps(picture, (plane) => changed(plane, even));
  const smoothed = yield* channelSteps(evened, (plane) => smoothTwice(halve(plane), w, h));
  const large = yield* channelSteps(evened, twice);
  const where = yield* search(yield* lightSteps(large), yield* lightSteps(smoothed));
  const fall = yield* fallPerOctave(yield* lightSteps(evened));
  const out = makeColourPicture(large.widthPx, large.heightPx);
  for (const channel of ['r', 'g', 'b'] as const) {
    const [own, soft, smooth] = [evened, smoothed, large].map((of) => planeOf(of, channel));
    const lost = yield* minus(own!, soft!);
    const detail = yield* laying(where, lost, smooth!.widthPx, smooth!.heightPx, fall);
    const { data } = yield* matched(yield* inLight(smooth!, detail), yield* changed(own!, back));
    out[channel].set(data);
  }
  return out;
}

/** Each value of a plane changed. */
function* changed(plane: Plane, change: (value: number) => number): Steps<Plane> {
  const data = new Float32Array(plane.data.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = change(plane.data[i]!);
  }
  return { ...plane, data };
}

/** An enlarged plane with detail, as light. */
function* inLight(smooth: Plane, detail: Plane): Steps<Plane> {
  const data = new Float32Array(smooth.data.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = back(smooth.data[i]! + detail.data[i]!);
  }
  return { ...smooth, data };
}

/** Lightness by which patches are compared. */
function* lightSteps({ widthPx, heightPx, r, g, b }: ColourPicture): Steps<Plane> {
  const data = new Float32Array(r.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = 0.3 * r[i]! + 0.6 * g[i]! + 0.1 * b[i]!;
  }
  return { widthPx, heightPx, data };
}

const planeOf = ({ widthPx, heightPx, ...channels }: ColourPicture, k: 'r' | 'g' | 'b'): Plane => ({
  widthPx,
  heightPx,
  data: channels[k],
});

/** An enlargement changed so that it is the picture again when it is halved: in light, so that no reflectance is added. */
function* matched(large: Plane, picture: Plane): Steps<Plane> {
  let all = large;
  for (let k = 0; k < MATCHED_ROUNDS; k++) {
    yield;
    const off = yield* minus(picture, halve(all));
    all = yield* plus(all, yield* smoothTwice(off));
  }
  return all;
}

function* plus(a: Plane, b: Plane): Steps<Plane> {
  const data = a.data.slice();
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i]! += b.data[i]!;
  }
  return { ...a, data };
}

function* minus(a: Plane, b: Plane): Steps<Plane> {
  const data = a.data.slice();
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i]! -= b.data[i]!;
  }
  return { ...a, data };
}

function* rms({ data }: Plane): Steps<number> {
  let sum = 0;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) sum += data[i]! * data[i]!;
  }
  return Math.sqrt(sum / data.length);
}

/** How much weaker the finest octave of a plane is than the one before: what is added falls by as much again. */
function* fallPerOctave(plane: Plane): Steps<number> {
  const half = halve(plane);
  const smooth = yield* smoothTwice(half, plane.widthPx, plane.heightPx);
  const fine = yield* rms(yield* minus(plane, smooth));
  const smoothHalf = yield* smoothTwice(halve(half), half.widthPx, half.heightPx);
  const coarse = yield* rms(yield* minus(half, smoothHalf));
  return coarse > 0 ? Math.min(1, Math.max(LEAST_FALL, fine / coarse)) : 1;
}

/** For each patch of the enlarged plane, where in the other the most similar one lies. */
interface Where {
  columns: number;
  rows: number;
  x: Int32Array;
  y: Int32Array;
}

function* search(large: Plane, small: Plane): Steps<Where> {
  const random = seededRandom(SEED);
  const columns = Math.floor((large.widthPx - PATCH) / STEP) + 1;
  const rows = Math.floor((large.heightPx - PATCH) / STEP) + 1;
  const [mostX, mostY] = [small.widthPx - PATCH, small.heightPx - PATCH];
  const x = new Int32Array(columns * rows);
  const y = new Int32Array(columns * rows);
  const cost = new Float64Array(columns * rows).fill(Infinity);
  const [W, w] = [large.widthPx, small.widthPx];
  const differs = (k: number, sx: number, sy: number, least: number) => {
    const from = Math.floor(k / columns) * STEP * W + (k % columns) * STEP;
    const to = sy * w + sx;
    let sum = 0;
    for (let v = 0; v < PATCH; v++) {
      for (let u = 0; u < PATCH; u++) {
        const d = large.data[from + v * W + u]! - small.data[to + v * w + u]!;
        sum += d * d;
      }
      if (sum >= least) return Infinity;
    }
    return sum;
  };
  const attempt = (k: number, sx: number, sy: number) => {
    const px = Math.min(mostX, Math.max(0, sx));
    const py = Math.min(mostY, Math.max(0, sy));
    const c = differs(k, px, py, cost[k]!);
    if (c < cost[k]!) [x[k], y[k], cost[k]] = [px, py, c];
  };
  for (let k = 0; k < x.length; k++) {
    if (k % SEARCHED_BETWEEN_TURNS === 0) yield;
    // The same place: what is there is most like itself.
    attempt(k, ((k % columns) * STEP) >> 1, (Math.floor(k / columns) * STEP) >> 1);
  }
  for (let round = 0; round < ROUNDS; round++) {
    const forth = round % 2 === 0;
    for (let n = 0; n < x.length; n++) {
      if (n % SEARCHED_BETWEEN_TURNS === 0) yield;
      const k = forth ? n : x.length - 1 - n;
      const column = k % columns;
      const side = forth ? (column > 0 ? k - 1 : -1) : column < columns - 1 ? k + 1 : -1;
      const line = forth ? k - columns : k + columns;
      const step = forth ? STEP : -STEP;
      if (side >= 0) attempt(k, x[side]! + step, y[side]!);
      if (line >= 0 && line < x.length) attempt(k, x[line]!, y[line]! + step);
      for (let reach = Math.max(w, small.heightPx) >> 1; reach >= 1; reach >>= 2)
        attempt(
          k,
          x[k]! + Math.round(random.between(-reach, reach)),
          y[k]! + Math.round(random.between(-reach, reach)),
        );
    }
  }
  return { columns, rows, x, y };
}

/** Patches that are laid before others may have their turn. */
const LAID_BETWEEN_TURNS = 4000;

/** Lays the detail of the patches that were found; where they overlap its energy stays. */
function* laying(
  { columns, rows, x, y }: Where,
  detail: Plane,
  widthPx: number,
  heightPx: number,
  fall: number,
): Steps<Plane> {
  const sum = makePlane(widthPx, heightPx);
  const squares = makePlane(widthPx, heightPx);
  const weights = new Float32Array(widthPx * heightPx);
  const hat = Float32Array.from({ length: PATCH }, (_, i) => 1 - Math.abs((i + 0.5) / PATCH - 0.5) * 1.6);
  const between = Math.ceil(LAID_BETWEEN_TURNS / columns);
  for (let row = 0; row < rows; row++) {
    if (row % between === 0) yield;
    for (let column = 0; column < columns; column++) {
      const k = row * columns + column;
      for (let v = 0; v < PATCH; v++)
        for (let u = 0; u < PATCH; u++) {
          const to = (row * STEP + v) * widthPx + column * STEP + u;
          const value = detail.data[(y[k]! + v) * detail.widthPx + x[k]! + u]!;
          const weight = hat[u]! * hat[v]!;
          sum.data[to]! += weight * value;
          squares.data[to]! += weight * value * value;
          weights[to]! += weight;
        }
    }
  }
  const [mean, wanted] = [sum.data, squares.data];
  for (const { from, to } of spans(mean.length)) {
    yield;
    for (let i = from; i < to; i++) {
      mean[i] = weights[i]! > 0 ? mean[i]! / weights[i]! : 0;
      wanted[i] = weights[i]! > 0 ? wanted[i]! / weights[i]! : 0;
    }
  }
  const has = yield* changed(sum, squared);
  const { data: a } = yield* blurSteps(squares, 4, 4);
  const { data: b } = yield* blurSteps(has, 4, 4);
  for (const { from, to } of spans(mean.length)) {
    yield;
    // Where there is no detail both are next to nothing, on either side of it.
    for (let i = from; i < to; i++)
      mean[i] = fall * mean[i]! * Math.min(2.5, Math.sqrt(Math.max(0, a[i]!) / Math.max(1e-12, b[i]!)));
  }
  return sum;
}
