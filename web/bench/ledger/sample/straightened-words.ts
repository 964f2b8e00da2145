import type { StraighteningFound } from '@jossel/core/size';
import { printNumber } from '@jossel/core/units';

/** What was found out about how a picture leans, and what was done. */
export function straightenedWords(found: StraighteningFound): string {
  if (found.kind === 'true') return 'The structure already lies true in this frame.';
  if (found.kind === 'no-structure')
    return 'No structure is seen all over the picture by which it could be straightened. Drag the corners by hand.';
  const { slopeDeg, converges } = found.proposed;
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
