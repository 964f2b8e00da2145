import { readColour, type ColourReading } from '../colour';
import type { ColourPicture } from '../raster';
import {
  hashOf,
  mmPerPxOf,
  withFields,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { checkColour } from './checks';
import { finishColour, matchColour, type FinishedColour, type MatchedColour } from './finished';
import { inOklab, isNoHand } from './match';
import type { ColourReport, ColourStageSettings } from './report';
import type { ColourSettings } from './settings';

/**
 * Brings a repeat to the colour that rules, corrects it by hand, recolours it. The match is made over the whole repeat,
 * so that the repeat itself, not the sample it was cut from, has the asked mean.
 */
export const colourStage: SurfaceStage<ColourStageSettings, ColourReport> = {
  name: 'colour',
  version: 1,
  work: 2,

  run(ctx, settings, surface) {
    const finished = finishedColour(ctx, settings, surface);
    const colour = { key: finished.key, get: async () => (await finished.get()).colour };
    return withFields(surface, { colour });
  },

  async report(ctx, settings, surface) {
    const { after, before, factors, claims, hand, wayOff } = await finishedColour(
      ctx,
      settings,
      surface,
    ).get();
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

function finishedColour(
  ctx: RenderContext,
  { colour, balanced }: ColourStageSettings,
  surface: Surface,
): Pending<FinishedColour> {
  const { picture } = surface.fields;
  const { way } = ctx.asked;
  const part = (way && colour.recoloured && surface.parts.get(colour.recoloured)) || null;
  const before = ctx.later(['reading', picture!.key], async () => readColour(await picture!.get()));
  const { ruling, lrv, colour: known, reference } = colour;
  const matched = ctx.later(['matched', picture!.key, ruling, lrv, known, reference], async () =>
    matchColour(await picture!.get(), await before.get(), colour),
  );
  return ctx.later(['colour', picture!.key, colour, way, part?.key ?? null, balanced], async () => {
    const start = await matched.get();
    await ctx.step(0.5, 'Matching the colour');
    const lab = isNoHand(colour.hand) ? null : await oklabOf(ctx, matched);
    const covered = part && (await part.get());
    const mm = mmPerPxOf(surface);
    return finishColour(start, await before.get(), colour, way, mm, covered, balanced, lab);
  });
}

const oklabOf = (ctx: RenderContext, matched: Pending<MatchedColour>) =>
  ctx.known(hashOf('oklab', matched.key), async () => inOklab((await matched.get()).picture));

/** A picture with its colour matched as the finish's would be; parts and colourways aside. */
export function matchedAlone(picture: ColourPicture, colour: ColourSettings): ColourPicture {
  const before: ColourReading = readColour(picture);
  const matched = matchColour(picture, before, colour);
  return finishColour(matched, before, colour, null, { x: 1, y: 1 }, null, false, null).colour;
}
