import type { ColourPicture } from '@jossel/core/raster';
import { CAREFUL_CAMERA, photograph } from '../camera/photograph';
import { layOut } from '../camera/scene';
import { surfaceOf } from '../physical/surface';
import { cameraOf, type Product } from './catalogue';

/** The swatch picture of a product: cut to its edges, or as it was photographed. */
export async function swatchOf(product: Product, longSidePx: number): Promise<ColourPicture> {
  const { sample, picture } = product;
  const long = Math.max(sample.widthMm, sample.heightMm);
  const pxPerMm = Math.min(product.pxPerMm, (1.3 * longSidePx) / long);
  const surface = await surfaceOf(product.id, sample, Number(pxPerMm.toPrecision(3)));
  const things = layOut(surface, product.things);
  const camera = cameraOf(product, longSidePx);
  if (picture === 'oblique' || picture === 'glare') return photograph(things, camera).picture;
  // So far away that the sample fills the picture from edge to edge.
  const focalPx = (CAREFUL_CAMERA.focalMm / Math.hypot(24, 36)) * Math.hypot(camera.widthPx, camera.heightPx);
  return photograph(things, { ...camera, distanceMm: (focalPx * sample.widthMm) / camera.widthPx }).picture;
}
