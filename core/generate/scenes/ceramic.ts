import { power, squared } from '../../exact';
import { fractalNoise, gradientNoise, hashUnit, smoothstep } from '../../raster';
import { cells, mixInto, paint, tone, type Area, type GeneratedSurface, type Rgb } from './surface';

export interface GlazedTileSettings extends Area {
  tileWidthMm: number;
  tileHeightMm: number;
  jointMm: number;
  /** Every other course is shifted by this share of a tile. */
  shift: number;
  glaze: Rgb;
  /** The clay under the glaze, which shows where it is thin. */
  body: Rgb;
  joint: Rgb;
}

/** Glazed tiles: the glaze is thin on the arrises, pools in hollows, waves gently; each tile has its own firing. */
export function glazedTile(settings: GlazedTileSettings): GeneratedSurface {
  const { widthMm, heightMm, tileWidthMm, tileHeightMm, jointMm, seed } = settings;
  const pitchX = tileWidthMm + jointMm;
  const pitchY = tileHeightMm + jointMm;
  const columns = Math.max(1, Math.round(widthMm / pitchX));
  return paint(settings, (x, y, spot) => {
    const row = Math.floor(y / pitchY);
    const shifted = x + (row % 2) * settings.shift * pitchX;
    const column = Math.floor(shifted / pitchX) % columns;
    const u = shifted - Math.floor(shifted / pitchX) * pitchX - jointMm / 2;
    const v = y - row * pitchY - jointMm / 2;
    const id = row * 53 + column;
    const pick = (k: number) => hashUnit(column, row, k, seed);
    // Handmade edges: each side bows by a few tenths of a millimetre.
    const bow = (along: number, k: number) =>
      0.45 * gradientNoise(along, 0.5, 3, 1, seed + id * 8 + k) +
      0.12 * gradientNoise(along, 0.5, 19, 1, seed + id * 8 + k + 4);
    const edges = [
      u + bow(v / tileHeightMm, 0),
      tileWidthMm - u + bow(v / tileHeightMm, 1),
      v + bow(u / tileWidthMm, 2),
      tileHeightMm - v + bow(u / tileWidthMm, 3),
    ];
    const corner = (a: number, b: number, r: number) =>
      a < r && b < r ? r - Math.sqrt(squared(r - a) + squared(r - b)) : Math.min(a, b);
    const radius = 2.2;
    const edge = Math.min(
      corner(edges[0]!, edges[2]!, radius),
      corner(edges[1]!, edges[2]!, radius),
      corner(edges[0]!, edges[3]!, radius),
      corner(edges[1]!, edges[3]!, radius),
    );
    const px = x / widthMm;
    const py = y / heightMm;
    if (edge <= 0) {
      const sand = fractalNoise(px, py, cells(widthMm, 1.2), cells(heightMm, 1.2), 3, 0.75, seed + 1);
      const stain = fractalNoise(px, py, cells(widthMm, 90), cells(heightMm, 60), 3, 0.6, seed + 2);
      mixInto(spot, settings.joint, settings.joint, 0);
      tone(spot, 0.86 + 0.08 * sand + 0.08 * stain);
      spot.heightMm = -1.3 + 0.06 * sand + 0.35 * smoothstep(-0.8, 0, edge);
      spot.glossGu = 2;
      return;
    }
    const s = seed + id * 31;
    const wave = fractalNoise(u / 400 + 0.5, v / 400 + 0.5, 11, 11, 2, 0.5, s + 1);
    const mottle = fractalNoise(u / 400 + 0.5, v / 400 + 0.5, 60, 60, 4, 0.62, s + 2);
    const speck = gradientNoise(u / 400 + 0.5, v / 400 + 0.5, 240, 240, s + 3);
    const run = gradientNoise(u / 400 + 0.5, v / 400 + 0.5, 46, 5, s + 4);
    const arris = smoothstep(0, 3.2, edge);
    // Glaze pulls back from the arris and pools just behind it.
    const pool = smoothstep(0.8, 4, edge) * (1 - smoothstep(4, 15, edge));
    const depth = Math.max(
      0.03,
      (0.12 + 0.88 * smoothstep(0, 2.4, edge)) * (1 + 0.22 * wave + 0.2 * mottle + 0.1 * run) +
        0.22 * pool +
        0.28 * (pick(1) - 0.5),
    );
    // Light passes down and back through the coloured glass: Beer's law, with the body behind it.
    const through = (body: number, glaze: number) =>
      body * Math.exp(-1.25 * depth * Math.log(body / Math.max(0.004, glaze)));
    spot.r = through(settings.body[0], settings.glaze[0]);
    spot.g = through(settings.body[1], settings.glaze[1]);
    spot.b = through(settings.body[2], settings.glaze[2]);
    tone(spot, (1 + 0.12 * (pick(2) - 0.5)) * (1 + 0.1 * (pick(3) - 0.5) * (u / tileWidthMm - 0.5) * 2));
    const grit = smoothstep(0.72, 0.9, speck);
    tone(spot, 1 - 0.5 * grit);
    const holeAt = hashUnit(Math.floor(u / 3), Math.floor(v / 3), id, seed + 5);
    const hx = (u % 3) - 0.6 - 1.8 * hashUnit(Math.floor(u / 3), Math.floor(v / 3), id, seed + 6);
    const hy = (v % 3) - 0.6 - 1.8 * hashUnit(Math.floor(u / 3), Math.floor(v / 3), id, seed + 7);
    const hole = holeAt < 0.02 ? 1 - smoothstep(0.12, 0.34, Math.sqrt(hx * hx + hy * hy)) : 0;
    tone(spot, 1 - 0.6 * hole);
    spot.heightMm =
      -1.05 * power(1 - arris, 2.2) + 0.09 * wave + 0.012 * mottle - 0.12 * hole + 0.16 * (pick(4) - 0.5);
    spot.glossGu = (84 - 6 * Math.abs(mottle)) * (1 - 0.8 * hole) - 18 * (1 - arris);
  });
}
