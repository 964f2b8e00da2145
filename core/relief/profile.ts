import { makePlane, type Plane } from '../raster';
import { rowSpans, type Steps } from '../steps';
import type { ContributionOf } from './settings';

/** A profile that runs one way: rolled waves, flutes, reeds, grooves. Whole numbers of it fit the repeat. */

/** How many times a profile stands across a repeat, and the pitch that it then has, mm. */
export function fittedPitch(
  { pitchMm, along }: Pick<ContributionOf<'profile'>, 'pitchMm' | 'along'>,
  sizeMm: { width: number; height: number },
): { count: number; pitchMm: number } {
  const across = along === 'width' ? sizeMm.height : sizeMm.width;
  const count = Math.max(1, Math.round(across / pitchMm));
  return { count, pitchMm: across / count };
}

/**
 * Height of one pitch from 0 to the depth. Flutes and reeds are arcs of circles, as wheels and rollers cut them: of half the
 * pitch as their deepest, where they are half circles.
 * @param t place across the pitch, 0–1
 */
export function profileAt(
  shape: ContributionOf<'profile'>['shape'],
  t: number,
  pitchMm: number,
  depthMm: number,
): number {
  const x = Math.abs(t - 0.5) * pitchMm;
  if (shape === 'wave') return (depthMm * (1 + Math.cos(2 * Math.PI * (t - 0.5)))) / 2;
  if (shape === 'grooves') return (depthMm * x) / (pitchMm / 2);
  const half = pitchMm / 2;
  const arc = Math.min(depthMm, half);
  if (arc === 0) return 0;
  const radius = (half * half + arc * arc) / (2 * arc);
  const risen = (radius - Math.sqrt(Math.max(0, radius * radius - x * x))) * (depthMm / arc);
  return shape === 'flutes' ? risen : depthMm - risen;
}

/**
 * The profile over a repeat.
 * @returns mm about the middle of its depth
 */
export function* profileReliefSteps(
  contribution: ContributionOf<'profile'>,
  sizeMm: { width: number; height: number },
  px: { width: number; height: number },
): Steps<Plane> {
  const { shape, along, depthMm } = contribution;
  const { count, pitchMm } = fittedPitch(contribution, sizeMm);
  const out = makePlane(px.width, px.height);
  const length = along === 'width' ? px.height : px.width;
  // The mean over each pixel: a profile finer than a pixel is flat, not a pattern of its own.
  const samples = Math.min(64, Math.max(4, Math.ceil((8 * count) / length)));
  const line = Float32Array.from({ length }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < samples; k++) {
      const place = ((i + (k + 0.5) / samples) / length) * count;
      sum += profileAt(shape, place - Math.floor(place), pitchMm, depthMm.value);
    }
    return sum / samples - depthMm.value / 2;
  });
  for (const { from, to } of rowSpans(px.height, px.width)) {
    yield;
    for (let y = from, i = from * px.width; y < to; y++)
      for (let x = 0; x < px.width; x++, i++) out.data[i] = line[along === 'width' ? y : x]!;
  }
  return out;
}
