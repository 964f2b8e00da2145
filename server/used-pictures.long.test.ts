import { createHash } from 'node:crypto';
import knex from 'knex';
import { manifestSchema } from '@jossel/core/formats';
import { STAGE_VERSIONS, type Recipe } from '@jossel/core/finish';
import { saveDraft, type FinishAnswer } from './test/finish';
import { grainAs } from './test/pictures';
import { serve, type TaskAnswer, type TestServer } from './test/serve';
import { unzip } from './test/unzip';

/** Finishes of several pictures, and packages of several finishes: which picture is meant, and what may leave the studio. */

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const permission = { permission: 'given for tests' };

async function finishOf(name: string, sampleIds: string[], change?: (recipe: Recipe) => void) {
  const made = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
    name,
    category: 'stone',
    sampleIds,
  });
  expect(made.status).toBe(201);
  if (change) {
    const recipe = structuredClone(made.body.draft.recipe);
    change(recipe);
    expect((await saveDraft(jossel, made.body.id, recipe, made.body.draft.etag)).status).toBe(200);
  }
  return made.body;
}

async function handedOver(items: { finishId: string }[]) {
  const { body, status } = await jossel.call<TaskAnswer>('POST', '/api/handovers', {
    items,
    profile: 'draft-1024',
  });
  expect(status).toBe(202);
  expect((await jossel.ended('handovers', body.id)).state).toBe('done');
  const file = await fetch(`${jossel.url}/api/handovers/${body.id}/file`);
  const files = await unzip(Buffer.from(await file.arrayBuffer()));
  return { files, manifest: manifestSchema.parse(JSON.parse(files.get('manifest.json')!.toString())) };
}

test('the picture that comes first in the recipe is the one that counts, whichever was received first', async () => {
  const oblong = (await jossel.upload('oblong.png', await grainAs('png', 300, 100), permission)).body.id;
  const square = (await jossel.upload('square.png', await grainAs('png', 400, 400), permission)).body.id;
  for (const [name, ids, ratio] of [
    ['Oblong first', [oblong, square], 3],
    ['Square first', [square, oblong], 1],
  ] as const) {
    const finish = await finishOf(name, [...ids], (r) => {
      r.repeat.method = 'composed';
      r.repeat.from.push({ source: 'p2', area: null });
    });
    await jossel.call('POST', `/api/finishes/${finish.id}/revisions`, {});
    const { manifest } = await handedOver([{ finishId: finish.id }]);
    const [f] = manifest.finishes;
    expect(f!.repeatMm.width / f!.repeatMm.height).toBeCloseTo(ratio, 6);
    expect(f!.files.find((x) => x.map === 'colour')).toMatchObject({
      widthPx: 1024,
      heightPx: Math.round(1024 / ratio),
    });
  }
});

test('folders of a package never collide, whatever the names', async () => {
  const sample = (await jossel.upload('plain.png', await grainAs('png', 64, 64), permission)).body.id;
  const items = [];
  for (const name of ['Same', 'same!', 'same 2', 'Ясень', '楓', 'CON']) {
    const { id } = await finishOf(name, [sample]);
    await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
    items.push({ finishId: id });
  }
  const { files, manifest } = await handedOver(items);
  const folders = manifest.finishes.map((f) => f.folder);
  expect(new Set(folders.map((f) => f.toLowerCase())).size).toBe(items.length);
  for (const folder of folders) expect(folder).toMatch(/^[a-z0-9]+(-[A-Za-z0-9]+)+$/);
  expect(folders[3]).toMatch(/^ya/);
  for (const f of manifest.finishes)
    for (const { path, sha256 } of f.files)
      expect(createHash('sha256').update(files.get(path)!).digest('hex')).toBe(sha256);
});

