import type { Recipe } from '@jossel/core/finish';
import { familyOf } from '@jossel/core/generate';
import { LAID_PARTS } from '@jossel/core/layout';

/** A part of a finish that relief can be kept to or made of. */
export interface NamedPart {
  id: string;
  name: string;
}

/** Parts that are marked in the pictures or generated, and those that the layout makes. */
export function partsOf({ sources, layout, generated }: Recipe): NamedPart[] {
  const made = generated ? (familyOf(generated.kind).parts?.(generated as never) ?? []) : [];
  const marked = new Map(sources.flatMap((s) => s.preparation.parts.map((p) => [p.id, p.name] as const)));
  const laid = layout
    ? [
        { id: 'joint', name: LAID_PARTS.joint },
        { id: 'face', name: LAID_PARTS.face },
        ...(layout.arris.form === 'square' ? [] : [{ id: 'arris', name: LAID_PARTS.arris }]),
      ]
    : [];
  return [...laid, ...made, ...[...marked].map(([id, name]) => ({ id, name }))];
}
