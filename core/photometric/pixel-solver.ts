/**
 * What one pixel says of its surface: the normal times the reflectance that explains its readings under several lights.
 *
 * A Lambertian surface reads ρ·(n·s) under light that arrives as s (Woodham, "Photometric Method for Determining Surface
 * Orientation from Multiple Images", 1980). Readings in shadow are darker than that, those in glare brighter, so every way of
 * leaving out some of the darkest and some of the brightest is tried and the one with the least trimmed cost is kept (after
 * Rousseeuw, "Least Median of Squares Regression", 1984); Tukey's biweight then refines it, as in the robust regression of
 * Ikehata, Wipf, Matsushita, Aizawa 2012.
 */
export class PixelSolver {
  /** Normal times reflectance. */
  readonly m = new Float64Array(3);
  /** 0–1: how far each reading was used. */
  readonly weight: Float64Array;
  /** Root mean square of what the used readings differ by, over the largest of them. */
  residual = 0;
  private readonly order: Int32Array;
  private readonly level: Float64Array;
  private readonly best = new Float64Array(3);
  private readonly bestWeight: Float64Array;
  private readonly a = new Float64Array(6);
  private readonly b = new Float64Array(3);
  /** Sums of the normal equations over the first readings of the order, nine numbers for each count of them. */
  private readonly sums: Float64Array;

  constructor(private readonly count: number) {
    this.weight = new Float64Array(count);
    this.bestWeight = new Float64Array(count);
    this.order = new Int32Array(count);
    this.level = new Float64Array(count);
    this.sums = new Float64Array(9 * (count + 1));
  }

  /**
   * @param reading of every light, linear
   * @param light what arrives from every light, three numbers each
   * @param known 0: the reading is known to be of no use, for instance in a shadow that the relief casts
   * @returns false where nothing can be told
   */
  solve(reading: Float64Array, light: Float64Array, known: Float64Array): boolean {
    const used = this.ordered(reading, light, known);
    if (used < 3) return false;
    this.sumUp(reading, light, used);
    let least = Infinity;
    const mostDark = Math.max(0, used - LEAST_KEPT);
    for (let dark = 0; dark <= mostDark; dark++)
      for (let bright = 0; bright <= Math.min(MOST_BRIGHT, mostDark - dark); bright++) {
        if (!this.fit(dark, used - bright)) continue;
        const leaving = LEFT_OUT_COST * (dark + bright);
        const cost = this.cost(reading, light, known, least - leaving) + leaving;
        if (cost >= least) continue;
        least = cost;
        this.best.set(this.m);
        // Everything fits: nothing better comes of leaving some out.
        if (dark === 0 && bright === 0 && cost < used) dark = mostDark;
      }
    if (least === Infinity) {
      if (!this.fit(0, used)) return false;
      this.best.set(this.m);
    }
    this.refine(reading, light, known);
    return true;
  }

  /** Readings that may be used, from the darkest to the brightest for the light that arrives. */
  private ordered(reading: Float64Array, light: Float64Array, known: Float64Array): number {
    const { order, level } = this;
    let used = 0;
    for (let k = 0; k < this.count; k++) {
      if (known[k] === 0) continue;
      const x = light[3 * k]!;
      const y = light[3 * k + 1]!;
      const z = light[3 * k + 2]!;
      const e = reading[k]! / Math.sqrt(x * x + y * y + z * z);
      level[k] = e;
      let at = used++;
      while (at > 0 && level[order[at - 1]!]! > e) {
        order[at] = order[at - 1]!;
        at--;
      }
      order[at] = k;
    }
    return used;
  }

  /** Sums the normal equations up in the order of the readings, so that those of any run are a difference of two sums. */
  private sumUp(reading: Float64Array, light: Float64Array, used: number): void {
    const { order, sums } = this;
    for (let at = 0, i = 0; at < used; at++, i += 9) {
      const k = order[at]!;
      const x = light[3 * k]!;
      const y = light[3 * k + 1]!;
      const z = light[3 * k + 2]!;
      const r = reading[k]!;
      sums[i + 9] = sums[i]! + x * x;
      sums[i + 10] = sums[i + 1]! + x * y;
      sums[i + 11] = sums[i + 2]! + x * z;
      sums[i + 12] = sums[i + 3]! + y * y;
      sums[i + 13] = sums[i + 4]! + y * z;
      sums[i + 14] = sums[i + 5]! + z * z;
      sums[i + 15] = sums[i + 6]! + r * x;
      sums[i + 16] = sums[i + 7]! + r * y;
      sums[i + 17] = sums[i + 8]! + r * z;
    }
  }

  /** Least squares over a run of the ordered readings. */
  private fit(from: number, to: number): boolean {
    const { a, b, sums } = this;
    for (let j = 0; j < 6; j++) a[j] = sums[9 * to + j]! - sums[9 * from + j]!;
    for (let j = 0; j < 3; j++) b[j] = sums[9 * to + 6 + j]! - sums[9 * from + 6 + j]!;
    return solveSymmetric(a, b, this.m);
  }

  /**
   * Sum of squared differences in standard deviations, each bounded; a reading above what is predicted is glare, below it shadow.
   * @param least it is given up as soon as it reaches this
   */
  private cost(reading: Float64Array, light: Float64Array, known: Float64Array, least: number): number {
    const m0 = this.m[0]!;
    const m1 = this.m[1]!;
    const m2 = this.m[2]!;
    if (m2 <= 0) return Infinity;
    let sum = 0;
    for (let k = 0; k < this.count && sum < least; k++) {
      if (known[k] === 0) continue;
      const p = Math.max(0, m0 * light[3 * k]! + m1 * light[3 * k + 1]! + m2 * light[3 * k + 2]!);
      const t = (reading[k]! - p) / deviation(p);
      sum += Math.min(t * t, BOUND * BOUND);
    }
    return sum;
  }

