import { solveLinear, squared, wholePower } from '../exact';
import {
  blurWrapped,
  fillPolygon,
  luminanceOf,
  makePlane,
  paintTrack,
  type ColourPicture,
  type Plane,
} from '../raster';
import { toPicture, type Frame, type Point } from '../straighten';

/**
 * Light over a photograph: how much of it fell on each place, apart from what lies there. A smooth surface, a polynomial
 * in the logarithm of light over the picture as received, so that it holds for every crop of it.
 *
 * It is judged by every surface that is one thing: the sample itself, and what lies round it (a table, a wall), each
 * with a reflectance of its own and weighed by how even it is in truth; and by patches of known reflectance. A sample of
 * pale and dark boards alone cannot tell a slope of light from a slope of boards; its surround can.
 */
export interface LightField {
  /** Terms of the polynomial, see `termsAt`; natural logarithm of relative light. */
  coefficients: readonly number[];
  order: number;
  /** Added to the polynomial, so that the mean of the levelled sample is that of the sample. */
  offset: number;
  /** Finer unevenness over the frame (logarithm), when levelled by a radius. */
  fine: Plane | null;
}

/** One place whose light is judged. */
export interface LightCell {
  /** Shares of the picture as received. */
  at: Point;
  /** Natural logarithm of luminance. */
  log: number;
  /** Row and column in the grid of its surface. */
  cell: { x: number; y: number };
}

/** What the light is judged by. */
export interface LightEvidence {
  /**
   * Surfaces that are one thing each, as a grid of places: the sample, and what lies round it. A surface counts as far
   * as it is even.
   */
  surfaces: readonly (readonly LightCell[])[];
  /** Patches of known reflectance: logarithm of measured over known luminance. */
  known: readonly Omit<LightCell, 'cell'>[];
}

export const LIGHT_ORDER = 3;
/** How strongly each degree may bend, as standard deviation of its terms. */
const BEND = [0, 1.5, 0.6, 0.25];
/** Scatter of patches of known reflectance against one another. */
const KNOWN_SCATTER = 0.012;
const TUKEY = 4.685;

/** Powers of a place about the picture's middle, all degrees from 1 to `order`. */
export function termsAt([x, y]: Point, order: number, out: number[] = []): number[] {
  const [u, v] = [2 * x - 1, 2 * y - 1];
  let n = 0;
  for (let degree = 1; degree <= order; degree++)
    for (let k = 0; k <= degree; k++) out[n++] = wholePower(u, degree - k) * wholePower(v, k);
  out.length = n;
  return out;
}

const medianOf = (values: number[]): number => {
  values.sort((a, b) => a - b);
  return values.length ? values[values.length >> 1]! : 0;
};

/** Weighted least squares for a polynomial with one constant for each surface; constants come after the terms. */
function solveSurfaces(
  surfaces: readonly { terms: readonly number[][]; logs: readonly number[]; weights: ArrayLike<number> }[],
  order: number,
): number[] {
  const size = termsAt([0, 0], order).length;
  const all = size + surfaces.length;
  const normal = Array.from({ length: all }, () => new Array<number>(all).fill(0));
  const right = new Array<number>(all).fill(0);
  surfaces.forEach(({ terms, logs, weights }, s) => {
    for (let i = 0; i < logs.length; i++) {
      const w = weights[i]!;
      if (!(w > 0)) continue;
      const row = terms[i]!;
      for (let k = 0; k < size; k++) {
        const wk = w * row[k]!;
        right[k]! += wk * logs[i]!;
        normal[size + s]![k]! += wk;
        for (let l = 0; l <= k; l++) normal[k]![l]! += wk * row[l]!;
      }
      normal[size + s]![size + s]! += w;
      right[size + s]! += w * logs[i]!;
    }
    normal[size + s]![size + s]! += 1e-9;
  });
  for (let degree = 1, n = 0; degree <= order; degree++)
    for (let k = 0; k <= degree; k++, n++) normal[n]![n]! += 1 / squared(BEND[degree]!);
  for (let k = 0; k < all; k++) for (let l = 0; l < k; l++) normal[l]![k] = normal[k]![l]!;
  return solveLinear(normal, right);
}

const FIELDS = 6;

