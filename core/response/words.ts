/** Words of the trade for gloss, with the range of 60° readings that is usual for each, GU. */
export const GLOSS_WORDS = [
  { word: 'flat', fromGu: 0, toGu: 5 },
  { word: 'matt', fromGu: 5, toGu: 10 },
  { word: 'eggshell', fromGu: 10, toGu: 25 },
  { word: 'satin', fromGu: 25, toGu: 40 },
  { word: 'semi-gloss', fromGu: 40, toGu: 70 },
  { word: 'gloss', fromGu: 70, toGu: 85 },
  { word: 'high gloss', fromGu: 85, toGu: 100 },
] as const;
export type GlossWord = (typeof GLOSS_WORDS)[number]['word'];

/** The word for a reading; null above 100 GU, which only metals have. */
export const glossWordOf = (gu: number): GlossWord | null =>
  gu > 100 ? null : (GLOSS_WORDS.find(({ toGu }) => gu <= toGu)?.word ?? null);

/** The middle of what a word usually means, and how far it may be off. */
export function glossOfWord(word: GlossWord): { gu: number; toleranceGu: number } {
  const { fromGu, toGu } = GLOSS_WORDS.find((w) => w.word === word)!;
  return { gu: (fromGu + toGu) / 2, toleranceGu: (toGu - fromGu) / 2 };
}
