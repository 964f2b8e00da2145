import compiled from '../kernels/resample.wasm';
import { fours, readRows, writeRows, type Transposing } from '../kernels/rows';
import { KernelModule, MemoryLayout, type Kernel } from '../kernels/web-assembly';
import { atOnce, rowsPerSpan, type Steps } from '../steps';
import { channelSteps, makePlane, type ColourPicture, type Plane } from './plane';

/** Halves a plane by averaging 2×2 pixels; an odd last row or column is averaged with itself. */
export function halve(source: Plane): Plane {
  const widthPx = Math.max(1, (source.widthPx + 1) >> 1);
  const heightPx = Math.max(1, (source.heightPx + 1) >> 1);
  const out = makePlane(widthPx, heightPx);
  for (let y = 0; y < heightPx; y++) {
    const row0 = Math.min(2 * y, source.heightPx - 1) * source.widthPx;
    const row1 = Math.min(2 * y + 1, source.heightPx - 1) * source.widthPx;
    for (let x = 0; x < widthPx; x++) {
      const x0 = Math.min(2 * x, source.widthPx - 1);
      const x1 = Math.min(2 * x + 1, source.widthPx - 1);
      out.data[y * widthPx + x] =
        0.25 *
        (source.data[row0 + x0]! +
          source.data[row0 + x1]! +
          source.data[row1 + x0]! +
          source.data[row1 + x1]!);
    }
  }
  return out;
}

interface Taps {
  first: Int32Array;
  weights: Float32Array;
  count: number;
}

/** Cubic kernel after Keys 1981 (a = −0.5): exact for quadratics, sharp, little ringing. */
function keys(t: number): number {
  const a = Math.abs(t);
  if (a < 1) return (1.5 * a - 2.5) * a * a + 1;
  if (a < 2) return ((-0.5 * a + 2.5) * a - 4) * a + 2;
  return 0;
}

/** For each target pixel: its first source pixel and kernel weights. The kernel widens when shrinking, so nothing aliases. */
function makeTaps(targetPx: number, originPx: number, stepPx: number): Taps {
  const scale = Math.max(1, stepPx);
  const count = Math.ceil(4 * scale) + 1;
  const first = new Int32Array(targetPx);
  const weights = new Float32Array(targetPx * count);
  for (let i = 0; i < targetPx; i++) {
    const centre = originPx + (i + 0.5) * stepPx - 0.5;
    const start = Math.ceil(centre - 2 * scale);
    first[i] = start;
    let sum = 0;
    for (let k = 0; k < count; k++) sum += keys((start + k - centre) / scale);
    for (let k = 0; k < count; k++) weights[i * count + k] = keys((start + k - centre) / scale) / sum;
  }
  return { first, weights, count };
}

/** Left, top (may be fractional or outside; edges are repeated) and step: source pixels per target pixel. */
export interface ResampledWindow {
  leftPx: number;
  topPx: number;
  stepX: number;
  stepY: number;
}

/**
 * Resamples a window of a plane to another pixel grid with a separable cubic filter that follows the scale.
 *
 * @param source the plane
 * @param window of it
 * @param widthPx target width
 * @param heightPx target height
 */
export const resample = (source: Plane, window: ResampledWindow, widthPx: number, heightPx: number): Plane =>
  atOnce(resampleSteps(source, window, widthPx, heightPx));

/** A picture resampled channel by channel, left between rows. */
export const resamplePictureSteps = (
  picture: ColourPicture,
  window: ResampledWindow,
  widthPx: number,
  heightPx: number,
): Steps<ColourPicture> => channelSteps(picture, (plane) => resampleSteps(plane, window, widthPx, heightPx));

/** As `resample`, left between rows. */
export function* resampleSteps(
  source: Plane,
  window: ResampledWindow,
  widthPx: number,
  heightPx: number,
): Steps<Plane> {
  if (isWhole(source, window, widthPx, heightPx)) return { ...source, data: source.data.slice() };
  const tx = makeTaps(widthPx, window.leftPx, window.stepX);
  const ty = makeTaps(heightPx, window.topPx, window.stepY);
  const row = (y: number) => Math.max(0, Math.min(source.heightPx - 1, y));
  const top = row(ty.first[0] ?? 0);
  const rows = row((ty.first[heightPx - 1] ?? 0) + ty.count - 1) - top + 1;
  return yield* new Filter(source, tx, ty, { top, rows }).steps();
}