describe('permission', () => {
  const permit = (id: string, text: string) =>
    jossel.call('PATCH', `/api/samples/${id}`, { permission: text });

  test('must hold for every picture that a revision uses, maps of its set included', async () => {
    const colour = (await jossel.upload('colour.png', await grainAs('png', 96, 96), permission)).body.id;
    const height = (await jossel.upload('height.png', await grainAs('png', 96, 96))).body.id;
    const made = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
      name: 'Set',
      category: 'stone',
      sampleIds: [colour],
      maps: [{ sampleId: height, role: 'height' }],
    });
    await jossel.call('POST', `/api/finishes/${made.body.id}/revisions`, {});
    const order = { items: [{ finishId: made.body.id }], profile: 'draft-1024' };
    const refused = await jossel.call<{ detail: string }>('POST', '/api/handovers', order);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringMatching(/"height\.png" has no permission to use/),
    ]);
    await permit(height, 'given');
    expect((await jossel.call('POST', '/api/handovers', order)).status).toBe(202);
  });

  test('is looked at again when the package is made', async () => {
    const sample = (await jossel.upload('withdrawn.png', await grainAs('png', 700, 700), permission)).body.id;
    const { id } = await finishOf('Permission withdrawn', [sample]);
    await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
    // Ordered before the permission was withdrawn, and made afterwards.
    const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
    const { body } = await jossel.call<TaskAnswer>('POST', '/api/handovers', {
      items: [...Array(3)].map(() => ({ finishId: id })),
      profile: 'general-2048',
    });
    await permit(sample, '');
    await database.destroy();
    const ended = await jossel.ended('handovers', body.id);
    expect([ended.state, ended.error]).toEqual(['failed', expect.stringMatching(/no permission to use/)]);
  });
});

test('a recipe that cannot be read spoils neither the rack nor the schedule', async () => {
  const sample = (await jossel.upload('spoilt.png', await grainAs('png', 64, 64), permission)).body.id;
  const good = await finishOf('Good', [sample]);
  const bad = await finishOf('Spoilt', [sample]);
  const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
  await database('finishes')
    .where({ id: bad.id })
    .update({ draft: JSON.stringify({ schema: 'jossel.finish/99' }), headline_edition: null });
  await database.destroy();
  // As of a database that another version of Jossel has written.
  await jossel.kill('SIGTERM');
  await jossel.restart();
  const page = await jossel.call<{ items: { id: string; headline: unknown; fault?: string }[] }>(
    'GET',
    '/api/finishes',
  );
  expect(page.status).toBe(200);
  const of = (id: string) => page.body.items.find((f) => f.id === id)!;
  expect(of(good.id)).toMatchObject({ headline: expect.any(Object), fault: null });
  expect(of(bad.id)).toMatchObject({
    headline: null,
    fault: expect.stringMatching(/cannot be read.*schema/s),
  });
  const shown = await jossel.call<{ detail: string }>('GET', `/api/finishes/${bad.id}`);
  expect([shown.status, shown.body.detail]).toEqual([422, expect.stringMatching(/schema/)]);
});

test('lists come in pages that say how many there are; issued finishes can be asked for alone', async () => {
  interface Page {
    items: { id: string; revisions: string[] }[];
    total: number;
  }
  const page = async (path: string) => (await jossel.call<Page>('GET', path)).body;
  const all = await page('/api/samples?limit=500');
  expect(all.items).toHaveLength(all.total);
  const second = await page('/api/samples?limit=3&offset=3');
  expect([second.items.map((s) => s.id), second.total]).toEqual([
    all.items.slice(3, 6).map((s) => s.id),
    all.total,
  ]);
  const issued = await page('/api/finishes?issued=true&limit=2');
  expect(issued.items).toHaveLength(2);
  const finishes = await page('/api/finishes?limit=500');
  const withRevisions = finishes.items.filter((f) => f.revisions.length > 0);
  expect(issued.total).toBe(withRevisions.length);
  expect(withRevisions.length).toBeLessThan(finishes.total);
});

