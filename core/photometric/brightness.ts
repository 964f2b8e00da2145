import { linearSolution } from '../exact';
import { luminanceOf } from '../raster';
import { incident } from './lights';
import { reducedTo } from './reduced';
import { isClipped } from './pixel-reader';
import type { Brightness, LitPicture } from './lit-picture';
import { readPixels, type Readings } from './readings';
import { mirrored, type Lobe } from './sheen';

/** Pictures are reduced to this to find how bright lights are. */
const SMALL_PX = 128;
const ROUNDS = 4;
/** So many pixels of them are enough. */
const LOOKED_AT = 2500;

/**
 * How bright the lights of a set are beside what was said of them, and what the surface mirrors of them: found from the
 * pictures, as either bends the whole relief otherwise.
 */
export async function brightnessOf(
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
  cameraMm: number,
): Promise<Brightness> {
  const { set: small, mm } = reducedTo(set, mmPerPx, SMALL_PX);
  const { widthPx, heightPx } = small[0]!.picture;
  const every = Math.max(1, Math.round((widthPx * heightPx) / LOOKED_AT));
  let best: { found: Brightness; cost: number } | null = null;
  for (const alpha of STARTS) {
    const lobes = alpha === null ? [] : [{ alpha, share: 1 }];
    let found: Brightness = { gains: set.map(() => 1), lobes, cameraMm };
    for (let round = 0; ; round++) {
      const readings = await readPixels(small, found, mm, null, async () => {}, every);
      const cost = costOf(readings);
      if (!best || cost < best.cost) best = { found, cost };
      if (round === ROUNDS) break;
      found = nextBrightness(small, readings, found, mm);
    }
  }
  return best!.found;
}

/** Lobes that the search begins with: on a dark surface nothing agrees before about the right one is taken off. */
const STARTS = [null, 0.1, 0.2, 0.3, 0.42];
/** Residuals are bounded for the comparison. */
const MOST_RESIDUAL = 0.1;

/** Mean of the bounded residuals; a pixel counts less, the fewer of its readings agree. */
function costOf({ residual, used, ofLights }: Readings): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < used.data.length; i++) {
    if (used.data[i] === 0) continue;
    count++;
    const agreeing = used.data[i]! / ofLights.length;
    sum += agreeing * Math.min(MOST_RESIDUAL, residual.data[i]!) + (1 - agreeing) * MOST_RESIDUAL;
  }
  return count > 0 ? sum / count : MOST_RESIDUAL;
}

/** A pixel whose reflectance is below this tells no brightness. */
const LEAST_REFLECTANCE = 0.004;
/** Light that grazes a pixel tells little. */
const LEAST_COSINE = 0.15;
/** Readings that are off by more say shadow or glare. */
const OUTLIER = 0.1;
/** So many readings of a pixel must agree before it says anything about what is mirrored. */
const LEAST_AGREEING = 5;
/** Lobes that are told apart. Smoother ones stand out of the readings, and are left out as glare. */
const ALPHAS = [0.06, 0.1, 0.15, 0.2, 0.26, 0.33, 0.42];

function nextBrightness(
  set: readonly LitPicture[],
  readings: Readings,
  { gains, lobes, cameraMm }: Brightness,
  mmPerPx: { x: number; y: number },
): Brightness {
  const { widthPx: w, heightPx: h } = set[0]!.picture;
  const light = new Float64Array(3);
  const view = new Float64Array(3);
  const fit = new BrightnessFit(set.length);
  const { r, g, b } = readings.colour;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (readings.used.data[i]! < 3) continue;
      const rho = luminanceOf(r[i]!, g[i]!, b[i]!);
      if (rho < LEAST_REFLECTANCE) continue;
      const [xMm, yMm] = [(x + 0.5 - w / 2) * mmPerPx.x, (h / 2 - y - 0.5) * mmPerPx.y];
      const far = Math.sqrt(xMm * xMm + yMm * yMm + cameraMm * cameraMm);
      [view[0], view[1], view[2]] = [-xMm / far, -yMm / far, cameraMm / far];
      const [nx, ny, nz] = [readings.x.data[i]!, readings.y.data[i]!, readings.z.data[i]!];
      fit.begin();
      for (let k = 0; k < set.length; k++) {
        const { picture, light: from } = set[k]!;
        if (isClipped(picture, i)) continue;
        incident(from, xMm, yMm, 0, gains[k]!, light, 0);
        const p = nx * light[0]! + ny * light[1]! + nz * light[2]!;
        if (p < LEAST_COSINE) continue;
        const read = luminanceOf(picture.r[i]!, picture.g[i]!, picture.b[i]!);
        const off = (read - mirrored(nx, ny, nz, light, 0, view, lobes)) / (rho * p) - 1;
        if (Math.abs(off) > OUTLIER) continue;
        const row = fit.row(k, light, rho * p, read);
        for (const alpha of ALPHAS) row.push(mirrored(nx, ny, nz, light, 0, view, [{ alpha, share: 1 }]));
      }
      fit.end();
    }
  const found = fit.solved(gains);
  const next = gains.map((gain, k) => gain * (1 + found.more[k]!));
  const mean = next.reduce((sum, gain) => sum + gain, 0) / next.length;
  return { cameraMm, lobes: found.lobes, gains: next.map((gain) => gain / mean) };
}