/**
 * What one place of a surface is worth: 1 over its share in the variance of the surface's mean. Neighbouring places are
 * not independent (one board is pale all over), so that variance is taken from the means of rows, columns and fields
 * of the grid, whichever scatter most, and not from single places.
 */
function worthOf(cells: readonly LightCell[], off: readonly number[], weights: readonly number[]): number {
  const across = 1 + Math.max(...cells.map((c) => c.cell.x));
  const up = 1 + Math.max(...cells.map((c) => c.cell.y));
  const varianceBy = (key: (x: number, y: number) => number, count: number) => {
    const sums = new Float64Array(count);
    const totals = new Float64Array(count);
    cells.forEach(({ cell }, i) => {
      const k = key(Math.floor((cell.x * FIELDS) / across), Math.floor((cell.y * FIELDS) / up));
      sums[k]! += weights[i]! * off[i]!;
      totals[k]! += weights[i]!;
    });
    const means = [...sums].map((v, k) => v / totals[k]!).filter((v) => Number.isFinite(v));
    if (means.length < 3) return 0;
    return means.reduce((a, v) => a + v * v, 0) / (means.length - 1) / means.length;
  };
  const single = off.reduce((a, r, i) => a + weights[i]! * r * r, 0) / weights.reduce((a, b) => a + b, 0);
  const variance = Math.max(
    1e-8,
    single / cells.length,
    varianceBy((x) => x, FIELDS),
    varianceBy((_x, y) => y, FIELDS),
    varianceBy((x, y) => x + FIELDS * y, FIELDS * FIELDS),
  );
  return 1 / (variance * cells.length);
}

/**
 * Fits the surface of light: one polynomial for all surfaces, each with a reflectance of its own, every place by what
 * it is worth; what does not fit (a ruler, a label, a knot) is left out by Tukey's biweight.
 * @param evidence at least 12 places of a surface, or 6 known patches
 * @returns coefficients of `termsAt`
 * @throws RangeError with a sentence when there is too little to judge by
 */
export function fitLight({ surfaces, known }: LightEvidence, order = LIGHT_ORDER): number[] {
  const enough = surfaces.filter((cells) => cells.length >= 12);
  if (enough.length === 0 && known.length < 6)
    throw new RangeError(
      'Too little of the sample is left to judge the light by. Take away some keep-outs, or leave the levelling out.',
    );
  const size = termsAt([0, 0], order).length;
  const prepared = enough.map((cells) => ({
    cells,
    terms: cells.map((c) => termsAt(c.at, order)),
    logs: cells.map((c) => c.log),
    weights: new Array<number>(cells.length).fill(1),
  }));
  const residuals = (
    { terms, logs }: { terms: readonly number[][]; logs: readonly number[] },
    solution: readonly number[],
    constant: number,
  ) => logs.map((log, i) => log - constant - terms[i]!.reduce((a, t, k) => a + t * solution[k]!, 0));
  const robust = (off: readonly number[]) => {
    const scatter = Math.max(0.002, 1.4826 * medianOf(off.map(Math.abs)));
    return off.map((r) => {
      const t = r / (TUKEY * scatter);
      return Math.abs(t) < 1 ? squared(1 - t * t) : 0;
    });
  };
  // Each surface by itself first: how even it is does not depend on the others.
  for (const surface of prepared) {
    let off: number[] = [];
    for (let turn = 0; turn < 6; turn++) {
      const own = solveSurfaces([surface], order);
      off = residuals(surface, own, own[size]!);
      surface.weights = robust(off);
    }
    const worth = worthOf(surface.cells, off, surface.weights);
    surface.weights = surface.weights.map((w) => w * worth);
  }
  const patches = {
    terms: known.map((c) => termsAt(c.at, order)),
    logs: known.map((c) => c.log),
    weights: new Array<number>(known.length).fill(1 / squared(KNOWN_SCATTER)),
  };
  return solveSurfaces(known.length >= 3 ? [...prepared, patches] : prepared, order).slice(0, size);
}

/** How many cells the longer side of a surface is divided into. */
const CELLS = 36;
/** The same of what lies round it: narrow strips count too. */
const SURROUND_CELLS = 72;
/** Beyond this a channel counts as clipped, and the place is not judged by. */
const CLIPPED = 0.985;

