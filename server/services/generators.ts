import { GENERATED_FAMILIES, initialGenerated, schemaOfSettings } from '@jossel/core/generate';
import { z } from 'zod';

/** Everything that a finish can be generated as, with its settings and what a new one has. */
export const generators = () =>
  GENERATED_FAMILIES.map(({ kind, name, group, category, settings }) => ({
    kind,
    name,
    group,
    category,
    settings: z.toJSONSchema(schemaOfSettings(settings), { io: 'input' }),
    initial: initialGenerated(kind),
  }));
