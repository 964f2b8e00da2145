import { lead, defaultRecipe, renderFinish, type RenderedFinish } from '@jossel/core/finish';
import { halve, mapChannels } from '@jossel/core/raster';
import { applyPlacement, learnBlendSpace } from '@jossel/core/repeat';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { MANY_FINISHES } from '../standins/many-finishes';
import { stone } from '../standins/physical/kinds';
import { closedByItself, sourcesOf } from './many';

/** Composing a repeat of 1024² px from a sample of 1024² px, and applying its placement at 4096² to three maps. */
export async function benchRepeat(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  const { colour } = await stone(5, [600, 600], '#c3b69d', '#a08f72').make(1024 / 600);
  const recipe = defaultRecipe(['a'], 'stone', colour);
  lead(recipe).size = sizeKnownBy({ overall: figure(600, 'mm', 'measured', 1) }, 'follows');
  const times: number[] = [];
  const coarse: number[] = [];
  const seams: string[] = [];
  let placed!: RenderedFinish['placed'];
  for (let turn = 0; turn < 5; turn++) {
    recipe.repeat = {
      ...recipe.repeat,
      method: 'composed',
      arrangements: [{ number: 1, seed: 1 + turn, redone: [] }],
    };
    const started = performance.now();
    let early = 0;
    const done = await renderFinish(recipe, sourcesOf(colour, 'limestone'), {
      widthPx: 1024,
      maps: ['colour'],
      onEarly: () => (early ||= performance.now() - started),
    });
    times.push(performance.now() - started);
    coarse.push(early);
    const { seam } = done.report;
    seams.push(`${seam.acrossWidth.toFixed(2)} ${seam.acrossHeight.toFixed(2)}`);
    placed = done.placed;
  }
  const middle = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
  print('composing 1024² from a 1024² sample, one thread', `${(middle(times) / 1000).toFixed(1)} s`, '≤ 6 s');
  print('… of it until everything is covered once', `${(middle(coarse) / 1000).toFixed(1)} s`);
  print('… seams across and up, of five arrangements', seams.join('; '), '0.90–1.10');
  await benchStructures(print);
  const big = {
    picture: mapChannels(colour, (plane) => enlarged(plane)),
    pxPerMm: { x: 4096 / 600, y: 4096 / 600 },
  };
  const space = learnBlendSpace(mapChannels(colour, halve));
  const started = performance.now();
  for (let k = 0; k < 3; k++) applyPlacement(placed.map, [big], 4096, 4096, space);
  print(
    'applying a placement map at 4096² to three maps',
    `${((performance.now() - started) / 1000).toFixed(1)} s`,
    '≤ 6 s',
  );
}

/** Larger than the sample, on whole periods: nothing is evened out over joints. */
async function benchStructures(print: (what: string, value: string) => void): Promise<void> {
  const times: string[] = [];
  for (const finish of MANY_FINISHES.filter(({ name }) => /(bricks|tiles) 1[12]/.test(name))) {
    const { picture, recipe, sizeMm } = await closedByItself(finish);
    const asked = { widthMm: 1.37 * sizeMm.width, heightMm: 1.21 * sizeMm.height };
    const composed = { ...recipe.repeat.composed, ...asked };
    recipe.repeat = { ...recipe.repeat, method: 'composed', composed };
    const started = performance.now();
    await renderFinish(recipe, sourcesOf(picture, finish.name), { widthPx: 1024, maps: ['colour'] });
    times.push(((performance.now() - started) / 1000).toFixed(1));
  }
  print('composing two walls of bricks and two of tiles, larger than their samples', `${times.join(', ')} s`);
}

function enlarged({ widthPx, heightPx, data }: { widthPx: number; heightPx: number; data: Float32Array }) {
  const out = new Float32Array(16 * data.length);
  for (let y = 0; y < 4 * heightPx; y++)
    for (let x = 0; x < 4 * widthPx; x++) out[y * 4 * widthPx + x] = data[(y >> 2) * widthPx + (x >> 2)]!;
  return { widthPx: 4 * widthPx, heightPx: 4 * heightPx, data: out };
}
