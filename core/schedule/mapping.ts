/** How a finish lies on a surface, and the figures a scene needs to map it. */

export const DIRECTIONS = [0, 90, 180, 270] as const;

export interface SurfaceSize {
  widthMm: number;
  heightMm: number;
}

export interface MappingFigures {
  /** How often the repeat fits along the surface's width and height. */
  repeatsAcross: number;
  repeatsUp: number;
  /** Size of one repeat as it lies on the surface. */
  repeatMm: { width: number; height: number };
  rotationDeg: number;
  /** For maps laid over the object from 0 to 1: scale in u and v (turned with the finish). */
  scale01: { u: number; v: number };
  areaM2: number;
}

/**
 * Mapping figures of a finish on a surface.
 * @param repeatMm the finish's repeat
 * @param surface its size
 * @param directionDeg how far the finish is turned on it; at 90° and 270° width and height change places
 * @throws RangeError when a length is not above zero
 */
export function mapOntoSurface(
  repeatMm: { width: number; height: number },
  surface: SurfaceSize,
  directionDeg: number,
): MappingFigures {
  if (!(repeatMm.width > 0 && repeatMm.height > 0 && surface.widthMm > 0 && surface.heightMm > 0)) {
    throw new RangeError('A repeat and a surface must be larger than 0 mm on both axes.');
  }
  const turned = directionDeg % 180 !== 0;
  const lying = turned
    ? { width: repeatMm.height, height: repeatMm.width }
    : { width: repeatMm.width, height: repeatMm.height };
  const repeatsAcross = surface.widthMm / lying.width;
  const repeatsUp = surface.heightMm / lying.height;
  return {
    repeatsAcross,
    repeatsUp,
    repeatMm: lying,
    rotationDeg: directionDeg,
    scale01: turned ? { u: repeatsUp, v: repeatsAcross } : { u: repeatsAcross, v: repeatsUp },
    areaM2: (surface.widthMm * surface.heightMm) / 1e6,
  };
}
