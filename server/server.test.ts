import { ruledByLrv } from '@jossel/core/light';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import knex from 'knex';
import sharp from 'sharp';
import { validateBytes } from 'gltf-validator';
import { manifestSchema, type Manifest } from '@jossel/core/formats';
import { sizeKnownBy } from '@jossel/core/size';
import { lead, type Recipe } from '@jossel/core/finish';
import { nextLetter } from './services/revisions';
import { grain, grainAs } from './test/pictures';
import { serve, type TaskAnswer, type TestServer } from './test/serve';
import { unzip } from './test/unzip';

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

interface FinishAnswer {
  id: string;
  name: string;
  state: string;
  draft: { recipe: Recipe; etag: string };
  revisions: { letter: string }[];
}

const permission = { permission: 'given for tests' };

async function makeFinish(
  name = 'Grain',
  picture?: Buffer,
): Promise<{ sampleId: string; finish: FinishAnswer }> {
  const sample = await jossel.upload(`${name}.png`, picture ?? (await grainAs('png')), permission);
  expect(sample.status).toBe(201);
  const made = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
    name,
    category: 'stone',
    sampleIds: [sample.body.id],
  });
  expect(made.status).toBe(201);
  return { sampleId: sample.body.id, finish: made.body };
}

describe('samples', () => {
  test.each(['png', 'jpeg', 'tiff', 'webp'] as const)(
    '%s is taken in, kept byte for byte, and reported on',
    async (kind) => {
      const bytes = await grainAs(kind);
      const { status, body } = await jossel.upload(`grain.${kind}`, bytes, {
        supplier: 'Velthrask Timber',
        code: 'T-1',
      });
      expect(status).toBe(201);
      expect(body).toMatchObject({
        widthPx: 320,
        heightPx: 240,
        bitDepth: 8,
        sha256: createHash('sha256').update(bytes).digest('hex'),
      });
      expect((body['report'] as { sentences: string[] }).sentences.length).toBeGreaterThan(0);
      const file = await fetch(`${jossel.url}/api/samples/${body.id}/file`);
      expect(Buffer.from(await file.arrayBuffer()).equals(bytes)).toBe(true);
      const preview = await fetch(`${jossel.url}/api/samples/${body.id}/preview.jpg`);
      expect(await sharp(Buffer.from(await preview.arrayBuffer())).metadata()).toMatchObject({
        format: 'jpeg',
        width: 320,
        height: 240,
      });
    },
  );

  test('16 bit is kept, the orientation is applied, the resolution tag is read', async () => {
    const wide = Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => 20000 + ((i * 37) % 900));
    const bytes = await sharp(wide, { raw: { width: 64, height: 48, channels: 3 } })
      .toColourspace('rgb16')
      .withMetadata({ density: 254, orientation: 6 })
      .png()
      .toBuffer();
    const { body } = await jossel.upload('wide.png', bytes);
    expect(body).toMatchObject({ widthPx: 48, heightPx: 64, bitDepth: 16 });
    expect(body['pxPerMm']).toBeCloseTo(10, 1);
    const level = await fetch(`${jossel.url}/api/samples/${body.id}/levels/0`);
    expect([level.headers.get('x-width-px'), level.headers.get('x-height-px')]).toEqual(['48', '64']);
    const planes = new Float32Array(await level.arrayBuffer());
    expect(planes).toHaveLength(3 * 48 * 64);
    // More than 8 bits of difference survive: 900 steps of 65535 hold far more than the 4 codes 8 bit would leave.
    expect(new Set(planes.subarray(0, 48 * 64)).size).toBeGreaterThan(50);
  });

  test.each([
    ['not a picture', async () => Buffer.from('Dear all, please find attached …'), 422, /not a picture/],
    ['empty', async () => Buffer.alloc(0), 422, /empty/],
    [
      'a picture by name only',
      async () => Buffer.concat([Buffer.from('%PDF-1.7'), Buffer.alloc(200)]),
      422,
      /not a picture|of the kind/,
    ],
    ['cut short', async () => (await grainAs('jpeg')).subarray(0, 4000), 422, /damaged or cut short/],
    [
      '1 × 1',
      async () =>
        sharp({ create: { width: 1, height: 1, channels: 3, background: 'red' } })
          .png()
          .toBuffer(),
      422,
      /only 1 × 1 pixels/,
    ],
    [
      '20000 × 20000',
      async () =>
        sharp({
          create: { width: 20000, height: 20000, channels: 3, background: 'red' },
          limitInputPixels: false,
        })
          .png({ compressionLevel: 1 })
          .toBuffer(),
      422,
      /200 million/,
    ],
    [
      'CMYK',
      async () =>
        sharp(grain(64, 64), { raw: { width: 64, height: 64, channels: 3 } })
          .toColourspace('cmyk')
          .jpeg()
          .toBuffer(),
      422,
      /CMYK/,
    ],
    ['animated', () => twoPages(), 422, /holds 2 pictures/],
  ] as [string, () => Promise<Buffer>, number, RegExp][])(
    '%s is refused with a sentence',
    async (_, make, status, sentence) => {
      const answer = await jossel.upload('sample.png', await make());
      expect(answer.status).toBe(status);
      expect(answer.body.detail).toMatch(sentence);
    },
  );

  test('more than 256 MiB is refused with a sentence', async () => {
    const answer = await jossel.upload('huge.tif', new Uint8Array(257 * 1024 * 1024));
    expect(answer.status).toBe(413);
    expect(answer.body.detail).toMatch(/at most 256 MiB/);
  });

  test('an embedded profile is honoured', async () => {
    const red = {
      create: { width: 32, height: 32, channels: 3 as const, background: { r: 255, g: 0, b: 0 } },
    };
    const p3 = await sharp(red).withIccProfile('p3').png().toBuffer();
    const { body } = await jossel.upload('p3.png', p3);
    expect(String(body['profile'])).not.toMatch(/assumed/);
    const planes = new Float32Array(
      await (await fetch(`${jossel.url}/api/samples/${body.id}/levels/0`)).arrayBuffer(),
    );
    // The file holds sRGB red written in P3 numbers: read back through the profile it is sRGB red again.
    expect(planes[0]).toBeCloseTo(1, 1);
    expect(Math.abs(planes[2 * 32 * 32]!)).toBeLessThan(0.02);
  });
});