describe('reflectance', () => {
  interface Listed {
    items: {
      id: string;
      headline: { lrv: number; lrvMeasured: boolean; lrvGiven: { value: number; basis: string } | null };
    }[];
  }
  const listed = async (id: string) =>
    (await jossel.call<Listed>('GET', '/api/finishes?limit=500')).body.items.find((f) => f.id === id)!
      .headline;

  test('what a finish measures leads in rack, schedule and manifest; what was given stands beside it', async () => {
    const sample = (await jossel.upload('measured.png', await grainAs('png'), permission)).body.id;
    const { id } = await finishOf('Ruled by its colour', [sample], (r) => {
      r.colour = {
        ...r.colour,
        ruling: 'colour',
        colour: { lab: [52, 4, 12], basis: 'measured' },
        lrv: { value: 24, unit: 'LRV', basis: 'published' },
      };
    });
    expect(await listed(id)).toMatchObject({ lrv: 24, lrvMeasured: false });
    await fetch(`${jossel.url}/api/finishes/${id}/swatch.png?widthPx=128`);
    const inRack = await listed(id);
    expect(inRack).toMatchObject({ lrvMeasured: true, lrvGiven: { value: 24, basis: 'published' } });
    // L* 52 is a reflectance of 20.
    expect(inRack.lrv).toBeCloseTo(20.1, 0);

    await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
    const project = await jossel.call<{ id: string }>('POST', '/api/projects', { name: 'Measured' });
    const room = await jossel.call<{ id: string }>('POST', `/api/projects/${project.body.id}/rooms`, {
      name: 'Room',
    });
    await jossel.call('POST', `/api/rooms/${room.body.id}/surfaces`, {
      name: 'Wall',
      widthMm: 4000,
      heightMm: 2500,
      finish: { id },
    });
    const { body } = await jossel.call<{
      rooms: { surfaces: { finish: { lrv: number; lrvGiven: { value: number } } }[] }[];
    }>('GET', `/api/projects/${project.body.id}`);
    const [surface] = body.rooms[0]!.surfaces;
    expect(surface!.finish.lrvGiven.value).toBe(24);
    const { manifest } = await handedOver([{ finishId: id }]);
    for (const lrv of [surface!.finish.lrv, manifest.finishes[0]!.measured.lrv])
      expect(Math.abs(lrv - inRack.lrv)).toBeLessThan(0.2);
  });
});

describe('what was issued stays', () => {
  const swatchOf = async (id: string, revision: string) => {
    const answer = await fetch(
      `${jossel.url}/api/finishes/${id}/swatch.png?widthPx=200&revision=${revision}`,
    );
    return Buffer.from(await answer.arrayBuffer());
  };

  test('a revision keeps what was solved for it, and the versions it was made by; it renders the same later', async () => {
    const sample = (await jossel.upload('solved.png', await grainAs('png'), permission)).body.id;
    const { id } = await finishOf('Solved', [sample], (r) => {
      r.repeat.method = 'composed';
      r.repeat.composed = { ...r.repeat.composed, widthMm: 1600, heightMm: 1200 };
    });
    await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
    const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
    const row = await database('revisions').where({ finish_id: id }).first();
    expect(row.stage_versions).toEqual(STAGE_VERSIONS);
    expect(row.solved_sha256).toMatch(/^[0-9a-f]{64}$/);
    const before = await swatchOf(id, 'A');
    await database('swatches').delete();
    await database.destroy();
    await jossel.kill('SIGTERM');
    await jossel.restart();
    expect((await swatchOf(id, 'A')).equals(before)).toBe(true);
  });

  test('a revision of before versions were kept is rendered by the first version of every stage', async () => {
    const sample = (await jossel.upload('first.png', await grainAs('png'), permission)).body.id;
    const { id } = await finishOf('Of before', [sample], (r) => {
      r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 150 };
    });
    await jossel.call('POST', `/api/finishes/${id}/revisions`, {});
    const database = knex({ client: 'pg', connection: jossel.databaseUrl, pool: { min: 0, max: 1 } });
    const { recipe, sample_hashes } = await database('revisions').where({ finish_id: id }).first();
    await database('revisions').insert({
      finish_id: id,
      letter: 'B',
      recipe: JSON.stringify(recipe),
      sample_hashes: JSON.stringify(sample_hashes),
    });
    await database.destroy();
    // Copies moved to whole pixels then; they lie between pixels now.
    expect((await swatchOf(id, 'A')).equals(await swatchOf(id, 'B'))).toBe(false);
  });
});
