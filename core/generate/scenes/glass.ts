import { fractalNoise, seededRandom } from '../../raster';
import { cells, paint, tone, type Area, type GeneratedSurface, type Rgb } from './surface';

export interface SheetGlassSettings extends Area {
  /** What is seen of it before a white ground. */
  colour: Rgb;
  /** Small bubbles in a square metre, drawn out along x. */
  seedsPerM2: number;
  /** Amplitude of the wave that rollers leave across x, mm. */
  waveMm: number;
}

/** Sheet glass before a white ground: roller wave of 150 to 400 mm along one axis, and a few bubbles drawn out along it. */
export function sheetGlass(settings: SheetGlassSettings): GeneratedSurface {
  const { widthMm, heightMm, seed, colour, waveMm, seedsPerM2, pxPerMm } = settings;
  const surface = paint(settings, (x, y, spot) => {
    const [u, v] = [x / widthMm, y / heightMm];
    const wave =
      Math.sin(2 * Math.PI * (cells(widthMm, 240) * u)) +
      0.5 * fractalNoise(u, v, cells(widthMm, 180), cells(heightMm, 700), 2, 0.5, seed + 1);
    [spot.r, spot.g, spot.b] = colour;
    tone(spot, 1 + 0.004 * fractalNoise(u, v, cells(widthMm, 300), cells(heightMm, 300), 3, 0.5, seed + 2));
    spot.heightMm = waveMm * wave;
    spot.glossGu = 95;
  });
  const random = seededRandom(seed);
  const { widthPx, heightPx, r, g, b } = surface.colour;
  const count = Math.round((seedsPerM2 * widthMm * heightMm) / 1e6);
  for (let n = 0; n < count; n++) {
    const [cx, cy] = [random.next() * widthPx, random.next() * heightPx];
    const radius = (0.15 + 0.35 * random.next()) * pxPerMm;
    const long = radius * (1.5 + 2 * random.next());
    for (let dy = -Math.ceil(radius) - 1; dy <= radius + 1; dy++)
      for (let dx = -Math.ceil(long) - 1; dx <= long + 1; dx++) {
        const d = Math.sqrt((dx / long) * (dx / long) + (dy / radius) * (dy / radius));
        // A bubble shows as a dark rim.
        const rim = Math.max(0, 1 - Math.abs(d - 0.8) / 0.35);
        if (rim === 0) continue;
        const x = (Math.floor(cx + dx) + widthPx) % widthPx;
        const y = (Math.floor(cy + dy) + heightPx) % heightPx;
        for (const plane of [r, g, b]) plane[y * widthPx + x]! *= 1 - 0.35 * rim;
      }
  }
  return surface;
}
