import { xyzToLab, type Triple } from '../colour';
import { numberOf, readTable } from './table-file';

/** Reference values of a colour target, as read from a file. */
export interface ColourReference {
  name: string;
  patches: { name: string; lab: Triple }[];
  /** What was left out or taken differently, in plain words. */
  notes: string[];
}

/**
 * Reads reference values of a colour target: CGATS.17 text (ISO 28178's ancestor: keywords, BEGIN_DATA_FORMAT,
 * BEGIN_DATA) or a table with a heading (comma, semicolon or tab). Columns may stand in any order; Lab is taken, else
 * XYZ (Y of white 100).
 *
 * @param text the whole file
 * @param fileName names the reference when the file does not
 * @throws RangeError with a sentence that says what is missing and where
 */
export function readColourReference(text: string, fileName: string): ColourReference {
  const table = readTable(text);
  const { columns, rows } = table;
  const plain = columns.map((c) => c.toUpperCase().replace(/[\s*"']/g, ''));
  // The first of the names that is there: a patch's name says more than its number.
  const find = (...names: string[]) => plain.indexOf(names.find((n) => plain.includes(n)) ?? '–');
  const nameAt = find('SAMPLE_NAME', 'SAMPLENAME', 'NAME', 'PATCH', 'SAMPLE_ID', 'SAMPLEID', 'ID');
  const lab = [find('LAB_L', 'L'), find('LAB_A', 'A'), find('LAB_B', 'B')];
  const xyz = [find('XYZ_X', 'X'), find('XYZ_Y', 'Y'), find('XYZ_Z', 'Z')];
  const has = (at: number[]) => at.every((k) => k >= 0);
  if (nameAt < 0)
    throw new RangeError(
      `No column names the patches: there are ${columns.join(', ')}. One must be SAMPLE_NAME, SAMPLE_ID or Name.`,
    );
  if (!has(lab) && !has(xyz)) {
    const missing = ['LAB_L', 'LAB_A', 'LAB_B'].filter((_, k) => lab[k]! < 0);
    throw new RangeError(
      `The columns ${missing.join(', ')} are missing: there are ${columns.join(', ')}. Lab or XYZ values are needed for every patch.`,
    );
  }
  const notes: string[] = [];
  const patches: ColourReference['patches'] = [];
  for (const { cells, line } of rows) {
    const name = cells[nameAt]?.trim();
    if (!name) continue;
    const numbers = (has(lab) ? lab : xyz).map((k) => {
      const value = numberOf(cells[k]);
      if (!Number.isFinite(value))
        throw new RangeError(`Line ${line}, ${columns[k]!}: “${cells[k] ?? ''}” is not a number.`);
      return value;
    }) as unknown as Triple;
    const value = has(lab) ? numbers : xyzToLab(numbers.map((v) => v / 100) as unknown as Triple);
    const fault = faultOfLab(value);
    if (fault)
      throw new RangeError(
        `Line ${line}, patch ${name}: ${fault} Are the columns in the order that the heading says?`,
      );
    if (patches.some((p) => p.name === name))
      throw new RangeError(`Line ${line}: the patch ${name} is there twice.`);
    patches.push({ name, lab: value });
  }
  if (patches.length < 3)
    throw new RangeError(`Only ${patches.length} patches are in this file; at least 3 are needed.`);
  const neutral = patches.filter((p) => Math.hypot(p.lab[1], p.lab[2]) < 12).length;
  // Lightness in the a* or b* column shows as colours that hardly any print can have.
  const far = patches.filter((p) => Math.hypot(p.lab[1], p.lab[2]) > 90).length;
  if (neutral === 0 && far > patches.length / 3)
    throw new RangeError(
      'No patch is grey and many are stronger in colour than print can be: the columns seem to be swapped. L* runs from 0 to 100, a* and b* about from −60 to 80.',
    );
  return { name: table.title || fileName, patches, notes };
}

/** Why a Lab value cannot be that of a printed patch; null when it can. */
function faultOfLab([l, a, b]: Triple): string | null {
  if (l < -0.5 || l > 101) return `L* of ${l} is not between 0 and 100.`;
  if (Math.abs(a) > 128 || Math.abs(b) > 128) return `a* ${a}, b* ${b} lies outside any colour.`;
  return null;
}
