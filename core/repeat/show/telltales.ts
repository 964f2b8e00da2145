import { squared } from '../../exact';
import { linearToLab } from '../../colour';
import { blurWrapped, makePlane, percentiles, resample, type ColourPicture, type Plane } from '../../raster';
import { pieces, type Courses } from './lattice';

/** A place in a repeat that stands out from all else in it: it gives the repetition away. Places are shares of the repeat. */
export interface Telltale {
  /** Its middle. */
  at: readonly [number, number];
  /** Its outline; may reach over the edges of the repeat. */
  outline: readonly (readonly [number, number])[];
  /** Share of the repeat that it covers. */
  share: number;
  /** How far it is off what lies around it: ΔE*ab of the means. */
  contrast: number;
  /** Difference in L*, a*, b*: itself less what lies around it. */
  differs: readonly [number, number, number];
  /** By how many robust standard deviations it is out of what the repeat has at this size. */
  out: number;
}

/** Telltales are looked for on a raster of this longer side, px. */
const SIDE_PX = 512;
/** Sizes that are looked at: standard deviation as a share of the shorter side, an octave apart. */
const SIZES = [1 / 256, 1 / 128, 1 / 64, 1 / 32, 1 / 16, 1 / 9];
/** A place is out where it is so many robust standard deviations off. */
const OUT = 3.5;
/** What is connected at so many of them belongs to one place: a vein is long, not strong. */
const CONNECTED = 2.2;
/** Of a normal distribution, the standard deviation over the median of absolute deviations. */
const PER_MEDIAN = 1.4826;
/** What is not seen gives nothing away, ΔE*ab. */
const LEAST_CONTRAST = 1.5;
const MOST = 40;
/** What is so long, as a share of the repeat, is a stripe of the finish. */
const STRIPE = 0.7;

/** Which piece lies where, as a raster over the repeat. */
export interface PiecesOver {
  piece: ArrayLike<number>;
  widthPx: number;
  heightPx: number;
}

/**
 * Finds what gives a repetition away: connected regions whose lightness or colour, in bands an octave wide, is out of what
 * the repeat has elsewhere (robust z above 3.5), and whose mass, the sum of z over the region, or whose peak is out of those
 * of all such regions as well: in a finish full of chips or knots, chips and knots are not out. A regular structure is
 * taken out first, so that joints count only where they differ from the other joints. Of a surface laid of pieces, each
 * is held against itself: that pieces differ in tone, and that joints lie between them, is what it is.
 *
 * @param picture one repeat, linear light
 * @param courses regular structure in it
 * @param laid which piece lies where; null: it is not laid of pieces
 * @returns by contrast times area, the strongest first; at most 40
 */
