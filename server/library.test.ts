import type { Recipe } from '@jossel/core/finish';
import { placeInWords } from './services/recipes';
import { grainAs } from './test/pictures';
import { serve, type TestServer } from './test/serve';

/** Finding, copying, removing and restoring; projects, rooms and surfaces. */

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

interface FinishAnswer {
  id: string;
  name: string;
  state: string;
  removedAt: string | null;
  draft: { recipe: Recipe; etag: string };
  revisions: { letter: string }[];
}
interface PageAnswer {
  items: { id: string; name: string }[];
  total: number;
  suppliers: string[];
}
interface SurfaceAnswer {
  id: string;
  name: string;
  widthMm: number;
  heightMm: number;
  finish: null | {
    id: string;
    revision: string;
    latest: string;
    way: null | { id: string; name: string };
    ways: { id: string }[];
    lrv: number | null;
  };
}
interface ProjectAnswer {
  id: string;
  name: string;
  rooms: { id: string; name: string; surfaces: SurfaceAnswer[] }[];
}

async function sampleOf(origin: Record<string, string>): Promise<string> {
  const { body } = await jossel.upload('swatch.png', await grainAs('png'), {
    permission: 'given for tests',
    ...origin,
  });
  return body.id;
}
async function finishOf(name: string, category: string, origin: Record<string, string>) {
  const sampleId = await sampleOf(origin);
  const { body } = await jossel.call<FinishAnswer>('POST', '/api/finishes', {
    name,
    category,
    sampleIds: [sampleId],
  });
  return { ...body, sampleId };
}
const found = async (query: string) =>
  (await jossel.call<PageAnswer>('GET', `/api/finishes?${query}`)).body.items.map((f) => f.name);
const issue = (id: string) => jossel.call('POST', `/api/finishes/${id}/revisions`, {});

describe('the rack', () => {
  let slab: FinishAnswer & { sampleId: string };
  beforeAll(async () => {
    slab = await finishOf('Ribbed slab', 'stone', { supplier: 'Quellimer', line: 'Kessoval', code: 'KS-17' });
    await finishOf('Oak plank', 'timber', { supplier: 'Velthrask', code: 'TP-9' });
    await finishOf('100 % wool_felt', 'textile', { supplier: 'Quellimer' });
  });

  test.each([
    ['rib', ['Ribbed slab']],
    ['SLAB kess', ['Ribbed slab']],
    ['ks-1', ['Ribbed slab']],
    ['timb', ['Oak plank']],
    ['quellimer', ['100 % wool_felt', 'Ribbed slab']],
    ['quellimer plank', []],
    ['100 %', ['100 % wool_felt']],
    ['l_f', ['100 % wool_felt']],
    ['o_k', []],
    ['draft slab', ['Ribbed slab']],
  ])('“%s” finds %j', async (words, names) => {
    expect(await found(`search=${encodeURIComponent(words)}`)).toEqual(names);
  });

  test('words follow a corrected origin at once', async () => {
    await jossel.call('PATCH', `/api/samples/${slab.sampleId}`, { code: 'ZZ-404' });
    expect(await found('search=zz-4')).toEqual(['Ribbed slab']);
    expect(await found('search=ks-17')).toEqual([]);
  });

  test('suppliers are listed once each and filter the rack', async () => {
    const { body } = await jossel.call<PageAnswer>('GET', '/api/finishes?limit=1');
    expect(body.suppliers).toEqual(['Quellimer', 'Velthrask']);
    expect(await found('supplier=Velthrask')).toEqual(['Oak plank']);
    expect(await found('supplier=Vel')).toEqual([]);
  });

  test('a sample says in which finishes it is used', async () => {
    const { body } = await jossel.call<{ items: { id: string; usedIn: { name: string }[] }[] }>(
      'GET',
      '/api/samples',
    );
    const used = body.items.find((s) => s.id === slab.sampleId)!.usedIn;
    expect(used.map((f) => f.name)).toEqual(['Ribbed slab']);
  });

  test('a duplicate has the draft and nothing issued, and goes its own way', async () => {
    await issue(slab.id);
    const copy = await jossel.call<FinishAnswer>('POST', `/api/finishes/${slab.id}/duplicate`);
    expect(copy.status).toBe(201);
    expect(copy.body).toMatchObject({ name: 'Ribbed slab, copy', state: 'draft', revisions: [] });
    expect(copy.body.draft.recipe).toEqual(slab.draft.recipe);
    const recipe = structuredClone(copy.body.draft.recipe);
    recipe.response.glossGu.value = 77;
    await jossel.call(
      'PUT',
      `/api/finishes/${copy.body.id}/draft`,
      { recipe },
      { 'if-match': copy.body.draft.etag },
    );
    const original = await jossel.call<FinishAnswer>('GET', `/api/finishes/${slab.id}`);
    expect(original.body.draft.recipe).toEqual(slab.draft.recipe);
    await jossel.call('DELETE', `/api/finishes/${copy.body.id}`);
  });

  test('what is put into the bin is off the rack, and comes back as it was', async () => {
    const { id } = await finishOf('Passing grey', 'plaster', {});
    expect((await jossel.call('DELETE', `/api/finishes/${id}`)).status).toBe(204);
    expect(await found('search=passing')).toEqual([]);
    expect(await found('search=passing&removed=true')).toEqual(['Passing grey']);
    expect((await jossel.call<FinishAnswer>('GET', `/api/finishes/${id}`)).body.removedAt).not.toBeNull();
    const back = await jossel.call<FinishAnswer>('POST', `/api/finishes/${id}/restore`);
    expect(back.body.removedAt).toBeNull();
    expect(await found('search=passing')).toEqual(['Passing grey']);
    const nobody = '00000000-0000-4000-8000-000000000000';
    expect((await jossel.call('DELETE', `/api/finishes/${nobody}`)).status).toBe(404);
    expect((await jossel.call('POST', `/api/finishes/${nobody}/restore`)).status).toBe(404);
    expect((await jossel.call('POST', `/api/finishes/${nobody}/duplicate`)).status).toBe(404);
  });
});

