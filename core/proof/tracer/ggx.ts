/** GGX with two widths (Walter et al. 2007; Heitz 2014, 2018), in the frame of the surface: z is its normal. */

/** Density of facets whose normal is h. */
export function density(hx: number, hy: number, hz: number, ax: number, ay: number): number {
  const q = (hx * hx) / (ax * ax) + (hy * hy) / (ay * ay) + hz * hz;
  return 1 / (Math.PI * ax * ay * q * q);
}

/** Λ of Smith's masking for a direction. */
export function hidden(x: number, y: number, z: number, ax: number, ay: number): number {
  const t2 = (ax * ax * x * x + ay * ay * y * y) / (z * z);
  return (Math.sqrt(1 + t2) - 1) / 2;
}

/** A facet that is seen from a direction, drawn by two numbers 0–1 (Heitz 2018). */
export class Facet {
  x = 0;
  y = 0;
  z = 1;

  draw(vx: number, vy: number, vz: number, ax: number, ay: number, u1: number, u2: number): void {
    // As if the surface were stretched to a half sphere.
    let sx = ax * vx;
    let sy = ay * vy;
    let sz = vz;
    const s = 1 / Math.sqrt(sx * sx + sy * sy + sz * sz);
    sx *= s;
    sy *= s;
    sz *= s;
    const flat = sx * sx + sy * sy;
    const t1x = flat > 0 ? -sy / Math.sqrt(flat) : 1;
    const t1y = flat > 0 ? sx / Math.sqrt(flat) : 0;
    const t2x = -sz * t1y;
    const t2y = sz * t1x;
    const t2z = sx * t1y - sy * t1x;
    const r = Math.sqrt(u1);
    const phi = 2 * Math.PI * u2;
    const p1 = r * Math.cos(phi);
    const shift = 0.5 * (1 + sz);
    const p2 = (1 - shift) * Math.sqrt(Math.max(0, 1 - p1 * p1)) + shift * r * Math.sin(phi);
    const p3 = Math.sqrt(Math.max(0, 1 - p1 * p1 - p2 * p2));
    const nx = ax * (p1 * t1x + p2 * t2x + p3 * sx);
    const ny = ay * (p1 * t1y + p2 * t2y + p3 * sy);
    const nz = Math.max(1e-6, p2 * t2z + p3 * sz);
    const n = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
    this.x = nx * n;
    this.y = ny * n;
    this.z = nz * n;
  }
}

const COSINES = 32;
const WIDTHS = 32;
const SAMPLES = 16;

/** What a GGX surface reflects in all, of a Fresnel term f0 + (1 − f0)·(1 − cos)⁵: f0·scale + bias. */
interface Reflected {
  scale: Float32Array;
  bias: Float32Array;
}
let table: Reflected | null = null;

function reflectedTable(): Reflected {
  if (table) return table;
  const scale = new Float32Array(COSINES * WIDTHS);
  const bias = new Float32Array(COSINES * WIDTHS);
  const facet = new Facet();
  for (let a = 0; a < WIDTHS; a++)
    for (let c = 0; c < COSINES; c++) {
      const vz = Math.max(0.01, c / (COSINES - 1));
      const vx = Math.sqrt(1 - vz * vz);
      const alpha = alphaOf(a / (WIDTHS - 1));
      let [s, b] = [0, 0];
      for (let i = 0; i < SAMPLES; i++)
        for (let j = 0; j < SAMPLES; j++) {
          facet.draw(vx, 0, vz, alpha, alpha, (i + 0.5) / SAMPLES, (j + 0.5) / SAMPLES);
          const vh = vx * facet.x + vz * facet.z;
          const lx = 2 * vh * facet.x - vx;
          const ly = 2 * vh * facet.y;
          const lz = 2 * vh * facet.z - vz;
          if (lz <= 0 || vh <= 0) continue;
          const mv = hidden(vx, 0, vz, alpha, alpha);
          const g = (1 + mv) / (1 + mv + hidden(lx, ly, lz, alpha, alpha));
          const m = 1 - vh;
          const f = m * m * m * m * m;
          s += g * (1 - f);
          b += g * f;
        }
      scale[a * COSINES + c] = s / (SAMPLES * SAMPLES);
      bias[a * COSINES + c] = b / (SAMPLES * SAMPLES);
    }
  return (table = { scale, bias });
}
const alphaOf = (roughness: number) => Math.max(1e-3, roughness * roughness);

/** The two shares of what is reflected in all, looked up between the entries of the table. */
export class Albedo {
  scale = 1;
  bias = 0;

  /** @param cos of the angle that one looks at, @param roughness glTF roughness */
  look(cos: number, roughness: number): void {
    const { scale, bias } = reflectedTable();
    const x = Math.min(1, Math.max(0, cos)) * (COSINES - 1);
    const y = Math.min(1, Math.max(0, roughness)) * (WIDTHS - 1);
    const c = Math.min(COSINES - 2, Math.floor(x));
    const a = Math.min(WIDTHS - 2, Math.floor(y));
    const fx = x - c;
    const fy = y - a;
    const i = a * COSINES + c;
    const mix = (t: Float32Array) =>
      (1 - fy) * ((1 - fx) * t[i]! + fx * t[i + 1]!) +
      fy * ((1 - fx) * t[i + COSINES]! + fx * t[i + COSINES + 1]!);
    this.scale = mix(scale);
    this.bias = mix(bias);
  }

  /** What is reflected in all at a reflectance at normal incidence, light that is reflected more than once included (Turquin 2019). */
  total(f0: number): number {
    const once = this.scale + this.bias;
    return Math.min(1, (f0 * this.scale + this.bias) * (1 + (f0 * (1 - once)) / Math.max(1e-3, once)));
  }

  /** Factor by which light that is reflected more than once adds to what is reflected once. */
  more(f0: number): number {
    const once = this.scale + this.bias;
    return 1 + (f0 * (1 - once)) / Math.max(1e-3, once);
  }
}