/** A WebP with two pages, stacked as sharp wants them. */
async function twoPages(): Promise<Buffer> {
  const [a, b] = [grain(64, 64), grain(64, 64, 2)];
  return sharp(Buffer.concat([a, b]), { raw: { width: 64, height: 128, channels: 3, pageHeight: 64 } })
    .webp({ loop: 0, delay: [100, 100] })
    .toBuffer();
}

describe('drafts', () => {
  test('a stale ETag is refused with 412 and both versions are there', async () => {
    const { finish } = await makeFinish();
    const { recipe, etag } = finish.draft;
    const mine = {
      ...recipe,
      colour: ruledByLrv(recipe.colour, { value: 40, unit: 'LRV', basis: 'measured' }),
    };
    const theirs = {
      ...recipe,
      colour: ruledByLrv(recipe.colour, { value: 50, unit: 'LRV', basis: 'measured' }),
    };
    const first = await jossel.call<{ etag: string }>(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe: theirs },
      { 'if-match': etag },
    );
    expect(first.status).toBe(200);
    const second = await jossel.call<{ detail: string; current: { recipe: Recipe; etag: string } }>(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe: mine },
      { 'if-match': etag },
    );
    expect(second.status).toBe(412);
    expect(second.headers.get('content-type')).toContain('application/problem+json');
    expect(second.body.current.recipe.colour.lrv!.value).toBe(50);
    const again = await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe: mine },
      { 'if-match': second.body.current.etag },
    );
    expect(again.status).toBe(200);
    expect((await jossel.call('PUT', `/api/finishes/${finish.id}/draft`, { recipe: mine })).status).toBe(428);
  });

  test.each([
    [
      'a size of 0',
      (r: Recipe) => (lead(r).size!.overall.across = { value: 0, unit: 'mm', basis: 'measured' }),
      /above 0/,
    ],
    [
      'a negative size',
      (r: Recipe) => (lead(r).size!.overall.across = { value: -5, unit: 'mm', basis: 'measured' }),
      /above 0/,
    ],
    [
      'a size of "abc"',
      (r: Recipe) =>
        (lead(r).size!.overall.across = { value: 'abc' as never, unit: 'mm', basis: 'measured' }),
      /length above 0/,
    ],
    [
      'a size of 1e12',
      (r: Recipe) => (lead(r).size!.overall.across = { value: 1e12, unit: 'mm', basis: 'measured' }),
      /1 000 000 mm/,
    ],
    [
      'an unknown unit',
      (r: Recipe) => (r.relief.contributions[0]!.depthMm.unit = 'furlong' as never),
      /relief, contributions 1, depth, unit/,
    ],
    [
      'a reflectance of 130',
      (r: Recipe) => (r.colour = ruledByLrv(r.colour, { value: 130, unit: 'LRV', basis: 'measured' })),
      /up to 100/,
    ],
    [
      'a count of 2.5',
      (r: Recipe) =>
        (lead(r).size = sizeKnownBy('follows', {
          count: {
            modules: 2.5,
            moduleMm: { value: 145, unit: 'mm', basis: 'measured' },
            jointMm: 3,
            ends: 'flush',
          },
        })),
      /whole number/,
    ],
    [
      'a sample that is not here',
      (r: Recipe) => (lead(r).sampleId = '00000000-0000-4000-8000-000000000000'),
      /not here/,
    ],
  ] as [string, (r: Recipe) => void, RegExp][])(
    '%s is refused with a sentence and the draft stays',
    async (_, spoil, sentence) => {
      const { finish } = await makeFinish();
      const spoilt = structuredClone(finish.draft.recipe);
      spoil(spoilt);
      const answer = await jossel.call<{ detail: string }>(
        'PUT',
        `/api/finishes/${finish.id}/draft`,
        { recipe: spoilt },
        { 'if-match': finish.draft.etag },
      );
      expect(answer.status).toBe(422);
      expect(answer.body.detail).toMatch(sentence);
      expect((await jossel.call<FinishAnswer>('GET', `/api/finishes/${finish.id}`)).body.draft).toEqual(
        finish.draft,
      );
    },
  );

  test('unknown ids are said to be unknown', async () => {
    const id = '00000000-0000-4000-8000-000000000000';
    for (const path of [
      `/api/finishes/${id}`,
      `/api/samples/${id}`,
      `/api/renders/${id}`,
      `/api/handovers/${id}`,
      `/api/projects/${id}`,
    ]) {
      const { status, body } = await jossel.call<{ detail: string }>('GET', path);
      expect(status).toBe(404);
      expect(body.detail).toContain(id);
    }
    expect((await jossel.call('GET', '/api/finishes/seven')).status).toBe(400);
    expect(
      (await jossel.call('POST', '/api/finishes', { name: 'x', category: 'stone', sampleIds: [id] })).status,
    ).toBe(422);
  });
});

