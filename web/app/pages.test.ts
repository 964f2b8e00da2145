import { everyPage, nextOffset } from './pages';

const all = Array.from({ length: 1234 }, (_, i) => i);
const fetchPage = async ({ limit, offset }: { limit: number; offset: number }) => ({
  data: { items: all.slice(offset, offset + limit), total: all.length },
});

test('every page of a list is fetched, each entry once', async () => {
  expect(await everyPage(fetchPage)).toEqual({ data: { items: all, total: 1234 } });
});

test('a list that shrinks while it is fetched ends; an error is handed on', async () => {
  const shrinking = async ({ offset }: { offset: number }) => ({
    data: { items: offset === 0 ? [1, 2] : [], total: 5 },
  });
  expect(await everyPage(shrinking)).toEqual({ data: { items: [1, 2], total: 2 } });
  expect(await everyPage(async () => ({ error: 'away' }))).toEqual({ error: 'away' });
});

test('the next page begins behind those that are there; after the last there is none', () => {
  const page = (n: number) => ({ items: all.slice(0, n), total: 250 });
  expect(nextOffset([page(200)])).toBe(200);
  expect(nextOffset([page(200), page(50)])).toBeUndefined();
  expect(nextOffset([{ items: [], total: 0 }])).toBeUndefined();
});
