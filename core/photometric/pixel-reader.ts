import { squared } from '../exact';
import { luminanceOf, type ColourPicture } from '../raster';
import type { Arrays, RowTask } from '../shared-rows';
import { incident, type Light } from './lights';
import { PixelSolver } from './pixel-solver';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import { mirrored } from './sheen';

/** Reads what the pixels of a set of pictures say, row by row. */

/** Pixels that are read go on so far from row to row where not all are. */
const ROW_STEP = 3;
/** A reading of which more is mirrored says little of the rest. */
const MOSTLY_MIRRORED = 0.5;
/** A reading as bright as this is clipped. */
const CLIPPED = 0.995;
/** What is tallied of every light in each row: squared differences, weights, and pixels that it was of use in. */
export const TALLIED = 3;

export interface ReadingSettings {
  widthPx: number;
  heightPx: number;
  mmPerPx: { x: number; y: number };
  /** One pixel of so many is read. */
  every: number;
  brightness: Brightness;
  lights: readonly Light[];
  /** Size of the reflected light; null: nothing is known of it. */
  reflectedPx: { width: number; height: number } | null;
}

type Floats = Float32Array;

/** What is found at every pixel; `tally` holds numbers of every light, row by row. */
export interface ReadRows extends Arrays {
  x: Floats;
  y: Floats;
  z: Floats;
  used: Floats;
  residual: Floats;
  r: Floats;
  g: Floats;
  b: Floats;
  tally: Float64Array;
}

export function emptyReadings(widthPx: number, heightPx: number, lights: number): ReadRows {
  const floats = () => new Float32Array(widthPx * heightPx);
  return {
    x: floats(),
    y: floats(),
    z: floats(),
    used: floats(),
    residual: floats(),
    r: floats(),
    g: floats(),
    b: floats(),
    tally: new Float64Array(TALLIED * lights * heightPx),
  };
}

/** All that a pixel is read from, by the names that `PixelRows` reads. */
export function planesOfPixels(set: readonly LitPicture[], known: Surroundings | null): Arrays {
  const planes: [string, Arrays[string]][] = Object.entries(namedPlanes(set.map(({ picture }) => picture)));
  if (known) {
    const { height, normal, shadow, reflectance } = known;
    planes.push(['height', height.data], ['nx', normal.x], ['ny', normal.y], ['nz', normal.z]);
    planes.push(['or', reflectance.r], ['og', reflectance.g], ['ob', reflectance.b]);
    shadow.forEach((data, k) => planes.push([`shadow${k}`, data]));
  }
  return Object.fromEntries(planes);
}

type Rgb = Pick<ColourPicture, 'r' | 'g' | 'b'>;

/** Planes of some pictures by name and number. */
const namedPlanes = (pictures: readonly Rgb[]): Arrays =>
  Object.fromEntries(
    pictures.flatMap(({ r, g, b }, k) => Object.entries({ [`r${k}`]: r, [`g${k}`]: g, [`b${k}`]: b })),
  );

/** Pictures under every light, from their planes by name. */
const picturesIn = (planes: Arrays, count: number): Rgb[] =>
  Array.from({ length: count }, (_, k) => ({
    r: planes[`r${k}`] as Floats,
    g: planes[`g${k}`] as Floats,
    b: planes[`b${k}`] as Floats,
  }));

/** Some rows of all that pixels are read from. */
interface PixelRows {
  set: Rgb[];
  /** What is known of the surroundings; null: nothing. */
  known: KnownRows | null;
}
interface KnownRows {
  height: Floats;
  nx: Floats;
  ny: Floats;
  nz: Floats;
  /** Of every light, 1 where the relief throws a shadow. */
  shadow: Uint8Array[];
  reflectance: Rgb;
}

const pixelRowsOf = (planes: Arrays, count: number): PixelRows => ({
  set: picturesIn(planes, count),
  known: planes['height']
    ? {
        height: planes['height'] as Floats,
        nx: planes['nx'] as Floats,
        ny: planes['ny'] as Floats,
        nz: planes['nz'] as Floats,
        shadow: Array.from({ length: count }, (_, k) => planes[`shadow${k}`] as Uint8Array),
        reflectance: { r: planes['or'] as Floats, g: planes['og'] as Floats, b: planes['ob'] as Floats },
      }
    : null,
});