describe('revisions', () => {
  test('an issued revision never changes, while the draft goes on', async () => {
    const { finish } = await makeFinish();
    expect(
      (
        await jossel.call<{ revision: string }>('POST', `/api/finishes/${finish.id}/revisions`, {
          note: 'first',
        })
      ).body.revision,
    ).toBe('A');
    const changed = structuredClone(finish.draft.recipe);
    changed.response.glossGu.value = 33;
    await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe: changed },
      { 'if-match': finish.draft.etag },
    );
    const frozen = await jossel.call<{ recipe: Recipe }>('GET', `/api/finishes/${finish.id}/revisions/A`);
    expect(frozen.body.recipe).toEqual(finish.draft.recipe);
    expect(
      (await jossel.call<{ revision: string }>('POST', `/api/finishes/${finish.id}/revisions`, {})).body
        .revision,
    ).toBe('B');
    const knex = (await import('knex')).default({
      client: 'pg',
      connection: jossel.databaseUrl,
      pool: { min: 0, max: 1 },
    });
    await expect(knex('revisions').where({ finish_id: finish.id }).update({ note: 'other' })).rejects.toThrow(
      /never changes/,
    );
    await knex.destroy();
  });

  test('two at once get two letters', async () => {
    const { finish } = await makeFinish();
    const both = await Promise.all(
      [1, 2].map(() => jossel.call<{ revision: string }>('POST', `/api/finishes/${finish.id}/revisions`, {})),
    );
    expect(both.map((b) => b.body.revision).sort()).toEqual(['A', 'B']);
  });

  test('letters go on after Z', () => {
    const letters: string[] = [];
    for (let i = 0; i < 704; i++) letters.push(nextLetter(letters));
    expect([
      letters[0],
      letters[25],
      letters[26],
      letters[51],
      letters[52],
      letters[701],
      letters[702],
    ]).toEqual(['A', 'Z', 'AA', 'AZ', 'BA', 'ZZ', 'AAA']);
  });
});

