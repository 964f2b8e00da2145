import { StageCache } from '@jossel/core/surface';
import { sourcesOf, type SampleInfo } from './sources';

const SAMPLE: SampleInfo = { id: 's', sha256: 'abc', widthPx: 4, heightPx: 2, focalPx: null };
const PLANES = Float32Array.from({ length: 3 * 8 }, (_, i) => i);

/** A server that answers with a picture, or refuses. @returns what it was asked */
function serving(refusal?: string): string[] {
  const asked: string[] = [];
  globalThis.fetch = async (input) => {
    asked.push(String(input));
    if (refusal) return Response.json({ detail: refusal }, { status: 413 });
    return new Response(PLANES, { headers: { 'x-width-px': '4', 'x-height-px': '2' } });
  };
  return asked;
}

test('a level comes as three planes, top row first', async () => {
  serving();
  const picture = await sourcesOf([SAMPLE], new StageCache()).level('s', 1);
  expect([picture.widthPx, picture.heightPx]).toEqual([4, 2]);
  expect(picture.r).toEqual(PLANES.slice(0, 8));
  expect(picture.g).toEqual(PLANES.slice(8, 16));
  expect(picture.b).toEqual(PLANES.slice(16));
});

test('what is known is not fetched again, for any finish with that picture; another level, and data, are', async () => {
  const asked = serving();
  const cache = new StageCache();
  const first = await sourcesOf([SAMPLE], cache).level('s', 1);
  expect(await sourcesOf([{ ...SAMPLE, id: 'copy' }], cache).level('copy', 1)).toBe(first);
  await sourcesOf([SAMPLE], cache).level('s', 2);
  await sourcesOf([SAMPLE], cache).data('s', 1);
  await sourcesOf([{ ...SAMPLE, sha256: 'other' }], cache).level('s', 1);
  expect(asked).toEqual([
    '/api/samples/s/levels/1?as=colour',
    '/api/samples/s/levels/2?as=colour',
    '/api/samples/s/levels/1?as=data',
    '/api/samples/s/levels/1?as=colour',
  ]);
});

test('what the server refuses is said in its words, and asked again the next time', async () => {
  const cache = new StageCache();
  serving('At that level the picture has too many pixels. Ask for level 1.');
  await expect(sourcesOf([SAMPLE], cache).level('s', 0)).rejects.toThrow(/Ask for level 1/);
  const asked = serving();
  await sourcesOf([SAMPLE], cache).level('s', 0);
  expect(asked).toHaveLength(1);
});

test('a picture that is gone is said to be, with what brings it back', async () => {
  const asked = serving();
  const pictures = sourcesOf([SAMPLE], new StageCache());
  await expect(pictures.info('gone')).rejects.toThrow(/not here any more.*under Receiving/);
  await expect(pictures.level('gone', 0)).rejects.toThrow(/not here any more/);
  expect(await pictures.info('s')).toBe(SAMPLE);
  expect(asked).toEqual([]);
});
