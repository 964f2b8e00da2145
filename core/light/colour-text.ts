import {
  ciede2000,
  labToXyz,
  linearToLab,
  linearToSrgb8,
  srgbToLinear,
  xyzToLab,
  xyzToLinear,
  type Triple,
} from '../colour';
import { figureOfReadings } from '../units';
import type { ColourFigure } from './settings';

/** What a typed colour may look like, for those who ask. */
export const COLOUR_FORMS = 'Lab 62 8 22, LCh 62 23 70, #C8A274, XYZ 30 31 22 or linear 0.3 0.25 0.2';

/** A colour as typed. */
export interface TypedColour {
  lab: Triple;
  /** In which form it was given. */
  form: 'Lab' | 'LCh' | 'hex' | 'XYZ' | 'linear';
}

const NUMBER = '([-+]?[\\d.,]*\\d)';
const label = (names: string) => `(${names})\\*?(?:ab)?\\s*[=:]\\s*`;
/** Three numbers each with its label: "L*=52 a*=8 b*=22", "L=52, C=23, h=70°". */
const LABELLED = new RegExp(
  `^${label('l')}${NUMBER}[,;\\s]+${label('a|c')}${NUMBER}[,;\\s]+${label('b|h')}${NUMBER}\\s*°?$`,
  'i',
);

/** The same colour with one label before its three numbers, if it has one before each. */
function withOneLabel(text: string): string {
  const found = LABELLED.exec(text);
  if (!found) return text;
  const [, , lightness, second, x, third, y] = found;
  const letters = `${second}${third}`.toLowerCase();
  const form = { ab: 'Lab', ch: 'LCh' }[letters];
  return form ? `${form} ${lightness} ${x} ${y}` : text;
}

/**
 * Reads a colour: CIELAB (three numbers, with or without "Lab"), LCh(ab) with the hue in degrees, hex (sRGB), XYZ (Y of
 * white 100) or linear light (0–1). The numbers of Lab and LCh may have labels, as in "L*=52 a*=8 b*=22".
 * Numbers may have a point or a comma as decimal sign and are parted by spaces, semicolons or slashes.
 * @throws RangeError with a sentence that says which forms there are
 */
export function parseColour(text: string): TypedColour {
  const plain = withOneLabel(text.trim().replace(/−/g, '-'));
  const refuse = (why: string): never => {
    throw new RangeError(`“${text.trim()}” ${why}. Give a colour as ${COLOUR_FORMS}.`);
  };
  const hex = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i.exec(plain.replace(/\s/g, ''));
  if (hex && (plain.startsWith('#') || /[a-f]/i.test(plain) || /^\d{6}$/.test(plain))) {
    const digits = hex[1]!.length === 3 ? hex[1]!.replace(/./g, '$&$&') : hex[1]!;
    const linear = [0, 2, 4].map((k) => srgbToLinear(parseInt(digits.slice(k, k + 2), 16) / 255));
    return { lab: linearToLab(linear as unknown as Triple), form: 'hex' };
  }
  const named = /^(lab|cielab|lch|cielch|xyz|linear|l\*a\*b\*|l\*c\*h)(?=[:\s=])[:\s=]*(.*?)\s*°?$/i.exec(
    plain,
  );
  const form = named ? named[1]!.toLowerCase() : 'lab';
  const rest = named ? named[2]! : plain;
  // A comma is a decimal sign between digits when something else parts the numbers.
  const parted = /[;/\s]/.test(rest.trim()) ? rest.replace(/(\d),(\d)/g, '$1.$2') : rest;
  const fields = parted.split(/[;/,\s]+/).filter(Boolean);
  const numbers = fields.map(Number);
  if (fields.length !== 3 || numbers.some((n) => !Number.isFinite(n))) refuse('is not a colour');
  const triple = numbers as unknown as Triple;
  if (form === 'xyz') {
    if (Math.min(...triple) < 0 || triple[1] > 110) refuse('is outside XYZ from 0 to 100');
    return { lab: xyzToLab([triple[0] / 100, triple[1] / 100, triple[2] / 100]), form: 'XYZ' };
  }
  if (form === 'linear') {
    if (Math.min(...triple) < 0 || Math.max(...triple) > 1) refuse('is outside linear light from 0 to 1');
    return { lab: linearToLab(triple), form: 'linear' };
  }
  const isLch = form.includes('c') && form.endsWith('h');
  if (isLch && triple[1] < 0) refuse(`has a chroma of ${triple[1]}, which is below 0`);
  const lab = isLch ? labOfLch(triple) : triple;
  if (triple[0] < 0 || triple[0] > 100) refuse(`has an L* of ${triple[0]}, which is not between 0 and 100`);
  if (Math.abs(lab[1]) > 150 || Math.abs(lab[2]) > 150) refuse('lies outside any colour');
  return { lab, form: isLch ? 'LCh' : 'Lab' };
}