export function findTelltales(
  picture: ColourPicture,
  courses: Courses = {},
  laid: PiecesOver | null = null,
): Telltale[] {
  const planes = labOf(picture);
  const lab = laid ? withoutPieces(planes, laid) : planes.map((plane) => withoutStructure(plane, courses));
  const { widthPx: W, heightPx: H } = lab[0]!;
  const short = Math.min(W, H);
  const found: (Telltale & { pixels: Set<number> })[] = [];
  for (const size of SIZES) {
    const sigma = size * short;
    const smooth = lab.map((plane) => blurWrapped(plane, sigma, sigma));
    const broad = lab.map((plane) => blurWrapped(plane, 2.5 * sigma, 2.5 * sigma));
    for (let c = 0; c < 3; c++) {
      const band = smooth[c]!.data.map((v, i) => v - broad[c]!.data[i]!);
      for (const sign of [1, -1] as const) {
        const signed = sign === 1 ? band : band.map((v) => -v);
        for (const region of regionsOut(signed, W, H)) {
          const about = describe(region, lab, W, H);
          // Beside something dark a band is light: that is not itself lighter than what lies around it.
          if (about.contrast < LEAST_CONTRAST || sign * about.differs[c]! < 0.4 * about.contrast) continue;
          found.push({
            ...about,
            out: region.out,
            pixels: new Set(region.pixels.map(([x, y]) => wrapTo(x, y, W, H))),
          });
        }
      }
    }
  }
  // The same place is found at several sizes and in several channels. Too large an outline loses in contrast what it gains in
  // area, so the one that is strongest for its width stands for it.
  const fits = (g: Telltale) => g.contrast * Math.sqrt(g.share);
  found.sort((a, b) => fits(b) - fits(a));
  const kept: typeof found = [];
  for (const one of found) {
    const overlaps = kept.some((other) => {
      // What lies round the middle of another is its rim.
      const off = (k: 0 | 1) => Math.abs(one.at[k] - other.at[k] - Math.round(one.at[k] - other.at[k]));
      if (Math.hypot(off(0) * W, off(1) * H) < 0.5 * Math.sqrt(other.pixels.size)) return true;
      let both = 0;
      for (const p of one.pixels) if (other.pixels.has(p)) both++;
      return both > 0.25 * Math.min(one.pixels.size, other.pixels.size);
    });
    if (!overlaps) kept.push(one);
    if (kept.length === MOST) break;
  }
  const shows = (g: Telltale) => g.contrast * g.share;
  return kept.map(({ pixels: _, ...rest }) => rest).sort((a, b) => shows(b) - shows(a));
}

const wrapTo = (x: number, y: number, W: number, H: number) => (((y % H) + H) % H) * W + (((x % W) + W) % W);

/** L*, a*, b* on the raster that is looked at. */
function labOf(picture: ColourPicture): Plane[] {
  const { widthPx, heightPx } = picture;
  const scale = Math.min(1, SIDE_PX / Math.max(widthPx, heightPx));
  const [W, H] = [Math.max(8, Math.round(widthPx * scale)), Math.max(8, Math.round(heightPx * scale))];
  const small = (['r', 'g', 'b'] as const).map((c) => {
    const plane = { widthPx, heightPx, data: picture[c] };
    const step = { stepX: widthPx / W, stepY: heightPx / H };
    return resample(plane, { leftPx: 0, topPx: 0, ...step }, W, H).data;
  });
  const out = [makePlane(W, H), makePlane(W, H), makePlane(W, H)];
  for (let i = 0; i < W * H; i++) {
    const lab = linearToLab([small[0]![i]!, small[1]![i]!, small[2]![i]!]);
    for (let c = 0; c < 3; c++) out[c]!.data[i] = lab[c]!;
  }
  return out;
}

/** How far pieces stray from their place, px. */
const STRAY_PX = 3;

/**
 * What is left when the mean over all pieces of a structure is taken out of each. Where the mean itself is steep, and about
 * there as far as pieces stray, their joints decide: less counts there.
 */
function withoutStructure(plane: Plane, courses: Courses): Plane {
  const steps = pieces(courses);
  if (steps.length < 2) return plane;
  const { widthPx: W, heightPx: H, data } = plane;
  const shifts = steps.map(([x, y]) => [Math.round(x * W), Math.round(y * H)] as const);
  const usual = makePlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      let sum = 0;
      for (const [dx, dy] of shifts) sum += data[((y + dy) % H) * W + ((x + dx) % W)]!;
      usual.data[y * W + x] = sum / shifts.length;
    }
  const steep = new Float32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const at = (dx: number, dy: number) => usual.data[wrapTo(x + dx, y + dy, W, H)]!;
      steep[y * W + x] = Math.hypot(at(1, 0) - at(-1, 0), at(0, 1) - at(0, -1));
    }
  const [flat] = percentiles(steep, [0.5]) as [number];
  const out = makePlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      let about = 0;
      for (let d = -STRAY_PX; d <= STRAY_PX; d++)
        about = Math.max(about, steep[wrapTo(x + d, y, W, H)]!, steep[wrapTo(x, y + d, W, H)]!);
      const i = y * W + x;
      out.data[i] = (data[i]! - usual.data[i]!) / (1 + squared(about / (3 * flat + 1e-6)));
    }
  return out;
}

