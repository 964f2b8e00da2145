import { z } from 'zod';

/** Text that people type: in one form of Unicode, without characters that cannot be seen. */

/** Control characters but tab and line ends, and characters that turn the direction of what follows. */
const UNSEEN = /(?![\t\n\r])[\p{Cc}\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/u;
const LINE = /[\n\r\t]/;

const normal = (text: string) => text.normalize('NFC').trim();

/** Text as one line of characters that can be seen. */
export const seenOnly = (text: string): string =>
  normal(
    text
      .toWellFormed()
      .replace(new RegExp(UNSEEN, 'gu'), '')
      .replace(/[\n\r\t]+/g, ' '),
  );

/**
 * A name: one line.
 * @param most characters it may have
 * @param missing said where there is none; left out: it may be empty
 */
export const nameText = (most: number, missing?: string) =>
  z
    .string()
    .transform(normal)
    .pipe(
      z
        .string()
        .min(missing === undefined ? 0 : 1, missing)
        .max(most, `At most ${most} characters.`)
        .refine((text) => !UNSEEN.test(text) && !LINE.test(text), {
          error: 'Leave out characters that cannot be seen (line ends, control and direction characters).',
        }),
    );

/** Text of any number of lines. @param most characters it may have */
export const longText = (most: number) =>
  z
    .string()
    .transform(normal)
    .pipe(
      z
        .string()
        .max(most, `At most ${most} characters.`)
        .refine((text) => !UNSEEN.test(text), {
          error: 'Leave out characters that cannot be seen (control and direction characters).',
        }),
    );
