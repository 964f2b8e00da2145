import sharp from 'sharp';
import { lead, defaultRecipe, renderFinish, repeatGeometry, type Recipe } from '@jossel/core/finish';
import { type ColourPicture } from '@jossel/core/raster';
import { adviseRepeat } from '@jossel/core/repeat';
import { findStructure, sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { sourcesOf } from '../bench/many';
import { HARD_FINISHES } from '../standins/many-finishes';

/**
 * Draws what is hard to repeat before and after: a wall laid edge to edge from the sample as it is, and from the repeat that
 * Jossel makes of it, both at one scale. before-after.ts FILE [REPEATS ACROSS]
 */
const [file = 'docs/screenshots/repeat-before-after.png', times = '2.6'] = process.argv.slice(2);
const [WIDE, HIGH, GAP, WORDS, COLUMNS] = [430, 290, 10, 24, 3];

const encoded = (v: number) =>
  255 * (v <= 0.0031308 ? 12.92 * Math.max(0, v) : 1.055 * Math.min(1, v) ** (1 / 2.4) - 0.055);

/** A field of the view, laid of one picture of known width. */
async function laid(picture: ColourPicture, widthMm: number, pxPerMm: number): Promise<Buffer> {
  const { widthPx: w, heightPx: h } = picture;
  const bytes = Buffer.alloc(3 * w * h);
  for (let p = 0; p < w * h; p++)
    for (const [c, channel] of (['r', 'g', 'b'] as const).entries())
      bytes[3 * p + c] = encoded(picture[channel][p]!);
  const tilePx = Math.round(widthMm * pxPerMm);
  const { data, info } = await sharp(bytes, { raw: { width: w, height: h, channels: 3 } })
    .resize({ width: tilePx, height: Math.round((tilePx * h) / w), fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const view = Buffer.alloc(3 * WIDE * HIGH);
  for (let y = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++) {
      const from = 3 * ((y % info.height) * info.width + (x % info.width));
      data.copy(view, 3 * (y * WIDE + x), from, from + 3);
    }
  return sharp(view, { raw: { width: WIDE, height: HIGH, channels: 3 } })
    .png()
    .toBuffer();
}

const parts: { input: Buffer; left: number; top: number }[] = [];
const rows = Math.ceil(HARD_FINISHES.length / COLUMNS);
const [width, height] = [COLUMNS * WIDE + (COLUMNS + 1) * GAP, rows * (2 * HIGH + WORDS + 2 * GAP) + GAP];
const words: string[] = [];
for (const [k, finish] of HARD_FINISHES.entries()) {
  const { picture, widthMm, heightMm } = finish.picture(1400);
  const recipe: Recipe = defaultRecipe(['a'], 'plaster', picture);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  const { settings } = adviseRepeat(
    picture,
    findStructure(picture),
    { width: widthMm, height: heightMm },
    recipe.repeat,
  );
  recipe.repeat = { ...recipe.repeat, ...settings };
  const { repeatMm } = repeatGeometry(recipe, picture);
  const made = await renderFinish(recipe, sourcesOf(picture, finish.name), {
    widthPx: 1400,
    maps: ['colour'],
  });
  const pxPerMm = WIDE / (Number(times) * Math.max(widthMm, heightMm));
  const left = GAP + (k % COLUMNS) * (WIDE + GAP);
  const top = GAP + Math.floor(k / COLUMNS) * (2 * HIGH + WORDS + 2 * GAP);
  parts.push({ input: await laid(picture, widthMm, pxPerMm), left, top: top + WORDS });
  parts.push({
    input: await laid(made.maps.colour, repeatMm.width, pxPerMm),
    left,
    top: top + WORDS + HIGH + 4,
  });
  const { seam } = made.report;
  words.push(
    `<text x="${left}" y="${top + 16}">${finish.name}: ${Math.round(widthMm)} × ${Math.round(heightMm)} mm</text>`,
  );
  console.log(finish.name, settings.method, seam.acrossWidth.toFixed(2), seam.acrossHeight.toFixed(2));
}
await sharp({ create: { width, height, channels: 3, background: '#f7f7f7' } })
  .composite([
    ...parts,
    {
      input: Buffer.from(
        `<svg width="${width}" height="${height}" font-family="Archivo, sans-serif" font-size="14" fill="#1b1b1b">${words.join('')}</svg>`,
      ),
      left: 0,
      top: 0,
    },
  ])
  .png()
  .toFile(file);
console.log(file);
