import { createHash } from 'node:crypto';
import type { Recipe } from '@jossel/core/finish';
import { usualLayer } from '@jossel/core/weathering';
import { serve, type TestServer } from './test/serve';

/** What several threads compute together. */

const MAPS = ['colour', 'height', 'normal', 'occlusion', 'roughness'];
/** Enough pixels for noise and occlusion to be shared out. */
const WIDTH_PX = 640;

/** A generated wall that has been rained on, rendered: the bytes of its maps by their hashes. */
async function renderedWall(jossel: TestServer, seed: number): Promise<Record<string, string>> {
  type Made = { id: string; draft: { recipe: Recipe; etag: string } };
  const { body } = await jossel.call<Made>('POST', '/api/finishes', {
    ...{ name: 'Rained on', category: 'plaster', generated: { kind: 'plaster' } },
  });
  const { recipe, etag } = body.draft;
  const weathering = [
    usualLayer('Run-off streaks', 'streaks', seed),
    usualLayer('Dust in hollows', 'dust', seed + 1),
  ];
  const put = await jossel.call(
    'PUT',
    `/api/finishes/${body.id}/draft`,
    { recipe: { ...recipe, weathering } },
    { 'if-match': etag },
  );
  expect(put.status).toBe(200);
  const { state, maps } = await jossel.render(body.id, { widthPx: WIDTH_PX, maps: MAPS });
  expect(state).toBe('done');
  const hashes = MAPS.map(async (name) => {
    const file = await fetch(jossel.url + maps[name]!.url);
    return [
      name,
      createHash('sha256')
        .update(new Uint8Array(await file.arrayBuffer()))
        .digest('hex'),
    ];
  });
  return Object.fromEntries(await Promise.all(hashes)) as Record<string, string>;
}

test('one thread and four compute the same bytes', async () => {
  const [alone, helped] = await Promise.all([serve({ JOSSEL_THREADS: '1' }), serve({ JOSSEL_THREADS: '4' })]);
  try {
    // Its helpers have started after this.
    const other = await renderedWall(helped, 5);
    const maps = await renderedWall(alone, 1);
    expect(new Set(Object.values(maps)).size).toBe(MAPS.length);
    expect(other['colour']).not.toBe(maps['colour']);
    expect(await renderedWall(helped, 1)).toEqual(maps);
  } finally {
    await Promise.all([alone.end(), helped.end()]);
  }
});
