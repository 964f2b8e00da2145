import { proxy, wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import { Color } from 'three';
import { physicalOf, reflectanceOverAngle } from '@jossel/core/response';
import type { FormName, LightName } from '@jossel/core/proof';
import type { ProofWorker, Refined, RefineOrder } from '../../workers/proof.worker';
import { FOV_DEG, type Setting, type View } from './Draft';
import type { Subject } from './material';

let remote: Remote<ProofWorker> | null = null;
/** The worker that refines the picture of the proof. */
function proofWorker(): Remote<ProofWorker> {
  return (remote ??= wrap<ProofWorker>(
    new Worker(new URL('../../workers/proof.worker.ts', import.meta.url), { type: 'module' }),
  ));
}

const exposures = new Map<string, number>();

/** Exposure metered at the grey card of a form under a light; null: it is being metered. */
export function useMetered(form: FormName, light: LightName): number | null {
  const key = `${form} ${light}`;
  const [, setReady] = useState('');
  useEffect(() => {
    if (exposures.has(key)) return;
    let left = false;
    void proofWorker()
      .exposure(form, light)
      .then((exposure) => {
        exposures.set(key, exposure);
        if (!left) setReady(key);
      });
    return () => {
      left = true;
    };
  }, [form, light, key]);
  return exposures.get(key) ?? null;
}

/** How long nothing changes before the picture is refined. */
const STILL_MS = 900;
/** A refined picture has at most this many pixels. */
const MOST_PIXELS = 480000;

const finishOf = ({ drawn, response }: Subject): RefineOrder['finish'] => ({
  widthPx: drawn.widthPx,
  heightPx: drawn.heightPx,
  repeatMm: drawn.report.repeatMm,
  colour: drawn.colour,
  normal: drawn.normal,
  roughness: drawn.uneven.roughness ?? drawn.report.roughness,
  metalness: drawn.uneven.metalness ?? (response.base.kind === 'metal' ? 1 : 0),
  opacity: drawn.uneven.opacity ?? 1,
  heightMm: drawn.heightMm,
  serial: drawn.serial,
  physical: physicalOf(response, drawn.report),
  overAngle: reflectanceOverAngle(response),
});

/**
 * The refined picture of a setting, once it is still; null: there is none yet.
 * @param isBehind another setting is on its way: nothing is refined until it is there
 */
export function useRefined(
  setting: Setting | null,
  view: View | null,
  size: { width: number; height: number } | null,
  isBehind: boolean,
): Refined | null {
  const [refined, setRefined] = useState<Refined | null>(null);
  useEffect(() => setRefined(null), [setting, view, size]);
  useEffect(() => {
    if (isBehind || !setting || !view || !size || size.width < 16 || size.height < 16) return;
    let left = false;
    const timer = setTimeout(() => {
      const scale = Math.min(1, Math.sqrt(MOST_PIXELS / (size.width * size.height)));
      const [first, second] = setting.subjects;
      void proofWorker().refine(
        {
          form: setting.form,
          wallMm: setting.wallMm,
          light: setting.light,
          exposure: setting.exposure,
          // three keeps colours in linear light.
          surround: new Color(setting.surround).g,
          shot: {
            ...view,
            fovDeg: FOV_DEG,
            widthPx: Math.round(size.width * scale),
            heightPx: Math.round(size.height * scale),
          },
          finish: finishOf(first),
          other: second ? finishOf(second) : null,
          divider: setting.divider,
          reliefTimes: setting.reliefTimes,
        },
        proxy((made: Refined) => {
          if (!left) setRefined(made);
        }),
      );
    }, STILL_MS);
    return () => {
      left = true;
      clearTimeout(timer);
      void proofWorker().stop();
    };
  }, [setting, view, size, isBehind]);
  return refined;
}
