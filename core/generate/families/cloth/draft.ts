/** Drafts as weavers write them, and how yarns of several colours follow each other. */

/** Which warp threads are up in each weft: `up[weft][warp]`; it repeats on both axes. */
export type Drawdown = readonly (readonly boolean[])[];

/** Weaves with a usual draft: rows of wefts, x where the warp lies on top. */
export const WEAVES = {
  plain: { name: 'plain', rows: ['x.', '.x'] },
  hopsack: { name: 'hopsack 2/2', rows: ['xx..', 'xx..', '..xx', '..xx'] },
  rib: { name: 'warp rib 2/2', rows: ['x.', 'x.', '.x', '.x'] },
  twill21: { name: 'twill 2/1', rows: ['xx.', '.xx', 'x.x'] },
  twill22: { name: 'twill 2/2', rows: ['xx..', '.xx.', '..xx', 'x..x'] },
  twill31: { name: 'twill 3/1', rows: ['xxx.', '.xxx', 'x.xx', 'xx.x'] },
  satin5: { name: 'satin 5', rows: ['xxxx.', 'xx.xx', '.xxxx', 'xxx.x', 'x.xxx'] },
  satin8: {
    name: 'satin 8',
    rows: ['.xxxxxxx', 'xxx.xxxx', 'xxxxxx.x', 'x.xxxxxx', 'xxxx.xxx', 'xxxxxxx.', 'xx.xxxxx', 'xxxxx.xx'],
  },
} as const;

export const herringbone = (ends: number): Drawdown =>
  drawdownOf(
    [
      ...Array.from({ length: ends }, (_, k) => (k % 4) + 1),
      ...Array.from({ length: ends }, (_, k) => ((4 * ends - k - 2) % 4) + 1),
    ],
    [
      [1, 2],
      [2, 3],
      [3, 4],
      [1, 4],
    ],
    [1, 2, 3, 4],
  );

/** Numbers in a text, in order; anything between them parts them. */
const numbersIn = (text: string): number[] => (text.match(/\d+/g) ?? []).map(Number);

/** What is wrong with a list of shafts or treadles; null: nothing. */
export function faultOfSequence(text: string, what: string): string | null {
  const odd = /[^\d\s,;/|-]/.exec(text);
  if (odd) return `${what}: "${odd[0]}" is no number. Write shafts or treadles as numbers, such as 1 2 3 4.`;
  const numbers = numbersIn(text);
  if (numbers.length === 0) return `${what}: give at least one number, such as 1 2 3 4.`;
  if (numbers.length > 400) return `${what}: at most 400 numbers.`;
  if (numbers.some((n) => n < 1 || n > 32)) return `${what}: numbers from 1 to 32.`;
  return null;
}

/** What is wrong with a tie-up; null: nothing. */
export function faultOfTieUp(text: string): string | null {
  const odd = /[^\d\s+,]/.exec(text);
  if (odd)
    return `Tie-up: "${odd[0]}" means nothing here. Write the shafts of each treadle joined by +, such as 1+2 2+3 3+4 1+4.`;
  if (text.trim() === '')
    return 'Tie-up: give the shafts of each treadle joined by +, such as 1+2 2+3 3+4 1+4.';
  return null;
}

/** Threading: the shaft of each warp thread; tie-up: the shafts that each treadle lifts; treadling: the treadle of each weft. */
function drawdownOf(
  threading: readonly number[],
  tieUp: readonly (readonly number[])[],
  treadling: readonly number[],
): Drawdown {
  return treadling.map((treadle) => {
    const lifted = tieUp[treadle - 1];
    if (!lifted)
      throw new RangeError(`The treadling uses treadle ${treadle}, but the tie-up has only ${tieUp.length}.`);
    return threading.map((shaft) => lifted.includes(shaft));
  });
}

/**
 * The drawdown of a draft that is typed.
 * @throws RangeError when treadles or shafts are missing, or a thread would lie loose
 */
export function readDraft(threading: string, tieUp: string, treadling: string): Drawdown {
  const treadles = tieUp
    .trim()
    .split(/[\s,]+/)
    .map(numbersIn);
  const down = drawdownOf(numbersIn(threading), treadles, numbersIn(treadling));
  const loose = (line: readonly boolean[]) => line.every((up) => up === line[0]);
  const weft = down.findIndex(loose);
  if (weft >= 0)
    throw new RangeError(
      `Weft ${weft + 1} of the draft passes over or under all warp threads and would lie loose. Change its treadle or the tie-up.`,
    );
  const warp = down[0]!.findIndex((_, k) => loose(down.map((row) => row[k]!)));
  if (warp >= 0)
    throw new RangeError(
      `Warp thread ${warp + 1} of the draft is never bound and would lie loose. Change its shaft or the tie-up.`,
    );
  return down;
}

export const drawdownOfRows = (rows: readonly string[]): Drawdown =>
  rows.map((row) => [...row].map((c) => c === 'x'));

/** Yarns by their letters in the order they follow each other, such as "A", "AAB" or "4A 2B": numbers from 0. */
export function orderOf(text: string): number[] {
  const out: number[] = [];
  for (const [, times, letter] of text.toUpperCase().matchAll(/(\d*)\s*([A-F])/g))
    for (let k = 0; k < (times ? Number(times) : 1); k++) out.push(letter!.charCodeAt(0) - 65);
  return out;
}

/** What is wrong with an order; null: nothing. */
export function faultOfOrder(text: string, what: string): string | null {
  const odd = /[^\dA-Fa-f\s,]/.exec(text);
  if (odd) return `${what}: "${odd[0]}" names no yarn. Write letters A to F, such as A, AAB or 4A 2B.`;
  const count = orderOf(text).length;
  if (count === 0) return `${what}: name at least one yarn by its letter, such as A.`;
  return count > 400 ? `${what}: at most 400 threads.` : null;
}
