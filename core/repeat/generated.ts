import type { GeneratedSource } from '../generate/stage';
import { NO_CALIBRATION } from '../light';
import { hashOf, namedPart, type Pending, type RenderContext, withTurns } from '../surface';
import { pixelsAtDensity, pixelsOf } from './pixels';
import type { LayeredPlan } from './plan';
import type { RepeatReport } from './report';
import { seamFiguresSteps } from './seam';
import type { RepeatedSurface } from './repeated-surface';

/** The repeat of a finish that is generated: it closes by itself, and nothing has to be solved. */

/** @param asFaces pieces are cut from its leaves, one to a piece, where it has any */
export function generatedRepeat(
  ctx: RenderContext,
  generated: GeneratedSource,
  asFaces: boolean,
): RepeatedSurface {
  const { sizeMm, key, parts, opens, courses, faces } = generated;
  const px = ctx.asked.facesPxPerMm
    ? pixelsAtDensity(sizeMm, ctx.asked.facesPxPerMm)
    : pixelsOf(sizeMm, ctx.asked.widthPx);
  ctx.expect(generated.cost(px));
  const painted = generated.painted(px);
  const of = <T>(name: string, pick: (all: Awaited<ReturnType<typeof painted.get>>) => T): Pending<T> => ({
    key: hashOf(name, painted.key),
    get: async () => pick(await painted.get()),
  });
  const map = { repeatMm: sizeMm, layers: [] };
  return {
    plan: { ...nativePlan(sizeMm, courses), ...(asFaces && faces ? { areas: faces } : {}) },
    sources: [],
    keptOut: 0,
    solution: {
      key: hashOf('native', key),
      get: async () => ({
        map,
        whole: null,
        copies: null,
        boards: null,
        brokenHoldMm: 0,
        evened: async () => null,
      }),
    },
    keptAs: null,
    pictures: async () => [],
    sizeMm,
    px,
    detailMm: { x: sizeMm.width / px.width, y: sizeMm.height / px.height },
    fields: { picture: of('generated colour', ({ colour }) => colour) },
    maps: new Map(),
    parts: new Map(
      parts.map(
        ({ id, name }) =>
          [
            id,
            namedPart(
              name,
              of(`generated part ${id}`, ({ parts: made }) => made.get(id)!),
            ),
          ] as const,
      ),
    ),
    pieces: { key: hashOf('no pieces'), get: async () => null },
    generated: {
      height: of('generated height', ({ height }) => height),
      gloss: of('generated gloss', ({ gloss }) => gloss),
      opacity: opens ? of('generated opacity', ({ opacity }) => opacity!) : null,
    },
  };
}

function nativePlan(
  repeatMm: { width: number; height: number },
  courses: { across: number; up: number },
): LayeredPlan {
  const axis = (lengthMm: number, modules: number) => ({
    repeatMm: lengthMm,
    mixedMm: 0,
    cutMm: 0,
    strips: [],
    modules,
  });
  return {
    kind: 'layered',
    across: axis(repeatMm.width, courses.across),
    up: axis(repeatMm.height, courses.up),
    repeatMm,
    laidMm: repeatMm,
    pitchMm: { across: null, up: null, stagger: 0 },
    moduleMm: { across: null, up: null },
    courses,
    map: { repeatMm, layers: [] },
    cutFirst: { across: false, up: false },
  };
}

export async function reportOfGenerated(
  ctx: RenderContext,
  { sizeMm, px, fields, plan }: RepeatedSurface,
): Promise<RepeatReport> {
  const seam = await ctx.known(hashOf('seam', fields.picture!.key), async () =>
    withTurns(ctx.options, seamFiguresSteps(await fields.picture!.get(), plan.courses)),
  );
  return {
    repeatMm: sizeMm,
    copies: null,
    boards: null,
    arrangement: null,
    joined: [],
    brokenHoldMm: 0,
    stretch: { across: 0, up: 0 },
    stretchNeeded: {},
    repeatToleranceMm: { width: 0, height: 0 },
    inferred: 1,
    sampleMm: sizeMm,
    usedMm: sizeMm,
    keptOut: 0,
    pxPerMm: { x: px.width / sizeMm.width, y: px.height / sizeMm.height },
    seam,
    calibration: NO_CALIBRATION.report,
  };
}
