import type { Recipe } from '@jossel/core/finish';
import sharp from 'sharp';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
}, 120000);
afterAll(() => jossel.end());

interface FinishAnswer {
  id: string;
  draft: { recipe: Recipe; etag: string };
  detail: string;
}
const MEASURED = { unit: 'mm', basis: 'measured' } as const;

/** A finish of 300 × 200 mm, changed. */
async function finishWith(change: (recipe: Recipe) => void) {
  const sample = await jossel.upload('grain.png', await grainAs('png'), { permission: 'given for tests' });
  const made = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
    name: 'Grain',
    category: 'stone',
    sampleIds: [sample.body.id],
  });
  const recipe = structuredClone(made.body.draft.recipe);
  recipe.size.ruling = { across: 'overall', up: 'overall' };
  recipe.size.overall = { across: { value: 300, ...MEASURED }, up: { value: 200, ...MEASURED } };
  change(recipe);
  const put = await jossel.call<FinishAnswer>(
    'PUT',
    `/api/finishes/${made.body.id}/draft`,
    { recipe },
    { 'if-match': made.body.draft.etag },
  );
  return { id: made.body.id, put };
}
const bytesOf = async (url: string) => Buffer.from(await (await fetch(jossel.url + url)).arrayBuffer());

test('a repeat larger than its sample is composed on the server, the same each time, and another by another number', async () => {
  const ordered = async (arrangement: number) => {
    const { id, put } = await finishWith((r) => {
      r.repeat.way = 'compose';
      r.repeat.compose = { ...r.repeat.compose, widthMm: 420, heightMm: 300 };
      r.repeat.arrangements = [
        { number: 1, seed: 1, redone: [] },
        { number: 2, seed: 2, redone: [] },
      ];
      r.repeat.arrangement = arrangement;
    });
    expect(put.status).toBe(200);
    const done = await jossel.render(id, { widthPx: 420, maps: ['colour', 'normal'] });
    expect(done.error).toBeUndefined();
    return done;
  };
  const [first, again, other] = [await ordered(1), await ordered(1), await ordered(2)];
  expect(first.report).toMatchObject({ repeatMm: { width: 420, height: 300 }, arrangement: 1 });
  expect(first.report.copies).toBeGreaterThan(3);
  for (const figure of [first.report.seam.acrossWidth, first.report.seam.acrossHeight])
    expect(Math.abs(figure - 1)).toBeLessThan(0.25);
  const colour = async (answer: typeof first) => bytesOf(answer.maps['colour']!.url);
  const bytes = await colour(first);
  expect((await sharp(bytes).metadata()).height).toBe(300);
  expect((await colour(again)).equals(bytes)).toBe(true);
  expect((await colour(other)).equals(bytes)).toBe(false);
}, 120000);

test('the least visible cut closes one way, and leaves the other edge open', async () => {
  const { id } = await finishWith((r) => {
    r.repeat.across = { closing: 'cut', overlapMm: 50 };
    r.repeat.up = { closing: 'abut', overlapMm: 0 };
  });
  const { report } = await jossel.render(id, { widthPx: 320, maps: ['colour'] });
  expect(report.repeatMm).toEqual({ width: 250, height: 200 });
  expect(report.copies).toBeGreaterThan(1);
  expect(report.arrangement).toBeNull();
  expect(report.seam.acrossWidth).toBeLessThan(1.3);
});

test.each([
  [
    'a repeat far larger than its sample',
    (r: Recipe) => {
      r.repeat.way = 'compose';
      r.repeat.compose.widthMm = 90000;
    },
    /more than 200 times as long as the sample\. At most 60000.mm can be composed/,
  ],
  [
    'a repeat smaller than one period',
    (r: Recipe) => {
      r.repeat.way = 'compose';
      r.repeat.structure.across = { period: 0.5, first: 0 };
      r.repeat.compose.widthMm = 40;
    },
    /smaller than one period of its structure\. It must be at least 150.mm/,
  ],
  [
    'a cut beside a mirrored axis',
    (r: Recipe) => {
      r.repeat.across = { closing: 'cut', overlapMm: 50 };
      r.repeat.up = { closing: 'mirror', overlapMm: 0 };
    },
    /The least visible cut does not go together with mirror on the other axis/,
  ],
  [
    'an arrangement that is not there',
    (r: Recipe) => {
      r.repeat.arrangement = 7;
    },
    /no arrangement of this number/,
  ],
] as const)('%s is refused with a sentence, and the draft stays', async (_what, change, sentence) => {
  const { id, put } = await finishWith(change);
  expect(put.status).toBeGreaterThanOrEqual(400);
  expect(JSON.stringify(put.body)).toMatch(sentence);
  const { body } = await jossel.call<FinishAnswer>('GET', `/api/finishes/${id}`);
  expect(body.draft.recipe.repeat.way).toBe('edges');
});

test('keep-outs that cover the sample end a composition with a sentence', async () => {
  const { id } = await finishWith((r) => {
    r.repeat.way = 'compose';
    r.sample.keepOuts = [
      {
        id: 'all',
        kind: 'outline',
        points: [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
        erase: false,
      },
    ];
  });
  const ended = await jossel.render(id, { widthPx: 200 });
  expect([ended.state, ended.error]).toEqual([
    'failed',
    expect.stringMatching(/keep-outs cover the whole sample/),
  ]);
});
