import { fractalNoise, seededRandom } from '../../raster';
import { cells, paint, tone, type Area, type GeneratedSurface, type Rgb } from './surface';

export interface BrushedMetalSettings extends Area {
  metal: Rgb;
  /** Scratches that begin in a square centimetre. */
  perCm2: number;
  /** How deep the deepest is, mm. */
  deepestMm: number;
}

/** How far scratches turn off the direction of brushing, as a standard deviation. */
const ANGLE_SPREAD = 0.012;
const SHORTEST_MM = 5;
const LONGEST_MM = 80;

/**
 * Brushed sheet: scratches along x whose lengths are spread evenly on a logarithmic scale from 5 to 80 mm, shallow at their
 * ends, some of them deep, over the soft bands of the sheet.
 */
export function brushedMetal(settings: BrushedMetalSettings): GeneratedSurface {
  const { widthMm, heightMm, seed, metal, deepestMm } = settings;
  const surface = paint(settings, (x, y, spot) => {
    const [u, v] = [x / widthMm, y / heightMm];
    const band = fractalNoise(u, v, 1, cells(heightMm, 40), 3, 0.55, seed + 1);
    const cloud = fractalNoise(u, v, cells(widthMm, 90), cells(heightMm, 60), 3, 0.5, seed + 2);
    [spot.r, spot.g, spot.b] = metal;
    tone(spot, 1 + 0.025 * band + 0.02 * cloud);
    spot.heightMm = 0.0006 * band;
    spot.glossGu = 180;
  });
  const { colour, heightMmPlane, glossGu } = surface;
  const scratches = scratchesOf(settings, colour.widthPx, colour.heightPx);
  for (let i = 0; i < scratches.depth.length; i++) {
    const depth = scratches.depth[i]!;
    heightMmPlane.data[i]! -= deepestMm * depth;
    // A scratch shows the light from elsewhere: some are brighter than what lies around them, some darker.
    const shade = 1 + 0.3 * scratches.light[i]!;
    for (const c of ['r', 'g', 'b'] as const) colour[c][i]! *= shade;
    glossGu.data[i]! -= 60 * depth;
  }
  return surface;
}

/** Depth of scratches, 0–1, and how much lighter or darker they are, in proportion to it; they run over the edges. */
function scratchesOf(
  { widthMm, heightMm, pxPerMm, perCm2, seed }: BrushedMetalSettings,
  widthPx: number,
  heightPx: number,
): { depth: Float32Array; light: Float32Array } {
  const deep = new Float32Array(widthPx * heightPx);
  const light = new Float32Array(deep.length);
  const random = seededRandom(seed);
  const count = Math.round((perCm2 * widthMm * heightMm) / 100);
  for (let n = 0; n < count; n++) {
    const lengthMm = SHORTEST_MM * Math.exp(random.next() * Math.log(LONGEST_MM / SHORTEST_MM));
    const length = Math.max(2, Math.round(lengthMm * pxPerMm));
    const [x0, y0] = [random.next() * widthPx, random.next() * heightPx];
    const slope = ANGLE_SPREAD * random.normal();
    // Most are faint: the depth falls off fast.
    const depth = 0.06 + 0.94 * random.next() * random.next() * random.next();
    const half = 0.5 + 0.9 * depth;
    const shine = random.next() < 0.5 ? -1 : 0.9;
    for (let k = 0; k < length; k++) {
      const along = k / (length - 1);
      const here = depth * Math.min(1, 6 * along, 6 * (1 - along));
      const x = Math.floor(x0 + k) % widthPx;
      const y = y0 + k * slope;
      for (let row = Math.ceil(y - half); row <= y + half; row++) {
        const i = ((row % heightPx) + heightPx) % heightPx;
        const across = 1 - Math.abs(row - y) / half;
        const at = i * widthPx + x;
        if (here * across <= deep[at]!) continue;
        deep[at] = here * across;
        light[at] = shine * here * across;
      }
    }
  }
  return { depth: deep, light };
}
