import type { ColourPicture } from '../raster';

/** Keys' cubic weights for the four pixels around a place `t` behind the second of them. */
function weightsAt(t: number, to: Float64Array): void {
  to[0] = ((-0.5 * t + 1) * t - 0.5) * t;
  to[1] = (1.5 * t - 2.5) * t * t + 1;
  to[2] = ((-1.5 * t + 2) * t + 0.5) * t;
  to[3] = (0.5 * t - 0.5) * t * t;
}

/** A place this close to a pixel centre is that pixel: placements by whole pixels stay bit for bit. */
export const NEAR_PX = 1e-4;

/**
 * Reads the colour at pixel coordinates (centres at whole numbers) by cubic convolution; beyond the edge the edge is
 * repeated. `out` receives r, g, b.
 */
export type ReadCubic = (picture: ColourPicture, xPx: number, yPx: number, out: Float64Array) => void;

/** A reader with working memory of its own. */
export function cubicReader(): ReadCubic {
  const wx = new Float64Array(4);
  const wy = new Float64Array(4);
  return (picture, xPx, yPx, out) => {
    const { widthPx: w, heightPx: h } = picture;
    const xr = Math.round(xPx);
    const yr = Math.round(yPx);
    if (Math.abs(xPx - xr) < NEAR_PX && Math.abs(yPx - yr) < NEAR_PX) {
      const i = (yr < 0 ? 0 : yr >= h ? h - 1 : yr) * w + (xr < 0 ? 0 : xr >= w ? w - 1 : xr);
      out[0] = picture.r[i]!;
      out[1] = picture.g[i]!;
      out[2] = picture.b[i]!;
      return;
    }
    const x0 = Math.floor(xPx);
    const y0 = Math.floor(yPx);
    weightsAt(xPx - x0, wx);
    weightsAt(yPx - y0, wy);
    let r = 0;
    let g = 0;
    let b = 0;
    for (let j = 0; j < 4; j++) {
      const yy = y0 - 1 + j;
      const row = (yy < 0 ? 0 : yy >= h ? h - 1 : yy) * w;
      for (let i = 0; i < 4; i++) {
        const xx = x0 - 1 + i;
        const k = row + (xx < 0 ? 0 : xx >= w ? w - 1 : xx);
        const weight = wx[i]! * wy[j]!;
        r += weight * picture.r[k]!;
        g += weight * picture.g[k]!;
        b += weight * picture.b[k]!;
      }
    }
    out[0] = r;
    out[1] = g;
    out[2] = b;
  };
}
