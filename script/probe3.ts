import sharp from 'sharp';
import { adviseRepeat } from '@jossel/core/repeat';
import { defaultRecipe, renderFinish, repetitionOf, withReplaced, type Recipe } from '@jossel/core/finish';
import { linearToSrgb } from '@jossel/core/colour';
import { findStructure, sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { MANY_FINISHES } from '../standins/many-finishes';
import { sourcesOf } from '../bench/many';
const save = async (c: any, name: string) => {
  const b = Buffer.alloc(c.widthPx * c.heightPx * 3);
  for (let i = 0; i < c.r.length; i++) (['r', 'g', 'b'] as const).forEach((k, j) => (b[i * 3 + j] = Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, c[k][i]))))));
  await sharp(b, { raw: { width: c.widthPx, height: c.heightPx, channels: 3 } }).png().toFile(name);
};
const names = process.argv.slice(2);
for (const f of MANY_FINISHES) {
  if (!names.some((n) => f.name.startsWith(n))) continue;
  const { picture, widthMm, heightMm } = f.picture(1200);
  let recipe: Recipe = defaultRecipe(['a'], 'timber' as never, picture);
  recipe.size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  const advice = adviseRepeat(picture, findStructure(picture), { width: widthMm, height: heightMm }, recipe.repeat).settings;
  recipe.repeat = { ...recipe.repeat, ...advice, way: 'compose' };
  const src = sourcesOf(picture, f.name);
  for (let press = 0; press <= 3; press++) {
    const t = performance.now();
    const fin = await renderFinish(recipe, src, { widthPx: 1200, maps: ['colour'] });
    const rep = repetitionOf(fin, 6000);
    console.log(f.name, 'press', press, ((performance.now() - t) / 1000).toFixed(1) + 's', rep.giveAways.length, rep.giveAways.slice(0, 14).map((g) => `${g.contrast.toFixed(1)}/${g.out.toFixed(1)}/${(g.share * 1e4).toFixed(1)}`).join(' '), 'seen', rep.seen.farthestMm);
    await save(fin.colour, `/tmp/ga-${f.name.replace(' ', '')}-${press}.png`);
    const [W, H] = [fin.colour.widthPx, fin.colour.heightPx];
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${W}" height="${H}">${rep.giveAways.map((g, i) => `<polygon fill="none" stroke="#f0f" stroke-width="2" points="${g.outline.map(([x, y]) => `${x * W},${y * H}`).join(' ')}"/><text x="${g.at[0] * W}" y="${g.at[1] * H}" fill="#0ff" font-size="22">${i + 1}</text>`).join('')}</svg>`;
    await sharp(`/tmp/ga-${f.name.replace(' ', '')}-${press}.png`).composite([{ input: Buffer.from(svg), left: 0, top: 0 }]).png().toFile(`/tmp/gao-${f.name.replace(' ', '')}-${press}.png`);
    let n = 0;
    recipe = withReplaced(recipe, rep.giveAways, () => `x${press}-${n++}`);
    if (rep.giveAways.length === 0) break;
  }
}
