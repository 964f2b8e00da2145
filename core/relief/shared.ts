import { blurWrapped, makePlane, type Plane } from '../raster';
import { SIGMA_OF_WAVELENGTH, type HeightField } from './height';
import { normalsOfHeight, type NormalField } from './normal';
import { occlusionOfHeight } from './occlusion';

/** A relief that is shared out: a mesh carries its long waves, the normal map the rest, so that nothing is there twice. */
export interface SharedRelief {
  /** What the mesh is displaced by. */
  mesh: HeightField;
  /** What is left of the height, mm. */
  rest: Plane;
  /** Normals of the whole relief as seen from the displaced mesh, in its tangent frame. */
  normal: NormalField;
}

/**
 * Shares a relief out at a wavelength: a wave of just this length is carried by both in equal parts, since a Gaussian has no
 * edge that would ring.
 * @param height the whole relief, which closes on itself
 * @param mmPerPx size of a pixel
 * @param splitMm the wavelength
 */
export function sharedRelief(
  height: HeightField,
  mmPerPx: { x: number; y: number },
  splitMm: number,
): SharedRelief {
  const sigmaMm = splitMm * SIGMA_OF_WAVELENGTH;
  const { widthPx, heightPx, data } = blurWrapped(height, sigmaMm / mmPerPx.x, sigmaMm / mmPerPx.y);
  const rest = makePlane(widthPx, heightPx);
  let [minMm, maxMm] = [Infinity, -Infinity];
  for (let i = 0; i < data.length; i++) {
    const carried = data[i]!;
    rest.data[i] = height.data[i]! - carried;
    if (carried < minMm) minMm = carried;
    if (carried > maxMm) maxMm = carried;
  }
  const mesh = { widthPx, heightPx, data, minMm, maxMm };
  return {
    mesh,
    rest,
    normal: seenFrom(normalsOfHeight(mesh, mmPerPx), normalsOfHeight(height, mmPerPx)),
  };
}

/**
 * Normals in the tangent frame of a displaced surface: its tangent runs along the texture's width, its bitangent is square to
 * normal and tangent, as receivers build the frame of a normal map (glTF 2.0, 3.9.3, with handedness 1).
 * @param base normals of the surface
 * @param whole normals to express
 */
function seenFrom(base: NormalField, whole: NormalField): NormalField {
  const n = base.x.length;
  const out: NormalField = {
    widthPx: base.widthPx,
    heightPx: base.heightPx,
    x: new Float32Array(n),
    y: new Float32Array(n),
    z: new Float32Array(n),
  };
  for (let i = 0; i < n; i++) {
    const [nx, ny, nz] = [base.x[i]!, base.y[i]!, base.z[i]!];
    const [wx, wy, wz] = [whole.x[i]!, whole.y[i]!, whole.z[i]!];
    // The tangent has no part along y: (nz, 0, −nx), made a unit; the bitangent is normal × tangent.
    const along = 1 / Math.sqrt(nz * nz + nx * nx);
    const [tx, tz] = [nz * along, -nx * along];
    const [bx, by, bz] = [ny * tz, nz * tx - nx * tz, -ny * tx];
    out.x[i] = wx * tx + wz * tz;
    out.y[i] = wx * bx + wy * by + wz * bz;
    out.z[i] = wx * nx + wy * ny + wz * nz;
  }
  return out;
}

/** How much the rest of a shared relief shades itself: what the mesh shades, a receiver computes by itself. */
export const occlusionOfRest = (
  { rest }: SharedRelief,
  mmPerPx: { x: number; y: number },
  radiusMm: number,
): Plane => occlusionOfHeight(rest, normalsOfHeight(rest, mmPerPx), mmPerPx, radiusMm);
