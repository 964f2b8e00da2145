import { lead, renderMaps, withReplaced, type FoundTelltale, type Recipe } from '@jossel/core/finish';
import { manifestSchema } from '@jossel/core/formats';
import { halve, mapChannels } from '@jossel/core/raster';
import type { Pictures } from '@jossel/core/surface';
import sharp from 'sharp';
import { decodePicture } from './render/decode';
import { finishOf, saveDraft, type FinishAnswer } from './test/finish';
import { grainAs, slopingWall } from './test/pictures';
import { serve, type TestServer } from './test/serve';
import { unzip } from './test/unzip';

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const MEASURED = { unit: 'mm', basis: 'measured' } as const;

/** A finish of 300 × 200 mm, changed. */
const finishWith = async (change: (recipe: Recipe) => void) =>
  finishOf(jossel, await grainAs('png'), 'stone', (recipe) => {
    lead(recipe).size!.ruling = { across: 'overall', up: 'overall' };
    lead(recipe).size!.overall = { across: { value: 300, ...MEASURED }, up: { value: 200, ...MEASURED } };
    change(recipe);
  });
const draftOf = async (id: string) =>
  (await jossel.call<FinishAnswer>('GET', `/api/finishes/${id}`)).body.draft;
const bytesOf = async (url: string) => Buffer.from(await (await fetch(jossel.url + url)).arrayBuffer());

test('a repeat larger than its sample is composed on the server, the same each time, and another by another number', async () => {
  const ordered = async (arrangement: number) => {
    const { id, put } = await finishWith((r) => {
      r.repeat.method = 'composed';
      r.repeat.composed = { ...r.repeat.composed, widthMm: 420, heightMm: 300 };
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
});

test('a repeat that was solved for a small picture is solved for no page again', async () => {
  const { id, recipe } = await finishWith((r) => {
    r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 50 };
  });
  const sampleId = lead(recipe).sampleId;
  const picture = await decodePicture(await bytesOf(`/api/samples/${sampleId}/file`), 1e8);
  const { sha256 } = (await jossel.call<{ sha256: string }>('GET', `/api/samples/${sampleId}`)).body;
  const levels = [picture];
  const pictures: Pictures = {
    info: async () => ({ widthPx: picture.widthPx, heightPx: picture.heightPx, sha256 }),
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
    data: () => Promise.reject(new Error('It has no data.')),
  };
  const asPage = async () => {
    const asked: string[] = [];
    const answers: number[] = [];
    const steps: string[] = [];
    const { maps } = await renderMaps(recipe, pictures, {
      widthPx: 250,
      maps: ['colour'],
      onProgress: (_, step) => steps.push(step),
      solvedBefore: async (key) => {
        asked.push(key);
        const answer = await fetch(`${jossel.url}/api/solved-repeats/${key}`);
        answers.push(answer.status);
        return answer.status === 200 ? new Uint8Array(await answer.arrayBuffer()) : null;
      },
    });
    return { asked, answers, solves: steps.includes('Composing the repeat'), colour: maps.colour };
  };
  const before = await asPage();
  expect([before.answers, before.solves]).toEqual([[204], true]);
  await bytesOf(`/api/finishes/${id}/swatch.png?widthPx=64`);
  const after = await asPage();
  expect([after.answers, after.solves]).toEqual([[200], false]);
  expect(after.asked).toEqual(before.asked);
  expect(Buffer.from(after.colour.g.buffer).equals(Buffer.from(before.colour.g.buffer))).toBe(true);
  const wrong = await jossel.call<{ detail: string }>('GET', '/api/solved-repeats/no-key');
  expect([wrong.status, wrong.body.detail]).toEqual([400, expect.stringContaining('64 hexadecimal digits')]);
});

test('a cut across goes with a mirror or a blend up', async () => {
  for (const closing of ['mirror', 'blend'] as const) {
    const { id } = await finishWith((r) => {
      r.repeat.across = { closing: 'cut', overlapMm: 50 };
      r.repeat.up = { closing, overlapMm: 40 };
    });
    const { report } = await jossel.render(id, { widthPx: 320, maps: ['colour'] });
    expect(report.repeatMm).toEqual({ width: 250, height: closing === 'mirror' ? 400 : 160 });
    expect(report.seam.acrossWidth).toBeLessThan(1.3);
    expect(report.seam.acrossHeight).toBeLessThan(1.3);
  }
});

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
      r.repeat.method = 'composed';
      r.repeat.composed.widthMm = 90000;
    },
    /more than 200 times as long as the sample\. At most 60000.mm can be composed/,
  ],
  [
    'a repeat smaller than one period',
    (r: Recipe) => {
      r.repeat.method = 'composed';
      r.repeat.structure.across = { period: 0.5, first: 0 };
      r.repeat.composed.widthMm = 40;
    },
    /smaller than one period of its structure\. It must be at least 150.mm/,
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
  expect(body.draft.recipe.repeat.method).toBe('edges');
});

