import { squared } from '../exact';

/**
 * Lengths as people type them, and as they are printed. Stored lengths are always millimetres.
 */

export type LengthUnit = 'mm' | 'cm' | 'm' | 'in' | 'ft' | 'thou';

/** Millimetres in one of each unit. The inch is 25.4 mm by definition (ISO 80000-3). */
export const MM_PER_UNIT: Readonly<Record<LengthUnit, number>> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  ft: 304.8,
  thou: 0.0254,
};

const UNIT_WORDS: Readonly<Record<string, LengthUnit>> = {
  mm: 'mm',
  millimetre: 'mm',
  millimetres: 'mm',
  cm: 'cm',
  centimetre: 'cm',
  centimetres: 'cm',
  m: 'm',
  metre: 'm',
  metres: 'm',
  in: 'in',
  inch: 'in',
  inches: 'in',
  '"': 'in',
  '″': 'in',
  '”': 'in',
  ft: 'ft',
  foot: 'ft',
  feet: 'ft',
  thou: 'thou',
  mil: 'thou',
  mils: 'thou',
  "'": 'ft',
  '′': 'ft',
  '’': 'ft',
};

/** Said when typed text is not a length; `at` is the character where reading stopped. */
export class LengthError extends Error {
  override readonly name = 'LengthError';
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(message);
  }
}

interface Token {
  kind: 'number' | 'unit' | 'op';
  text: string;
  value: number;
  at: number;
}

const ACCEPTED = 'Write a length such as 1200, 120 cm, 1.2 m, 4\' 2 1/2" or 17*145+48.';

/** Fractions that have a character of their own. */
const FRACTIONS: Readonly<Record<string, string>> = {
  '½': '1/2',
  '⅓': '1/3',
  '⅔': '2/3',
  '¼': '1/4',
  '¾': '3/4',
  '⅛': '1/8',
  '⅜': '3/8',
  '⅝': '5/8',
  '⅞': '7/8',
};

/** A comma between groups of three digits: a separator of thousands in one country, of decimals in the next. */
const AMBIGUOUS = /(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d.,])/;

function refuseAmbiguous(text: string): void {
  const found = AMBIGUOUS.exec(text);
  if (!found) return;
  const thousands = found[0].replaceAll(',', '');
  const decimal = found[0].replace(',', '.');
  throw new LengthError(
    `"${found[0]}" can be read as ${thousands}${decimal.includes(',') ? '' : ` or as ${decimal}`}. Write it without the comma.`,
    found.index,
  );
}

