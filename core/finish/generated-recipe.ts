import { familyOf, initialGenerated, type GeneratedSettings } from '../generate';
import { plainColour } from '../light';
import { plainRepeat } from '../repeat';
import { clearPane } from '../response';
import { figure } from '../units';
import type { Category } from './default-recipe';
import { SCHEMA_ID, type Recipe } from './recipe';

/**
 * The recipe of a new finish that is generated. Its figures are *assumed*.
 * @param kind of what is generated
 * @param settings of it that are not as they are at first
 * @throws RangeError when nothing is generated as that
 */
export function generatedRecipe(kind: string, settings: Partial<GeneratedSettings> = {}): Recipe {
  const { response } = familyOf(kind);
  return {
    schema: SCHEMA_ID,
    sources: [],
    derived: null,
    generated: { ...initialGenerated(kind), ...settings },
    repeat: {
      ...plainRepeat(),
      from: [],
      across: { closing: 'abut', overlapMm: 0 },
      up: { closing: 'abut', overlapMm: 0 },
    },
    layout: null,
    colour: plainColour(),
    weathering: [],
    relief: { contributions: [], zero: 'mean' },
    response: {
      base:
        response.base === 'metal'
          ? { kind: 'metal' }
          : response.base === 'glass'
            ? clearPane()
            : { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
      glossGu: figure(response.glossGu, 'GU', 'assumed'),
      ...(response.parts
        ? {
            parts: response.parts.map(({ part, glossGu }) => ({
              part,
              glossGu: figure(glossGu, 'GU', 'assumed'),
            })),
          }
        : {}),
    },
  };
}

/** The category that a generated kind is of. */
export const categoryOfKind = (kind: string): Category => familyOf(kind).category as Category;