/** Logarithm of the middle of what is seen in each cell of a picture, where enough of it is usable. */
function gridOf(
  picture: ColourPicture,
  unusable: Plane | undefined,
  least: number,
  count: number,
  toPlace: (at: Point) => Point,
): LightCell[] {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const side = Math.max(w, h) / count;
  const [nx, ny] = [Math.max(2, Math.round(w / side)), Math.max(2, Math.round(h / side))];
  const cells: LightCell[] = [];
  for (let y = 0; y < ny; y++)
    for (let x = 0; x < nx; x++) {
      const [x0, x1] = [Math.round((x * w) / nx), Math.round(((x + 1) * w) / nx)];
      const [y0, y1] = [Math.round((y * h) / ny), Math.round(((y + 1) * h) / ny)];
      const seen: number[] = [];
      for (let py = y0; py < y1; py++)
        for (let px = x0; px < x1; px++) {
          const i = py * w + px;
          if (unusable && unusable.data[i]! > 0.5) continue;
          if (r[i]! > CLIPPED || g[i]! > CLIPPED || b[i]! > CLIPPED) continue;
          seen.push(luminanceOf(r[i]!, g[i]!, b[i]!));
        }
      if (seen.length < least * (x1 - x0) * (y1 - y0) || seen.length === 0) continue;
      // The middle half of what is there: a joint that crosses the cell does not count.
      seen.sort((a, b) => a - b);
      const [from, to] = [Math.floor(seen.length / 4), Math.ceil((3 * seen.length) / 4)];
      let sum = 0;
      for (let k = from; k < to; k++) sum += seen[k]!;
      if (!(sum > 0)) continue;
      cells.push({
        at: toPlace([(x + 0.5) / nx, (y + 0.5) / ny]),
        log: Math.log(sum / (to - from)),
        cell: { x, y },
      });
    }
  return cells;
}

/**
 * The cells of a straightened sample by which its light is judged.
 * @param picture the straightened frame, linear light, a few hundred pixels
 * @param frame where it lies in the picture as received
 * @param unusable 1 where the picture is not to be used
 */
export const cellsOf = (picture: ColourPicture, frame: Frame, unusable: Plane | undefined): LightCell[] =>
  gridOf(picture, unusable, 0.4, CELLS, (at) => toPicture(frame, at));

/** The same of a picture as received. */
export const cellsOfPicture = (picture: ColourPicture): LightCell[] =>
  gridOf(picture, undefined, 0.4, CELLS, (at) => at);

/** How far round the sample and the card a shadow may fall, in shares of the picture. */
const SHADOW = 0.014;

/**
 * The cells of what lies round the sample in the picture as received: the table, a wall. It tells of the light as far
 * as it is even.
 * @param received the picture as received, linear light, a few hundred pixels
 * @param frame of the sample; a whole picture has nothing round it
 * @param others other things on the table, as outlines in shares of the picture
 */
export function surroundOf(
  received: ColourPicture,
  frame: Frame,
  others: readonly (readonly Point[])[],
): LightCell[] {
  if (frame.whole) return [];
  const { widthPx, heightPx } = received;
  const unusable = makePlane(widthPx, heightPx);
  const outline = Array.from({ length: 40 }, (_, k): Point => {
    const t = (k % 10) / 10;
    return toPicture(
      frame,
      (
        [
          [t, 0],
          [1, t],
          [1 - t, 1],
          [0, 1 - t],
        ] as Point[]
      )[Math.floor(k / 10)]!,
    );
  });
  const margin = SHADOW * Math.max(widthPx, heightPx);
  for (const places of [outline, ...others]) {
    const track = places.map(([x, y]) => [x * widthPx, y * heightPx] as const);
    fillPolygon(unusable, track, 1);
    paintTrack(unusable, [...track, track[0]!], margin, margin, 1);
  }
  return gridOf(received, unusable, 0.95, SURROUND_CELLS, (at) => at);
}

/** Natural logarithm of the relative light at a place of the picture, without the finer part. */
export function logLightAt(field: LightField, at: Point): number {
  const terms = termsAt(at, field.order);
  let sum = field.offset;
  for (let k = 0; k < terms.length; k++) sum += field.coefficients[k]! * terms[k]!;
  return sum;
}

