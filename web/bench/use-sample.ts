import { wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { Part, Preparation } from '@jossel/core/sample';
import type { Quad } from '@jossel/core/straighten';
import type { Sample } from '../app/api';
import type { SampleWorker, Shown, ShownPart } from '../workers/sample.worker';
import { infoOf } from './use-drawn';

let remote: Remote<SampleWorker> | null = null;
/** The worker that looks at samples. */
export const sampleWorker = () =>
  (remote ??= wrap<SampleWorker>(
    new Worker(new URL('../workers/sample.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** Longest side at which a sample is shown. */
const VIEW_PX = 2000;
const DRAFT_PX = 512;

export interface SamplePicture {
  canvas: HTMLCanvasElement | null;
  sentence: string;
}

export function canvasOf({ widthPx, heightPx, rgba }: Shown): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = widthPx;
  canvas.height = heightPx;
  canvas.getContext('2d')!.putImageData(new ImageData(rgba, widthPx, heightPx), 0, 0);
  return canvas;
}

/** Runs work of the worker whenever its key changes; the newest wins, and the last good result stays. */
export function useLatest<T>(
  key: string | null,
  work: () => Promise<T | null>,
): { value: T | null; sentence: string } {
  const [state, setState] = useState<{ value: T | null; sentence: string }>({ value: null, sentence: '' });
  const run = useRef(work);
  run.current = work;
  useEffect(() => {
    if (key === null) {
      setState({ value: null, sentence: '' });
      return;
    }
    let gone = false;
    run.current().then(
      (value) => !gone && value !== null && setState({ value, sentence: '' }),
      (error: Error) => !gone && setState((s) => ({ ...s, sentence: error.message })),
    );
    return () => {
      gone = true;
    };
  }, [key]);
  return state;
}

const straightening = ({ bowLines, frame }: Preparation) => ({ bowLines, frame });

/** The picture as received, or its straightened frame, as a canvas. */
export function useSamplePicture(
  sample: Sample | undefined,
  settings: Preparation,
  look: 'received' | 'straight' | null,
): SamplePicture {
  const key =
    sample && look
      ? `${look} ${sample.id} ${look === 'straight' ? JSON.stringify(straightening(settings)) : ''}`
      : null;
  const { value, sentence } = useLatest(key, async () =>
    canvasOf(
      look === 'received'
        ? await sampleWorker().received(infoOf(sample!), VIEW_PX)
        : await sampleWorker().straightened(infoOf(sample!), straightening(settings), VIEW_PX),
    ),
  );
  return { canvas: value, sentence };
}

/** The frame, or one area, straightened while it is being dragged; `ms` says how long the last one took. */
export function useStraightDraft(sample: Sample | undefined, settings: Preparation, area: Quad | null) {
  const key = sample ? `draft ${sample.id} ${JSON.stringify([straightening(settings), area])}` : null;
  return useLatest(key, async () => {
    const started = performance.now();
    const drawn = await sampleWorker().draft(infoOf(sample!), straightening(settings), area, DRAFT_PX);
    return (
      drawn && {
        canvas: canvasOf(drawn),
        ratio: drawn.frameWidthPx / drawn.frameHeightPx,
        ms: performance.now() - started,
      }
    );
  });
}

/** Where a part lies over the straightened frame. */
export function useShownPart(
  sample: Sample | undefined,
  settings: Preparation,
  frameMm: { width: number; height: number } | null,
  part: Part | null,
): { value: ShownPart | null; sentence: string } {
  const key =
    sample && part && frameMm
      ? `part ${sample.id} ${JSON.stringify([straightening(settings), settings.keepOuts, frameMm, part])}`
      : null;
  return useLatest(key, () =>
    sampleWorker().part(
      infoOf(sample!),
      { ...straightening(settings), keepOuts: settings.keepOuts },
      frameMm!,
      part!,
      900,
    ),
  );
}
