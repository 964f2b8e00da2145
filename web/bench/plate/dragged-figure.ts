import type { Figure } from '@jossel/core/units';

/** A length that was dragged or stepped in a drawing: to a tenth of a mm; a measured one stays so only when it was typed. */
export function draggedFigure(
  before: Figure<'mm'>,
  mm: number,
  least: number,
  dragged: boolean,
): Figure<'mm'> {
  const value = Math.max(least, Math.round(mm * 10) / 10);
  const basis = before.basis === 'measured' && !dragged ? before.basis : 'assumed';
  return { ...before, value, basis };
}
