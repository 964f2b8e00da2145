import { wholePower } from '../../exact';
import { fractalNoise, gradientNoise, hashUnit, seededRandom, smoothstep } from '../../raster';
import { cells, paint, tone, type Area, type GeneratedSurface, type Rgb, type Spot } from './surface';

export interface LimestoneSettings extends Area {
  pale: Rgb;
  dark: Rgb;
  /** Colour of iron in the bedding. */
  rust: Rgb;
  shellsPerM2: number;
  /** Bright calcite that filled one crack across the beds; nothing: none. */
  vein?: { colour: Rgb; widthMm: number };
}

interface Shell {
  x: number;
  y: number;
  radius: number;
  from: number;
  span: number;
  thick: number;
  light: number;
}

/** Honed limestone: bedding as stretched noise, shell fragments as small curved shapes, pores and a stylolite. */
export function limestone(settings: LimestoneSettings): GeneratedSurface {
  const { widthMm, heightMm, seed, pale, dark, rust } = settings;
  const random = seededRandom(seed);
  const stone = paint(settings, (x, y, spot) => {
    const u = x / widthMm;
    const v = y / heightMm;
    // Beds bend gently; everything that belongs to the bedding is read at the bent place.
    const bent = v + 0.02 * fractalNoise(u, v, cells(widthMm, 420), cells(heightMm, 300), 3, 0.5, seed + 1);
    const bed = fractalNoise(u, bent, cells(widthMm, 520), cells(heightMm, 70), 5, 0.66, seed + 2);
    const lamina = fractalNoise(u, bent, cells(widthMm, 160), cells(heightMm, 9), 3, 0.6, seed + 3);
    const cloud = fractalNoise(u, v, cells(widthMm, 110), cells(heightMm, 80), 5, 0.6, seed + 4);
    const mud = fractalNoise(u, v, cells(widthMm, 9), cells(heightMm, 6), 4, 0.7, seed + 5);
    const oolite = gradientNoise(u, v, cells(widthMm, 1.5), cells(heightMm, 1.5), seed + 6);
    const grain = gradientNoise(u, v, cells(widthMm, 0.7), cells(heightMm, 0.7), seed + 12);
    const iron = smoothstep(0.5, 1.7, bed + 0.4 * cloud);
    const t = Math.min(1, Math.max(0, 0.45 + 0.1 * bed + 0.06 * lamina + 0.16 * cloud + 0.2 * mud));
    for (const [c, key] of [
      [0, 'r'],
      [1, 'g'],
      [2, 'b'],
    ] as const) {
      const base = dark[c]! + (pale[c]! - dark[c]!) * t;
      spot[key] = base + (rust[c]! - base) * 0.3 * iron;
    }
    tone(spot, 1 + 0.1 * oolite + 0.07 * grain);
    // A pore where two noises meet; open ones are dark.
    const pore =
      smoothstep(
        0.62,
        0.85,
        gradientNoise(u, v, cells(widthMm, 3.1), cells(heightMm, 2.4), seed + 7) + 0.25 * mud,
      ) * smoothstep(0.1, 0.6, cloud + 0.3);
    tone(spot, 1 - 0.55 * pore);
    // A stylolite: a jagged pressure seam along the bedding.
    const jag = 0.011 * fractalNoise(u, 0.37, cells(widthMm, 60), 1, 6, 0.68, seed + 8);
    const seam = Math.abs(bent - 0.63 - jag) * heightMm;
    const line =
      (1 - smoothstep(0.2, 1.1, seam)) *
      smoothstep(-0.5, 0.4, gradientNoise(u, 0.2, cells(widthMm, 120), 1, seed + 9));
    tone(spot, 1 - 0.5 * line);
    if (settings.vein) veined(spot, u, v);
    spot.heightMm = 0.008 * mud - 0.2 * pore - 0.05 * line;
    spot.glossGu = 14 - 9 * pore;
  });
  /** The crack runs up the stone and once across it, so that it closes; it wanders, swells, and has a hairline beside it. */
  function veined(spot: Spot, u: number, v: number) {
    const { colour, widthMm: wideMm } = settings.vein!;
    const wander =
      0.05 * fractalNoise(0.5, v, 1, cells(heightMm, 170), 6, 0.6, seed + 20) +
      0.012 * gradientNoise(0.5, v, 1, cells(heightMm, 14), seed + 21);
    const swell = 1 + 0.7 * gradientNoise(0.5, v, 1, cells(heightMm, 60), seed + 22);
    const beside = 0.03 + 0.03 * fractalNoise(0.5, v, 1, cells(heightMm, 110), 5, 0.6, seed + 23);
    const lean = Math.hypot(widthMm, heightMm) / heightMm;
    const awayMm = (at: number) => {
      const d = u - v - wander - at;
      return (Math.abs(d - Math.round(d)) * widthMm) / lean;
    };
    const filled = 1 - smoothstep(0.3 * wideMm * swell, 0.5 * wideMm * swell + 0.5, awayMm(0.2));
    const hairline = 0.6 * (1 - smoothstep(0.1, 0.5, awayMm(0.2 + beside)));
    const clear =
      Math.max(filled, hairline) *
      (0.88 + 0.12 * gradientNoise(u, v, cells(widthMm, 2), cells(heightMm, 2), seed + 24));
    spot.r += (colour[0]! - spot.r) * clear;
    spot.g += (colour[1]! - spot.g) * clear;
    spot.b += (colour[2]! - spot.b) * clear;
  }
  const { widthPx: w, heightPx: h } = stone.colour;
  const count = Math.round((settings.shellsPerM2 * widthMm * heightMm) / 1e6);
  for (let k = 0; k < count; k++) {
    const big = wholePower(random.next(), 3);
    layShell(stone, w, h, widthMm / w, seed + k, {
      x: random.next() * widthMm,
      y: random.next() * heightMm,
      radius: 1.2 + 17 * big,
      // Shells come to rest lying along the bed, hollow side down.
      from: -Math.PI / 2 + 0.5 * random.normal() + (random.next() < 0.2 ? Math.PI : 0),
      span: random.between(0.8, 2.6),
      thick: 0.4 + 1.3 * big + 0.3 * random.next(),
      light: random.next() < 0.65 ? random.between(0.14, 0.42) : -random.between(0.1, 0.3),
    });
  }
  return stone;
}

