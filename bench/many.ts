import { adviseRepeat, type RepeatSettings } from '@jossel/core/repeat';
import { lead, defaultRecipe, renderFinish, repeatGeometry, type Recipe } from '@jossel/core/finish';
import { halve, mapChannels, type ColourPicture } from '@jossel/core/raster';
import type { Pictures } from '@jossel/core/surface';
import { findStructure, sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { LAID_TRUE, MANY_FINISHES, type ManyFinish } from '../standins/many-finishes';

/** Seam figures and lattice errors over many made-up samples, each closed as Jossel chooses by itself, and composed anew. */

/** A picture as the core reads it. */
export function sourcesOf(picture: ColourPicture, name: string): Pictures {
  const levels = [picture];
  return {
    info: async () => ({ widthPx: picture.widthPx, heightPx: picture.heightPx, sha256: name }),
    data: async () => {
      throw new Error('The bench has no data maps.');
    },
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels[levels.length - 1]!, halve));
      return levels[n]!;
    },
  };
}

const SAMPLE_PX = 1000;
const REPEAT_PX = 1000;

export async function benchMany(print: (what: string, value: string, reach?: string) => void): Promise<void> {
  const seams = { irregular: [] as number[], regular: [] as number[] };
  const lattice = { true: [] as number[], straying: [] as number[] };
  const said: string[] = [];
  for (const finish of MANY_FINISHES) {
    const { picture, recipe, advice } = await closedByItself(finish);
    const sources = sourcesOf(picture, finish.name);
    const ways: Partial<RepeatSettings>[] = [advice, { ...advice, method: 'composed' }];
    for (const way of advice.method === 'composed' ? ways.slice(1) : ways) {
      recipe.repeat = { ...recipe.repeat, ...way };
      const { across, up } = repeatGeometry(recipe, picture);
      const { report } = await renderFinish(recipe, sources, { widthPx: REPEAT_PX, maps: ['colour'] });
      const { seam } = report;
      const sides = [
        ['across', seam.acrossWidth, across.modules, seam.inside.acrossWidth],
        ['up', seam.acrossHeight, up.modules, seam.inside.acrossHeight],
      ] as const;
      for (const [axis, value, modules, { from, to }] of sides) {
        seams[modules ? 'regular' : 'irregular'].push(value);
        if (modules ? value > 1.15 : value < 0.9 || value > 1.1)
          said.push(
            `${finish.name} ${way.method} ${axis} ${value.toFixed(2)} (lines inside ${from.toFixed(2)}–${to.toFixed(2)})`,
          );
      }
    }
  }
  for (const finish of [...MANY_FINISHES, ...LAID_TRUE]) {
    const strays = MANY_FINISHES.includes(finish) && /bricks|cloth/.test(finish.name);
    lattice[strays ? 'straying' : 'true'].push(...(await latticeErrorsPx(finish)));
  }
  const share = (list: number[], fits: (v: number) => boolean) =>
    `${list.filter(fits).length} of ${list.length}`;
  print(
    `seams of ${MANY_FINISHES.length} samples, irregular axes within 0.90–1.10`,
    share(seams.irregular, (v) => v >= 0.9 && v <= 1.1),
    'all',
  );
  print(
    '… regular axes at most 1.15',
    share(seams.regular, (v) => v <= 1.15),
    'all',
  );
  print('… outside', said.join('; ') || 'none');
  for (const [kind, what, reach] of [
    ['true', 'of structures that lie true', '≤ 1 px'],
    ['straying', 'of bricks laid ± 2 mm and of cloth pulled out of square, their own straying included', ''],
  ] as const) {
    const errors = lattice[kind].sort((a, b) => a - b);
    print(
      `lattice error over the repeat at 1000 px ${what}, ${errors.length} axes: median, worst`,
      `${errors[errors.length >> 1]!.toFixed(2)}, ${errors.at(-1)!.toFixed(2)} px`,
      reach,
    );
  }
}

/** A sample with the way to close it that Jossel chooses. */
export async function closedByItself(finish: ManyFinish) {
  const { picture, widthMm, heightMm } = await finish.picture(SAMPLE_PX);
  const recipe: Recipe = defaultRecipe(['a'], 'plaster', picture);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  const found = findStructure(picture);
  const advice = adviseRepeat(picture, found, { width: widthMm, height: heightMm }, recipe.repeat).settings;
  const closed = { ...recipe, repeat: { ...recipe.repeat, ...advice } };
  return { picture, recipe: closed, advice, sizeMm: { width: widthMm, height: heightMm } };
}

/** By how much the repeat is longer or shorter than whole pitches of the truth, on each axis that closes on modules. */
async function latticeErrorsPx(finish: ManyFinish): Promise<number[]> {
  const { picture, recipe } = await closedByItself(finish);
  const { across, up, repeatMm } = repeatGeometry(recipe, picture);
  const sides = [
    [finish.pitchMm.across, across.modules, repeatMm.width],
    [finish.pitchMm.up, up.modules, repeatMm.height],
  ] as const;
  return sides.flatMap(([pitch, modules, mm]) =>
    pitch && modules ? [(Math.abs(mm - Math.round(mm / pitch) * pitch) * REPEAT_PX) / repeatMm.width] : [],
  );
}
