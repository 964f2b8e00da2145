import { renderMaps, type Recipe } from '@jossel/core/finish';
import { linearToLab, lrvOf, type Triple } from '@jossel/core/colour';
import { oklabSpread, paletteOf, readSpot, type GlarePlace, type PaletteColour } from '@jossel/core/light';
import { halvingsToFit, mean, type ColourPicture } from '@jossel/core/raster';
import type { Preparation } from '@jossel/core/sample';
import { glareInSample } from '@jossel/core/sources';
import { levelOf, sourcesFrom, type SampleBytes } from './sources';
import { optionsOf, type IssuedAs } from './issued';
import { serialiseErrors } from './serialise-errors';

/** Colours of samples and finishes, in figures. Each runs in a computing thread. */

/** What a colour measures. */
export interface Reading {
  lrv: number;
  lab: Triple;
  meanLinear: Triple;
  /** Standard deviation in Oklab. */
  spread: Triple;
}
export interface Spot {
  xMm: number;
  yMm: number;
  radiusMm: number;
}

const readingOf = (picture: ColourPicture): Reading => {
  const meanLinear: Triple = [mean(picture.r), mean(picture.g), mean(picture.b)];
  return {
    lrv: lrvOf(meanLinear),
    lab: linearToLab(meanLinear),
    meanLinear,
    spread: oklabSpread(picture).spread,
  };
};

/** A sample as received. */
export const sampleColour = ({ sample }: { sample: SampleBytes }) =>
  serialiseErrors(async () => readingOf(await levelOf(sample, halvingsToFit(sample, 512))));

export const palette = ({ sample, count }: { sample: SampleBytes; count: number }) =>
  serialiseErrors(async (): Promise<PaletteColour[]> =>
    paletteOf(await levelOf(sample, halvingsToFit(sample, 512)), count),
  );

export const glare = ({ sample, settings }: { sample: SampleBytes; settings: Preparation }) =>
  serialiseErrors((): Promise<GlarePlace[]> => glareInSample(sourcesFrom([sample]), sample, settings));

/** Pixels of the repeat's longer side when its colour is read. */
const READ_PX = 512;

/** The repeat of a finish or one of its colourways, and spots of it. */
export const finishColour = (order: {
  recipe: Recipe;
  issued?: IssuedAs | null;
  samples: SampleBytes[];
  repeatMm: { width: number; height: number };
  way: string | null;
  spots: Spot[];
}) =>
  serialiseErrors(async (): Promise<{ repeat: Reading; spots: { lrv: number; lab: Triple }[] }> => {
    const { recipe, issued, samples, repeatMm, way, spots } = order;
    const widthPx = Math.max(16, Math.round(READ_PX * Math.min(1, repeatMm.width / repeatMm.height)));
    const { maps } = await renderMaps(recipe, sourcesFrom(samples), {
      ...optionsOf(issued),
      widthPx,
      maps: ['colour'],
      way,
    });
    const { colour } = maps;
    return {
      repeat: readingOf(colour),
      spots: spots.map(({ xMm, yMm, radiusMm }) => {
        // The repeat goes on beyond its edge.
        const wrap = (mm: number, all: number) => (((mm % all) + all) % all) / all;
        const { linear } = readSpot(
          colour,
          [wrap(xMm, repeatMm.width), wrap(yMm, repeatMm.height)],
          radiusMm / Math.max(repeatMm.width, repeatMm.height),
        );
        return { lrv: lrvOf(linear), lab: linearToLab(linear) };
      }),
    };
  });
