import { expose, transfer } from 'comlink';
import { linearToSrgbBytes } from '@jossel/core/colour';
import {
  buildTriangles,
  displaced,
  exposureOf,
  FORM_TABLE,
  PathTracer,
  smoothed,
  tracedFinish,
  type FinishMaps,
  type FormName,
  type LightName,
  type Mesh,
  type Shot,
  type Triangles,
  type TurnedLight,
} from '@jossel/core/proof';
import { yieldToEventLoop } from './yield-to-event-loop';

/** Refines the picture of the proof: follows light through the same scene that the draft shows. */

export interface RefineOrder {
  form: FormName;
  /** Height of the wall that the finish is for; null: it repeats upwards. */
  wallMm: number | null;
  light: TurnedLight;
  exposure: number;
  surround: number;
  shot: Shot;
  finish: FinishMaps & { heightMm: Float32Array; serial: number };
  /** What stands on the right of the divider; null: nothing is compared. */
  other: (FinishMaps & { heightMm: Float32Array }) | null;
  /** Where the divider is, as a share of the width. */
  divider: number;
  reliefTimes: number;
}

/** The picture so far. */
export interface Refined {
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** Share of the pixels that are brighter than the screen shows. */
  clipped: number;
  samples: number;
}

export const SAMPLES = 40;
/** Rows that are traced before others have their turn. */
const ROWS = 12;
const FIRST_SAMPLES = 2;
/** After these the picture so far is shown. */
const SHOW_AFTER = [2, 4, 7, 11, 16, 22, 30, SAMPLES];

let latest = 0;
const meshes = new Map<string, Mesh[]>();

function meshesOf({ form, wallMm }: Pick<RefineOrder, 'form' | 'wallMm'>): Mesh[] {
  const key = `${form} ${wallMm}`;
  const known = meshes.get(key);
  if (known) return known;
  const built = FORM_TABLE[form].build(wallMm === null ? undefined : wallMm / 1000);
  meshes.set(key, built);
  return built;
}

let lastTriangles: { key: string; triangles: Triangles } | null = null;

/** Triangles of a form; of one that is displaced, by the relief of the finish. */
function trianglesOf({ form, wallMm, finish, reliefTimes }: RefineOrder): Triangles {
  const moved = FORM_TABLE[form].displaced;
  const key = `${form} ${wallMm} ${moved ? `${reliefTimes} ${finish.serial}` : ''}`;
  if (lastTriangles?.key === key) return lastTriangles.triangles;
  const all = meshesOf({ form, wallMm });
  const triangles = buildTriangles(moved ? displaced(all, finish, reliefTimes) : all);
  lastTriangles = { key, triangles };
  return triangles;
}

const worker = {
  exposure: (form: FormName, light: LightName): number => exposureOf(form, light),

  /** @returns once it is done, or a newer order came */
  async refine(order: RefineOrder, show: (refined: Refined) => void): Promise<void> {
    const mine = ++latest;
    const triangles = trianglesOf(order);
    const sides = [
      { maps: order.finish, from: 0, to: order.other ? order.divider : 1 },
      ...(order.other ? [{ maps: order.other, from: order.divider, to: 1 }] : []),
    ].map((side) => ({ ...side, traced: tracedFinish(side.maps) }));
    const { light, exposure, surround } = order;
    const at = async (shot: Shot, samples: number, showAfter: readonly number[]) => {
      const tracers = sides.map(({ traced, from, to }) => ({
        tracer: new PathTracer({ triangles, finish: traced, light, exposure, surround }, shot),
        from: Math.round(from * shot.widthPx),
        to: Math.round(to * shot.widthPx),
      }));
      for (let s = 0; s < samples; s++) {
        for (let y = 0; y < shot.heightPx; y += ROWS) {
          for (const { tracer, from, to } of tracers)
            tracer.addRows(y, Math.min(shot.heightPx, y + ROWS), s, from, to);
          await yieldToEventLoop();
          if (mine !== latest) return;
        }
        for (const { tracer } of tracers) tracer.gathered.samples = s + 1;
        if (showAfter.includes(s + 1)) show(picture(tracers, shot, s + 1));
      }
    };
    const half = {
      ...order.shot,
      widthPx: Math.ceil(order.shot.widthPx / 2),
      heightPx: Math.ceil(order.shot.heightPx / 2),
    };
    await at(half, FIRST_SAMPLES, [FIRST_SAMPLES]);
    if (mine === latest) await at(order.shot, SAMPLES, SHOW_AFTER);
  },

  /** Leaves off what is being refined. */
  stop(): void {
    latest++;
  },
};

function picture(
  tracers: readonly { tracer: PathTracer; from: number; to: number }[],
  { widthPx, heightPx }: Shot,
  samples: number,
): Refined {
  const pixels = widthPx * heightPx;
  const linear = { r: new Float32Array(pixels), g: new Float32Array(pixels), b: new Float32Array(pixels) };
  let clipped = 0;
  for (const { tracer, from, to } of tracers) {
    const clean = smoothed(tracer.gathered, widthPx, heightPx);
    for (let y = 0; y < heightPx; y++)
      for (let x = from; x < to; x++) {
        const i = y * widthPx + x;
        linear.r[i] = clean[3 * i]!;
        linear.g[i] = clean[3 * i + 1]!;
        linear.b[i] = clean[3 * i + 2]!;
        if (Math.max(linear.r[i]!, linear.g[i]!, linear.b[i]!) > 1) clipped++;
      }
  }
  const rgba = linearToSrgbBytes(linear, 4);
  return transfer({ widthPx, heightPx, rgba, clipped: clipped / pixels, samples }, [rgba.buffer]);
}

export type ProofWorker = typeof worker;
expose(worker);
