import { closeAxis, placeClosed, type ClosedAxis, type PlacementMap } from '../repeat';
import { areaSizeMm, resolveSize, type ResolvedSize } from '../size';
import { frameOfQuad, makeFrame, type Frame, type PictureShape, type Quad } from '../straighten';
import type { Recipe } from './recipe';

/** Where the finish lies in its sample, and how large that is: all geometry before the repeat. */
export interface SampleGeometry {
  /** The straightened frame, to which the size belongs. */
  frame: Frame;
  size: ResolvedSize;
  /** What the repeat is made from: the frame, or an area picked out of it. */
  used: Frame;
  usedMm: { width: number; height: number };
}

/**
 * Frame, size and used area of a recipe's first picture.
 * @throws RangeError with a sentence when corners, lines or marks cannot be
 */
export function resolveSample(recipe: Pick<Recipe, 'sample' | 'size'>, sample: PictureShape): SampleGeometry {
  const frame = makeFrame(sample, { ...recipe.sample, frame: recipe.sample.frame as Quad | null });
  const size = resolveSize(recipe.size, frame);
  const frameMm = { width: size.width.mm, height: size.height.mm };
  const area = recipe.sample.used && recipe.sample.areas.find((a) => a.id === recipe.sample.used);
  if (!area) return { frame, size, used: frame, usedMm: frameMm };
  return {
    frame,
    size,
    used: frameOfQuad(sample, frame.bow, area.corners as Quad),
    usedMm: areaSizeMm(frame, frameMm, area.corners),
  };
}

export interface RepeatGeometry extends SampleGeometry {
  across: ClosedAxis;
  up: ClosedAxis;
  map: PlacementMap;
}

/** The geometry of a finish without its pixels: frame, size, how it closes, and the repeat. */
export function resolveRepeat(
  recipe: Pick<Recipe, 'sample' | 'size' | 'repeat'>,
  sample: PictureShape,
): RepeatGeometry {
  const geometry = resolveSample(recipe, sample);
  const { size, usedMm, frame, used } = geometry;
  // A counted axis closes on whole modules; in a picked area, on as many as it holds.
  const moduleOf = (module: { pitchMm: number; count: number } | undefined, lengthMm: number) =>
    module && used !== frame ? { ...module, count: Math.floor(lengthMm / module.pitchMm + 1e-6) } : module;
  const across = closeAxis({
    lengthMm: usedMm.width,
    ...recipe.repeat.across,
    module: moduleOf(size.width.module, usedMm.width),
  });
  const up = closeAxis({
    lengthMm: usedMm.height,
    ...recipe.repeat.up,
    module: moduleOf(size.height.module, usedMm.height),
  });
  return { ...geometry, across, up, map: placeClosed(across, up) };
}