/** So near to its edge a board is not looked at: joints lie there. */
const BORDER_PX = 2;

/** What is left of pieces when the middle colour of each is taken out of it; nothing is left of their joints. */
function withoutPieces(lab: readonly Plane[], { piece, widthPx, heightPx }: PiecesOver): Plane[] {
  const { widthPx: W, heightPx: H } = lab[0]!;
  const of = new Int32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [u, v] = [Math.floor(((x + 0.5) * widthPx) / W), Math.floor(((y + 0.5) * heightPx) / H)];
      of[y * W + x] = piece[v * widthPx + u]!;
    }
  const inside = new Map<number, number[]>();
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const own = of[y * W + x]!;
      let whole = own >= 0;
      for (let v = -BORDER_PX; whole && v <= BORDER_PX; v++)
        for (let u = -BORDER_PX; whole && u <= BORDER_PX; u++) whole = of[wrapTo(x + u, y + v, W, H)] === own;
      if (!whole) continue;
      const places = inside.get(own) ?? [];
      places.push(y * W + x);
      inside.set(own, places);
    }
  return lab.map(({ data }) => {
    const out = makePlane(W, H);
    for (const places of inside.values()) {
      const values = Float32Array.from(places, (p) => data[p]!);
      const [usual] = percentiles(values, [0.5]) as [number];
      for (const p of places) out.data[p] = data[p]! - usual;
    }
    return out;
  });
}

/** So many values, spread evenly, tell the median of all. */
const SPREAD = 20000;

/** Median and robust standard deviation. */
function robust(all: Float32Array): { median: number; deviation: number } {
  // A step that shares no factor with the width.
  const step = Math.max(1, Math.floor(all.length / SPREAD) | 1);
  const values =
    step > 1 ? Float32Array.from({ length: Math.floor(all.length / step) }, (_, k) => all[k * step]!) : all;
  const [median] = percentiles(values, [0.5]) as [number];
  const [away] = percentiles(
    values.map((v) => Math.abs(v - median)),
    [0.5],
  ) as [number];
  return { median, deviation: Math.max(1e-6, PER_MEDIAN * away) };
}

interface Region {
  /** Places unwrapped from the first. */
  pixels: [number, number][];
  /** z at its peak. */
  out: number;
  mass: number;
}

/** Fewer regions than this say nothing of what is usual: each must then be out by more. */
const ENOUGH = 8;
const OUT_ALONE = 4.5;

/** Whether a region is a place, and not a stripe from edge to edge. */
function isPlace(pixels: readonly (readonly [number, number])[], W: number, H: number): boolean {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [x, y] of pixels) {
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  return right - left < STRIPE * W && bottom - top < STRIPE * H;
}

/** By chance a peak as high comes up in one of so many repeats, e to the power of this. */
const SELDOM = 7;

/**
 * How high the highest of these excesses over a threshold is not expected to be: they fall off exponentially (Pickands 1975),
 * so that the highest of n is about their mean times log n. The mean is told by the median, which single ones do not move.
 */
function beyondTail(excesses: Float32Array): number {
  const [half] = percentiles(excesses, [0.5]) as [number];
  return (half / Math.LN2) * (Math.log(excesses.length) + SELDOM);
}