function layShell(
  stone: GeneratedSurface,
  w: number,
  h: number,
  mm: number,
  seed: number,
  shell: Shell,
): void {
  const reach = Math.ceil((shell.radius + shell.thick + 1) / mm);
  const [cx, cy] = [Math.round(shell.x / mm), Math.round(shell.y / mm)];
  for (let yp = cy - reach; yp <= cy + reach; yp++)
    for (let xp = cx - reach; xp <= cx + reach; xp++) {
      const dx = xp * mm - shell.x;
      const dy = (yp * mm - shell.y) * 1.35;
      const r = Math.sqrt(dx * dx + dy * dy);
      let angle = Math.atan2(dy, dx) - shell.from;
      if (angle > Math.PI) angle -= 2 * Math.PI;
      if (angle < -Math.PI) angle += 2 * Math.PI;
      const along = Math.abs(angle) / (shell.span / 2);
      if (along > 1) continue;
      // Thickest in the middle, running out to both tips.
      const thick = shell.thick * Math.sqrt(1 - along * along) + 0.05;
      const inside =
        1 -
        smoothstep(
          0.5 * thick,
          0.5 * thick + Math.max(mm, 0.25),
          Math.abs(r - shell.radius + 0.25 * gradientNoise(angle / 7 + 0.5, 0.5, 22, 1, seed)),
        );
      if (inside <= 0) continue;
      const i = (((yp % h) + h) % h) * w + (((xp % w) + w) % w);
      const f = 1 + shell.light * inside * (0.75 + 0.5 * hashUnit(xp, yp, 0, seed));
      stone.colour.r[i]! *= f;
      stone.colour.g[i]! *= f;
      stone.colour.b[i]! *= f;
      stone.glossGu.data[i]! += 3 * inside * Math.sign(shell.light);
    }
}
