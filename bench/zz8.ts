import sharp from 'sharp';
import { laidScene } from '../standins/laid/scenes';
import { defaultRecipe, lead, renderFinish, adviceForRepeat, piecesOfFinish } from '@jossel/core/finish';
import { sizeKnownBy, findStructure } from '@jossel/core/size';
import { StageCache } from '@jossel/core/surface';
import { linearToSrgbBytes } from '@jossel/core/colour';
const tiles: any[] = [];
for (const nv of process.argv.slice(2)) {
  const [name, v] = nv.split(':');
  const { picture, shot } = laidScene(name!, Number(v));
  const info = { id: 'a', sha256: nv, widthPx: picture.widthPx, heightPx: picture.heightPx, focalPx: null };
  const pictures: any = { info: async () => info, level: async () => picture, data: async () => picture };
  const cache = new StageCache();
  const recipe = defaultRecipe(['a'], 'brick', picture);
  const found = findStructure(picture);
  if (found.straighten) lead(recipe).preparation.frame = found.straighten.corners.map((p) => [...p]) as any;
  lead(recipe).size = sizeKnownBy({ overall: { value: shot.widthMm, unit: 'mm', basis: 'measured' } } as any, 'follows');
  for (const kind of ['default', 'advised']) {
    if (kind === 'advised') recipe.repeat = { ...recipe.repeat, ...(await adviceForRepeat(pictures, recipe, { cache })).settings };
    if (kind === "advised") console.log(recipe.repeat.why.join(" | "));
    const t = performance.now();
    const judged = await piecesOfFinish(recipe, pictures, { cache });
    const ms = performance.now() - t;
    const finish: any = await renderFinish(recipe, pictures, { widthPx: 420, cache, maps: ['colour'], category: 'brick' } as any);
    console.log(nv, kind, recipe.repeat.method, recipe.repeat.across.closing, 'seam', finish.report.seam.acrossWidth.toFixed(2), finish.report.seam.acrossHeight.toFixed(2), judged ? `${judged.pieces} pieces, ${judged.whereCopiesMeet} meet, broken ${judged.broken.length} (${judged.broken.filter((b) => b.kind === 'cut').length} cut)` : 'null', ms.toFixed(0));
    const { colour } = finish.maps; const [w, h] = [colour.widthPx, colour.heightPx];
    const one = await sharp(Buffer.from(linearToSrgbBytes(colour, 3)), { raw: { width: w, height: h, channels: 3 } }).png().toBuffer();
    const boxes = (judged?.broken ?? []).map((b) => `<rect x="${b.left * w}" y="${b.top * h}" width="${b.width * w}" height="${b.height * h}" fill="none" stroke="${b.kind === 'cut' ? '#0ff' : '#ff0'}" stroke-width="2"/>`).join('');
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}">${boxes}</svg>`;
    tiles.push(await sharp(await sharp(one).composite([{ input: Buffer.from(svg) }]).png().toBuffer()).resize(400, 300, { fit: 'contain' }).png().toBuffer());
  }
}
await sharp({ create: { width: 4 * 404, height: Math.ceil(tiles.length / 4) * 304, channels: 3, background: '#fff' } }).composite(tiles.map((t, i) => ({ input: t, left: (i % 4) * 404, top: Math.floor(i / 4) * 304 }))).png().toFile('/tmp/pieces.png');
