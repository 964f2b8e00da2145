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

  constructor(private readonly count: number) {
    this.weight = new Float64Array(count);
    this.bestWeight = new Float64Array(count);
    this.order = new Int32Array(count);
    this.level = new Float64Array(count);
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
    let least = Infinity;
    const mostDark = Math.max(0, used - LEAST_KEPT);
    for (let dark = 0; dark <= mostDark; dark++)
      for (let bright = 0; bright <= Math.min(MOST_BRIGHT, mostDark - dark); bright++) {
        if (!this.fit(reading, light, dark, used - bright)) continue;
        const cost = this.cost(reading, light, known) + LEFT_OUT_COST * (dark + bright);
        if (cost >= least) continue;
        least = cost;
        this.best.set(this.m);
        // Everything fits: nothing better comes of leaving some out.
        if (dark === 0 && bright === 0 && cost < used) dark = mostDark;
      }
    if (least === Infinity) {
      if (!this.fit(reading, light, 0, used)) return false;
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
      const [x, y, z] = [light[3 * k]!, light[3 * k + 1]!, light[3 * k + 2]!];
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

  /** Least squares over a run of the ordered readings. */
  private fit(reading: Float64Array, light: Float64Array, from: number, to: number): boolean {
    const { a, b, order } = this;
    a.fill(0);
    b.fill(0);
    for (let at = from; at < to; at++) this.add(reading, light, order[at]!, 1);
    return solveSymmetric(a, b, this.m);
  }

  private add(reading: Float64Array, light: Float64Array, k: number, weight: number): void {
    const { a, b } = this;
    const [x, y, z] = [light[3 * k]!, light[3 * k + 1]!, light[3 * k + 2]!];
    const r = weight * reading[k]!;
    a[0]! += weight * x * x;
    a[1]! += weight * x * y;
    a[2]! += weight * x * z;
    a[3]! += weight * y * y;
    a[4]! += weight * y * z;
    a[5]! += weight * z * z;
    b[0]! += r * x;
    b[1]! += r * y;
    b[2]! += r * z;
  }

  private predicted(light: Float64Array, k: number, m: Float64Array): number {
    return m[0]! * light[3 * k]! + m[1]! * light[3 * k + 1]! + m[2]! * light[3 * k + 2]!;
  }

  /** Sum of squared differences in standard deviations, each bounded; a reading above what is predicted is glare, below it shadow. */
  private cost(reading: Float64Array, light: Float64Array, known: Float64Array): number {
    if (this.m[2]! <= 0) return Infinity;
    let sum = 0;
    for (let k = 0; k < this.count; k++) {
      if (known[k] === 0) continue;
      const p = Math.max(0, this.predicted(light, k, this.m));
      const sigma = deviation(p);
      const t = (reading[k]! - p) / sigma;
      sum += Math.min(t * t, BOUND * BOUND);
    }
    return sum;
  }

  /** Iteratively reweighted least squares from the best start, with Tukey's biweight. */
  private refine(reading: Float64Array, light: Float64Array, known: Float64Array): void {
    const { best, bestWeight: w, a, b } = this;
    this.weight.set(known);
    for (let round = 0; round < ROUNDS; round++) {
      let total = 0;
      for (let k = 0; k < this.count; k++) {
        w[k] = 0;
        if (known[k] === 0) continue;
        const p = this.predicted(light, k, best);
        // A light behind the surface says nothing, even where the dark it leaves fits.
        if (p <= 0) continue;
        const t = (reading[k]! - p) / (TUKEY * deviation(p));
        if (t * t >= 1) continue;
        const u = 1 - t * t;
        w[k] = u * u;
        total += w[k]!;
      }
      if (total < 2.5) break;
      a.fill(0);
      b.fill(0);
      for (let k = 0; k < this.count; k++) if (w[k]! > 0) this.add(reading, light, k, w[k]!);
      if (!solveSymmetric(a, b, this.m) || this.m[2]! <= 0) break;
      best.set(this.m);
      this.weight.set(w);
    }
    this.m.set(best);
    let [squares, total, most] = [0, 0, 0];
    for (let k = 0; k < this.count; k++) {
      if (this.weight[k]! === 0) continue;
      const p = this.predicted(light, k, best);
      squares += this.weight[k]! * (reading[k]! - p) * (reading[k]! - p);
      total += this.weight[k]!;
      most = Math.max(most, p);
    }
    this.residual = total > 0 && most > 0 ? Math.sqrt(squares / total) / most : 1;
  }
}

/** So many readings are kept at least: three would fit anything. */
const LEAST_KEPT = 4;
const MOST_BRIGHT = 3;
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
  const [xx, xy, xz, yy, yz, zz] = [a[0]!, a[1]!, a[2]!, a[3]!, a[4]!, a[5]!];
  const c0 = yy * zz - yz * yz;
  const c1 = xz * yz - xy * zz;
  const c2 = xy * yz - xz * yy;
  const det = xx * c0 + xy * c1 + xz * c2;
  const trace = xx + yy + zz;
  if (!(Math.abs(det) > 1e-5 * trace * trace * trace)) return false;
  const [p, q, r] = [b[0]!, b[1]!, b[2]!];
  out[0] = (c0 * p + c1 * q + c2 * r) / det;
  out[1] = (c1 * p + (xx * zz - xz * xz) * q + (xy * xz - xx * yz) * r) / det;
  out[2] = (c2 * p + (xy * xz - xx * yz) * q + (xx * yy - xy * xy) * r) / det;
  return true;
}
