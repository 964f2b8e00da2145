import { wholePower } from '../exact';
import { makePlane, sampleGridWrapped, fft2d, type ColourPicture, type Plane } from '../raster';

/** Slopes ∂h/∂x (to the right) and ∂h/∂y (up the picture) in mm per mm, from a normal map as stored (0–1). */
export function slopesOfNormals(picture: ColourPicture, greenRuns: 'up' | 'down'): { x: Plane; y: Plane } {
  const { widthPx, heightPx, r, g, b } = picture;
  const [x, y] = [makePlane(widthPx, heightPx), makePlane(widthPx, heightPx)];
  for (let i = 0; i < r.length; i++) {
    const nx = 2 * r[i]! - 1;
    const ny = (2 * g[i]! - 1) * (greenRuns === 'up' ? 1 : -1);
    // Steeper than 84° is held there: such normals come from rounding.
    const nz = Math.max(0.1, 2 * b[i]! - 1);
    x.data[i] = -nx / nz;
    y.data[i] = -ny / nz;
  }
  return { x, y };
}

const power = (n: number) => wholePower(2, Math.max(1, Math.round(Math.log2(n))));

/**
 * Height whose slopes are nearest to given ones (least squares over all spatial frequencies, wrapping), mean 0.
 * Source: Frankot, Chellappa, "A Method for Enforcing Integrability in Shape from Shading Algorithms", 1988. Sides that
 * are no power of two are brought to one and back.
 *
 * @param slope mm per mm, x to the right, y up the picture
 * @param mmPerPx size of a pixel
 * @returns height in mm
 */
export function integrateSlopes(slope: { x: Plane; y: Plane }, mmPerPx: { x: number; y: number }): Plane {
  const { widthPx, heightPx } = slope.x;
  const [w, h] = [power(widthPx), power(heightPx)];
  const sx = refitted(slope.x, w, h);
  const sy = refitted(slope.y, w, h);
  const data = new Float64Array(2 * w * h);
  for (let i = 0; i < w * h; i++) {
    data[2 * i] = sx.data[i]!;
    data[2 * i + 1] = sy.data[i]!;
  }
  const s = fft2d({ widthPx: w, heightPx: h, data }).data;
  const out = new Float64Array(2 * w * h);
  const [lengthX, lengthY] = [mmPerPx.x * widthPx, mmPerPx.y * heightPx];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (x === 0 && y === 0) continue;
      const i = 2 * (y * w + x);
      const j = 2 * (((h - y) % h) * w + ((w - x) % w));
      // The two real slopes are told apart by symmetry.
      const [pr, pi] = [(s[i]! + s[j]!) / 2, (s[i + 1]! - s[j + 1]!) / 2];
      const [qr, qi] = [(s[i + 1]! + s[j + 1]!) / 2, (s[j]! - s[i]!) / 2];
      const u = (2 * Math.PI * (x <= w / 2 ? x : x - w)) / lengthX;
      // Rows run down the picture, the slope up.
      const v = (-2 * Math.PI * (y <= h / 2 ? y : y - h)) / lengthY;
      const norm = u * u + v * v;
      // (−iu·P − iv·Q) / (u² + v²)
      out[i] = (u * pi + v * qi) / norm;
      out[i + 1] = (-u * pr - v * qr) / norm;
    }
  const back = fft2d({ widthPx: w, heightPx: h, data: out }, true).data;
  const plane = makePlane(w, h);
  for (let i = 0; i < w * h; i++) plane.data[i] = back[2 * i]!;
  return refitted(plane, widthPx, heightPx);
}

/** Bilinear, wrapping. */
function refitted(plane: Plane, widthPx: number, heightPx: number): Plane {
  if (plane.widthPx === widthPx && plane.heightPx === heightPx) return plane;
  const places = (length: number, from: number) =>
    Float64Array.from({ length }, (_, i) => ((i + 0.5) * from) / length - 0.5);
  return sampleGridWrapped(plane, places(widthPx, plane.widthPx), places(heightPx, plane.heightPx));
}

/** Height of a normal map, mm. */
export const heightOfNormals = (
  picture: ColourPicture,
  mmPerPx: { x: number; y: number },
  greenRuns: 'up' | 'down',
): Plane => integrateSlopes(slopesOfNormals(picture, greenRuns), mmPerPx);