/** How much a reading of one pixel counts against lights being as bright as was said. */
const TRUST_IN_STRENGTHS = 1e-2;
const LEAST_PIVOT = 1e-12;

/**
 * Brightness of lights and shares of lobes, which are the same all over a surface whose normal and reflectance are not: least
 * squares over the readings of all pixels, in which those of each pixel are eliminated first.
 */
class BrightnessFit {
  private rows: number[][] = [];
  private readonly size: number;
  private readonly a: Float64Array;
  private readonly b: Float64Array;
  /** Sum of the squares of the readings. */
  private energy = 0;

  constructor(private readonly lights: number) {
    this.size = lights + ALPHAS.length;
    this.a = new Float64Array(this.size * this.size);
    this.b = new Float64Array(this.size);
  }

  begin(): void {
    this.rows = [];
  }

  /** A reading, what its normal makes of it, and what a change of its light would. Lobes are to be added at the end. */
  row(k: number, light: Float64Array, predicted: number, read: number): number[] {
    const row = [read, light[0]!, light[1]!, light[2]!];
    for (let n = 0; n < this.lights; n++) row.push(n === k ? predicted : 0);
    this.rows.push(row);
    this.energy += predicted * predicted;
    return row;
  }

  /** Takes out of every column what the pixel's own normal explains (Gram–Schmidt), and adds up the rest. */
  end(): void {
    const { rows, size, a, b } = this;
    if (rows.length < LEAST_AGREEING) return;
    for (let p = 1; p <= 3; p++) {
      const square = dot(rows, p, p);
      if (square < 1e-9) return;
      for (let q = 0; q < size + 4; q++) {
        if (q > 0 && q <= p) continue;
        const share = dot(rows, p, q) / square;
        for (const row of rows) row[q]! -= share * row[p]!;
      }
    }
    for (let p = 0; p < size; p++) {
      b[p]! += dot(rows, p + 4, 0);
      for (let q = 0; q < size; q++) a[p * size + q]! += dot(rows, p + 4, q + 4);
    }
  }

  /** What is to be added to the gain of every light, as a share of it, and the lobes; no lobe has less than nothing. */
  solved(gains: readonly number[]): { more: number[]; lobes: Lobe[] } {
    const { a, b, size, lights, energy } = this;
    let kept = Array.from({ length: size }, (_, k) => k);
    for (;;) {
      const n = kept.length;
      const v = kept.map((p) => b[p]!);
      const m = kept.map((p) => kept.map((q) => a[p * size + q]!));
      kept.forEach((p, r) => {
        if (p >= lights) return;
        m[r]![r]! += TRUST_IN_STRENGTHS * energy;
        v[r]! += TRUST_IN_STRENGTHS * energy * (1 / gains[p]! - 1);
      });
      // Where nothing was read nothing is to be changed.
      const x = linearSolution(m, v, LEAST_PIVOT) ?? new Array<number>(n).fill(0);
      const worst = x.reduce(
        (w, value, r) => (kept[r]! >= lights && value < (w < 0 ? 0 : x[w]!) ? r : w),
        -1,
      );
      if (worst >= 0) {
        kept = kept.filter((_, r) => r !== worst);
        continue;
      }
      return {
        more: Array.from({ length: lights }, (_, k) => x[k]!),
        lobes: kept.flatMap((p, r) =>
          p >= lights && x[r]! > 0.01 ? [{ alpha: ALPHAS[p - lights]!, share: x[r]! }] : [],
        ),
      };
    }
  }
}

function dot(rows: readonly number[][], p: number, q: number): number {
  let sum = 0;
  for (const row of rows) sum += row[p]! * row[q]!;
  return sum;
}
