import type { GlarePlace } from '@jossel/core/light';
import type { PictureSource } from '@jossel/core/sources';
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
  source: PictureSource | undefined,
  sample: Sample | undefined,
  frame: Frame | null,
  wanted: boolean,
): GlareSearch {
  const settings = source && {
    bowLines: source.preparation.bowLines,
    frame: source.preparation.frame,
    keepOuts: source.preparation.keepOuts,
  };
  const key = wanted && sample && settings ? `glare ${sample.id} ${JSON.stringify(settings)}` : null;
  const { value, sentence } = useLatest(key, () => sampleWorker().glare(infoOf(sample!), settings!));
  const fills = source?.light.fills ?? [];
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
