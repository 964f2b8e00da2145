import type { Family } from '../family';
import { CLAY, GLAZE } from './ceramic';
import { CLOTH } from './cloth/cloth';
import { CONCRETE } from './concrete';
import { GLASS } from './glass';
import { BRUSHED, SHEET_METAL } from './metal';
import { PLASTER } from './plaster';
import { CORK, HIDE, LINOLEUM } from './resilient';
import { LIMESTONE, SANDSTONE } from './bedded-stone';
import { GRANITE, MARBLE, SLATE } from './stone';
import { STUDDED } from './studded';
import { TERRAZZO } from './terrazzo/terrazzo';
import { TIMBER } from './timber/timber';
import { VARIATION } from './variation';

/** Every family of generated finishes. Adding one is adding it here. */
export const GENERATED_FAMILIES: readonly Family[] = [
  TERRAZZO,
  LIMESTONE,
  SANDSTONE,
  SLATE,
  MARBLE,
  GRANITE,
  TIMBER,
  PLASTER,
  CONCRETE,
  GLAZE,
  CLAY,
  CLOTH,
  BRUSHED,
  SHEET_METAL,
  GLASS,
  HIDE,
  LINOLEUM,
  STUDDED,
  CORK,
  VARIATION,
] as unknown as readonly Family[];

/** The family of a kind. @throws RangeError when there is none */
export function familyOf(kind: string): Family {
  const found = GENERATED_FAMILIES.find((f) => f.kind === kind);
  if (found) return found;
  throw new RangeError(
    `Nothing is generated as "${kind}". There are ${GENERATED_FAMILIES.map((f) => f.kind).join(', ')}.`,
  );
}
