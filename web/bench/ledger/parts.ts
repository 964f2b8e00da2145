import type { Recipe } from '@jossel/core/finish';

/** A part of a finish that relief can be kept to or made of. */
export interface NamedPart {
  id: string;
  name: string;
}

/** Parts that are marked in the pictures, and those that the layout makes. */
export function partsOf({ sources, layout }: Recipe): NamedPart[] {
  const marked = new Map(sources.flatMap((s) => s.preparation.parts.map((p) => [p.id, p.name] as const)));
  const laid = layout
    ? [
        { id: 'joint', name: 'Joints' },
        { id: 'face', name: 'Faces' },
        ...(layout.arris.form === 'square' ? [] : [{ id: 'arris', name: 'Arrises' }]),
      ]
    : [];
  return [...laid, ...[...marked].map(([id, name]) => ({ id, name }))];
}
