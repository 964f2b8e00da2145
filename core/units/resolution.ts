/** Pixels per millimetre in one of each unit in which resolutions are given. */
const PER_MM: Readonly<Record<string, number>> = {
  'px/mm': 1,
  '/mm': 1,
  'px/cm': 0.1,
  '/cm': 0.1,
  dpcm: 0.1,
  'px/m': 0.001,
  '/m': 0.001,
  dpi: 1 / 25.4,
  ppi: 1 / 25.4,
  'px/in': 1 / 25.4,
  '/in': 1 / 25.4,
};

const ACCEPTED = 'Write a resolution such as 300 dpi, 120 px/cm or 11.8 px/mm.';

/**
 * Reads a resolution as people type it; a bare number is dots per inch.
 * @returns pixels per millimetre
 * @throws RangeError with a sentence that says what is accepted
 */
export function parseResolution(text: string): number {
  const found = /^\s*([\d.,]+)\s*([a-z/ ]*)\s*$/i.exec(
    text.replace(/pixels?|dots?/gi, 'px').replace(/\s*per\s*/gi, '/'),
  );
  const value = found ? Number(found[1]!.replace(',', '.')) : Number.NaN;
  const unit = (found?.[2] ?? '').replace(/\s+/g, '').toLowerCase() || 'dpi';
  const perMm = PER_MM[unit];
  if (perMm === undefined) throw new RangeError(`"${text.trim()}" is not a resolution. ${ACCEPTED}`);
  if (!(value > 0) || value * perMm > 10000)
    throw new RangeError(`A resolution is above 0 and at most 10 000 px per mm. ${ACCEPTED}`);
  return Number((value * perMm).toPrecision(12));
}
