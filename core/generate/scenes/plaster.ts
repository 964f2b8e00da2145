import { squared } from '../../exact';
import { fractalNoise, gradientNoise, seededRandom, smoothstep } from '../../raster';
import { cells, paint, type Area, type GeneratedSurface, type Rgb } from './surface';

export interface PlasterSettings extends Area {
  colour: Rgb;
  /** Trowel strokes per square metre. */
  strokesPerM2: number;
  /** Height of the ridges a stroke leaves. */
  ridgeMm: number;
}

interface Stroke {
  /** Centre of the arm's swing. */
  cx: number;
  cy: number;
  radius: number;
  width: number;
  from: number;
  span: number;
  seed: number;
  press: number;
  lift: number;
}

/** Trowelled plaster: overlapping arcs, each with fine scratches and a burnished middle, under clouds from drying. */
export function plaster(settings: PlasterSettings): GeneratedSurface {
  const { widthMm, heightMm, seed, colour } = settings;
  const random = seededRandom(seed);
  const surface = paint(settings, (x, y, spot) => {
    const u = x / widthMm;
    const v = y / heightMm;
    spot.heightMm =
      0.16 * fractalNoise(u, v, cells(widthMm, 130), cells(heightMm, 130), 4, 0.55, seed + 1) +
      0.02 * fractalNoise(u, v, cells(widthMm, 6), cells(heightMm, 6), 3, 0.7, seed + 2);
    spot.r = 0; // tone from the strokes, burnish and dryness; coloured at the end
    spot.g = 0;
    spot.b = fractalNoise(u, v, cells(widthMm, 260), cells(heightMm, 220), 5, 0.55, seed + 3);
    spot.glossGu = 2.2;
  });
  const { widthPx: w, heightPx: h } = surface.colour;
  const mm = widthMm / w;
  const height = surface.heightMmPlane.data;
  const streak = surface.colour.r;
  const burnish = surface.colour.g;

  const count = Math.round((settings.strokesPerM2 * widthMm * heightMm) / 1e6);
  for (let k = 0; k < count; k++) {
    const radius = random.between(220, 620);
    const middle = random.between(0, 2 * Math.PI);
    const px = random.next() * widthMm;
    const py = random.next() * heightMm;
    lay({
      cx: px - radius * Math.cos(middle),
      cy: py - radius * Math.sin(middle),
      radius,
      width: random.between(70, 150),
      from: middle,
      span: random.between(110, 340) / radius,
      seed: seed + 100 + k * 7,
      press: random.between(0.35, 1),
      lift: random.normal() * 0.16,
    });
  }

  /** Draws one stroke over what is there, wrapping at the edges. */
  function lay(stroke: Stroke): void {
    const reach = stroke.width / 2 + (stroke.radius * stroke.span) / 2 + 6;
    const mx = stroke.cx + stroke.radius * Math.cos(stroke.from);
    const my = stroke.cy + stroke.radius * Math.sin(stroke.from);
    const [x0, x1, y0, y1] = [
      Math.floor((mx - reach) / mm),
      Math.ceil((mx + reach) / mm),
      Math.floor((my - reach) / mm),
      Math.ceil((my + reach) / mm),
    ];
    for (let yp = y0; yp <= y1; yp++)
      for (let xp = x0; xp <= x1; xp++) {
        const dx = xp * mm - stroke.cx;
        const dy = yp * mm - stroke.cy;
        const r = Math.sqrt(dx * dx + dy * dy);
        const off = (r - stroke.radius) / (stroke.width / 2); // −1…1 across the blade
        if (Math.abs(off) > 1.1) continue;
        let angle = Math.atan2(dy, dx) - stroke.from;
        if (angle > Math.PI) angle -= 2 * Math.PI;
        if (angle < -Math.PI) angle += 2 * Math.PI;
        const along = angle / (stroke.span / 2); // −1…1 along the stroke
        if (Math.abs(along) > 1.1) continue;
        const s = stroke.seed;
        const ragged = 0.05 * gradientNoise(along * 0.4 + 0.5, off * 0.1 + 0.5, 30, 4, s);
        const side = 1 - smoothstep(0.86, 1, Math.abs(off) + ragged);
        const end = 1 - smoothstep(0.72, 1, Math.abs(along) + 2 * ragged);
        const mask = side * end * stroke.press;
        if (mask <= 0.002) continue;
        const i = (((yp % h) + h) % h) * w + (((xp % w) + w) % w);
        // Scratches run along the stroke: noise stretched along the arc, fine across it.
        const scratch =
          gradientNoise(along * 0.25 + 0.5, off * 0.5 + 0.5, 5, 70, s + 1) * 0.6 +
          gradientNoise(along * 0.25 + 0.5, off * 0.5 + 0.5, 11, 190, s + 2) * 0.5;
        const target = stroke.lift + 0.07 * scratch;
        height[i] = height[i]! + mask * 0.75 * (target + 0.35 * height[i]! - height[i]!);
        // The blade pushes a thin ridge out at its edge.
        const rim = Math.exp(-squared((Math.abs(off) - 0.97 + ragged) / 0.022)) * end * stroke.press;
        height[i]! +=
          settings.ridgeMm * rim * (0.5 + 0.5 * gradientNoise(along * 0.4 + 0.5, 0.5, 40, 1, s + 3));
        streak[i] = streak[i]! * (1 - 0.8 * mask) + mask * (0.6 * scratch + 2.4 * stroke.lift);
        burnish[i] = burnish[i]! * (1 - mask) + mask * (1 - smoothstep(0, 0.8, Math.abs(off)));
      }
  }

  for (let i = 0; i < height.length; i++) {
    const dry = surface.colour.b[i]!;
    const worn = burnish[i]!;
    const value = 1 + 0.085 * dry + 0.075 * streak[i]! - 0.11 * worn;
    const x = (i % w) / w;
    const y = Math.floor(i / w) / h;
    const grain = 1 + 0.018 * gradientNoise(x, y, cells(widthMm, 1.6), cells(heightMm, 1.6), seed + 4);
    surface.colour.r[i] = colour[0] * value * grain * (1 + 0.01 * dry);
    surface.colour.g[i] = colour[1] * value * grain;
    surface.colour.b[i] = colour[2] * value * grain * (1 - 0.02 * dry);
    surface.glossGu.data[i] = 2.2 + 5 * worn;
  }
  return surface;
}
