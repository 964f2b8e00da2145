import { renderMaps, sizeOfFinishMm, type Recipe } from '@jossel/core/finish';
import { detailOf, type ReliefToPlan } from '@jossel/core/schedule';
import { optionsOf, type IssuedAs } from './issued';
import { sourcesFrom, type SampleBytes } from './sources';
import { serialiseErrors } from './serialise-errors';

/** What meshes of every spacing leave out of the relief of a finish; runs in a computing thread. */

export interface DetailOrder {
  recipe: Recipe;
  issued?: IssuedAs | null;
  samples: SampleBytes[];
}

/** Longer side of the repeat at which its relief is looked at, px. */
const LOOKED_AT_PX = 1536;

export const reliefDetail = ({ recipe, issued, samples }: DetailOrder) =>
  serialiseErrors(async (): Promise<ReliefToPlan> => {
    const pictures = sourcesFrom(samples);
    const size = await sizeOfFinishMm(recipe, pictures);
    const widthPx = Math.max(8, Math.round(LOOKED_AT_PX * Math.min(1, size.width / size.height)));
    const { maps } = await renderMaps(
      recipe,
      pictures,
      { ...optionsOf(issued), widthPx, maps: ['height'] },
      [],
    );
    const { height } = maps;
    const mmPerPx = { x: size.width / height.widthPx, y: size.height / height.heightPx };
    return { detail: detailOf(height, mmPerPx), heightMm: { min: height.minMm, max: height.maxMm } };
  });
