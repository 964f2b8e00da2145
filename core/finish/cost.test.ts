import { initialLayout } from '../layout';
import { makeColourPicture } from '../raster';
import { sizeKnownBy } from '../size';
import { NO_PICTURES, Refusal, StageCache, type Pictures } from '../surface';
import { figure } from '../units';
import { usualLayer } from '../weathering';
import {
  DRAFT_BUDGET,
  defaultRecipe,
  estimateCost,
  generatedRecipe,
  lead,
  renderFinish,
  type Recipe,
} from './index';

const [W, H] = [600, 400];
/** Pictures whose pixels nobody may ask for. */
const UNSEEN: Pictures = {
  info: async () => ({ widthPx: W, heightPx: H, sha256: 'plaster' }),
  level: async () => {
    throw new Error('An estimate looks at no pixel.');
  },
  data: async () => {
    throw new Error('This finish has no maps.');
  },
};
const GREY = makeColourPicture(W, H);
GREY.r.fill(0.4);
GREY.g.fill(0.4);
GREY.b.fill(0.4);

function plaster(change: (recipe: Recipe) => void = () => undefined): Recipe {
  const recipe = defaultRecipe(['a'], 'plaster', { widthPx: W, heightPx: H });
  lead(recipe).size = sizeKnownBy({ overall: figure(900, 'mm', 'measured', 1) }, 'follows');
  change(recipe);
  return recipe;
}
const secondsOf = async (recipe: Recipe, widthPx = 512) =>
  (await estimateCost(recipe, UNSEEN, { widthPx })).seconds;

/** A timber floor of 16 × 16 m from which small pieces are to be cut: its faces have 8192 × 8172 px. */
function smallPiecesOfALargeFloor(): Recipe {
  const recipe = generatedRecipe('timber', { repeatMm: { width: 16000, height: 16000 } });
  const layout = initialLayout('running');
  const mm = (value: number) => figure(value, 'mm', 'assumed');
  recipe.layout = {
    ...layout,
    piece: { lengthMm: mm(60), widthMm: mm(20) },
    joint: { ...layout.joint, alongMm: mm(1), acrossMm: mm(1) },
    repeatMm: { width: 240, height: 240 },
  };
  return recipe;
}

test('estimates grow with pixels, with layers, with contributions, and are made without a look at a pixel', async () => {
  const plain = await secondsOf(plaster());
  expect(await secondsOf(plaster(), 2048)).toBeGreaterThan(4 * plain);
  expect(
    await secondsOf(
      plaster((r) => (r.weathering = [usualLayer('Moss', 'm'), usualLayer('Dust in hollows', 'd')])),
    ),
  ).toBeGreaterThan(plain);
  expect(
    await secondsOf(
      plaster((r) => r.relief.contributions.push({ ...r.relief.contributions[0]!, id: 'again' })),
    ),
  ).toBeGreaterThan(plain);
});

test('composing costs the more, the smaller its copies, the more ways they are turned, and the more is laid anew', async () => {
  const composed = (copyMm: number | null, turning: 'none' | 'quarter' = 'none', redone = 0) =>
    secondsOf(
      plaster((r) => {
        r.repeat.method = 'composed';
        r.repeat.composed = { ...r.repeat.composed, widthMm: 1500, heightMm: 1200, copyMm, turning };
        const area = {
          seed: 1,
          areas: [
            [
              [0, 0],
              [0.2, 0],
              [0.2, 0.2],
            ],
          ] as [number, number][][],
          taken: [],
        };
        r.repeat.arrangements = [
          {
            number: 1,
            seed: 1,
            redone: Array.from({ length: redone }, (_, k) => ({ id: String(k), ...area })),
          },
        ];
        r.repeat.arrangement = 1;
      }),
    );
  const usual = await composed(null);
  expect(usual).toBeGreaterThan(2 * (await secondsOf(plaster())));
  expect(await composed(40)).toBeGreaterThan(2 * usual);
  expect(await composed(40, 'quarter')).toBeGreaterThan(1.5 * (await composed(40)));
  expect(await composed(null, 'none', 4)).toBeGreaterThan(2 * usual);
});

test('what costs more memory than a draft may is refused before anything is painted, with the setting to change', async () => {
  const cache = new StageCache();
  const drawn = renderFinish(smallPiecesOfALargeFloor(), NO_PICTURES, {
    widthPx: 512,
    maps: ['colour'],
    cache,
    budget: DRAFT_BUDGET,
    onProgress: (_, step) => expect(step).not.toBe('Generating the finish'),
  });
  await expect(drawn).rejects.toThrow(Refusal);
  await expect(drawn).rejects.toMatchObject({ code: 'too-much-memory', where: 'generated.repeatMm' });
  await expect(drawn).rejects.toThrow(
    /for generating .* at 8192 × 8172 px; at most 2\u2009GB can be spent on it\. Make the repeat of the generated finish smaller, or that of the layout larger\.$/,
  );
});

test('a draft of a finish as it begins is far within the budget, and one that is within it is drawn', async () => {
  const { seconds, bytes } = await estimateCost(plaster(), UNSEEN, { widthPx: 1024 });
  expect(seconds).toBeLessThan(DRAFT_BUDGET.seconds! / 20);
  expect(bytes).toBeLessThan(DRAFT_BUDGET.bytes! / 5);
  const pictures = { ...UNSEEN, level: async () => GREY };
  const { widthPx } = await renderFinish(plaster(), pictures, {
    widthPx: 64,
    maps: ['colour'],
    budget: { seconds, bytes },
  });
  expect(widthPx).toBe(64);
});

test('cracks that are too many for one repeat are refused before a pixel of the picture is asked for', async () => {
  const crazed = plaster((r) => (r.weathering = [{ ...usualLayer('Crazing', 'c'), scaleMm: 0.1 }]));
  await expect(renderFinish(crazed, UNSEEN, { widthPx: 512 })).rejects.toThrow(
    /^About 248\.77 million cells would lie in this repeat; at most 4 million can\./,
  );
});

test('a brushed metal costs more the more scratches it has and the longer they are; those of a small sheet next to nothing', async () => {
  const brushed = (perCm2: number, longestMm: number, side: number) =>
    secondsOf(
      generatedRecipe('brushed-metal', {
        ...{ perCm2: figure(perCm2, '1', 'assumed'), longestMm: figure(longestMm, 'mm', 'assumed') },
        repeatMm: { width: side, height: side },
      }),
    );
  const few = await brushed(1, 80, 240);
  const many = await brushed(3000, 80, 240);
  expect(many).toBeGreaterThan(2 * few);
  expect(await brushed(3000, 500, 240)).toBeGreaterThan(2 * many);
  expect((await brushed(260, 20, 20)) / (await brushed(1, 20, 20))).toBeLessThan(1.1);
});
