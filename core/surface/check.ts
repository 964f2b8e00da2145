/** The sections of the ledger, in working order; checks are named after them. */
export const SECTIONS = [
  'sample',
  'size',
  'colour',
  'repeat',
  'layout',
  'weathering',
  'relief',
  'response',
  'revision',
] as const;
export type Section = (typeof SECTIONS)[number];

/** Something that does not hold yet, in plain words, and where it is mended. */
export interface Check {
  code: string;
  section: Section;
  /** `wrong`: the finish would look wrong; `open`: something is still taken on trust. */
  weight: 'wrong' | 'open';
  text: string;
}

/** A check that something is wrong, or open. */
export const wrong = (section: Section, code: string, text: string): Check => ({
  code,
  section,
  weight: 'wrong',
  text,
});
export const open = (section: Section, code: string, text: string): Check => ({
  code,
  section,
  weight: 'open',
  text,
});

/** The weightiest first; within a weight in working order, as they came. */
export const byWeight = (checks: readonly Check[]): Check[] => [
  ...checks.filter((c) => c.weight === 'wrong'),
  ...checks.filter((c) => c.weight === 'open'),
];
