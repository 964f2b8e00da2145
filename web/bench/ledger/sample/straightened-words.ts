import type { FoundStructure } from '@jossel/core/size';
import { printNumber } from '@jossel/core/units';
import { notFoundWords } from '../../not-found-words';

/** What was found out about how a picture leans, and what was done. */
export function straightenedWords(found: FoundStructure): string {
  if (!found.across && !found.up) return `${notFoundWords(found.refused)} Drag the corners by hand.`;
  if (!found.straighten) return 'The structure already lies true in this frame.';
  const { slopeDeg, converges } = found.straighten;
  const parts = [
    ...(Math.abs(slopeDeg) >= 0.05
      ? [`courses ${slopeDeg > 0 ? 'fell' : 'rose'} by ${printNumber(Math.abs(slopeDeg), 2)}° to the right`]
      : []),
    ...(Math.abs(converges.across) >= 0.003
      ? [`the ${converges.across > 0 ? 'lower' : 'upper'} side was ${percent(converges.across)} longer`]
      : []),
    ...(Math.abs(converges.up) >= 0.003
      ? [`the ${converges.up > 0 ? 'right' : 'left'} side was ${percent(converges.up)} longer`]
      : []),
  ];
  return `Straightened: ${parts.join('; ') || 'sides leaned by a little'}. Undo brings the frame back.`;
}

const percent = (share: number) => `${printNumber(100 * Math.abs(share), 1)} %`;