test('keep-outs that cover the sample end a composition with a sentence', async () => {
  const { id } = await finishWith((r) => {
    r.repeat.method = 'composed';
    lead(r).preparation.keepOuts = [
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

describe('the repetition', () => {
  /** Grain with one dark spot. */
  async function spotted(change: (recipe: Recipe) => void) {
    const spot = await sharp({
      create: { width: 36, height: 30, channels: 4, background: { r: 20, g: 18, b: 16, alpha: 0.75 } },
    })
      .png()
      .toBuffer();
    const picture = await sharp(await grainAs('png'))
      .composite([{ input: spot, left: 140, top: 90 }])
      .png()
      .toBuffer();
    const sample = await jossel.upload('spotted.png', picture, { permission: 'given for tests' });
    const { id, put } = await finishWith((r) => {
      lead(r).sampleId = sample.body.id;
      change(r);
    });
    expect(put.status).toBe(200);
    return { id, ...(await draftOf(id)) };
  }
  interface Answer {
    telltales: FoundTelltale[];
    seen: { farthestMm: number | null; curve: unknown[]; fieldMm: number };
    detail: string;
  }
  const look = (id: string, body?: object) =>
    jossel.call<Answer>('POST', `/api/finishes/${id}/repetition`, body ?? {});

  test('a spot is found with what it comes from; replaced by a new draft, it is gone', async () => {
    const { id, recipe, etag } = await spotted((r) => {
      r.repeat.method = 'composed';
      r.repeat.composed = { ...r.repeat.composed, widthMm: 360, heightMm: 260 };
    });
    const { body } = await look(id);
    const spots = body.telltales.filter((g) => g.contrast > 8);
    expect(spots.length).toBeGreaterThan(0);
    expect(body.seen.farthestMm).toBeGreaterThan(1000);
    expect(body.seen).toMatchObject({ fieldMm: 6000 });
    let n = 0;
    const put = await saveDraft(
      jossel,
      id,
      withReplaced(recipe, spots, () => `spot-${n++}`),
      etag,
    );
    expect(put.status).toBe(200);
    const after = await look(id, { fieldMm: 3000 });
    expect(after.body.telltales.filter((g) => g.contrast > 8)).toEqual([]);
    expect(after.body.seen.fieldMm).toBe(3000);
  });

  test('a field that cannot be is refused with what could', async () => {
    const { id } = await spotted(() => undefined);
    const { status, body } = await look(id, { fieldMm: 1 });
    expect(status).toBe(400);
    expect(body.detail).toMatch(/at least 100 mm/);
  });

  test('advice says which way suits, and why; it is settings of the recipe', async () => {
    const { id, recipe, etag } = await spotted(() => undefined);
    const { body } = await jossel.call<{
      settings: Partial<Recipe['repeat']>;
      tried: { pieces: number; unlikeShare: number; mixedContrast: number }[];
    }>('POST', `/api/finishes/${id}/repeat-advice`);
    expect(body.settings.why!.at(-1)).toMatch(
      /^Tried at small size, area that does not look like the sample: /,
    );
    expect(body.tried.length).toBeGreaterThan(1);
    for (const one of body.tried) {
      expect(one.pieces).toBe(0);
      expect(one.unlikeShare).toBeLessThan(0.2);
    }
    const put = await saveDraft(
      jossel,
      id,
      { ...recipe, repeat: { ...recipe.repeat, ...body.settings } },
      etag,
    );
    expect(put.status).toBe(200);
    expect((await draftOf(id)).recipe.repeat.why).toEqual(body.settings.why);
  });
});

test('broken bricks of a composed wall are re-laid at one call, and fewer are broken then', async () => {
  const [width, height] = [600, 440];
  const png = await sharp(slopingWall(width, height, 0), { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  const { id, recipe, put } = await finishOf(jossel, png, 'brick', () => undefined);
  const relay = (apply: boolean) =>
    jossel.call<{
      arrangements: Recipe['repeat']['arrangements'];
      brokenBefore: number;
      broken: number;
      detail?: string;
      draft?: { recipe: Recipe };
    }>('POST', `/api/finishes/${id}/relaid-pieces`, { apply });
  const refused = await relay(true);
  expect([refused.status, refused.body.detail]).toEqual([
    422,
    expect.stringMatching(/Compose the repeat first/),
  ]);
  const repeat = { ...recipe.repeat, method: 'composed' as const };
  expect((await saveDraft(jossel, id, { ...recipe, repeat }, put.body.etag)).status).toBe(200);
  const { body } = await relay(false);
  expect(body.brokenBefore).toBeGreaterThan(0);
  expect(body.broken).toBeLessThan(body.brokenBefore);
  expect((await draftOf(id)).recipe.repeat.arrangements[0]!.redone).toEqual([]);
  const applied = await relay(true);
  expect(applied.body.arrangements).toEqual(body.arrangements);
  expect((await draftOf(id)).recipe.repeat.arrangements).toEqual(body.arrangements);
});

test('a wall is closed on whole bonds at one call: no piece is broken then, and what was tried is told', async () => {
  const [width, height] = [600, 440];
  const png = await sharp(slopingWall(width, height, 0), { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  const { id, put } = await finishOf(jossel, png, 'brick', () => undefined);
  const pieces = async () =>
    (
      await jossel.call<{ judged: { pieces: number; broken: unknown[] } | null }>(
        'POST',
        `/api/finishes/${id}/pieces`,
        {},
      )
    ).body.judged!;
  expect((await pieces()).broken.length).toBeGreaterThan(0);
  const { status, body } = await jossel.call<{
    tried: { broken: number; pieces: number }[];
    draft: { recipe: Recipe; etag: string };
  }>('POST', `/api/finishes/${id}/repeat-advice`, { apply: true });
  expect(status).toBe(200);
  expect(body.tried[0]!.broken).toBe(0);
  expect(body.tried[0]).not.toHaveProperty('repeat');
  const { recipe, etag } = await draftOf(id);
  expect([recipe.repeat, etag]).toEqual([body.draft.recipe.repeat, body.draft.etag]);
  expect(etag).not.toBe(put.body.etag);
  expect(recipe.repeat).toMatchObject({ method: 'edges', structure: { stagger: 0 } });
  expect(await pieces()).toMatchObject({ broken: [] });
});

test('a handover of a composed repeat has one size, its tolerance and all maps of one arrangement', async () => {
  const { id } = await finishWith((r) => {
    r.repeat.method = 'composed';
    r.repeat.composed = { ...r.repeat.composed, widthMm: 420, heightMm: 300 };
  });
  await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
  const { body } = await jossel.call<{ id: string }>('POST', '/api/handovers', {
    items: [{ finishId: id }],
    profile: 'draft-1024',
  });
  expect((await jossel.ended('handovers', body.id)).state).toBe('done');
  const files = await unzip(await bytesOf(`/api/handovers/${body.id}/file`));
  const manifest = manifestSchema.parse(JSON.parse(files.get('manifest.json')!.toString()));
  const [finish] = manifest.finishes;
  expect(finish!.repeatMm).toEqual({ width: 420, height: 300 });
  // Each length is known to a pixel of the sample.
  expect(finish!.repeatToleranceMm.width).toBeGreaterThan(0);
  expect(finish!.repeatToleranceMm.width).toBeLessThan(3);
  expect(finish).toMatchObject({ inferredTimes: 1, elementScale: 1 });
  for (const map of ['colour', 'height', 'normal', 'occlusion']) {
    const file = finish!.files.find((f) => f.map === map)!;
    const { width, height } = await sharp(files.get(file.path)!).metadata();
    expect(width! / height!).toBeCloseTo(1.4, 2);
  }
});
