import { Problem } from '../problem';

/** Reading what was sent as JSON: strict about its characters, so that all that comes in can be stored and shown again. */

/** Deeper than that, no recipe is. */
const DEEPEST = 64;

const notValid = (detail: string) => new Problem(400, 'Not valid', detail);

/**
 * Reads bytes as UTF-8.
 * @throws Problem when they are not
 */
export function utf8Of(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw notValid('The text is not UTF-8. Send it in that encoding.');
  }
}

/**
 * What a JSON body says.
 * @throws Problem when it is no JSON, is nested too deeply, or has text that cannot be stored
 */
export function readJson(bytes: Uint8Array): unknown {
  const text = utf8Of(bytes);
  if (text.trim() === '') return undefined;
  refuseDepth(text);
  let value: unknown;
  try {
    value = JSON.parse(text, (key, v: unknown) => {
      // Members of that name would change what all objects have.
      if (key === '__proto__') throw notValid('A member may not be called "__proto__".');
      return v;
    });
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw notValid(`This is not JSON: ${(error as Error).message}`);
  }
  refuseUnstorable(value);
  return value;
}

/** Counts brackets outside of strings before anything is built from them. */
function refuseDepth(text: string): void {
  let [depth, quoted] = [0, false];
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quoted) {
      if (c === '\\') i++;
      else if (c === '"') quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === '{' || c === '[') {
      if (++depth > DEEPEST) throw notValid(`It is nested more than ${DEEPEST} deep.`);
    } else if (c === '}' || c === ']') depth--;
  }
}

/** @throws Problem when text in it, at any depth, cannot be stored */
export function refuseUnstorable(value: unknown): void {
  if (typeof value === 'string') return refuseText(value);
  if (typeof value !== 'object' || value === null) return;
  for (const [key, inner] of Object.entries(value)) {
    refuseText(key);
    refuseUnstorable(inner);
  }
}

/** @throws Problem for characters that PostgreSQL cannot store: NUL, and halves of a surrogate pair */
export function refuseText(text: string): void {
  if (text.includes('\0')) throw notValid('Text may not contain the character NUL.');
  if (!text.isWellFormed()) throw notValid('Text contains half a character (a lone surrogate).');
}
