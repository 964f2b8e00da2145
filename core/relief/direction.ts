import { luminanceSteps, percentileSteps, type ColourPicture, type Plane } from '../raster';
import { hashOf, withTurns, type RenderContext, type Surface } from '../surface';
import { spans, type Steps } from '../steps';
import { printNumber } from '../units';
import { piecesBy } from './contributions';
import { scaleSteps } from './joints';
import type { JointsContribution } from './settings';

/** Which way a relief goes, read off the heights that came out. */
export interface Direction {
  /** What is compared: joints, a part by its id, or dark areas. */
  of: { kind: 'joints' } | { kind: 'part'; id: string } | { kind: 'dark' };
  /** Its median height over that of the rest, mm; below 0 it is recessed. */
  aboveMm: number;
}

/** Differences below this are level, mm. */
const LEVEL_MM = 0.005;

/** What lies lower than what, in a sentence. @param name of a part by its id */
export function directionSentence(
  { of, aboveMm }: Direction,
  name: (id: string) => string = (id) => id,
): string {
  const [what, rest] =
    of.kind === 'joints'
      ? ['Joints lie', 'the faces']
      : of.kind === 'dark'
        ? ['Dark areas lie', 'light ones']
        : [`${name(of.id)} lies`, 'the rest'];
  if (Math.abs(aboveMm) < LEVEL_MM) return `${what} level with ${rest}.`;
  const mm = Math.abs(aboveMm);
  return `${what} ${printNumber(mm, mm < 0.1 ? 3 : 2)}\u2009mm ${aboveMm < 0 ? 'below' : 'above'} ${rest}.`;
}

/** Shares of the surface that are the dark and the light areas. */
const DARK = 0.2;

/**
 * Which way the relief of a surface goes: of its joints, of every part, and where it has neither, of dark areas.
 * @param joints contribution that recesses the joints of the picture; undefined: none does
 */
export async function directionsOf(
  ctx: RenderContext,
  surface: Surface,
  joints: JointsContribution | undefined,
): Promise<Direction[]> {
  const height = await surface.fields.height!.get();
  const out: Direction[] = [];
  const tell = (of: Direction['of'], weight: Plane) => {
    const aboveMm = medianAbove(height, weight);
    if (aboveMm !== null) out.push({ of, aboveMm });
  };
  for (const [id, part] of surface.parts) {
    if (id === 'face' || id === 'arris') continue;
    tell(id === 'joint' ? { kind: 'joints' } : { kind: 'part', id }, await part.get());
  }
  if (joints && !surface.laid) {
    const { within } = await piecesBy(ctx, joints, surface).get();
    const scaled = await withTurns(ctx.options, scaleSteps(within, height.widthPx, height.heightPx));
    tell({ kind: 'joints' }, { ...height, data: scaled.data.map((mm) => (mm < 0 ? 1 : 0)) });
  }
  if (out.length === 0) {
    const picture = surface.fields.picture!;
    const dark = await ctx.known(hashOf('dark areas', picture.key), async () =>
      withTurns(ctx.options, darkAreas(await picture.get())),
    );
    if (dark?.data.length === height.data.length) tell({ kind: 'dark' }, dark);
  }
  return out;
}

/** 1 in the dark, 0 in the light areas of a picture, ½ between; null: it is the same everywhere. */
function* darkAreas(picture: ColourPicture): Steps<Plane | null> {
  const plane = yield* luminanceSteps(picture);
  const { data } = plane;
  const [dark, light] = (yield* percentileSteps(data, [DARK, 1 - DARK])) as [number, number];
  if (!(light > dark)) return null;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = data[i]! <= dark ? 1 : data[i]! >= light ? 0 : 0.5;
  }
  return plane;
}

/** Median height where a weight is above three quarters over that where it is below one quarter, mm; null: either is nowhere. */
function medianAbove({ data }: Plane, { data: weight }: Plane): number | null {
  const step = Math.max(1, Math.floor(data.length / MOST_PLACES));
  const places = Math.ceil(data.length / step);
  const [inside, outside] = [new Float32Array(places), new Float32Array(places)];
  let [within, without] = [0, 0];
  for (let i = 0; i < data.length; i += step) {
    if (weight[i]! > 0.75) inside[within++] = data[i]!;
    else if (weight[i]! < 0.25) outside[without++] = data[i]!;
  }
  return within && without ? median(inside.subarray(0, within)) - median(outside.subarray(0, without)) : null;
}

const MOST_PLACES = 30_000;

/** The values are sorted; arrays of numbers would be by a function, ten times as slowly. */
function median(values: Float32Array): number {
  values.sort();
  return values[values.length >> 1]!;
}