  /** Iteratively reweighted least squares from the best start, with Tukey's biweight. */
  private refine(reading: Float64Array, light: Float64Array, known: Float64Array): void {
    const { best, bestWeight } = this;
    this.weight.set(known);
    for (let round = 0; round < ROUNDS; round++) {
      if (this.reweigh(reading, light, known) < LEAST_WEIGHT) break;
      this.sumWeighted(reading, light, bestWeight);
      if (!solveSymmetric(this.a, this.b, this.m) || this.m[2]! <= 0) break;
      best.set(this.m);
      this.weight.set(bestWeight);
    }
    this.m.set(best);
    this.residual = this.residualOf(reading, light);
  }

  /** Weighs readings by how well the best fit predicts them. @returns the sum of the weights */
  private reweigh(reading: Float64Array, light: Float64Array, known: Float64Array): number {
    const { best, bestWeight: w } = this;
    const m0 = best[0]!;
    const m1 = best[1]!;
    const m2 = best[2]!;
    let total = 0;
    for (let k = 0; k < this.count; k++) {
      w[k] = 0;
      if (known[k] === 0) continue;
      const p = m0 * light[3 * k]! + m1 * light[3 * k + 1]! + m2 * light[3 * k + 2]!;
      // A light behind the surface says nothing, even where the dark it leaves fits.
      if (p <= 0) continue;
      const t = (reading[k]! - p) / (TUKEY * deviation(p));
      if (t * t >= 1) continue;
      const u = 1 - t * t;
      w[k] = u * u;
      total += u * u;
    }
    return total;
  }

  /** The normal equations of all readings with their weights. */
  private sumWeighted(reading: Float64Array, light: Float64Array, weights: Float64Array): void {
    const { a, b } = this;
    // Sums stand in variables: one that is kept in an array is written and read again for every reading.
    let [xx, xy, xz, yy, yz, zz, rx, ry, rz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    for (let k = 0; k < this.count; k++) {
      const weight = weights[k]!;
      if (!(weight > 0)) continue;
      const x = light[3 * k]!;
      const y = light[3 * k + 1]!;
      const z = light[3 * k + 2]!;
      const r = weight * reading[k]!;
      xx += weight * x * x;
      xy += weight * x * y;
      xz += weight * x * z;
      yy += weight * y * y;
      yz += weight * y * z;
      zz += weight * z * z;
      rx += r * x;
      ry += r * y;
      rz += r * z;
    }
    a[0] = xx;
    a[1] = xy;
    a[2] = xz;
    a[3] = yy;
    a[4] = yz;
    a[5] = zz;
    b[0] = rx;
    b[1] = ry;
    b[2] = rz;
  }

  /** Root mean square of what the used readings differ by from the best fit, over the largest of them. */
  private residualOf(reading: Float64Array, light: Float64Array): number {
    const { best, weight } = this;
    const m0 = best[0]!;
    const m1 = best[1]!;
    const m2 = best[2]!;
    let [squares, total, most] = [0, 0, 0];
    for (let k = 0; k < this.count; k++) {
      const w = weight[k]!;
      if (w === 0) continue;
      const p = m0 * light[3 * k]! + m1 * light[3 * k + 1]! + m2 * light[3 * k + 2]!;
      squares += w * (reading[k]! - p) * (reading[k]! - p);
      total += w;
      if (p > most) most = p;
    }
    return total > 0 && most > 0 ? Math.sqrt(squares / total) / most : 1;
  }
}

/** So many readings are kept at least: three would fit anything. */
const LEAST_KEPT = 4;
const MOST_BRIGHT = 3;
/** Readings that agree so little tell no better fit. */
const LEAST_WEIGHT = 2.5;
/** What leaving a reading out costs, in squared standard deviations. */
const LEFT_OUT_COST = 1;
/** Differences beyond so many standard deviations count as that. */
const BOUND = 4;
const TUKEY = 4.7;
const ROUNDS = 3;
/** Standard deviation of a reading: of the camera, and as a share of the reading. */
const FLOOR = 0.002;
const SHARE = 0.02;

const deviation = (predicted: number): number => FLOOR + SHARE * Math.max(0, predicted);

/**
 * Solves a symmetric 3 × 3 system.
 * @param a upper triangle, row by row
 * @returns false where it is singular
 */
function solveSymmetric(a: Float64Array, b: Float64Array, out: Float64Array): boolean {
  const xx = a[0]!;
  const xy = a[1]!;
  const xz = a[2]!;
  const yy = a[3]!;
  const yz = a[4]!;
  const zz = a[5]!;
  const c0 = yy * zz - yz * yz;
  const c1 = xz * yz - xy * zz;
  const c2 = xy * yz - xz * yy;
  const det = xx * c0 + xy * c1 + xz * c2;
  const trace = xx + yy + zz;
  if (!(Math.abs(det) > 1e-5 * trace * trace * trace)) return false;
  const p = b[0]!;
  const q = b[1]!;
  const r = b[2]!;
  out[0] = (c0 * p + c1 * q + c2 * r) / det;
  out[1] = (c1 * p + (xx * zz - xz * xz) * q + (xy * xz - xx * yz) * r) / det;
  out[2] = (c2 * p + (xy * xz - xx * yz) * q + (xx * yy - xy * xy) * r) / det;
  return true;
}
