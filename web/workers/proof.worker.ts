import { expose, transfer } from 'comlink';
import { linearToSrgbBytes } from '@jossel/core/colour';
import {
  displaced,
  exposureOf,
  FORM_TABLE,
  PathTracer,
  smoothingSteps,
  tracedFinish,
  triangleSteps,
  type FinishMaps,
  type FormName,
  type LightName,
  type Mesh,
  type Shot,
  type Triangles,
  type TurnedLight,
} from '@jossel/core/proof';
import { inTurns } from '@jossel/core/steps';
import { Stopped } from '@jossel/core/surface';
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
/** Time after which building and smoothing leave others their turn: they heed a stop as soon as tracing does. */
const TURN_MS = 12;
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
async function trianglesOf(
  { form, wallMm, finish, reliefTimes }: RefineOrder,
  turn: () => Promise<void>,
): Promise<Triangles> {
  const moved = FORM_TABLE[form].displaced;
  const key = `${form} ${wallMm} ${moved ? `${reliefTimes} ${finish.serial}` : ''}`;
  if (lastTriangles?.key === key) return lastTriangles.triangles;
  const all = meshesOf({ form, wallMm });
  const meshes = moved ? displaced(all, finish, reliefTimes) : all;
  const triangles = await inTurns(triangleSteps(meshes), turn, TURN_MS);
  lastTriangles = { key, triangles };
  return triangles;
}

const worker = {
  exposure: (form: FormName, light: LightName): number => exposureOf(form, light),

  /** @returns once it is done, or a newer order came */
  async refine(order: RefineOrder, show: (refined: Refined) => void): Promise<void> {
    const mine = ++latest;
    const turn = async () => {
      await yieldToEventLoop();
      if (mine !== latest) throw new Stopped();
    };
    try {
      await refineInTurns(order, show, turn);
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
    }
  },

  /** Leaves off what is being refined. */
  stop(): void {
    latest++;
  },
};

/** One side of the divider: what is traced, and the columns that it fills. */
interface Side {
  tracer: PathTracer;
  from: number;
  to: number;
}

/** First a picture of half the size, then samples at full size. @param turn lets others in; throws to stop */
async function refineInTurns(
  order: RefineOrder,
  show: (refined: Refined) => void,
  turn: () => Promise<void>,
): Promise<void> {
  const triangles = await trianglesOf(order, turn);
  const parts = [
    { maps: order.finish, from: 0, to: order.other ? order.divider : 1 },
    ...(order.other ? [{ maps: order.other, from: order.divider, to: 1 }] : []),
  ].map((part) => ({ ...part, traced: tracedFinish(part.maps) }));
  const { light, exposure, surround } = order;
  const at = async (shot: Shot, samples: number, showAfter: readonly number[]) => {
    const sides = parts.map(({ traced, from, to }): Side => ({
      tracer: new PathTracer({ triangles, finish: traced, light, exposure, surround }, shot),
      from: Math.round(from * shot.widthPx),
      to: Math.round(to * shot.widthPx),
    }));
    for (let s = 0; s < samples; s++) {
      for (let y = 0; y < shot.heightPx; y += ROWS) {
        for (const { tracer, from, to } of sides)
          tracer.addRows(y, Math.min(shot.heightPx, y + ROWS), s, from, to);
        await turn();
      }
      for (const { tracer } of sides) tracer.gathered.samples = s + 1;
      if (showAfter.includes(s + 1)) show(await pictureOf(sides, shot, s + 1, turn));
    }
  };
  const half = {
    ...order.shot,
    widthPx: Math.ceil(order.shot.widthPx / 2),
    heightPx: Math.ceil(order.shot.heightPx / 2),
  };
  await at(half, FIRST_SAMPLES, [FIRST_SAMPLES]);
  await at(order.shot, SAMPLES, SHOW_AFTER);
}

async function pictureOf(
  sides: readonly Side[],
  { widthPx, heightPx }: Shot,
  samples: number,
  turn: () => Promise<void>,
): Promise<Refined> {
  const pixels = widthPx * heightPx;
  const linear = { r: new Float32Array(pixels), g: new Float32Array(pixels), b: new Float32Array(pixels) };
  let clipped = 0;
  for (const { tracer, from, to } of sides) {
    const clean = await inTurns(smoothingSteps(tracer.gathered, widthPx, heightPx), turn, TURN_MS);
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
