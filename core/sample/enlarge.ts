import {
  blurWrapped,
  halve,
  makeColourPicture,
  makePlane,
  mapChannels,
  resample,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '../raster';
import { atOnce, type Steps } from '../steps';

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
const smoothTwice = (plane: Plane, widthPx = 2 * plane.widthPx, heightPx = 2 * plane.heightPx): Plane =>
  resample(plane, { leftPx: 0, topPx: 0, stepX: 0.5, stepY: 0.5 }, widthPx, heightPx);

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
  if (Math.min(w, h) < 4 * PATCH) return mapChannels(picture, (plane) => smoothTwice(plane));
  const evened = yield* channelByChannel(picture, (plane) => ({ ...plane, data: plane.data.map(even) }));
  const smoothed = yield* channelByChannel(evened, (plane) => smoothTwice(halve(plane), w, h));
  const large = yield* channelByChannel(evened, (plane) => smoothTwice(plane));
  const light = ({ widthPx, heightPx, r, g, b }: ColourPicture): Plane => ({
    widthPx,
    heightPx,
    data: r.map((v, i) => 0.3 * v + 0.6 * g[i]! + 0.1 * b[i]!),
  });
  yield;
  const where = yield* search(light(large), light(smoothed));
  const fall = fallPerOctave(light(evened));
  yield;
  const out = makeColourPicture(large.widthPx, large.heightPx);
  for (const channel of ['r', 'g', 'b'] as const) {
    const [own, soft, smooth] = [evened, smoothed, large].map((of) => planeOf(of, channel));
    yield;
    const detail = yield* laying(where, minus(own!, soft!), smooth!.widthPx, smooth!.heightPx, fall);
    const { data } = yield* matched(
      { ...smooth!, data: smooth!.data.map((v, i) => back(v + detail.data[i]!)) },
      { ...own!, data: own!.data.map(back) },
    );
    out[channel].set(data);
  }
  return out;
}

/** As `mapChannels`, left between channels. */
function* channelByChannel(picture: ColourPicture, change: (plane: Plane) => Plane): Steps<ColourPicture> {
  const [r, g, b] = [
    yield* inStep(picture, 'r', change),
    yield* inStep(picture, 'g', change),
    yield* inStep(picture, 'b', change),
  ];
  return { widthPx: r.widthPx, heightPx: r.heightPx, r: r.data, g: g.data, b: b.data };
}

function* inStep(
  picture: ColourPicture,
  channel: 'r' | 'g' | 'b',
  change: (plane: Plane) => Plane,
): Steps<Plane> {
  yield;
  return change(planeOf(picture, channel));
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
    const small = halve(all);
    yield;
    const correction = smoothTwice(minus(picture, small));
    yield;
    all = { ...all, data: all.data.map((v, i) => v + correction.data[i]!) };
  }
  return all;
}

const minus = (a: Plane, b: Plane): Plane => ({ ...a, data: a.data.map((v, i) => v - b.data[i]!) });

const rms = (data: Float32Array) => Math.sqrt(data.reduce((sum, v) => sum + v * v, 0) / data.length);

/** How much weaker the finest octave of a plane is than the one before: what is added falls by as much again. */
function fallPerOctave(plane: Plane): number {
  const half = halve(plane);
  const fine = rms(minus(plane, smoothTwice(half, plane.widthPx, plane.heightPx)).data);
  const coarse = rms(minus(half, smoothTwice(halve(half), half.widthPx, half.heightPx)).data);
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
  yield;
  const mean = sum.data.map((v, i) => (weights[i]! > 0 ? v / weights[i]! : 0));
  const wanted = { ...squares, data: squares.data.map((v, i) => (weights[i]! > 0 ? v / weights[i]! : 0)) };
  yield;
  const has = { ...sum, data: mean.map((v) => v * v) };
  yield;
  const a = blurWrapped(wanted, 4, 4);
  yield;
  const b = blurWrapped(has, 4, 4);
  yield;
  // Where there is no detail both are next to nothing, on either side of it.
  const times = (i: number) =>
    Math.min(2.5, Math.sqrt(Math.max(0, a.data[i]!) / Math.max(1e-12, b.data[i]!)));
  return {
    widthPx,
    heightPx,
    data: mean.map((v, i) => fall * v * times(i)),
  };
}
