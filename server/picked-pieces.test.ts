import { lead, type PickedPieces, type Recipe } from '@jossel/core/finish';
import sharp from 'sharp';
import { finishOf } from './test/finish';
import { serve, type TestServer } from './test/serve';

/** Floors laid of the boards of a sample, over HTTP. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

interface Answer {
  picked: PickedPieces | null;
  draft?: { recipe: Recipe; etag: string };
  detail?: string;
}

/** A finish from a picture of boards of 145 mm and joints of 3 mm, eight courses of them. */
async function boards(turned: number, widthPx = 900) {
  const picture = await sharp('demo/samples/smoked-ash-boards.jpg')
    .resize({ width: widthPx })
    .rotate(turned)
    .png()
    .toBuffer();
  return finishOf(jossel, picture, 'timber', (r) => {
    const known = { value: 1600, unit: 'mm', basis: 'measured' } as const;
    lead(r).size!.ruling = turned
      ? { across: 'follows', up: 'overall' }
      : { across: 'overall', up: 'follows' };
    lead(r).size!.overall = turned ? { across: null, up: known } : { across: known, up: null };
  });
}
const pick = (id: string, apply: boolean) =>
  jossel.call<Answer>('POST', `/api/finishes/${id}/picked-pieces`, { apply });

test.each([0, 90])(
  'boards that are turned by %p° are picked and laid, and lie as they do in the sample',
  async (turned) => {
    const { id } = await boards(turned);
    const { status, body } = await pick(id, true);
    expect(status).toBe(200);
    const { picked, draft } = body;
    expect(picked!.kind).toBe('boards');
    expect(picked!.standing).toBe(turned === 90);
    expect(Math.abs(picked!.pieceMm.width - 145)).toBeLessThan(2);
    expect(Math.abs(picked!.jointMm.along - 3)).toBeLessThan(1.5);
    expect(lead(draft!.recipe).preparation.areas).toHaveLength(picked!.corners.length);
    const { report } = await jossel.render(id, { widthPx: 500, maps: ['colour'] });
    expect(report.layout!.bond).toBe('Random-length boards');
    expect(report.layout!.equalNeighbours).toBe(0);
    const across = turned ? report.repeatMm.width : report.repeatMm.height;
    const course = report.layout!.laid.widthMm + report.layout!.laid.joint.alongMm;
    expect(across / course).toBeCloseTo(Math.round(across / course), 6);
    // A board may end at the edge of the repeat, as it does at lines inside.
    expect(report.seam.acrossWidth).toBeLessThan(Math.max(1.15, report.seam.inside.acrossWidth.to));
  },
);

test('without "apply" nothing is changed; a sample without pieces is refused with what would help', async () => {
  const { id, put } = await boards(0, 500);
  const { body } = await pick(id, false);
  expect(body.picked!.corners.length).toBeGreaterThan(5);
  expect(body.draft).toBeUndefined();
  const now = await jossel.call<{ draft: { etag: string } }>('GET', `/api/finishes/${id}`);
  expect(now.body.draft.etag).toBe(put.body.etag);

  const plaster = await sharp('demo/samples/trowelled-plaster-shell.jpg')
    .resize({ width: 400 })
    .png()
    .toBuffer();
  const plain = await finishOf(jossel, plaster, 'plaster', () => undefined);
  expect((await pick(plain.id, false)).body.picked).toBeNull();
  const refused = await pick(plain.id, true);
  expect(refused.status).toBe(409);
  expect(refused.body.detail).toMatch(/Draw areas by hand/);
});
