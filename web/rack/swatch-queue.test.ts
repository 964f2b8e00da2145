import { SwatchQueue } from './swatch-queue';

/** A queue with pictures that arrive when they are told to. */
function queueOfPictures() {
  const fetched: { url: string; load: () => void; fail: () => void; stopped: boolean }[] = [];
  const queue = new SwatchQueue((url, load, fail) => {
    const entry = { url, load, fail, stopped: false };
    fetched.push(entry);
    return () => (entry.stopped = true);
  });
  return { queue, fetched, urls: () => fetched.map((f) => f.url) };
}
const none = () => undefined;

test('nothing is fetched before the queue is started, then two at a time in order', () => {
  const { queue, fetched, urls } = queueOfPictures();
  for (const url of ['a', 'b', 'c', 'd']) queue.add(url, none, none);
  expect(urls()).toEqual([]);
  queue.start();
  expect(urls()).toEqual(['a', 'b']);
  fetched[1]!.load();
  expect(urls()).toEqual(['a', 'b', 'c']);
  fetched[0]!.fail();
  expect(urls()).toEqual(['a', 'b', 'c', 'd']);
});

test('what is left behind is not fetched, and makes room for others', () => {
  const { queue, fetched, urls } = queueOfPictures();
  queue.start();
  const leaves = ['a', 'b', 'c', 'd'].map((url) => queue.add(url, none, none));
  leaves[2]!();
  leaves[0]!();
  expect(fetched[0]!.stopped).toBe(true);
  expect(urls()).toEqual(['a', 'b', 'd']);
  leaves[0]!();
  expect(urls()).toHaveLength(3);
});

test('each is told how its own picture went', () => {
  const { queue, fetched } = queueOfPictures();
  queue.start();
  const told: string[] = [];
  queue.add('a', () => told.push('a is there'), none);
  queue.add('b', none, () => told.push('b failed'));
  fetched[1]!.fail();
  fetched[0]!.load();
  expect(told).toEqual(['b failed', 'a is there']);
});
