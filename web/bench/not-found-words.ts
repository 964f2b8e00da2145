import type { NotAStructure } from '@jossel/core/size';
import { printNumber } from '@jossel/core/units';

/** That no regular structure was found, and why the best candidate is none. */
export function notFoundWords(refused: NotAStructure | null): string {
  if (!refused) return 'No regular structure was found.';
  const percent = `${printNumber(100 * refused.amount, 0)} %`;
  switch (refused.why) {
    case 'wanders':
      return `No regular structure: what repeats wanders by ${percent} of its period; up to 5 % is taken.`;
    case 'seldom seen':
      return `No regular structure: what repeats is seen in ${percent} of the picture only.`;
    case 'few periods':
      return `No regular structure: what repeats shows ${printNumber(refused.amount, 1)} times, which is too few.`;
  }
}
