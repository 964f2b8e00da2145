import type { Plane } from '../raster';
import type { Light } from './lights';

/** A place counts as shaded when what is between it and the light stands higher than the ray by this share of a pixel's width. */
const MARGIN_PX = 0.3;
/** The ray begins so far from its place: its own slope is no shadow of another one. */
const FIRST_PX = 1.5;

/**
 * Where a height throws shadows under a light: the ray to the light is followed until it is above everything.
 * @param height mm, borders free
 * @param mmPerPx size of a pixel
 * @returns 1 in shadow, 0 in light
 */
export function castShadows(
  { widthPx: w, heightPx: h, data }: Plane,
  light: Light,
  mmPerPx: { x: number; y: number },
): Uint8Array {
  const out = new Uint8Array(w * h);
  let top = -Infinity;
  for (const v of data) if (v > top) top = v;
  const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
  const far = 'directionTo' in light ? light.directionTo : null;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const z = data[i]!;
      let [dx, dy, dz] = [0, 0, 0];
      if (far) [dx, dy, dz] = far;
      else if ('positionMm' in light) {
        dx = light.positionMm[0] - (x + 0.5 - w / 2) * mmPerPx.x;
        dy = light.positionMm[1] - (h / 2 - y - 0.5) * mmPerPx.y;
        dz = light.positionMm[2] - z;
      }
      const across = Math.sqrt(dx * dx + dy * dy);
      if (across < 1e-9) continue;
      const rise = (dz / across) * stepMm;
      // Rows run down the picture.
      const [sx, sy] = [((dx / across) * stepMm) / mmPerPx.x, ((-dy / across) * stepMm) / mmPerPx.y];
      const steps = Math.ceil((top - z) / rise);
      for (let k = FIRST_PX; k <= steps; k++) {
        const [px, py] = [Math.round(x + k * sx), Math.round(y + k * sy)];
        if (px < 0 || py < 0 || px >= w || py >= h) break;
        if (data[py * w + px]! > z + k * rise + MARGIN_PX * stepMm) {
          out[i] = 1;
          break;
        }
      }
    }
  return out;
}