/** Of `ReflectedLight`. */
type ReflectedPlanes = Record<'light' | 'enclosed', Floats>;

export const READINGS: RowTask<ReadingSettings, Arrays, Arrays, ReadRows> = {
  name: 'photometric readings',
  begin(settings, reflected) {
    const reader = new PixelReader(settings, reflected as Partial<ReflectedPlanes>);
    return (byRow, out, from, to) =>
      reader.readRows(pixelRowsOf(byRow, settings.lights.length), out, from, to);
  },
};

/** Reads pixels one after another, in memory that all of them share. */
class PixelReader {
  private readonly solver: PixelSolver;
  private readonly reading: Float64Array;
  private readonly light: Float64Array;
  private readonly usable: Float64Array;
  private readonly sheen: Float64Array;
  private readonly view = new Float64Array(3);
  /** Light that reaches the pixel by reflection, as it reads there: red, green and blue of every light. */
  private readonly indirect: Float64Array;
  constructor(
    private readonly settings: ReadingSettings,
    /** That of a white, of all pixels. */
    private readonly reflected: Partial<ReflectedPlanes>,
  ) {
    const n = settings.lights.length;
    this.solver = new PixelSolver(n);
    this.reading = new Float64Array(n);
    this.light = new Float64Array(3 * n);
    this.usable = new Float64Array(n);
    this.sheen = new Float64Array(n);
    this.indirect = new Float64Array(3 * n);
  }

  /** Reads rows `from` to `to`, which the arrays hold alone. */
  readRows(rows: PixelRows, out: ReadRows, from: number, to: number): void {
    const { widthPx, every, lights } = this.settings;
    for (let y = from, i = 0; y < to; y++) {
      const tally = out.tally.subarray(
        (y - from) * TALLIED * lights.length,
        (y - from + 1) * TALLIED * lights.length,
      );
      for (let x = 0; x < widthPx; x++, i++) {
        if (every > 1 && (x + ROW_STEP * y) % every !== 0) continue;
        if (this.solveAt(rows, x, y, i)) this.write(rows, out, tally, i);
      }
    }
  }

  /** Finds the normal times the reflectance of a pixel. @returns false: too few readings are of use */
  private solveAt({ set, known }: PixelRows, x: number, y: number, i: number): boolean {
    const { widthPx: w, heightPx: h, mmPerPx, lights, brightness } = this.settings;
    const { gains, lobes, cameraMm } = brightness;
    const { reading, light, usable, sheen, view, indirect, solver } = this;
    const xMm = (x + 0.5 - w / 2) * mmPerPx.x;
    const yMm = (h / 2 - y - 0.5) * mmPerPx.y;
    const zMm = known ? known.height[i]! : 0;
    const far = Math.sqrt(xMm * xMm + yMm * yMm + (cameraMm - zMm) * (cameraMm - zMm));
    view[0] = -xMm / far;
    view[1] = -yMm / far;
    view[2] = (cameraMm - zMm) / far;
    const nx = known ? known.nx[i]! : 0;
    const ny = known ? known.ny[i]! : 0;
    const nz = known ? known.nz[i]! : 1;
    this.findIndirect(known, x, y, i);
    for (let k = 0; k < set.length; k++) {
      const { r, g, b } = set[k]!;
      incident(lights[k]!, xMm, yMm, zMm, gains[k]!, light, 3 * k);
      const read = Math.fround(luminanceOf(r[i]!, g[i]!, b[i]!));
      usable[k] = isClipped(set[k]!, i) || known?.shadow[k]![i] === 1 ? 0 : 1;
      const mirror = lobes.length > 0 ? mirrored(nx, ny, nz, light, 3 * k, view, lobes) : 0;
      sheen[k] = mirror;
      if (mirror > MOSTLY_MIRRORED * read) usable[k] = 0;
      const reflected = luminanceOf(indirect[3 * k]!, indirect[3 * k + 1]!, indirect[3 * k + 2]!);
      reading[k] = Math.max(0, read - mirror - reflected);
    }
    if (solver.solve(reading, light, usable)) return true;
    // With too few left, the shadows that are only expected are used after all.
    for (let k = 0; k < set.length; k++) usable[k] = isClipped(set[k]!, i) ? 0 : 1;
    return solver.solve(reading, light, usable);
  }