/** CIELAB from lightness, chroma and hue angle in degrees (CIE 015:2018, 8.2.1). */
const labOfLch = ([lightness, chroma, hueDeg]: Triple): Triple => {
  const hue = (hueDeg * Math.PI) / 180;
  return [lightness, chroma * Math.cos(hue), chroma * Math.sin(hue)];
};

/** One line of a pasted list. */
export interface ListedColour extends TypedColour {
  name: string;
  code: string;
}

/**
 * Reads a list of colourways, one a line: name, code if there is one, and colour, parted by tabs or semicolons; or name
 * and colour parted by a colon or by where the colour begins.
 * @throws RangeError with a sentence that names the line
 */
export function parseColourList(text: string): ListedColour[] {
  const out: ListedColour[] = [];
  text.split(/\r\n|\r|\n/).forEach((raw, n) => {
    const line = raw.trim();
    if (!line) return;
    const parts = line
      .split(/\t|;|:/)
      .map((p) => p.trim())
      .filter(Boolean);
    try {
      if (parts.length >= 2) {
        // The colour is what stands last; its three numbers may have been parted as well.
        for (const take of [1, 3])
          if (parts.length > take) {
            const colour = tryColour(parts.slice(-take).join(' '));
            if (!colour) continue;
            const [name = '', code = ''] = parts.slice(0, -take);
            out.push({ ...colour, name, code });
            return;
          }
      }
      const at =
        /^(.*?)\s+((?:lab|lch|xyz|linear)\b.*|l\*?\s*=.*|#[0-9a-f]{3,6}|-?\d[\d.,]*\s+-?\d[\d.,]*\s+-?\d[\d.,]*)$/i.exec(
          line.replace(/−/g, '-'),
        );
      if (!at) throw new RangeError(`has no name and colour. Give a colour as ${COLOUR_FORMS}.`);
      out.push({ ...parseColour(at[2]!), name: at[1]!.trim(), code: '' });
    } catch (error) {
      throw new RangeError(`Line ${n + 1}, “${line}”: ${(error as Error).message}`, { cause: error });
    }
  });
  if (out.length === 0)
    throw new RangeError('The list is empty. Give one colourway a line, for instance “Moss; Lab 48 -12 18”.');
  return out;
}

function tryColour(text: string): TypedColour | null {
  try {
    return parseColour(text);
  } catch {
    return null;
  }
}

/** A colour as sRGB hex, clipped. */
export const hexOfLab = (lab: Triple): string =>
  `#${xyzToLinear(labToXyz(lab))
    .map((v) => linearToSrgb8(v).toString(16).padStart(2, '0'))
    .join('')}`;

/** Repeatability of a good reflectance meter, CIEDE2000. */
const METER_REPEATABILITY = 0.3;

/**
 * A measured colour from several readings: the colour of their mean in XYZ, and as tolerance how far the readings lie
 * from it (95 % confidence of the mean) with the meter's own repeatability.
 * @throws RangeError without readings
 */
export function colourOfReadings(labs: readonly Triple[]): ColourFigure {
  const n = labs.length;
  if (n === 0) throw new RangeError('A measured colour needs at least one reading.');
  const xyz = labs.map(labToXyz);
  const mean = xyzToLab([0, 1, 2].map((k) => xyz.reduce((s, v) => s + v[k]!, 0) / n) as unknown as Triple);
  const off = labs.map((lab) => ciede2000(lab, mean));
  // The spread of distances stands for the standard deviation; Student's t by `figureOfReadings`.
  const { tolerance } = figureOfReadings(
    off.flatMap((d) => [d, -d]),
    'LRV',
    METER_REPEATABILITY,
  );
  const round = (v: number) => Number(v.toFixed(2));
  return {
    lab: mean.map(round) as [number, number, number],
    basis: 'measured',
    tolerance: tolerance ?? METER_REPEATABILITY,
    note: `Mean of ${n} ${n === 1 ? 'reading' : 'readings'}: ${labs.map((l) => l.map((v) => v.toFixed(1)).join(' ')).join('; ')}`,
  };
}
