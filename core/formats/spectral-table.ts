import type { SpectralReading } from '../spectrum';
import { printNumber } from '../units';
import { numberOf, readTable } from './table-file';

/** Spectral readings of a file. */
export interface SpectralTable {
  name: string;
  readings: { name: string; spectrum: SpectralReading }[];
  /** What was taken differently, in plain words. */
  notes: string[];
}

/** A column of a wavelength: SPECTRAL_NM380, NM_380, SPECTRAL_380, 380 nm. */
const WAVELENGTH = /^(?:SPECTRAL_?)?(?:NM_?|R_?)?(\d{3})(?:NM)?$/;

/** The visible range that a table must reach over. */
const NEEDED = { fromNm: 400, toNm: 700 } as const;
const MOST_STEP_NM = 20;
/** Above this the values are percents: no surface but a fluorescent one gives back more than comes. */
const MOST_SHARE = 1.6;

/**
 * Reads spectral readings: a table with a column to each wavelength, in even steps of at most 20 nm from 400 nm or less to
 * 700 nm or more, as shares or in percent.
 *
 * @param text the whole file: CGATS.17, or lines with a heading
 * @param fileName names the table when the file does not
 * @throws RangeError with a sentence that says what is missing and where
 */
export function readSpectralTable(text: string, fileName: string): SpectralTable {
  const { title, columns, rows } = readTable(text);
  const plain = columns.map((c) => c.toUpperCase().replace(/[\s*"']/g, ''));
  const bands = plain
    .flatMap((column, at) => {
      const nm = WAVELENGTH.exec(column)?.[1];
      return nm ? [{ at, nm: Number(nm) }] : [];
    })
    .sort((a, b) => a.nm - b.nm);
  const stepNm = stepOf(bands.map(({ nm }) => nm));
  const nameAt = ['SAMPLE_NAME', 'SAMPLENAME', 'NAME', 'SAMPLE_ID', 'SAMPLEID', 'ID']
    .map((name) => plain.indexOf(name))
    .find((at) => at >= 0);
  const values = rows.map(({ cells, line }, n) => ({
    name: (nameAt === undefined ? '' : cells[nameAt]!.trim()) || `reading ${n + 1}`,
    line,
    values: bands.map(({ at, nm }) => {
      const value = numberOf(cells[at]);
      if (!Number.isFinite(value))
        throw new RangeError(
          `Line ${line}, ${nm} nm: “${cells[at] ?? ''}” is not a number. A spectrum with gaps cannot be used.`,
        );
      return value;
    }),
  }));
  const most = Math.max(...values.flatMap((row) => row.values));
  const inPercent = most > MOST_SHARE;
  const scale = inPercent ? 0.01 : 1;
  for (const row of values) refuseImpossible(row, bands, scale);
  return {
    name: title || fileName,
    readings: values.map((row) => ({
      name: row.name,
      spectrum: { fromNm: bands[0]!.nm, stepNm, values: row.values.map((v) => v * scale) },
    })),
    notes: [
      ...(inPercent ? ['The values are in percent; they were divided by 100.'] : []),
      ...(bands[0]!.nm > 380 || bands.at(-1)!.nm < 730
        ? [
            `The table runs from ${bands[0]!.nm} to ${bands.at(-1)!.nm} nm; beyond its ends the last value holds.`,
          ]
        : []),
    ],
  };
}

/** The step between wavelengths. @throws RangeError when they are too few, uneven or too far apart */
function stepOf(nms: readonly number[]): number {
  if (nms.length < 2)
    throw new RangeError(
      'No columns of wavelengths are there. They are called SPECTRAL_NM380, NM_380 or 380 nm, one to each wavelength.',
    );
  const step = nms[1]! - nms[0]!;
  const gap = nms.findIndex((nm, k) => k > 0 && nm - nms[k - 1]! !== step);
  if (gap > 0)
    throw new RangeError(
      `The wavelengths are not in even steps: ${nms[gap - 1]!} nm is followed by ${nms[gap]!} nm, where ${nms[gap - 1]! + step} nm would be next.`,
    );
  if (step > MOST_STEP_NM)
    throw new RangeError(`The wavelengths are ${step} nm apart; at most ${MOST_STEP_NM} nm are accepted.`);
  if (nms[0]! > NEEDED.fromNm || nms.at(-1)! < NEEDED.toNm)
    throw new RangeError(
      `The table runs from ${nms[0]!} to ${nms.at(-1)!} nm; it must reach from ${NEEDED.fromNm} to ${NEEDED.toNm} nm.`,
    );
  return step;
}

function refuseImpossible(
  { name, line, values }: { name: string; line: number; values: number[] },
  bands: readonly { nm: number }[],
  scale: number,
): void {
  const at = values.findIndex((v) => v * scale < -0.005 || v * scale > MOST_SHARE);
  if (at >= 0)
    throw new RangeError(
      `Line ${line}, ${name}: ${printNumber(100 * scale * values[at]!, 1)} % at ${bands[at]!.nm} nm is no reflectance; it lies between 0 and 100 %, of fluorescent surfaces up to ${100 * MOST_SHARE} %.`,
    );
}
