import type { FoundStructure, ProposedFrame } from '@jossel/core/size';
import { printNumber } from '@jossel/core/units';
import { notFoundWords } from '../../not-found-words';

/** What was found out about how a picture leans, and what was done. */
export function straightenedWords(found: FoundStructure): string {
  if (!found.across && !found.up) return `${notFoundWords(found.refused)} Drag the corners by hand.`;
  if (!found.straighten) return 'The structure is already straight in this frame.';
  return `Straightened: ${leanWords(found.straighten, 'was')}. Undo brings the frame back.`;
}

/** How a structure leans in the picture, or how it did. */
export function leanWords({ slopeDeg, converges }: ProposedFrame, tense: 'is' | 'was'): string {
  const slopes = tense === 'is' ? (['fall', 'rise'] as const) : (['fell', 'rose'] as const);
  const parts = [
    ...(Math.abs(slopeDeg) >= 0.05
      ? [`courses ${slopes[slopeDeg > 0 ? 0 : 1]} by ${printNumber(Math.abs(slopeDeg), 2)}° to the right`]
      : []),
    ...(Math.abs(converges.across) >= 0.003
      ? [`the ${converges.across > 0 ? 'lower' : 'upper'} side ${tense} ${percent(converges.across)} longer`]
      : []),
    ...(Math.abs(converges.up) >= 0.003
      ? [`the ${converges.up > 0 ? 'right' : 'left'} side ${tense} ${percent(converges.up)} longer`]
      : []),
  ];
  return parts.join('; ') || (tense === 'is' ? 'sides lean by a little' : 'sides leaned by a little');
}

const percent = (share: number) => `${printNumber(100 * Math.abs(share), 1)} %`;
