import { wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import type { FieldTakeOff, LayoutSettings, SettingOutPoint } from '@jossel/core/layout';
import type { LayoutLines, LayoutWorker } from '../workers/layout.worker';

/** What is asked of the worker that lays pieces. */

let remote: Remote<LayoutWorker> | null = null;
const layoutWorker = (): Remote<LayoutWorker> =>
  (remote ??= wrap<LayoutWorker>(
    new Worker(new URL('../workers/layout.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** Lines that were drawn, by their settings. */
const known = new Map<string, LayoutLines>();
const MOST_KNOWN = 120;

/** Lines of a layout; null: they are not drawn yet, or it cannot be laid. */
export function useLayoutLines(settings: LayoutSettings | null): LayoutLines | null {
  const key = settings && JSON.stringify(settings);
  const [drawn, setDrawn] = useState<{ key: string; lines: LayoutLines } | null>(null);
  useEffect(() => {
    if (!key || known.has(key)) return;
    let wanted = true;
    layoutWorker()
      .lines(JSON.parse(key) as LayoutSettings)
      .then((lines) => {
        known.set(key, lines);
        if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
        if (wanted) setDrawn({ key, lines });
      })
      // What cannot be laid is said where it was typed.
      .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [key]);
  if (!key) return null;
  return known.get(key) ?? (drawn?.key === key ? drawn.lines : null);
}

/** So many drags may pass while a picture is drawn. */
const MOST_BEFORE = 12;

/**
 * The lines that belong to the picture in view, while newer ones are drawn, or the picture of newer ones is: what is held by the pointer
 * stays where it is. Null until some have belonged to it.
 * @param latest those of the layout as it is; null: they are not drawn yet
 */
export function useLinesInView(
  latest: LayoutLines | null,
  { width, height }: { width: number; height: number },
): LayoutLines | null {
  const [before, setBefore] = useState<readonly LayoutLines[]>([]);
  const [shown, setShown] = useState<LayoutLines | null>(null);
  if (latest && before.at(-1) !== latest) setBefore([...before, latest].slice(-MOST_BEFORE));
  const belongs = before.findLast(({ repeatMm }) => repeatMm.width === width && repeatMm.height === height);
  if (belongs && belongs !== shown) setShown(belongs);
  return belongs ?? shown;
}

/** A field whose pieces are counted. */
export interface Field {
  width: number;
  height: number;
  settingOutPoint: SettingOutPoint;
}
export type FieldCounted = { is: 'counted'; takeOff: FieldTakeOff } | { is: 'refused'; why: string };

/** Pieces of a field; null: they are not counted yet. */
export function useFieldCount(settings: LayoutSettings, field: Field): FieldCounted | null {
  const key = JSON.stringify([settings, field]);
  const [counted, setCounted] = useState<{ key: string; answer: FieldCounted } | null>(null);
  useEffect(() => {
    let wanted = true;
    const [asked, { settingOutPoint, ...sizeMm }] = JSON.parse(key) as [LayoutSettings, Field];
    const put = (answer: FieldCounted) => wanted && setCounted({ key, answer });
    layoutWorker()
      .field(asked, sizeMm, settingOutPoint)
      .then((takeOff) => put({ is: 'counted', takeOff }))
      .catch((error: unknown) => put({ is: 'refused', why: (error as Error).message }));
    return () => {
      wanted = false;
    };
  }, [key]);
  return counted?.key === key ? counted.answer : null;
}
