import { initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { lead, type Recipe } from '@jossel/core/finish';
import type { Manifest } from '@jossel/core/formats';
import DxfParser, { type ILwpolylineEntity, type IPolylineEntity } from 'dxf-parser';
import sharp from 'sharp';
import { finishOf, saveDraft } from './test/finish';
import { serve, type TestServer } from './test/serve';

/** Layouts over HTTP: pieces, hatches, what cannot be laid. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

const picture = () => sharp('demo/samples/shell-limestone-honed.jpg').resize({ width: 500 }).png().toBuffer();

async function laid(layout: LayoutSettings) {
  const { id, recipe, put } = await finishOf(jossel, await picture(), 'stone', (r) => {
    lead(r).size!.ruling = { across: 'overall', up: 'follows' };
    lead(r).size!.overall = { across: { value: 600, unit: 'mm', basis: 'measured' }, up: null };
  });
  return { id, recipe, put: await saveDraft(jossel, id, { ...recipe, layout } as Recipe, put.body.etag) };
}

interface Told {
  repeatMm: { width: number; height: number };
  pieces: { outline: [number, number][]; widthMm: number; heightMm: number; finish: number }[];
  jointAreaMm2: number;
  takeOff: { piecesPerM2: number; jointMmPerM2: number; shares: number[] };
}

const area = (outline: [number, number][]) =>
  outline.reduce((sum, [x, y], k) => {
    const [nx, ny] = outline[(k + 1) % outline.length]!;
    return sum + (x * ny - nx * y) / 2;
  }, 0);

test('a wall in third bond is told in mm, rendered at its own size, and hatched the same in SVG and DXF', async () => {
  const layout = initialLayout('running');
  layout.bond = { kind: 'running', shift: 1 / 3, rising: true, scatterMm: 0 };
  layout.repeatMm = { width: 900, height: 450 };
  layout.blend.others = [
    { id: 'd', name: 'Darker', share: 25, kind: null, lab: null, finish: null, shift: [-20, 0, 0] },
  ];
  const { id, put } = await laid(layout);
  expect([put.status, put.body.detail]).toEqual([200, undefined]);

  const { body: told } = await jossel.call<Told>('GET', `/api/finishes/${id}/layout.json`);
  expect(told.repeatMm).toEqual({ width: 900, height: 450 });
  expect(told.pieces).toHaveLength(24);
  const pieces = told.pieces.reduce((sum, p) => sum + area(p.outline), 0);
  expect((pieces + told.jointAreaMm2) / (900 * 450)).toBeCloseTo(1, 6);
  expect(told.takeOff.piecesPerM2).toBeCloseTo(24 / 0.405, 3);
  // A course has a bed joint of the whole width, and a perpend of one module's height for each piece.
  expect(told.takeOff.jointMmPerM2).toBeCloseTo((6 * 900 + 24 * 75) / 0.405, 1);
  expect(told.takeOff.shares).toEqual([expect.closeTo(0.75), expect.closeTo(0.25)]);

  const field = (query: string) =>
    jossel.call<{ field: unknown; detail: string }>('GET', `/api/finishes/${id}/layout.json?${query}`);
  // Two and a half bricks on eight courses; third bond has other ends in every course.
  const { body: counted } = await field('fieldWidthMm=562.5&fieldHeightMm=600');
  expect(counted.field).toEqual({
    whole: 14,
    cut: 13,
    narrowestCutMm: expect.closeTo(32.5, 6),
    cutOff: expect.any(Number),
  });
  for (const [query, why] of [
    ['fieldWidthMm=100', 'A field has a fieldWidthMm and a fieldHeightMm.'],
    ['fieldWidthMm=0&fieldHeightMm=5', 'A field is wider and higher than 0 mm.'],
    ['fieldWidthMm=1e7&fieldHeightMm=1e7', 'at most 500000 are counted'],
  ] as const) {
    const { status, body } = await field(query);
    expect([status, body.detail]).toEqual([422, expect.stringContaining(why)]);
  }

  const { report, maps } = await jossel.render(id, { widthPx: 450, maps: ['colour', 'height', 'piece'] });
  expect(report.repeatMm).toEqual({ width: 900, height: 450 });
  expect(maps['colour']).toMatchObject({ widthPx: 450, heightPx: 225 });

  const svg = await (await fetch(`${jossel.url}/api/finishes/${id}/hatch.svg`)).text();
  expect(svg).toContain('viewBox="0 0 900 450"');
  expect(svg).toContain('<pattern id="hatch" patternUnits="userSpaceOnUse" width="900" height="450">');
  const dxf = await (await fetch(`${jossel.url}/api/finishes/${id}/hatch.dxf`)).text();
  const read = new DxfParser().parseSync(dxf)!;
  expect(Object.keys(read.tables.layer.layers)).toEqual(expect.arrayContaining(['0-finish', '1-darker']));
  const ofDxf = read.entities.map((e) => (e as ILwpolylineEntity | IPolylineEntity).vertices);
  const lines = svg.slice(svg.indexOf('id="lines"'));
  const ofSvg = [...lines.matchAll(/M[^M"]+/g)].map(([path]) =>
    path
      .replace('Z', '')
      .slice(1)
      .split('L')
      .map((p) => p.split(' ').map(Number)),
  );
  expect(ofDxf).toHaveLength(ofSvg.length);
  const corners = (all: number[][]) => all.map(([x, y]) => `${x!.toFixed(1)} ${y!.toFixed(1)}`).sort();
  expect(corners(ofDxf.flat().map(({ x, y }) => [x, y]))).toEqual(
    corners(ofSvg.flat().map(([x, y]) => [x!, 450 - y!])),
  );
});

test('a package of a laid finish holds its hatch and its pieces, and the manifest their figures', async () => {
  const { id, put } = await laid(initialLayout('herringbone'));
  expect(put.status).toBe(200);
  expect((await jossel.call('POST', `/api/finishes/${id}/revisions`, { note: '' })).status).toBe(201);
  const { body } = await jossel.call<{ id: string }>('POST', '/api/handovers', {
    items: [{ finishId: id }],
    profile: 'draft-1024',
  });
  const done = (await jossel.ended('handovers', body.id)) as unknown as { manifest: Manifest };
  const [finish] = done.manifest.finishes;
  expect(finish!.files.map((f) => f.path.split('/')[1])).toEqual(
    expect.arrayContaining(['colour.png', 'hatch.svg', 'hatch.dxf', 'layout.json']),
  );
  expect(finish!.repeatMm).toEqual({ width: 980, height: 980 });
  expect(finish!.figures).toContainEqual(
    expect.objectContaining({ name: 'length of a piece', value: 490, basis: 'assumed' }),
  );
});

test('what cannot be laid is refused with the nearest that can, and nothing is lost', async () => {
  const layout = initialLayout('running');
  const { id, recipe, put } = await laid(layout);
  const wide = structuredClone(layout);
  wide.joint.alongMm.value = 80;
  const refused = await saveDraft(jossel, id, { ...recipe, layout: wide } as Recipe, put.body.etag);
  expect([refused.status, refused.body.detail]).toEqual([
    422,
    'A joint of 80 mm is as wide as a piece of 215 × 65 mm. Make it less than 65 mm.',
  ]);
  const shares = structuredClone(layout);
  shares.blend.others = ['a', 'b'].map((name) => ({
    id: name,
    name,
    share: 60,
    kind: null,
    lab: [20, 0, 0],
    finish: null,
    shift: [0, 0, 0],
  }));
  const over = await saveDraft(jossel, id, { ...recipe, layout: shares } as Recipe, put.body.etag);
  expect([over.status, JSON.stringify(over.body)]).toEqual([422, expect.stringContaining('more than 100 %')]);
  const { body } = await jossel.call<Told>('GET', `/api/finishes/${id}/layout.json`);
  expect(body.pieces.length).toBeGreaterThan(10);
});

test('a finish without a layout says so; every bond is told with a layout that closes', async () => {
  const { id } = await finishOf(jossel, await picture(), 'stone', () => undefined);
  const none = await jossel.call<{ detail: string }>('GET', `/api/finishes/${id}/hatch.svg`);
  expect([none.status, none.body.detail]).toEqual([
    409,
    expect.stringContaining('Choose a bond under Layout'),
  ]);
  const { body: bonds } = await jossel.call<
    { kind: string; settings: object; repeatMm: { width: number } }[]
  >('GET', '/api/bonds');
  expect(bonds.length).toBeGreaterThan(28);
  for (const bond of bonds) expect(bond.repeatMm.width).toBeGreaterThan(10);
});

test('while a wall of many fitted stones is laid, others are answered, and its size is known before', async () => {
  const layout = initialLayout('random-rubble');
  layout.repeatMm = { width: 4000, height: 2800 };
  const { id, put } = await laid(layout);
  expect(put.status).toBe(200);
  const answered: string[] = [];
  const note = (name: string) => () => void answered.push(name);
  const pieces = jossel.call<Told>('GET', `/api/finishes/${id}/layout.json`).then((told) => {
    answered.push('pieces');
    return told;
  });
  await jossel.call('GET', '/api/health').then(note('health'));
  await jossel.call('GET', '/api/finishes?limit=60').then(note('list'));
  const { status, body } = await pieces;
  expect(answered).toEqual(['health', 'list', 'pieces']);
  expect(status).toBe(200);
  expect(body.pieces.length).toBeGreaterThan(200);
});
