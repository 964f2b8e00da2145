import { readFileSync } from 'node:fs';
import { halve, mapChannels, type ColourPicture } from '@jossel/core/raster';
import {
  defaultRecipe,
  encodeMap,
  renderFinish,
  renderMaps,
  type MapName,
  type Recipe,
} from '@jossel/core/finish';
import { StageCache, type Pictures } from '@jossel/core/surface';
import { NO_HAND, ruledByLrv } from '@jossel/core/light';
import { figure } from '@jossel/core/units';
import { decodePicture } from '../server/render/decode';

/** What a draft in the page is made of; occlusion follows when nothing changes any more. */
const DRAFT_MAPS: MapName[] = ['colour', 'height', 'normal'];

/** Times of the core's stages on a demo sample, in this process. */
export async function benchCore(print: (what: string, value: string, reach?: string) => void): Promise<void> {
  const full = await decodePicture(readFileSync('demo/samples/trowelled-plaster-shell.jpg'), 2e8);
  const levels: ColourPicture[] = [full];
  const sources: Pictures = {
    info: async () => ({ widthPx: full.widthPx, heightPx: full.heightPx, sha256: 'demo' }),
    data: async () => {
      throw new Error('The bench has no data maps.');
    },
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels[levels.length - 1]!, halve));
      return levels[n]!;
    },
  };
  const base = defaultRecipe(['a'], 'plaster', full);
  const median = async (change: (r: Recipe, i: number) => void, cache = new StageCache()) => {
    await renderFinish(base, sources, { widthPx: 512, cache });
    const times: number[] = [];
    for (let i = 1; i <= 9; i++) {
      const recipe = structuredClone(base);
      change(recipe, i);
      const t = performance.now();
      const finish = await renderFinish(recipe, sources, { widthPx: 512, cache, maps: DRAFT_MAPS });
      for (const name of DRAFT_MAPS) encodeMap(finish, name);
      times.push(performance.now() - t);
    }
    return `${times.sort((a, b) => a - b)[4]!.toFixed(0)} ms`;
  };
  print(
    'draft 512 px, colour changed, core alone',
    await median((r, i) => (r.colour = ruledByLrv(r.colour, figure(20 + i, 'LRV', 'measured')))),
    '≤ 150 ms',
  );
  print(
    'draft 512 px, a correction by hand changed, core alone',
    await median((r, i) => (r.colour = { ...r.colour, hand: { ...NO_HAND, contrast: 1 + i / 50 } })),
    '≤ 100 ms',
  );
  print(
    'draft 512 px, relief changed, core alone',
    await median((r, i) => (r.relief.contributions[0]!.depthMm = figure(0.3 + i / 10, 'mm', 'measured'))),
    '≤ 150 ms',
  );
  print(
    'draft 512 px, response changed, core alone',
    await median((r, i) => (r.response.glossGu = figure(3 + i, 'GU', 'measured'))),
    '≤ 150 ms',
  );
  const swatch = async () => {
    const times: number[] = [];
    for (let i = 0; i < 9; i++) {
      const cache = new StageCache();
      const t = performance.now();
      const finish = await renderMaps(base, sources, { widthPx: 512, cache, maps: ['colour'] });
      encodeMap(finish, 'colour');
      times.push(performance.now() - t);
    }
    return `${times.sort((a, b) => a - b)[4]!.toFixed(0)} ms`;
  };
  print('swatch of the colour at 512 px, nothing known before, core alone', await swatch());
  print(
    'draft 512 px, repeat changed, core alone',
    await median((r, i) => (r.repeat.across.overlapMm = 100 + i)),
  );
  for (const widthPx of [2048, 4096]) {
    const steps: string[] = [];
    let last = performance.now();
    let name = '';
    const started = last;
    await renderFinish(base, sources, {
      widthPx,
      onProgress: (_, step) => {
        const now = performance.now();
        if (name) steps.push(`${name} ${(now - last).toFixed(0)}`);
        [last, name] = [now, step];
      },
    });
    print(
      `all maps at ${widthPx} px, core alone`,
      `${((performance.now() - started) / 1000).toFixed(1)} s (${steps.join(', ')} ms)`,
    );
  }
}