function tokenise(typed: string): Token[] {
  refuseAmbiguous(typed);
  const text = typed.replace(/[½⅓⅔¼¾⅛⅜⅝⅞]/g, (sign) => ` ${FRACTIONS[sign]!}`);
  const tokens: Token[] = [];
  const rule = /\s*(?:((?:\d+(?:[.,]\d+)?|[.,]\d+)(?:[eE][-+]?\d+)?)|([a-zA-Z]+|["″”'′’])|([-+*/()×−–÷]))/y;
  rule.lastIndex = 0;
  const end = text.trimEnd().length;
  while (rule.lastIndex < end) {
    const at = rule.lastIndex;
    const found = rule.exec(text);
    if (!found)
      throw new LengthError(`"${text.slice(at).trim().slice(0, 12)}" is not a length. ${ACCEPTED}`, at);
    const [, number, word, sign] = found;
    if (number !== undefined) {
      tokens.push({ kind: 'number', text: number, value: Number(number.replace(',', '.')), at });
    } else if (word !== undefined) {
      const unit = UNIT_WORDS[word] ?? UNIT_WORDS[word.toLowerCase()];
      if (!unit)
        throw new LengthError(`"${word}" is not a unit of length. Use mm, cm, m, in, ft or thou.`, at);
      tokens.push({ kind: 'unit', text: unit, value: MM_PER_UNIT[unit], at });
    } else {
      const op = { '×': '*', '÷': '/', '−': '-', '–': '-' }[sign!] ?? sign!;
      tokens.push({ kind: 'op', text: op, value: 0, at });
    }
  }
  return tokens;
}

/** A value with its dimension: 0 for a bare number, 1 for a length in mm. */
interface Quantity {
  value: number;
  dimension: 0 | 1;
}

/**
 * Reads a length with units and simple arithmetic.
 *
 * Bare numbers are in `defaultUnit`. Feet and inches may stand together with fractions (`4' 2 1/2"`).
 * `+ − × ÷ ( )` work; a product of two lengths or a division by a length is refused.
 *
 * @param text what was typed
 * @param defaultUnit the unit of a bare number
 * @returns millimetres (may be zero or negative; the caller knows what makes sense)
 * @throws LengthError with the place and what would be accepted
 */
export function parseLength(text: string, defaultUnit: LengthUnit = 'mm'): number {
  const tokens = tokenise(text);
  if (tokens.length === 0) throw new LengthError(`No length was given. ${ACCEPTED}`, 0);
  let next = 0;
  const isOp = (op: string) => tokens[next]?.kind === 'op' && tokens[next]!.text === op;

  function sum(): Quantity {
    let left = product();
    while (isOp('+') || isOp('-')) {
      const sign = tokens[next++]!.text === '+' ? 1 : -1;
      const right = product();
      // "17*145+48": a bare number beside a length, or two bare numbers, are taken in the default unit.
      if (left.dimension !== right.dimension) {
        left = asLength(left);
        left = { value: left.value + sign * asLength(right).value, dimension: 1 };
      } else left = { value: left.value + sign * right.value, dimension: left.dimension };
    }
    return left;
  }

  function product(): Quantity {
    let left = signed();
    while (isOp('*') || isOp('/')) {
      const op = tokens[next++]!;
      const right = signed();
      if (op.text === '*') {
        if (left.dimension + right.dimension > 1)
          throw new LengthError(
            'A length times a length is an area. Multiply a length by a plain number.',
            op.at,
          );
        left = { value: left.value * right.value, dimension: (left.dimension + right.dimension) as 0 | 1 };
      } else {
        if (right.dimension === 1)
          throw new LengthError('A length can only be divided by a plain number.', op.at);
        if (right.value === 0) throw new LengthError('A length cannot be divided by zero.', op.at);
        left = { value: left.value / right.value, dimension: left.dimension };
      }
    }
    return left;
  }

  function signed(): Quantity {
    if (isOp('-')) {
      next++;
      const q = signed();
      return { value: -q.value, dimension: q.dimension };
    }
    if (isOp('+')) next++;
    return measure();
  }

  /** A number with an optional fraction and unit, and further smaller units behind it: `4 ft 2 1/2 in`. */
  function measure(): Quantity {
    if (isOp('(')) {
      const open = tokens[next++]!;
      const inner = sum();
      if (!isOp(')')) throw new LengthError('A bracket is open and not closed.', open.at);
      next++;
      return withUnit(inner);
    }
    const first = number();
    let q = withUnit(first);
    let last = q.dimension === 1 ? tokens[next - 1]!.value : 0;
    while (q.dimension === 1 && tokens[next]?.kind === 'number') {
      const at = tokens[next]!.at;
      const part = number();
      const unit =
        tokens[next]?.kind === 'unit' ? tokens[next]!.value : last === MM_PER_UNIT.ft ? MM_PER_UNIT.in : 0;
      if (unit === 0 || unit >= last)
        throw new LengthError(`"${text.slice(at).trim()}" does not follow on. ${ACCEPTED}`, at);
      if (tokens[next]?.kind === 'unit') next++;
      q = { value: q.value + part.value * unit, dimension: 1 };
      last = unit;
    }
    return q;
  }

  /** `2`, `1/2` is left to division, but `2 1/2` is two and a half. */
  function number(): Quantity {
    const token = tokens[next];
    if (token?.kind !== 'number') {
      throw new LengthError(
        token
          ? `A number is missing before "${token.text}". ${ACCEPTED}`
          : `The length breaks off. ${ACCEPTED}`,
        token?.at ?? text.length,
      );
    }
    next++;
    // A plain fraction before a unit, as in 1/2".
    if (
      isOp('/') &&
      tokens[next + 1]?.kind === 'number' &&
      tokens[next + 2]?.kind === 'unit' &&
      tokens[next + 1]!.value !== 0
    ) {
      next += 2;
      return { value: token.value / tokens[next - 1]!.value, dimension: 0 };
    }
    const [a, slash, b] = [tokens[next], tokens[next + 1], tokens[next + 2]];
    const mixed = a?.kind === 'number' && slash?.kind === 'op' && slash.text === '/' && b?.kind === 'number';
    if (mixed && Number.isInteger(token.value) && b.value !== 0) {
      next += 3;
      return { value: token.value + a.value / b.value, dimension: 0 };
    }
    return { value: token.value, dimension: 0 };
  }

  function withUnit(q: Quantity): Quantity {
    const unit = tokens[next];
    if (q.dimension === 0 && unit?.kind === 'unit') {
      next++;
      return { value: q.value * unit.value, dimension: 1 };
    }
    return q;
  }

  const asLength = (q: Quantity): Quantity =>
    q.dimension === 1 ? q : { value: q.value * MM_PER_UNIT[defaultUnit], dimension: 1 };

  const result = asLength(sum());
  const rest = tokens[next];
  if (rest)
    throw new LengthError(`"${text.slice(rest.at).trim()}" is one thing too many. ${ACCEPTED}`, rest.at);
  if (!Number.isFinite(result.value)) throw new LengthError(`That is too large for a length. ${ACCEPTED}`, 0);
  return result.value;
}

/** Number with at most `digits` decimals, no trailing zeros, with a true minus sign. */
export function printNumber(value: number, digits = 1): string {
  const text = value.toFixed(digits);
  const trimmed = text.includes('.') ? text.replace(/\.?0+$/, '') : text;
  return (trimmed === '-0' ? '0' : trimmed).replace('-', '−');
}

/** A length for a sentence, without its unit: to a hundredth of a millimetre, below 1 mm to a ten-thousandth. */
export const printMm = (mm: number): string => printNumber(mm, Math.abs(mm) < 1 ? 4 : 2);

const THIN = '\u2009';

/** What is longer is printed in metres, mm. */
const METRES_FROM_MM = 10000;

/** Width × height: the unit is said once. Whole millimetres from 100 mm on, metres from 10 m on. */
export function printArea(
  mm: { width: number; height: number },
  system: 'metric' | 'imperial' = 'metric',
): string {
  const digits = Math.min(mm.width, mm.height) < 100 ? 1 : 0;
  if (system === 'imperial') return `${printLength(mm.width, system)} × ${printLength(mm.height, system)}`;
  if (Math.max(mm.width, mm.height) >= METRES_FROM_MM)
    return `${printNumber(mm.width / 1000, 2)} × ${printNumber(mm.height / 1000, 2)}${THIN}m`;
  return `${printNumber(mm.width, digits)} × ${printLength(mm.height, system, digits)}`;
}

/** An area of floor or wall, in square metres or square feet. */
export const printSurface = (m2: number, system: 'metric' | 'imperial' = 'metric'): string =>
  system === 'metric'
    ? `${printNumber(m2, 1)}${THIN}m²`
    : `${printNumber((m2 * 1e6) / squared(MM_PER_UNIT.ft), 1)}${THIN}ft²`;

/** Shorter lengths are printed in thousandths of an inch, mm: 1/8 in. */
export const THOU_BELOW_MM = 3.175;
/** Shorter lengths are printed to 1/64 in, longer ones to 1/16 in, mm: 4 in. */
const FINE_BELOW_MM = 101.6;

/**
 * Prints a length: millimetres (metric); thousandths of an inch, or feet and inches with the nearest fraction (imperial).
 * @param mm length in millimetres
 * @param digits decimals of millimetres
 */
export function printLength(mm: number, system: 'metric' | 'imperial' = 'metric', digits = 1): string {
  if (system === 'metric') return `${printNumber(mm, digits)}${THIN}mm`;
  const sign = mm < 0 ? '−' : '';
  const length = Math.abs(mm);
  if (length === 0) return '0"';
  if (length < THOU_BELOW_MM) {
    const thou = length / MM_PER_UNIT.thou;
    return `${sign}${printNumber(thou, thou < 10 ? 1 : 0)}${THIN}thou`;
  }
  let bottom = length < FINE_BELOW_MM ? 64 : 16;
  const parts = Math.round((length / MM_PER_UNIT.in) * bottom);
  const feet = Math.floor(parts / (12 * bottom));
  const inches = Math.floor(parts / bottom) - 12 * feet;
  let top = parts % bottom;
  while (top > 0 && top % 2 === 0) {
    top /= 2;
    bottom /= 2;
  }
  const fraction = top > 0 ? `${inches > 0 ? ' ' : ''}${top}/${bottom}` : '';
  const inchText =
    inches > 0 || fraction || feet === 0 ? `${inches > 0 || !fraction ? inches : ''}${fraction}"` : '';
  return sign + [feet > 0 ? `${feet}'` : '', inchText].filter(Boolean).join(' ');
}
