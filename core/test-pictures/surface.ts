import { power } from '../exact';
import { makeColourPicture, makePlane, type ColourPicture, type Plane } from '../raster';

/** A painted finish: colour (linear reflectance), height (mm) and gloss (GU) from the same causes. */
export interface PaintedSurface {
  widthMm: number;
  heightMm: number;
  colour: ColourPicture;
  heightMmPlane: Plane;
  glossGu: Plane;
}

/** What a finish is at one place. */
export interface Spot {
  r: number;
  g: number;
  b: number;
  heightMm: number;
  glossGu: number;
}

export interface Area {
  widthMm: number;
  heightMm: number;
  pxPerMm: number;
  seed: number;
}

/** Visits every pixel centre of an area; `at` fills in the spot there. x runs to the right, y down, in mm. */
export function paint(area: Area, at: (xMm: number, yMm: number, spot: Spot) => void): PaintedSurface {
  const w = Math.round(area.widthMm * area.pxPerMm);
  const h = Math.round(area.heightMm * area.pxPerMm);
  const colour = makeColourPicture(w, h);
  const height = makePlane(w, h);
  const gloss = makePlane(w, h);
  const spot: Spot = { r: 0, g: 0, b: 0, heightMm: 0, glossGu: 0 };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      at(((x + 0.5) * area.widthMm) / w, ((y + 0.5) * area.heightMm) / h, spot);
      const i = y * w + x;
      colour.r[i] = spot.r;
      colour.g[i] = spot.g;
      colour.b[i] = spot.b;
      height.data[i] = spot.heightMm;
      gloss.data[i] = spot.glossGu;
    }
  return { widthMm: area.widthMm, heightMm: area.heightMm, colour, heightMmPlane: height, glossGu: gloss };
}

/** Whole lattice cells of about the given size over a length, at least one: so that noise repeats. */
export const cells = (lengthMm: number, cellMm: number): number => Math.max(1, Math.round(lengthMm / cellMm));

export type Rgb = readonly [number, number, number];

/** Linear colour from an sRGB hex triple, for palettes. */
export function rgb(hex: string): Rgb {
  const v = (i: number) => {
    const c = Number.parseInt(hex.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : power((c + 0.055) / 1.055, 2.4);
  };
  return [v(1), v(3), v(5)];
}

/** Straight mix in linear light. */
export function mixInto(spot: Spot, a: Rgb, b: Rgb, t: number): void {
  spot.r = a[0] + (b[0] - a[0]) * t;
  spot.g = a[1] + (b[1] - a[1]) * t;
  spot.b = a[2] + (b[2] - a[2]) * t;
}

/** Multiplies a spot's colour. */
export function tone(spot: Spot, factor: number): void {
  spot.r *= factor;
  spot.g *= factor;
  spot.b *= factor;
}