describe('renders', () => {
  test('every map is rendered, with the report of what it measures', async () => {
    const { finish } = await makeFinish();
    const recipe = structuredClone(finish.draft.recipe);
    lead(recipe).size = sizeKnownBy({ overall: { value: 800, unit: 'mm', basis: 'measured' } }, 'follows');
    recipe.colour = ruledByLrv(recipe.colour, { value: 37, unit: 'LRV', basis: 'published' });
    recipe.repeat = {
      ...recipe.repeat,
      across: { closing: 'mirror', overlapMm: 0 },
      up: { closing: 'blend', overlapMm: 100 },
    };
    await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe },
      { 'if-match': finish.draft.etag },
    );
    const ordered = await jossel.call<TaskAnswer>('POST', '/api/renders', {
      finishId: finish.id,
      widthPx: 256,
    });
    expect(ordered.status).toBe(202);
    const done = await jossel.ended('renders', ordered.body.id);
    expect(done.error).toBeUndefined();
    expect(done.report.repeatMm).toEqual({ width: 1600, height: 500 });
    expect(done.report.lrv).toBeCloseTo(37, 2);
    expect(Object.keys(done.maps).sort()).toEqual([
      'colour',
      'height',
      'metalness',
      'normal',
      'occlusion',
      'roughness',
    ]);
    expect(done.maps['height']).toMatchObject({
      widthPx: 256,
      heightPx: 80,
      bitDepth: 16,
      colourSpace: 'data',
    });
    const height = await sharp(
      Buffer.from(await (await fetch(jossel.url + done.maps['height']!.url)).arrayBuffer()),
    ).metadata();
    expect([height.depth, height.channels, height.width]).toEqual(['ushort', 1, 256]);
    // The mean of the written colour map, decoded by itself, is the asked reflectance.
    const { data } = await sharp(
      Buffer.from(await (await fetch(jossel.url + done.maps['colour']!.url)).arrayBuffer()),
    )
      .raw()
      .toBuffer({ resolveWithObject: true });
    let sum = 0;
    for (let i = 0; i < data.length; i += 3)
      sum += [0.2126, 0.7152, 0.0722].reduce(
        (y, w, c) =>
          y +
          w *
            (data[i + c]! / 255 <= 0.04045
              ? data[i + c]! / 255 / 12.92
              : ((data[i + c]! / 255 + 0.055) / 1.055) ** 2.4),
        0,
      );
    expect((100 * sum) / (data.length / 3)).toBeCloseTo(37, 0);
  });

  test('a render is stopped at once and stays stopped', async () => {
    const { finish } = await makeFinish('Large', await grainAs('png', 1400, 1400));
    const { body } = await jossel.call<TaskAnswer>('POST', '/api/renders', {
      finishId: finish.id,
      widthPx: 4096,
    });
    await jossel.until(
      'it runs',
      async () => (await jossel.call<TaskAnswer>('GET', `/api/renders/${body.id}`)).body.state === 'running',
    );
    expect((await jossel.call<TaskAnswer>('DELETE', `/api/renders/${body.id}`)).body.state).toBe('stopped');
    await new Promise((r) => setTimeout(r, 3000));
    expect((await jossel.call<TaskAnswer>('GET', `/api/renders/${body.id}`)).body).toMatchObject({
      state: 'stopped',
      maps: {},
    });
  });

  test.each([[0], [1e6], [12.5]])('a width of %f px is refused', async (widthPx) => {
    const { finish } = await makeFinish();
    expect((await jossel.call('POST', '/api/renders', { finishId: finish.id, widthPx })).status).toBe(400);
  });
});

