import { hatchDxf, hatchSvg } from '@jossel/core/formats';
import {
  initialLayout,
  BONDS,
  hatchOf,
  kindNames,
  layoutSizeMm,
  solveLayoutInTurns,
  takeOffOfField,
  describeLayout,
  type HatchDetail,
  type LayoutSettings,
  type SettingOutPoint,
  type SolvedLayout,
} from '@jossel/core/layout';
import { setImmediate } from 'node:timers/promises';
import { z } from 'zod';
import { Problem } from '../problem';
import type { Context } from './context';
import { recipeOf } from './recipes';

/** Layouts as geometry: pieces, line hatches, and the bonds there are. */

async function layoutOf(
  context: Context,
  id: string,
  revision: string | undefined,
): Promise<{ layout: LayoutSettings; solved: SolvedLayout }> {
  const { recipe } = await recipeOf(context, id, revision);
  const { layout } = recipe;
  if (!layout)
    throw new Problem(
      409,
      'No layout',
      'This finish is not laid of pieces. Choose a bond under Layout first.',
    );
  try {
    // Others are answered meanwhile: a wall of thousands of fitted stones takes a minute.
    return { layout, solved: await solveLayoutInTurns(layout, setImmediate) };
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'Cannot be laid', error.message);
    throw error;
  }
}

/** A field to be counted, as far as one is asked for. */
export interface AskedField {
  fieldWidthMm?: number | undefined;
  fieldHeightMm?: number | undefined;
  settingOutPoint: SettingOutPoint;
}

export async function layoutJson(
  context: Context,
  id: string,
  { revision, fieldWidthMm, fieldHeightMm, settingOutPoint }: AskedField & { revision?: string | undefined },
) {
  const { layout, solved } = await layoutOf(context, id, revision);
  const described = describeLayout(layout, solved);
  if (fieldWidthMm === undefined && fieldHeightMm === undefined) return described;
  if (fieldWidthMm === undefined || fieldHeightMm === undefined)
    throw new Problem(422, 'Not a field', 'A field has a fieldWidthMm and a fieldHeightMm.');
  try {
    const size = { width: fieldWidthMm, height: fieldHeightMm };
    return { ...described, field: takeOffOfField(solved.geometry, size, settingOutPoint) };
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'Not a field', error.message);
    throw error;
  }
}

export async function hatch(
  context: Context,
  id: string,
  format: 'svg' | 'dxf',
  { detail, revision }: { detail: HatchDetail; revision?: string | undefined },
): Promise<string> {
  const { layout, solved } = await layoutOf(context, id, revision);
  const lines = hatchOf(solved.geometry, solved.kindOf, detail);
  return format === 'svg'
    ? hatchSvg(lines, solved.geometry.repeatMm, kindNames(layout))
    : hatchDxf(lines, kindNames(layout));
}

/** Every bond with its settings and a default layout, which closes. */
export const bonds = () =>
  BONDS.map(({ kind, name, family, settings, sized, random }) => {
    const begin = initialLayout(kind);
    return {
      kind,
      name,
      family,
      sized,
      random,
      settings: z.toJSONSchema(settings, { io: 'input' }),
      begin,
      repeatMm: layoutSizeMm(begin),
    };
  });
