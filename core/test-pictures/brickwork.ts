import { squared } from '../exact';
import { cellularNoise, fractalNoise, gradientNoise, hashUnit, smoothstep } from '../raster';
import { cells, mixInto, paint, tone, type Area, type PaintedSurface, type Rgb } from './surface';

export interface BrickSettings extends Area {
  brickWidthMm: number;
  brickHeightMm: number;
  jointMm: number;
  /** Every other course is shifted by this share of a brick. */
  shift: number;
  /** How far courses and heads stray from their place, mm. */
  strayMm: number;
  clay: Rgb;
  /** Bricks nearer the fire. */
  burnt: Rgb;
  mortar: Rgb;
}

/**
 * A wall of hand-struck bricks: sandy clay with creases and drag marks, tone by its place in the kiln, small chips at the
 * arrises, bloom of salt, mortar of coarse sand that stands back. It repeats on whole bricks and pairs of courses.
 */
export function brickwork(settings: BrickSettings): PaintedSurface {
  const { widthMm, heightMm, brickWidthMm, brickHeightMm, jointMm, strayMm, seed } = settings;
  const pitchX = brickWidthMm + jointMm;
  const pitchY = brickHeightMm + jointMm;
  const columns = Math.max(1, Math.round(widthMm / pitchX));
  const rows = Math.max(1, Math.round(heightMm / pitchY));
  return paint(settings, (x, y, spot) => {
    const [px, py] = [x / widthMm, y / heightMm];
    const row = Math.floor(y / pitchY) % rows;
    const shifted = x + (row % 2) * settings.shift * pitchX;
    const column = Math.floor(shifted / pitchX) % columns;
    const pick = (k: number) => hashUnit(column, row, k, seed);
    const stray = (k: number) => strayMm * 2 * (pick(k) - 0.5);
    const u = shifted - Math.floor(shifted / pitchX) * pitchX - jointMm / 2 - stray(1);
    const v = y - Math.floor(y / pitchY) * pitchY - jointMm / 2 - 0.7 * stray(2);
    const [bw, bh] = [brickWidthMm + 0.6 * stray(3), brickHeightMm + 0.5 * stray(4)];
    const s = seed + (row * 61 + column) * 7;
    const wobble =
      1.1 * gradientNoise(u / 300 + 0.5, v / 300 + 0.5, 9, 9, s) +
      0.6 * fractalNoise(u / 300 + 0.5, v / 300 + 0.5, 34, 34, 3, 0.6, s + 1);
    const nearest = Math.min(u, bw - u, v, bh - v);
    const corner = 3.5;
    const [cu, cv] = [Math.min(u, bw - u), Math.min(v, bh - v)];
    const rounded = cu < corner && cv < corner ? corner - Math.hypot(corner - cu, corner - cv) : nearest;
    const chip = cellularNoise(px, py, cells(widthMm, 26), cells(heightMm, 26), 1, seed + 3);
    const chipped = hashUnit(chip.id, 1, 2, seed) < 0.3 ? 2.4 * (1 - smoothstep(0.1, 0.45, chip.f1)) : 0;
    const edge = rounded + wobble - chipped;
    const sand = fractalNoise(px, py, cells(widthMm, 1.1), cells(heightMm, 1.1), 3, 0.75, seed + 4);
    if (edge <= 0) {
      const blotch = fractalNoise(px, py, cells(widthMm, 120), cells(heightMm, 70), 3, 0.6, seed + 5);
      const grit = hashUnit(Math.floor(x / 1.3), Math.floor(y / 1.3), 3, seed + 6);
      mixInto(spot, settings.mortar, settings.mortar, 0);
      tone(spot, 0.84 + 0.16 * sand + 0.1 * blotch - (grit > 0.93 ? 0.3 : 0));
      // Raked: it stands back, a little fuller beside the brick.
      spot.heightMm = -5 + 0.5 * sand + 1.6 * smoothstep(-4, 0, edge);
      spot.glossGu = 1;
      return;
    }
    const fire = fractalNoise(u / 400 + 0.5, v / 400 + 0.5, 5, 9, 3, 0.55, s + 2);
    const burnt = smoothstep(0.25, 0.85, pick(5) * 0.75 + 0.3 + 0.45 * fire - 0.25);
    const drag = gradientNoise(u / 300 + 0.5, v / 300 + 0.5, 6, 110, s + 3);
    const crease =
      1 -
      smoothstep(0, 0.07, Math.abs(fractalNoise(u / 300 + 0.5, v / 300 + 0.5, 5, 13, 3, 0.55, s + 4) + 0.1));
    const grain = fractalNoise(px, py, cells(widthMm, 2.4), cells(heightMm, 2.4), 3, 0.7, seed + 7);
    mixInto(spot, settings.clay, settings.burnt, burnt);
    tone(spot, (0.82 + 0.36 * pick(6)) * (1 + 0.14 * grain + 0.07 * sand + 0.06 * drag - 0.22 * crease));
    const bloom = smoothstep(
      0.35,
      0.9,
      fractalNoise(px, py, cells(widthMm, 190), cells(heightMm, 150), 4, 0.6, seed + 8),
    );
    for (const c of ['r', 'g', 'b'] as const)
      spot[c] += 0.3 * bloom * (0.5 - 0.5 * spot[c]) * (0.6 + 0.4 * grain);
    const hole = hashUnit(Math.floor(u / 4), Math.floor(v / 4), 8, s) < 0.03 ? 1 : 0;
    const [hx, hy] = [(u % 4) - 2, (v % 4) - 2];
    const pit = hole * (1 - smoothstep(0.5, 1.4, Math.hypot(hx, hy)));
    tone(spot, 1 - 0.45 * pit);
    const arris = smoothstep(0, 3, edge);
    spot.heightMm =
      -2.2 * squared(1 - arris) +
      0.35 * grain +
      0.25 * drag -
      0.9 * crease -
      1.2 * pit +
      1.5 * (pick(7) - 0.5);
    spot.glossGu = 3 + 2 * burnt;
  });
}
