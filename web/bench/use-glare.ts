import { useMemo } from 'react';
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
  const fills = source?.light.fills;
  const places = useMemo(() => unfilled(value ?? [], fills ?? [], frame), [value, fills, frame]);
  const busy = key !== null && value === null && !sentence;
  return useMemo(() => ({ places, busy, sentence }), [places, busy, sentence]);
}

type Points = readonly (readonly [number, number])[];

/** Two places of glare are one when their centres are this close, as a share of the frame. */
const SAME_PLACE = 0.03;

/** Places of glare that are not filled yet. */
export function unfilled(
  places: GlarePlace[],
  fills: readonly { points: Points }[],
  frame: Frame | null,
): GlarePlace[] {
  if (!frame || fills.length === 0) return places;
  const centre = (points: Points) =>
    toFrame(frame, [
      points.reduce((sum, p) => sum + p[0], 0) / points.length,
      points.reduce((sum, p) => sum + p[1], 0) / points.length,
    ]);
  const filled = fills.map((f) => centre(f.points));
  return places.filter((place) => {
    const [x, y] = centre(place.points);
    return !filled.some(([u, v]) => Math.hypot(u - x, v - y) < SAME_PLACE);
  });
}