describe('handovers', () => {
  test('the package holds what was typed, with a checksum of every file and a glTF that is valid', async () => {
    const { finish } = await makeFinish('Boards of oak', await grainAs('png', 300, 471));
    const recipe = structuredClone(finish.draft.recipe);
    lead(recipe).size = sizeKnownBy('follows', {
      count: {
        modules: 17,
        moduleMm: { value: 145, unit: 'mm', basis: 'published', tolerance: 0.5 },
        jointMm: 3,
        ends: 'flush',
      },
    });
    recipe.colour = ruledByLrv(recipe.colour, {
      value: 28,
      unit: 'LRV',
      basis: 'published',
      note: 'sheet 4',
    });
    // The whole contrast of the picture, as steep as it is: so the depth is the one that was typed.
    Object.assign(recipe.relief.contributions[0]!, { colourOut: false, steepestDeg: 90 });
    await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe },
      { 'if-match': finish.draft.etag },
    );
    const early = await jossel.call<{ detail: string }>('POST', '/api/handovers', {
      items: [{ finishId: finish.id }],
      profile: 'draft-1024',
    });
    expect([early.status, early.body.detail]).toEqual([409, expect.stringMatching(/no issued revision/)]);
    await jossel.call('POST', `/api/finishes/${finish.id}/revisions`, {});
    const { body } = await jossel.call<TaskAnswer>('POST', '/api/handovers', {
      items: [{ finishId: finish.id }],
      profile: 'draft-1024',
    });
    expect((await jossel.ended('handovers', body.id)).state).toBe('done');
    const files = await unzip(
      Buffer.from(await (await fetch(`${jossel.url}/api/handovers/${body.id}/file`)).arrayBuffer()),
    );
    const manifest: Manifest = manifestSchema.parse(JSON.parse(files.get('manifest.json')!.toString()));
    const [f] = manifest.finishes;
    expect(f!.size).toEqual(lead(recipe).size);
    expect(f!.figures).toContainEqual(
      expect.objectContaining({ name: 'physical height of the sample', value: 2513, basis: 'published' }),
    );
    expect(f!.figures).toContainEqual({
      name: 'light reflectance value',
      value: 28,
      unit: 'LRV',
      basis: 'published',
      note: 'sheet 4',
    });
    expect(f!.repeatMm.height).toBeCloseTo(16 * 148, 6);
    expect(f!.measured.lrv).toBeCloseTo(28, 1);
    expect(f!.heightMm.max - f!.heightMm.min).toBeCloseTo(recipe.relief.contributions[0]!.depthMm.value, 4);
    expect(f!.files.map((x) => x.map).sort()).toEqual([
      'colour',
      'height',
      'height',
      'metalness',
      'normal',
      'occlusion',
      'panel',
      'roughness',
    ]);
    for (const entry of f!.files) {
      const bytes = files.get(entry.path)!;
      expect(createHash('sha256').update(bytes).digest('hex')).toBe(entry.sha256);
      if (!entry.path.endsWith('.png')) continue;
      const meta = await sharp(bytes).metadata();
      expect([meta.width, meta.height, meta.depth === 'ushort' ? 16 : 8]).toEqual([
        entry.widthPx,
        entry.heightPx,
        entry.bitDepth,
      ]);
    }
    expect(f!.files.find((x) => x.path === 'boards-of-oak-A/height.exr')).toMatchObject({
      bitDepth: 32,
      unit: 'mm',
    });
    const glb = files.get('boards-of-oak-A/panel.glb')!;
    const report = await validateBytes(new Uint8Array(glb));
    expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
    const json = JSON.parse(glb.subarray(20, 20 + glb.readUInt32LE(12)).toString()) as {
      accessors: { max?: number[] }[];
      nodes: object[];
    };
    // The panel has the repeat's true size, in metres.
    expect(json.accessors.some((a) => a.max && Math.abs(a.max[1]! * 2 - 2.368) < 1e-6)).toBe(true);
  });

  test('nothing is handed over without permission', async () => {
    const sample = await jossel.upload('bare.png', await grainAs('png'));
    const made = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
      name: 'Bare',
      category: 'stone',
      sampleIds: [sample.body.id],
    });
    await jossel.call('POST', `/api/finishes/${made.body.id}/revisions`, {});
    const refused = await jossel.call<{ detail: string }>('POST', '/api/handovers', {
      items: [{ finishId: made.body.id }],
      profile: 'draft-1024',
    });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringMatching(/no permission to use/),
    ]);
  });

  test('a server killed in the middle never offers half a package, and the work is taken up again', async () => {
    const { finish } = await makeFinish('Killed', await grainAs('png', 900, 900));
    await jossel.call('POST', `/api/finishes/${finish.id}/revisions`, {});
    const { body } = await jossel.call<TaskAnswer>('POST', '/api/handovers', {
      items: [{ finishId: finish.id }],
      profile: 'general-2048',
    });
    await jossel.until('it is under way', async () => {
      const now = (await jossel.call<TaskAnswer>('GET', `/api/handovers/${body.id}`)).body;
      return now.state === 'running' && now.progress > 0.1;
    });
    await jossel.kill('SIGKILL');
    await jossel.restart();
    const between = await jossel.call<TaskAnswer>('GET', `/api/handovers/${body.id}`);
    expect(['running', 'waiting']).toContain(between.body.state);
    expect((await fetch(`${jossel.url}/api/handovers/${body.id}/file`)).status).toBe(409);
    const done = await jossel.ended('handovers', body.id);
    expect(done.state).toBe('done');
    expect(
      (
        await unzip(
          Buffer.from(await (await fetch(`${jossel.url}/api/handovers/${body.id}/file`)).arrayBuffer()),
        )
      ).has('manifest.json'),
    ).toBe(true);
  });
});