/** See core/kernels/assembly/resample.ts; addresses in bytes. */
interface Functions extends Transposing {
  filterColumns(
    from: number,
    stride: number,
    firsts: number,
    weights: number,
    count: number,
    lowest: number,
    highest: number,
    rounds: boolean,
    to: number,
    rows: number,
  ): void;
}
const KERNEL = new KernelModule<Functions>(compiled);

/** So many rows are filtered along themselves at once: turned into columns, they fit the processor's cache. */
const BAND = 32;

/** Filters a plane first along its rows, then along its columns, in a kernel's memory. */
class Filter {
  private readonly widthPx: number;
  private readonly heightPx: number;
  private readonly stride: number;
  private readonly at: Record<'across' | 'out' | 'band' | 'turned' | 'filtered', number>;
  private readonly taps: Record<'x' | 'y', { firsts: number; weights: number }>;
  private readonly kernel: Kernel<Functions>;
  private readonly floats: Float32Array;

  /** @param used the rows of the source that count */
  constructor(
    private readonly source: Plane,
    private readonly tx: Taps,
    private readonly ty: Taps,
    private readonly used: { top: number; rows: number },
  ) {
    this.widthPx = tx.first.length;
    this.heightPx = ty.first.length;
    this.stride = fours(this.widthPx);
    const memory = new MemoryLayout();
    const tapsAt = ({ first, weights }: Taps) => ({
      firsts: memory.of(first.length),
      weights: memory.of(weights.length),
    });
    this.taps = { x: tapsAt(tx), y: tapsAt(ty) };
    this.at = {
      across: memory.of(this.stride * fours(used.rows)),
      out: memory.of(this.stride * this.heightPx),
      band: memory.of(BAND * fours(source.widthPx)),
      turned: memory.of(BAND * fours(source.widthPx)),
      filtered: memory.of(BAND * this.stride),
    };
    this.kernel = KERNEL.borrow(memory.bytes);
    this.floats = new Float32Array(this.kernel.memory.buffer);
    const whole = new Int32Array(this.kernel.memory.buffer);
    for (const [axis, { first, weights }] of [['x', tx] as const, ['y', ty] as const]) {
      whole.set(first, this.taps[axis].firsts / 4);
      this.floats.set(weights, this.taps[axis].weights / 4);
    }
  }

  *steps(): Steps<Plane> {
    const { kernel, at, used, stride, widthPx, heightPx } = this;
    for (let row = 0; row < used.rows; row += BAND) {
      yield;
      this.filterAlong(row, Math.min(BAND, used.rows - row));
    }
    const { firsts, weights } = this.taps.y;
    const last = used.top + used.rows - 1;
    const rowsAtOnce = rowsPerSpan(widthPx * this.ty.count);
    for (let row = 0; row < heightPx; row += rowsAtOnce) {
      yield;
      kernel.filterColumns(
        at.across,
        stride,
        firsts + 4 * row,
        weights + 4 * row * this.ty.count,
        this.ty.count,
        used.top,
        last,
        true,
        at.out + 4 * row * stride,
        Math.min(rowsAtOnce, heightPx - row),
      );
    }
    yield;
    const data = readRows(this.floats, at.out / 4, stride, widthPx, heightPx);
    KERNEL.giveBack(kernel);
    return { widthPx, heightPx, data };
  }

  /** Filters some rows along themselves; beyond its ends a row goes on as it ends. */
  private filterAlong(row: number, rows: number): void {
    const { kernel, at, source, stride, widthPx, used } = this;
    const { widthPx: w, data } = source;
    const wide = fours(w);
    const { firsts, weights } = this.taps.x;
    const from = (used.top + row) * w;
    writeRows(this.floats, at.band / 4, wide, data.subarray(from, from + rows * w), w);
    kernel.transpose(at.band, wide, w, rows, at.turned, BAND);
    kernel.filterColumns(
      at.turned,
      BAND,
      firsts,
      weights,
      this.tx.count,
      0,
      w - 1,
      false,
      at.filtered,
      widthPx,
    );
    kernel.transpose(at.filtered, BAND, rows, widthPx, at.across + 4 * row * stride, stride);
  }
}

