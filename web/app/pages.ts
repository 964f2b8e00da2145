/** Lists that the server gives out in pages. */

export interface PageOf<T> {
  items: T[];
  /** How many there are in all pages together. */
  total: number;
}

export type PageAnswer<T, E> = { data: PageOf<T>; error?: undefined } | { error: E; data?: undefined };

/** Entries of one page where a person scrolls through them, and where all are fetched. */
export const SHOWN_AT_ONCE = 200;
const FETCHED_AT_ONCE = 500;

/**
 * Fetches every page of a list.
 * @param fetchPage fetches the page that begins at an offset; its error ends the list
 */
export async function everyPage<T, E>(
  fetchPage: (page: { limit: number; offset: number }) => Promise<PageAnswer<T, E>>,
): Promise<PageAnswer<T, E>> {
  const items: T[] = [];
  for (;;) {
    const answer = await fetchPage({ limit: FETCHED_AT_ONCE, offset: items.length });
    if (answer.data === undefined) return answer;
    items.push(...answer.data.items);
    // A list may grow or shrink meanwhile; an empty page ends it either way.
    if (answer.data.items.length === 0 || items.length >= answer.data.total)
      return { data: { items, total: items.length } };
  }
}

/** Where the page after the last one begins; undefined: there is none. */
export function nextOffset<T>(pages: readonly PageOf<T>[]): number | undefined {
  const had = pages.reduce((n, page) => n + page.items.length, 0);
  const last = pages.at(-1);
  return last && last.items.length > 0 && had < last.total ? had : undefined;
}