describe('projects', () => {
  test('a surface takes a finish at a revision and says how often the repeat lies on it', async () => {
    const { finish } = await makeFinish('Floor');
    const recipe = structuredClone(finish.draft.recipe);
    lead(recipe).size = sizeKnownBy(
      { overall: { value: 500, unit: 'mm', basis: 'measured' } },
      { overall: { value: 250, unit: 'mm', basis: 'measured' } },
    );
    recipe.repeat = {
      ...recipe.repeat,
      across: { closing: 'abut', overlapMm: 0 },
      up: { closing: 'abut', overlapMm: 0 },
    };
    await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe },
      { 'if-match': finish.draft.etag },
    );
    const { body: project } = await jossel.call<{ id: string }>('POST', '/api/projects', { name: 'Pier' });
    const { body: room } = await jossel.call<{ id: string }>('POST', `/api/projects/${project.id}/rooms`, {
      name: 'Hall',
    });
    const wish = { name: 'Floor', widthMm: 4000, heightMm: 3000, finish: { id: finish.id } };
    const draftOnly = await jossel.call<{ detail: string }>('POST', `/api/rooms/${room.id}/surfaces`, wish);
    expect([draftOnly.status, draftOnly.body.detail]).toEqual([
      409,
      expect.stringMatching(/no issued revision/),
    ]);
    await jossel.call('POST', `/api/finishes/${finish.id}/revisions`, {});
    const { body: surface } = await jossel.call<{ id: string }>(
      'POST',
      `/api/rooms/${room.id}/surfaces`,
      wish,
    );
    type Shown = {
      rooms: {
        surfaces: { mapping: { repeatsAcross: number; repeatsUp: number }; finish: { revision: string } }[];
      }[];
    };
    const shown = async () =>
      (await jossel.call<Shown>('GET', `/api/projects/${project.id}`)).body.rooms[0]!.surfaces[0]!;
    expect(await shown()).toMatchObject({
      mapping: { repeatsAcross: 8, repeatsUp: 12 },
      finish: { revision: 'A' },
    });
    await jossel.call('PATCH', `/api/surfaces/${surface.id}`, { directionDeg: 90 });
    expect(await shown()).toMatchObject({ mapping: { repeatsAcross: 16, repeatsUp: 6 } });
    expect((await jossel.call('PATCH', `/api/surfaces/${surface.id}`, { widthMm: 0 })).status).toBe(400);
    await jossel.call('PATCH', `/api/finishes/${finish.id}`, { state: 'withdrawn' });
    const withdrawn = await jossel.call<{ detail: string }>('POST', `/api/rooms/${room.id}/surfaces`, wish);
    expect([withdrawn.status, withdrawn.body.detail]).toEqual([409, expect.stringMatching(/withdrawn/)]);
  });
});