/** Connected regions that are out, and whose mass or peak is out of those of all of them. */
function regionsOut(signed: Float32Array, W: number, H: number): Region[] {
  const { median, deviation } = robust(signed);
  const edge = median + CONNECTED * deviation;
  const taken = new Uint8Array(signed.length);
  const all: Region[] = [];
  for (let start = 0; start < signed.length; start++) {
    if (taken[start] === 1 || signed[start]! <= edge) continue;
    const region: Region = { pixels: [[start % W, Math.floor(start / W)]], out: 0, mass: 0 };
    taken[start] = 1;
    for (let k = 0; k < region.pixels.length; k++) {
      const [x, y] = region.pixels[k]!;
      const z = (signed[wrapTo(x, y, W, H)]! - median) / deviation;
      region.mass += z;
      region.out = Math.max(region.out, z);
      for (const [u, v] of [
        [x + 1, y],
        [x - 1, y],
        [x, y + 1],
        [x, y - 1],
      ] as const) {
        const q = wrapTo(u, v, W, H);
        if (taken[q] === 1 || signed[q]! <= edge) continue;
        taken[q] = 1;
        region.pixels.push([u, v]);
      }
    }
    all.push(region);
  }
  const masses = robust(Float32Array.from(all, (r) => Math.log(r.mass)));
  const few = all.length < ENOUGH;
  const heavy = few ? -Infinity : masses.median + OUT * masses.deviation;
  const strong = few ? -Infinity : beyondTail(Float32Array.from(all, (r) => r.out - CONNECTED)) + CONNECTED;
  return all.filter(
    ({ pixels, out, mass }) =>
      out > (all.length >= ENOUGH ? OUT : OUT_ALONE) &&
      pixels.length >= 3 &&
      pixels.length < 0.25 * signed.length &&
      isPlace(pixels, W, H) &&
      (Math.log(mass) > heavy || out > strong),
  );
}

/** A region's middle, outline, extent and contrast to the ring around it. */
function describe(
  { pixels }: { pixels: [number, number][] },
  lab: readonly Plane[],
  W: number,
  H: number,
): Omit<Telltale, 'out'> {
  let [sx, sy] = [0, 0];
  const inside = new Set<number>();
  for (const [x, y] of pixels) {
    sx += x + 0.5;
    sy += y + 0.5;
    inside.add(wrapTo(x, y, W, H));
  }
  const wide = Math.max(2, Math.round(0.6 * Math.sqrt(pixels.length / Math.PI)));
  const ring = new Set<number>();
  for (const [x, y] of pixels)
    for (const [dx, dy] of [
      [wide, 0],
      [-wide, 0],
      [0, wide],
      [0, -wide],
    ] as const) {
      const q = wrapTo(x + dx, y + dy, W, H);
      if (!inside.has(q)) ring.add(q);
    }
  const differs = ([0, 1, 2] as const).map((c) => {
    const over = (set: Set<number>) => {
      let sum = 0;
      for (const p of set) sum += lab[c]!.data[p]!;
      return set.size > 0 ? sum / set.size : 0;
    };
    return over(inside) - over(ring);
  }) as [number, number, number];
  const mod = (v: number) => v - Math.floor(v);
  return {
    at: [mod(sx / pixels.length / W), mod(sy / pixels.length / H)],
    outline: hull(pixels.flatMap(([x, y]) => corners(x, y))).map(([x, y]) => {
      // Unwrapped beside the middle as it lies in the repeat.
      const [bx, by] = [Math.floor(sx / pixels.length / W), Math.floor(sy / pixels.length / H)];
      return [x / W - bx, y / H - by] as const;
    }),
    share: pixels.length / (W * H),
    contrast: Math.hypot(...differs),
    differs,
  };
}

const corners = (x: number, y: number): [number, number][] => [
  [x, y],
  [x + 1, y],
  [x, y + 1],
  [x + 1, y + 1],
];

/** The convex hull of points, clockwise on the screen. Andrew's monotone chain, 1979. */
export function hull(points: readonly (readonly [number, number])[]): [number, number][] {
  const sorted = [...points]
    .sort((a, b) => a[0] - b[0] || a[1] - b[1])
    .map(([x, y]) => [x, y] as [number, number]);
  const half = (list: [number, number][]) => {
    const out: [number, number][] = [];
    for (const p of list) {
      while (out.length >= 2) {
        const [a, b] = [out.at(-2)!, out.at(-1)!];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}
