import type { PhysicalMaterial } from '../../response';

/** Numbers of a finish at every pixel of one repeat, rows from the top; 0–1. */
export interface FinishMaps {
  widthPx: number;
  heightPx: number;
  repeatMm: { width: number; height: number };
  /** sRGB, and data 0–255; four numbers to a pixel. */
  colour: Uint8ClampedArray;
  normal: Uint8ClampedArray;
  /** One value, or data 0–255 of four numbers to a pixel. */
  roughness: number | Uint8ClampedArray;
  metalness: number | Uint8ClampedArray;
  opacity: number | Uint8ClampedArray;
  physical: PhysicalMaterial;
  /** Reflectance of a metal over the cosine of incidence, as shares of that at normal incidence; none: by Schlick's formula. */
  overAngle?: Float32Array | null;
}

/** A field of a finish: one value, or one to each pixel. */
type Field = number | Float32Array;

/** A finish in linear light at one density. */
interface Level {
  widthPx: number;
  heightPx: number;
  /** Colour and normal: three numbers to a pixel. */
  linear: Float32Array;
  normal: Float32Array;
  roughness: Field;
  metalness: Field;
  opacity: Field;
}

/** A finish as it is looked up: at its own density, and each time half of it. */
export interface TracedFinish {
  repeatMm: { width: number; height: number };
  physical: PhysicalMaterial;
  overAngle: Float32Array | null;
  /** Whether some places let light through that others do not. */
  sheer: boolean;
  levels: readonly Level[];
}

/** sRGB to linear light for each of 256 bytes. */
const LINEAR = Float32Array.from({ length: 256 }, (_, b) => {
  const v = b / 255;
  return v <= 0.04045 ? v / 12.92 : Math.exp(2.4 * Math.log((v + 0.055) / 1.055));
});

export function tracedFinish(maps: FinishMaps): TracedFinish {
  const { widthPx, heightPx, repeatMm, physical, colour, normal } = maps;
  const pixels = widthPx * heightPx;
  const field = (of: number | Uint8ClampedArray): Field =>
    typeof of === 'number' ? of : Float32Array.from({ length: pixels }, (_, i) => of[4 * i]! / 255);
  const three = (valueOf: (k: number) => number) => {
    const out = new Float32Array(3 * pixels);
    for (let i = 0; i < pixels; i++) for (let c = 0; c < 3; c++) out[3 * i + c] = valueOf(4 * i + c);
    return out;
  };
  const levels: Level[] = [
    {
      widthPx,
      heightPx,
      linear: three((k) => LINEAR[colour[k]!]!),
      normal: three((k) => normal[k]! / 127.5 - 1),
      roughness: field(maps.roughness),
      metalness: field(maps.metalness),
      opacity: field(maps.opacity),
    },
  ];
  for (let last = levels[0]!; Math.max(last.widthPx, last.heightPx) > 1; last = levels[levels.length - 1]!)
    levels.push(halved(last));
  return {
    repeatMm,
    physical,
    overAngle: maps.overAngle ?? null,
    sheer: typeof maps.opacity !== 'number',
    levels,
  };
}

/** Half as dense: the mean of two by two pixels; of an odd side the last pixel counts in its neighbour. */
function halved({ widthPx: w, heightPx: h, ...of }: Level): Level {
  const [wide, high] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  const mean = (from: Float32Array, n: number) => {
    const out = new Float32Array(n * wide * high);
    for (let y = 0; y < high; y++)
      for (let x = 0; x < wide; x++)
        for (let c = 0; c < n; c++) {
          const at = (dx: number, dy: number) =>
            from[n * (Math.min(h - 1, 2 * y + dy) * w + Math.min(w - 1, 2 * x + dx)) + c]!;
          out[n * (y * wide + x) + c] = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
        }
    return out;
  };
  const field = (from: Field): Field => (typeof from === 'number' ? from : mean(from, 1));
  return {
    widthPx: wide,
    heightPx: high,
    linear: mean(of.linear, 3),
    normal: mean(of.normal, 3),
    roughness: field(of.roughness),
    metalness: field(of.metalness),
    opacity: field(of.opacity),
  };
}

/** What a finish is at a place, between its pixels. */
export class Sampled {
  r = 0;
  g = 0;
  b = 0;
  /** Normal over the finish: along u, along v, out of it. */
  nx = 0;
  ny = 0;
  nz = 1;
  roughness = 0.5;
  metalness = 0;
  opacity = 1;
  private readonly at = new Int32Array(4);
  private readonly share = new Float32Array(4);

  /**
   * @param uMm, vMm place on the finish, to the right and up
   * @param acrossMm width over which it is averaged
   */
  look({ repeatMm, levels }: TracedFinish, uMm: number, vMm: number, acrossMm = 0): void {
    const { at, share } = this;
    const pxMm = repeatMm.width / levels[0]!.widthPx;
    const coarser = acrossMm > pxMm ? Math.round(Math.log2(acrossMm / pxMm)) : 0;
    const of = levels[Math.min(levels.length - 1, coarser)]!;
    const w = of.widthPx;
    const h = of.heightPx;
    const u = uMm / repeatMm.width;
    const v = 1 - vMm / repeatMm.height;
    const x = (u - Math.floor(u)) * w - 0.5;
    const y = (v - Math.floor(v)) * h - 0.5;
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const fx = x - x0;
    const fy = y - y0;
    const left = (x0 + w) % w;
    const right = (x0 + 1) % w;
    const top = ((y0 + h) % h) * w;
    const below = ((y0 + 1) % h) * w;
    at[0] = top + left;
    at[1] = top + right;
    at[2] = below + left;
    at[3] = below + right;
    share[0] = (1 - fx) * (1 - fy);
    share[1] = fx * (1 - fy);
    share[2] = (1 - fx) * fy;
    share[3] = fx * fy;
    this.mix(of);
  }

  private mix({ linear, normal, roughness, metalness, opacity }: Level): void {
    this.r = this.g = this.b = this.nx = this.ny = this.nz = 0;
    for (let k = 0; k < 4; k++) {
      const i = 3 * this.at[k]!;
      const s = this.share[k]!;
      this.r += s * linear[i]!;
      this.g += s * linear[i + 1]!;
      this.b += s * linear[i + 2]!;
      this.nx += s * normal[i]!;
      this.ny += s * normal[i + 1]!;
      this.nz += s * normal[i + 2]!;
    }
    this.roughness = this.one(roughness);
    this.metalness = this.one(metalness);
    this.opacity = this.one(opacity);
  }

  private one(field: Field): number {
    if (typeof field === 'number') return field;
    let sum = 0;
    for (let k = 0; k < 4; k++) sum += this.share[k]! * field[this.at[k]!]!;
    return sum;
  }
}