  /** Light that reaches a pixel by reflection, as it reads there. */
  private findIndirect(known: KnownRows | null, x: number, y: number, i: number): void {
    const { indirect } = this;
    const { light, enclosed } = this.reflected;
    const { widthPx, heightPx, reflectedPx } = this.settings;
    indirect.fill(0);
    if (!known || !reflectedPx || !light || !enclosed) return;
    const { width: w, height: h } = reflectedPx;
    const fx = Math.min(w - 1, Math.max(0, ((x + 0.5) * w) / widthPx - 0.5));
    const fy = Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / heightPx - 0.5));
    const x0 = Math.min(w - 2, Math.floor(fx));
    const y0 = Math.min(h - 2, Math.floor(fy));
    const at = y0 * w + x0;
    if (enclosed[at]! + enclosed[at + 1]! + enclosed[at + w]! + enclosed[at + w + 1]! < LEAST_ENCLOSED)
      return;
    const [tx, ty] = [fx - x0, fy - y0];
    const [a, b, c, d] = [(1 - tx) * (1 - ty), tx * (1 - ty), (1 - tx) * ty, tx * ty];
    const { r, g, b: blue } = known.reflectance;
    const rho = [r[i]!, g[i]!, blue[i]!].map((v) => Math.min(1, Math.max(0, v)));
    const n = indirect.length;
    const [upper, lower] = [at * n, (at + w) * n];
    for (let k = 0; k < n; k++) {
      const white =
        a * light[upper + k]! + b * light[upper + n + k]! + c * light[lower + k]! + d * light[lower + n + k]!;
      indirect[k] = rho[k % 3]! * white;
    }
  }

  /** Writes down what was solved. */
  private write({ set }: PixelRows, out: ReadRows, tally: Float64Array, i: number): void {
    const { light, reading } = this;
    const { m, weight, residual } = this.solver;
    const m0 = m[0]!;
    const m1 = m[1]!;
    const m2 = m[2]!;
    const length = Math.sqrt(m0 * m0 + m1 * m1 + m2 * m2);
    if (!(length > 1e-6)) return;
    out.x[i] = m0 / length;
    out.y[i] = m1 / length;
    out.z[i] = m2 / length;
    out.residual[i] = residual;
    let sum = 0;
    for (let k = 0; k < set.length; k++) {
      const w = weight[k]!;
      sum += w;
      const p = m0 * light[3 * k]! + m1 * light[3 * k + 1]! + m2 * light[3 * k + 2]!;
      if (!(w > 0.05 && p > 0)) continue;
      tally[TALLIED * k]! += w * squared(reading[k]! - p);
      tally[TALLIED * k + 1]! += w * squared(p);
      tally[TALLIED * k + 2]!++;
    }
    out.used[i] = sum;
    this.paint(set, out, length, i);
  }

  /** Reflectance of every channel by least squares over the readings that were used. */
  private paint(set: readonly Rgb[], out: ReadRows, length: number, i: number): void {
    const { light, sheen, indirect } = this;
    const { m, weight } = this.solver;
    let [r, g, b, total] = [0, 0, 0, 0];
    for (let k = 0; k < set.length; k++) {
      if (!(weight[k]! > 0)) continue;
      const p = (m[0]! * light[3 * k]! + m[1]! * light[3 * k + 1]! + m[2]! * light[3 * k + 2]!) / length;
      if (p <= 0) continue;
      const picture = set[k]!;
      const share = weight[k]! * p;
      const off = sheen[k]!;
      r += share * (picture.r[i]! - (off + indirect[3 * k]!));
      g += share * (picture.g[i]! - (off + indirect[3 * k + 1]!));
      b += share * (picture.b[i]! - (off + indirect[3 * k + 2]!));
      total += share * p;
    }
    if (total <= 0) return;
    out.r[i] = r / total;
    out.g[i] = g / total;
    out.b[i] = b / total;
  }
}

/** Reflected light is neglected where the surface takes up less of the hemisphere, summed over four pixels. */
const LEAST_ENCLOSED = 0.01;

export const isClipped = ({ r, g, b }: Rgb, i: number): boolean =>
  r[i]! >= CLIPPED || g[i]! >= CLIPPED || b[i]! >= CLIPPED;
