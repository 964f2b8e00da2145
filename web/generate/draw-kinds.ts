import { wrap, type Remote } from 'comlink';
import type { GenerateWorker, KindPicture } from '../workers/generate.worker';

let remote: Remote<GenerateWorker> | null = null;
const worker = (): Remote<GenerateWorker> =>
  (remote ??= wrap<GenerateWorker>(
    new Worker(new URL('../workers/generate.worker.ts', import.meta.url), { type: 'module' }),
  ));

const drawn = new Map<string, Promise<KindPicture | null>>();

/** A part of what is generated as a kind at first; drawn once. Null where it could not be. */
export function drawnKind(
  kind: string,
  px: { width: number; height: number },
  pxPerMm: number,
): Promise<KindPicture | null> {
  const key = `${kind} ${px.width} ${px.height} ${pxPerMm}`;
  const known =
    drawn.get(key) ??
    worker()
      .draw(kind, px, pxPerMm)
      .catch(() => null);
  drawn.set(key, known);
  return known;
}
