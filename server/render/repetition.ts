import {
  adviceForRepeat,
  pickPieces,
  relayBrokenPieces,
  piecesOfFinish,
  renderMaps,
  repetitionOf,
  type FinishPieces,
  type PickedPieces,
  type Recipe,
  type RelaidPieces,
  type RenderReport,
  type Repetition,
  type TriedAdvice,
  type TriedMethod,
} from '@jossel/core/finish';
import { lookedAt as cache, sourcesFrom, type SampleBytes } from './sources';
import { optionsOf, type IssuedAs } from './issued';
import { serialiseErrors } from './serialise-errors';

/** How a sample is best made a repeat, and what gives a repetition away. Each runs in a computing thread. */

/** A finish with the bytes of its pictures. */
interface FinishToLookAt {
  recipe: Recipe;
  issued?: IssuedAs | null;
  samples: SampleBytes[];
}

export const advice = ({ recipe, samples }: { recipe: Recipe; samples: SampleBytes[] }) =>
  serialiseErrors(async (): Promise<TriedAdvice<TriedMethod>> => {
    const advice = await adviceForRepeat(sourcesFrom(samples), recipe, { cache });
    return { ...advice, tried: advice.tried.map(({ repeat: _, ...method }) => method) };
  });

export const relaidPieces = ({ recipe, samples }: { recipe: Recipe; samples: SampleBytes[] }) =>
  serialiseErrors((): Promise<RelaidPieces> => relayBrokenPieces(sourcesFrom(samples), recipe, { cache }));

export const pieces = ({ recipe, issued, samples }: FinishToLookAt) =>
  serialiseErrors((): Promise<FinishPieces | null> =>
    piecesOfFinish(recipe, sourcesFrom(samples), { ...optionsOf(issued), cache }),
  );

export const picked = ({ recipe, samples }: { recipe: Recipe; samples: SampleBytes[] }) =>
  serialiseErrors((): Promise<PickedPieces | null> => pickPieces(recipe, sourcesFrom(samples)));

/** Pixels of the repeat's longer side that is looked at. */
const LOOKED_AT_PX = 640;

export const repetition = ({
  recipe,
  issued,
  samples,
  repeatMm,
  fieldMm,
}: FinishToLookAt & {
  repeatMm: { width: number; height: number };
  fieldMm: number;
}) =>
  serialiseErrors(async (): Promise<Repetition> => {
    const widthPx = Math.max(16, Math.round(LOOKED_AT_PX * Math.min(1, repeatMm.width / repeatMm.height)));
    const finish = await renderMaps(
      recipe,
      sourcesFrom(samples),
      { ...optionsOf(issued), widthPx, maps: ['colour'], cache },
      ['repeat', 'colour', 'layout'],
    );
    return repetitionOf({ ...finish, report: finish.report as RenderReport }, fieldMm);
  });
