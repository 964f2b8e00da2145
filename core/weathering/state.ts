import type { ColourPicture, Plane } from '../raster';

/** A finish while its layers are laid on it, one after the other. */
export interface Weathering {
  colour: ColourPicture;
  height: Plane;
  /** Roughness is that of the finish times `keeps`, plus `roughness`. */
  keeps: Float32Array;
  roughness: Float32Array;
  /** Share of the finish whose metal is still bare, 0–1. */
  bare: Float32Array;
  mm: { x: number; y: number };
  sizeMm: { width: number; height: number };
  px: { width: number; height: number };
}

/** Covers the gloss at a pixel by that of a layer. @param share how much of it, 0–1 */
export function coverGloss(state: Weathering, i: number, roughness: number, share: number): void {
  state.keeps[i]! *= 1 - share;
  state.roughness[i] = state.roughness[i]! * (1 - share) + roughness * share;
}

/** Lays a colour over a pixel. @param share how much of it, 0–1 */
export function coverColour(
  { colour }: Weathering,
  i: number,
  r: number,
  g: number,
  b: number,
  share: number,
): void {
  colour.r[i]! += (r - colour.r[i]!) * share;
  colour.g[i]! += (g - colour.g[i]!) * share;
  colour.b[i]! += (b - colour.b[i]!) * share;
}
