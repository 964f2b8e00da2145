import { makeColourPicture } from '../raster';
import { unprepared } from '../sample';
import { StageCache, Stopped, type Pictures } from '../surface';
import { structureOfSample } from './looking';

const SAMPLE = { id: 'wall', widthPx: 360, heightPx: 240, sha256: 'wall' };

/** Half bond of bricks of 60 × 20 px. */
const wall = () => {
  const p = makeColourPicture(SAMPLE.widthPx, SAMPLE.heightPx);
  for (let y = 0, i = 0; y < p.heightPx; y++)
    for (let x = 0; x < p.widthPx; x++, i++) {
      const along = (x + 30 * (Math.floor(y / 20) % 2)) % 60;
      p.r[i] = p.g[i] = p.b[i] = along < 4 || y % 20 < 4 ? 0.5 : 0.15 + 0.02 * Math.sin(i);
    }
  return p;
};
const PICTURES: Pictures = {
  info: async () => SAMPLE,
  level: async () => wall(),
  data: () => Promise.reject(new Error('It has no data.')),
};

test('a search for structure lets others in, and comes to the same', async () => {
  let turns = 0;
  const pause = async () => void turns++;
  const found = await structureOfSample(PICTURES, SAMPLE, unprepared(), { pause });
  expect(found).toEqual(await structureOfSample(PICTURES, SAMPLE, unprepared()));
  expect(found.stagger).toBeCloseTo(0.5, 2);
  expect(turns).toBeGreaterThan(2);
});

test('it stops when it is not wanted any more, and nothing half-found is kept', async () => {
  const cache = new StageCache();
  const signal = { aborted: false };
  const pause = async () => void (signal.aborted = true);
  await expect(structureOfSample(PICTURES, SAMPLE, unprepared(), { cache, signal, pause })).rejects.toThrow(
    Stopped,
  );
  expect(cache.heldBytes).toBe(0);
  const found = await structureOfSample(PICTURES, SAMPLE, unprepared(), { cache });
  expect(found.up!.count).toBeCloseTo(12, 1);
});