test('the interface description and the recipe schema are there, with a description on every field', async () => {
  const { body: openapi } = await jossel.call<{ openapi: string; paths: Record<string, unknown> }>(
    'GET',
    '/api/openapi.json',
  );
  for (const path of ['/api/samples', '/api/finishes/{id}/draft', '/api/renders', '/api/handovers/{id}/file'])
    expect(Object.keys(openapi.paths)).toContain(path);
  const { body: schema } = await jossel.call<object>('GET', '/api/schemas/finish.json');
  const bare: string[] = [];
  const visit = (node: unknown, path: string) => {
    if (!node || typeof node !== 'object') return;
    for (const [key, value] of Object.entries((node as { properties?: object }).properties ?? {})) {
      if (!(value as { description?: string }).description) bare.push(`${path}.${key}`);
    }
    for (const [key, value] of Object.entries(node)) visit(value, `${path}.${key}`);
  };
  visit(schema, '');
  expect(bare).toEqual([]);
});

test('a log that nobody reads any more does not keep the server busy', async () => {
  jossel.process.stderr!.destroy();
  const database = knex({ client: 'pg', connection: process.env['DATABASE_URL']!, pool: { min: 0, max: 1 } });
  // Broken connections are logged; there is nobody to log them to.
  await database.raw(
    `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${new URL(jossel.databaseUrl).pathname.slice(1)}'`,
  );
  await database.destroy();
  const ticks = () => {
    const words = readFileSync(`/proc/${jossel.process.pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
    return Number(words[11]) + Number(words[12]); // user and system time, in hundredths of a second
  };
  await new Promise((r) => setTimeout(r, 1500));
  const before = ticks();
  await new Promise((r) => setTimeout(r, 2000));
  expect(ticks() - before).toBeLessThan(120);
  expect((await jossel.call('GET', '/api/health')).status).toBe(200);
});
