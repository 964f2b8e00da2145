import { proxy, wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { finishSizeMm, leadingPicture, mapsOf, type MapName, type Recipe } from '@jossel/core/finish';
import { isRefusal } from '@jossel/core/surface';
import type { Sample } from '../app/api';
import type { SampleInfo } from '../workers/sources';
import type { Drawn, EarlyPicture, RenderWorker, Told } from '../workers/render.worker';

let remote: Remote<RenderWorker> | null = null;
/** The worker that computes finishes. */
export function renderWorker(): Remote<RenderWorker> {
  if (remote) return remote;
  remote = wrap<RenderWorker>(
    new Worker(new URL('../workers/render.worker.ts', import.meta.url), { type: 'module' }),
  );
  void remote.listen(proxy((token: number, told: Told) => listeners.get(token)?.(told)));
  return remote;
}
/** Who follows which drawing. */
const listeners = new Map<number, (told: Told) => void>();
let tokens = 0;

export const DRAFT_PX = 512;
export const FULL_PX = 1024;
/** How long nothing changes before the finer picture is made. */
const STILL_MS = 700;

/** What the proof shows at once; occlusion follows. */
const OF_DRAFT = ['colour', 'height', 'normal', 'roughness', 'metalness'] as const;

/** What takes longer is said. */
const SAY_AFTER_MS = 350;

/** Width of the repeat in pixels so that its longer side has the given number. */
export const widthForLongSide = (repeatMm: { width: number; height: number }, longSidePx: number) =>
  Math.max(8, Math.round(longSidePx * Math.min(1, repeatMm.width / repeatMm.height)));

/** What the workers need to know of a sample. */
export const infoOf = ({ id, sha256, widthPx, heightPx, focalPx }: Sample): SampleInfo => ({
  id,
  sha256,
  widthPx,
  heightPx,
  focalPx,
});

/** A picture with the recipe it was drawn from, which may be older than the one in hand. */
export interface DrawnOf extends Drawn {
  recipe: Recipe;
}

export interface Drawing {
  drawn: DrawnOf | null;
  /** Why the last change could not be drawn; the last good picture stays. */
  sentence: string;
  /** The setting that is about, as a path in the recipe; none: none alone. */
  where?: string;
  /** What is being done, when it takes long enough to say so. */
  working: { share: number; step: string } | null;
  /** What a repeat that is being composed would be so far. */
  early: EarlyPicture | null;
}

/** Draws a recipe in the worker: a draft at once, finer when nothing changes any more. */
export function useDrawn(
  recipe: Recipe | null,
  samples: readonly Sample[],
  map: MapName,
  category: string,
  way: string | null,
): Drawing {
  const shown = useRef(map);
  shown.current = map;
  const [drawing, setDrawing] = useState<Drawing>({ drawn: null, sentence: '', working: null, early: null });
  const turn = useRef(0);
  useEffect(() => {
    if (!recipe) return;
    const mine = ++turn.current;
    const first = leadingPicture(recipe)?.sampleId;
    const sample = samples.find((s) => s.id === first);
    if (!sample && !recipe.generated) {
      setDrawing({
        drawn: null,
        sentence: 'This finish has no sample yet. Bring a picture in under Receiving.',
        working: null,
        early: null,
      });
      return;
    }
    const infos = samples.map(infoOf);
    const draw = async (longSidePx: number) => {
      const maps = new Set<MapName>([...OF_DRAFT, shown.current]);
      if (longSidePx === FULL_PX) for (const name of mapsOf(recipe)) maps.add(name);
      const started = Date.now();
      const token = ++tokens;
      listeners.set(token, (told) => {
        if (mine !== turn.current) return;
        if ('early' in told) setDrawing((d) => ({ ...d, early: told.early }));
        // Once all is computed, the picture is only handed over.
        else if (told.share < 1 && Date.now() - started > SAY_AFTER_MS)
          setDrawing((d) => ({ ...d, working: told }));
      });
      try {
        const repeatMm = finishSizeMm(recipe, sample);
        const drawn = await renderWorker().draw(
          recipe,
          infos,
          widthForLongSide(repeatMm, longSidePx),
          [...maps],
          category,
          recipe.colour.ways.some((w) => w.id === way) ? way : null,
          token,
        );
        if (mine === turn.current && drawn)
          setDrawing({ drawn: { ...drawn, recipe }, sentence: '', working: null, early: null });
      } catch (error) {
        if (mine === turn.current)
          setDrawing((d) => ({
            ...d,
            sentence: (error as Error).message,
            where: isRefusal(error) ? error.where : '',
            working: null,
            early: null,
          }));
      } finally {
        listeners.delete(token);
      }
    };
    let finer: ReturnType<typeof setTimeout> | undefined;
    // The finer picture waits for the draft, however slow the machine, or it would push the draft out.
    void draw(DRAFT_PX).then(() => {
      if (mine === turn.current) finer = setTimeout(() => void draw(FULL_PX), STILL_MS);
    });
    return () => clearTimeout(finer);
  }, [recipe, samples, category, way]);
  return drawing;
}