const KNOTS = 32;

/**
 * Relative light over a frame, as a plane to divide by; 1 is the light whose picture has the sample's own mean.
 * Worked out at 33 × 33 places and interpolated: the light is smooth.
 */
export function lightOver(field: LightField, frame: Frame, widthPx: number, heightPx: number): Plane {
  const knots = makePlane(KNOTS + 1, KNOTS + 1);
  for (let j = 0; j <= KNOTS; j++)
    for (let i = 0; i <= KNOTS; i++) {
      const at: Point = [i / KNOTS, j / KNOTS];
      const fine = field.fine
        ? bilinear(field.fine, at[0] * field.fine.widthPx - 0.5, at[1] * field.fine.heightPx - 0.5)
        : 0;
      knots.data[j * (KNOTS + 1) + i] = logLightAt(field, toPicture(frame, at)) + fine;
    }
  const out = makePlane(widthPx, heightPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++)
      out.data[y * widthPx + x] = Math.exp(
        bilinear(knots, ((x + 0.5) / widthPx) * KNOTS, ((y + 0.5) / heightPx) * KNOTS),
      );
  return out;
}

function bilinear({ widthPx: w, heightPx: h, data }: Plane, x: number, y: number): number {
  const cx = Math.min(w - 1, Math.max(0, x));
  const cy = Math.min(h - 1, Math.max(0, y));
  const x0 = Math.min(w - 2, Math.floor(cx));
  const y0 = Math.min(h - 2, Math.floor(cy));
  const [fx, fy] = [cx - x0, cy - y0];
  const i = y0 * w + x0;
  return (
    (data[i]! * (1 - fx) + data[i + 1]! * fx) * (1 - fy) +
    (data[i + w]! * (1 - fx) + data[i + w + 1]! * fx) * fy
  );
}

/**
 * The offset that keeps a sample's mean: log of (mean of luminance / mean of levelled luminance) over usable pixels.
 */
export function keepingMean(picture: ColourPicture, light: Plane, unusable: Plane | undefined): number {
  let [before, after] = [0, 0];
  const { r, g, b } = picture;
  for (let i = 0; i < r.length; i++) {
    if (unusable && unusable.data[i]! > 0.5) continue;
    const y = luminanceOf(r[i]!, g[i]!, b[i]!);
    before += y;
    after += y / light.data[i]!;
  }
  return before > 0 && after > 0 ? Math.log(after / before) : 0;
}

/**
 * Unevenness that the smooth surface leaves: the levelled logarithm of luminance, blurred with a Gaussian over usable
 * pixels only. Edges are mirrored, so that nothing runs in from the opposite side.
 * @param picture the straightened frame
 * @param light by which it is divided first
 * @param sigmaPx of the blur
 */
export function fineLight(
  picture: ColourPicture,
  light: Plane,
  unusable: Plane | undefined,
  sigmaPx: number,
): Plane {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const value = makePlane(2 * w, 2 * h);
  const weight = makePlane(2 * w, 2 * h);
  for (let y = 0; y < 2 * h; y++)
    for (let x = 0; x < 2 * w; x++) {
      const i = (y < h ? y : 2 * h - 1 - y) * w + (x < w ? x : 2 * w - 1 - x);
      const lum = luminanceOf(r[i]!, g[i]!, b[i]!);
      const usable =
        !(unusable && unusable.data[i]! > 0.5) && lum > 1e-5 && Math.max(r[i]!, g[i]!, b[i]!) <= CLIPPED;
      if (!usable) continue;
      weight.data[y * 2 * w + x] = 1;
      value.data[y * 2 * w + x] = Math.log(lum / light.data[i]!);
    }
  const [v, n] = [blurWrapped(value, sigmaPx, sigmaPx), blurWrapped(weight, sigmaPx, sigmaPx)];
  const out = makePlane(w, h);
  let sum = 0;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * 2 * w + x;
      sum += out.data[y * w + x] = n.data[i]! > 1e-4 ? v.data[i]! / n.data[i]! : 0;
    }
  const middle = sum / (w * h);
  for (let i = 0; i < out.data.length; i++) out.data[i]! -= middle;
  return out;
}
