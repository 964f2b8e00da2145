import type { GlarePlace } from '@jossel/core/light';
import type { Recipe } from '@jossel/core/finish';
import { toFrame, type Frame } from '@jossel/core/straighten';
import type { Sample } from '../app/api';
import { infoOf } from './use-drawn';
import { sampleWorker, useLatest } from './use-sample';

export interface GlareSearch {
  places: GlarePlace[];
  busy: boolean;
  sentence: string;
}

/** Looks for glare while it is wanted; places that are filled already are left out. */
export function useGlare(
  recipe: Recipe | null,
  sample: Sample | undefined,
  frame: Frame | null,
  wanted: boolean,
): GlareSearch {
  const settings = recipe && {
    bowLines: recipe.sample.bowLines,
    frame: recipe.sample.frame,
    keepOuts: recipe.sample.keepOuts,
  };
  const key = wanted && sample && settings ? `glare ${sample.id} ${JSON.stringify(settings)}` : null;
  const { value, sentence } = useLatest(key, () => sampleWorker().glare(infoOf(sample!), settings!));
  const fills = recipe?.colour.fills ?? [];
  const middle = (points: readonly (readonly [number, number])[]) =>
    [0, 1].map((k) => points.reduce((s, p) => s + p[k]!, 0) / points.length) as [number, number];
  const places = (value ?? []).filter((p) => {
    if (!frame) return true;
    const [x, y] = toFrame(frame, middle(p.points));
    return !fills.some((f) => {
      const [u, v] = toFrame(frame, middle(f.points));
      return Math.hypot(u - x, v - y) < 0.03;
    });
  });
  return { places, busy: key !== null && value === null && !sentence, sentence };
}
