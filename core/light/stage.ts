import { colourReadingSteps, readColour } from '../colour';
import type { ColourPicture } from '../raster';
import {
  hashOf,
  mmPerPxOf,
  withFields,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
  withTurns,
} from '../surface';
import { checkColour } from './checks';
import { splitPart } from './edges';
import {
  correctColour,
  finishColour,
  matchColour,
  splitAsPart,
  weightAsPart,
  type CorrectedColour,
  type FinishedColour,
  type MatchedColour,
  type RecolouredPart,
} from './finished';
import { inOklab, isNoHand } from './match';
import type { ColourReport, ColourStageSettings } from './report';
import type { ColourSettings } from './settings';

/** 2: colourways of a part split the colour of its edge pixels. */
const COLOUR = { name: 'colour', version: 2 } as const;

/**
 * Brings a repeat to the colour that rules, corrects it by hand, recolours it. The match is made over the whole repeat,
 * so that the repeat itself, not the sample it was cut from, has the asked mean.
 */
export const colourStage: SurfaceStage<ColourStageSettings, ColourReport> = {
  ...COLOUR,
  work: 2,

  run(ctx, settings, surface) {
    const finished = finishedColour(ctx, settings, surface);
    const colour = {
      key: finished.key,
      get: async () => {
        const { colour: picture } = await finished.get();
        // For the report, which is made when the picture may be out of the cache.
        await figuresOf(ctx, finished).get();
        return picture;
      },
    };
    return withFields(surface, { colour });
  },

  async report(ctx, settings, surface) {
    const figures = figuresOf(ctx, finishedColour(ctx, settings, surface));
    const { after, before, factors, claims, hand, wayOff } = await figures.get();
    const report: ColourReport = {
      lrv: after.shown.lrv,
      meanLab: after.shown.meanLab,
      before: { lrv: before.lrv, meanLab: before.meanLab },
      factors,
      claims,
      hand,
      way: ctx.asked.way,
      wayOff,
      clipped: { high: after.clippedHigh, low: after.clippedLow },
      luminance: { p1: after.p1, p50: after.p50, p99: after.p99 },
    };
    return { report, checks: checkColour(settings, report) };
  },
};

const figuresOf = (ctx: RenderContext, finished: Pending<FinishedColour>) =>
  ctx.excerpt(finished, 'figures of the colour', ({ colour: _picture, ...figures }) => figures);

function finishedColour(
  ctx: RenderContext,
  { colour, balanced }: ColourStageSettings,
  surface: Surface,
): Pending<FinishedColour> {
  const picture = surface.fields.picture!;
  const { way } = ctx.asked;
  const mm = mmPerPxOf(surface);
  const before = ctx.later(['reading', picture.key], async () =>
    withTurns(ctx.options, colourReadingSteps(await picture.get())),
  );
  const { ruling, lrv, colour: known, reference } = colour;
  const matched = ctx.later(['matched', picture.key, ruling, lrv, known, reference], async () => {
    const [laid, reading] = [await picture.get(), await before.get()];
    await ctx.step(0.1, 'Matching the colour');
    return matchColour(laid, reading, colour);
  });
  const corrected = ctx.later(['corrected', matched.key, colour.hand], async () => {
    const start = await matched.get();
    const lab = isNoHand(colour.hand) ? undefined : await oklabOf(ctx, matched);
    return correctColour(start, colour, mm, lab);
  });
  const part = partToRecolour(ctx, colour, surface, corrected);
  return ctx.later(['colour', corrected.key, colour, way, part?.key ?? null, balanced], async () => {
    const steps = {
      before: await before.get(),
      matched: await matched.get(),
      corrected: await corrected.get(),
    };
    const recolours = part && (await part.get());
    await ctx.step(0.6, 'Matching the colour');
    return finishColour(steps, colour, way, mm, recolours, balanced);
  });
}

/** What the colourway that is asked for recolours; null: the whole finish, or there is none. */
function partToRecolour(
  ctx: RenderContext,
  { recoloured }: ColourSettings,
  surface: Surface,
  corrected: Pending<CorrectedColour>,
): { key: string; get: () => Promise<RecolouredPart> } | null {
  const weight = (ctx.asked.way && recoloured && surface.parts.get(recoloured)) || null;
  if (!weight) return null;
  if (ctx.versionOf(COLOUR) < 2)
    return { key: weight.key, get: async () => weightAsPart(await weight.get()) };
  const mm = mmPerPxOf(surface);
  const detailPx = Math.max(surface.detailMm.x / mm.x, surface.detailMm.y / mm.y);
  const bandPx = Math.max(LEAST_BAND_PX, BAND_OF_DETAIL * detailPx);
  const split = ctx.later(['split', corrected.key, weight.key, bandPx], async () =>
    splitPart((await corrected.get()).picture, await weight.get(), bandPx),
  );
  return { key: split.key, get: async () => splitAsPart(await split.get()) };
}

/** Pixels of a part may be mixed so far from its edge: as resampling spreads them, and as the camera did. */
const LEAST_BAND_PX = 1.5;
const BAND_OF_DETAIL = 1.25;

const oklabOf = (ctx: RenderContext, matched: Pending<MatchedColour>) =>
  ctx.known(hashOf('oklab', matched.key), async () => inOklab((await matched.get()).picture));

/** A picture with its colour matched as the finish's would be; parts and colourways aside. */
export function matchedAlone(picture: ColourPicture, colour: ColourSettings): ColourPicture {
  const matched = matchColour(picture, readColour(picture), colour);
  return correctColour(matched, colour, { x: 1, y: 1 }).picture;
}