/** Whether a window is the plane itself, pixel for pixel. */
const isWhole = (
  source: Plane,
  { leftPx, topPx, stepX, stepY }: { leftPx: number; topPx: number; stepX: number; stepY: number },
  widthPx: number,
  heightPx: number,
) =>
  leftPx === 0 &&
  topPx === 0 &&
  stepX === 1 &&
  stepY === 1 &&
  source.widthPx === widthPx &&
  source.heightPx === heightPx;

/** Bilinear value at pixel coordinates (pixel centres at whole numbers), wrapping round on both axes. */
export function sampleWrapped(plane: Plane, xPx: number, yPx: number): number {
  const { widthPx: w, heightPx: h, data } = plane;
  const x0 = Math.floor(xPx);
  const y0 = Math.floor(yPx);
  const fx = xPx - x0;
  const fy = yPx - y0;
  const xa = ((x0 % w) + w) % w;
  const xb = (xa + 1) % w;
  const ya = (((y0 % h) + h) % h) * w;
  const yb = ((((y0 + 1) % h) + h) % h) * w;
  return (
    (data[ya + xa]! * (1 - fx) + data[ya + xb]! * fx) * (1 - fy) +
    (data[yb + xa]! * (1 - fx) + data[yb + xb]! * fx) * fy
  );
}

/**
 * Bilinear values at a grid of places, wrapping round on both axes.
 * @param xPx places of the columns of the outcome, pixel centres at whole numbers; @param yPx those of its rows
 */
export const sampleGridWrapped = (plane: Plane, xPx: Float64Array, yPx: Float64Array): Plane =>
  atOnce(sampleGridSteps(plane, xPx, yPx));

/** As `sampleGridWrapped`, left between rows. */
export function* sampleGridSteps(plane: Plane, xPx: Float64Array, yPx: Float64Array): Steps<Plane> {
  const { widthPx: w, heightPx: h, data } = plane;
  const out = makePlane(xPx.length, yPx.length);
  const columns = cellsOf(xPx, w);
  const rows = cellsOf(yPx, h);
  // A row of the plane is brought to the places of the columns once, though several rows of the outcome lie between it and the next.
  const [upper, lower] = [new RowAtColumns(data, w, columns), new RowAtColumns(data, w, columns)];
  const rowsAtOnce = rowsPerSpan(xPx.length);
  for (let y = 0, to = 0; y < yPx.length; y++) {
    if (y % rowsAtOnce === 0) yield;
    const fy = rows.share[y]!;
    if (upper.row !== rows.first[y]! && lower.row === rows.first[y]!) upper.swap(lower);
    const [above, below] = [upper.at(rows.first[y]!), lower.at(rows.second[y]!)];
    to = mixed(above, below, fy, out.data, to);
  }
  return out;
}

/** Writes what lies between two rows. @returns where the next row begins */
function mixed(
  above: Float64Array,
  below: Float64Array,
  share: number,
  out: Float32Array,
  start: number,
): number {
  let to = start;
  for (let x = 0; x < above.length; x++, to++) out[to] = above[x]! * (1 - share) + below[x]! * share;
  return to;
}

/** A row of a plane, interpolated at the places of columns. */
class RowAtColumns {
  row = -1;
  private values: Float64Array;
  constructor(
    private readonly data: Float32Array,
    private readonly width: number,
    private readonly columns: ReturnType<typeof cellsOf>,
  ) {
    this.values = new Float64Array(columns.first.length);
  }

  at(row: number): Float64Array {
    if (this.row === row) return this.values;
    this.row = row;
    const { data, values } = this;
    const { first, second, share } = this.columns;
    const from = row * this.width;
    for (let x = 0; x < values.length; x++)
      values[x] = data[from + first[x]!]! * (1 - share[x]!) + data[from + second[x]!]! * share[x]!;
    return values;
  }

  swap(other: RowAtColumns): void {
    [this.row, other.row] = [other.row, this.row];
    [this.values, other.values] = [other.values, this.values];
  }
}

/** The two pixels about each place of a line that closes on itself, and the share of the second. */
function cellsOf(places: Float64Array, length: number) {
  const first = new Int32Array(places.length);
  const second = new Int32Array(places.length);
  const share = new Float64Array(places.length);
  for (let i = 0; i < places.length; i++) {
    const whole = Math.floor(places[i]!);
    first[i] = ((whole % length) + length) % length;
    second[i] = (first[i]! + 1) % length;
    share[i] = places[i]! - whole;
  }
  return { first, second, share };
}