describe('projects', () => {
  let finish: FinishAnswer & { sampleId: string };
  let project: ProjectAnswer;
  let roomId: string;
  const shown = async () => (await jossel.call<ProjectAnswer>('GET', `/api/projects/${project.id}`)).body;
  const addSurface = async (name: string, laid: object | null = { id: finish.id }) =>
    (
      await jossel.call<{ id: string }>('POST', `/api/rooms/${roomId}/surfaces`, {
        name,
        widthMm: 3000,
        heightMm: 2500,
        finish: laid,
      })
    ).body.id;

  beforeAll(async () => {
    finish = await finishOf('Limed board', 'timber', {});
    const recipe = structuredClone(finish.draft.recipe);
    recipe.colour.ways = [
      { id: 'moss', name: 'Moss', code: '', target: { lab: [50, -10, 12], basis: 'published' } },
    ];
    const { body } = await jossel.call<{ etag: string }>(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe },
      { 'if-match': finish.draft.etag },
    );
    finish.draft = { recipe, etag: body.etag };
    await issue(finish.id);
    project = (await jossel.call<ProjectAnswer>('POST', '/api/projects', { name: 'Ombrask hall' })).body;
    roomId = (
      await jossel.call<{ id: string }>('POST', `/api/projects/${project.id}/rooms`, { name: 'Foyer' })
    ).body.id;
  });

  test('projects, rooms and surfaces are removed and restored as they were', async () => {
    const id = await addSurface('North wall');
    const before = await shown();
    for (const path of [`surfaces/${id}`, `rooms/${roomId}`, `projects/${project.id}`]) {
      expect((await jossel.call('DELETE', `/api/${path}`)).status).toBe(204);
      if (path.startsWith('projects'))
        expect((await jossel.call('GET', `/api/projects/${project.id}`)).status).toBe(404);
      else expect(await shown()).not.toEqual(before);
      expect((await jossel.call('POST', `/api/${path}/restore`)).status).toBe(204);
      expect(await shown()).toEqual(before);
    }
  });

  test('projects and rooms are renamed', async () => {
    const renamed = await jossel.call<ProjectAnswer>('PATCH', `/api/projects/${project.id}`, {
      name: 'Ombrask hall, east',
    });
    expect(renamed.body.name).toBe('Ombrask hall, east');
    await jossel.call('PATCH', `/api/rooms/${roomId}`, { name: 'Entrance' });
    expect((await shown()).rooms[0]!.name).toBe('Entrance');
    expect((await jossel.call('PATCH', `/api/rooms/${roomId}`, { name: ' ' })).status).toBe(400);
  });

  test('a copy of a room has all its surfaces; a copy of a surface stays in its room', async () => {
    const { body: room } = await jossel.call<{ id: string }>('POST', `/api/rooms/${roomId}/duplicate`);
    const [first, second] = (await shown()).rooms;
    expect(second!.name).toBe('Entrance, copy');
    expect(second!.surfaces.map(({ id: _, ...s }) => s)).toEqual(first!.surfaces.map(({ id: _, ...s }) => s));
    await jossel.call('DELETE', `/api/rooms/${room.id}`);
    const copy = await jossel.call<{ id: string }>(
      'POST',
      `/api/surfaces/${first!.surfaces[0]!.id}/duplicate`,
    );
    expect((await shown()).rooms[0]!.surfaces.at(-1)).toMatchObject({
      id: copy.body.id,
      name: 'North wall, copy',
    });
  });

  test('a surface takes a colourway of its finish, with its reflectance; others are refused by name', async () => {
    const id = await addSurface('Ceiling', { id: finish.id, way: 'moss' });
    const surface = (await shown()).rooms[0]!.surfaces.find((s) => s.id === id)!;
    expect(surface.finish).toMatchObject({ way: { id: 'moss', name: 'Moss' }, ways: [{ id: 'moss' }] });
    // Y of L* 50 is 18.4 % of white (CIE 15).
    expect(surface.finish!.lrv).toBeCloseTo(18.42, 1);
    const wrong = await jossel.call<{ detail: string }>('PATCH', `/api/surfaces/${id}`, {
      finish: { id: finish.id, way: 'rose' },
    });
    expect(wrong.status).toBe(404);
    expect(wrong.body.detail).toMatch(/Moss/);
  });

  test('the newest revision is taken over on one surface or on all, and what lay there is said', async () => {
    const recipe = structuredClone(finish.draft.recipe);
    recipe.response.glossGu.value = 31;
    await jossel.call(
      'PUT',
      `/api/finishes/${finish.id}/draft`,
      { recipe },
      { 'if-match': finish.draft.etag },
    );
    await issue(finish.id);
    const surfaces = (await shown()).rooms[0]!.surfaces;
    const take = (body?: object) =>
      jossel.call<{ changed: { surfaceId: string; from: string; to: string }[] }>(
        'POST',
        `/api/projects/${project.id}/newest-revisions`,
        body,
      );
    const one = await take({ surfaceIds: [surfaces[0]!.id] });
    expect(one.body.changed).toEqual([{ surfaceId: surfaces[0]!.id, from: 'A', to: 'B' }]);
    const rest = await take();
    expect(rest.body.changed).toHaveLength(surfaces.length - 1);
    const now = (await shown()).rooms[0]!.surfaces;
    expect(now.every((s) => s.finish!.revision === 'B')).toBe(true);
    expect(now.at(-1)!.finish!.way?.id).toBe('moss');
    expect((await take()).body.changed).toEqual([]);
  });

  test('a finish that lies on surfaces is not put into the bin', async () => {
    const refused = await jossel.call<{ detail: string }>('DELETE', `/api/finishes/${finish.id}`);
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toMatch(/lies on surfaces in Ombrask hall, east/);
    const { body } = await jossel.call<{ items: Record<string, unknown>[] }>(
      'GET',
      `/api/finishes/${finish.id}/surfaces`,
    );
    const laid = (await shown()).rooms.flatMap((room) =>
      room.surfaces.map((s) => ({ ...s, room: room.name })),
    );
    expect(body.items).toEqual(
      laid.map(({ id, name, room, widthMm, heightMm }) =>
        expect.objectContaining({ id, name, room, widthMm, heightMm, project: 'Ombrask hall, east' }),
      ),
    );
  });

  test('a project is handed over as a whole, each finish and colourway once, named by the project', async () => {
    const order = await jossel.call<{
      id: string;
      title: string;
      items: { way: { id: string } | null; revision: string }[];
    }>('POST', '/api/handovers', { projectId: project.id, profile: 'draft-1024' });
    expect(order.status).toBe(202);
    expect(order.body.title).toBe('Ombrask hall, east');
    expect(order.body.items.map((i) => [i.revision, i.way?.id ?? null])).toEqual([
      ['B', null],
      ['B', 'moss'],
    ]);
    await jossel.call('DELETE', `/api/handovers/${order.body.id}`);
    const empty = (await jossel.call<ProjectAnswer>('POST', '/api/projects', { name: 'Empty' })).body;
    const refused = await jossel.call<{ detail: string }>('POST', '/api/handovers', {
      projectId: empty.id,
      profile: 'draft-1024',
    });
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toMatch(/No finish lies on a surface of Empty yet/);
  });
});

test('a place in a recipe is said in words', () => {
  expect(placeInWords(['relief', 'contributions', 0, 'depthMm'])).toBe('relief, contributions 1, depth');
  expect(placeInWords(['response', 'glossGu'])).toBe('response, gloss');
});
