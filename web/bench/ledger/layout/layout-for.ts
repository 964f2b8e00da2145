import { leadingPicture, usableAreas, type Recipe } from '@jossel/core/finish';
import { leavesOf, type GeneratedSettings } from '@jossel/core/generate';
import { initialLayout, initialBond, type LayoutSettings } from '@jossel/core/layout';
import type { SampleGeometry } from '@jossel/core/sources';
import { areaSizeMm } from '@jossel/core/size';
import { figure } from '@jossel/core/units';

/** A bond's own settings with its lengths in proportion to the pieces. */
function bondFor(kind: string, longestMm: number): LayoutSettings['bond'] {
  const { piece } = initialLayout(kind);
  const scale = longestMm / Math.max(piece.lengthMm.value, piece.widthMm.value);
  const bond = initialBond(kind);
  for (const [name, value] of Object.entries(bond))
    if (name.endsWith('Mm') && typeof value === 'number') bond[name] = Number((value * scale).toPrecision(3));
  return bond;
}

/** A layout in another bond: pieces and joints stay, what belongs to the bond begins anew. */
export function layoutFor(kind: string, layout: LayoutSettings | null): LayoutSettings {
  if (!layout) return initialLayout(kind);
  const { lengthMm, widthMm } = layout.piece;
  return { ...layout, bond: bondFor(kind, Math.max(lengthMm.value, widthMm.value)) };
}

/** The smallest of the areas that are picked in the leading picture, mm; null: none is. */
function smallestArea(
  recipe: Recipe,
  { frame, size }: SampleGeometry,
): { long: number; short: number; standing: boolean } | null {
  const frameMm = { width: size.width.mm, height: size.height.mm };
  const lead = leadingPicture(recipe);
  const sizes = (lead ? usableAreas(lead) : []).map(({ corners }) => areaSizeMm(frame, frameMm, corners));
  if (sizes.length === 0) return null;
  return {
    long: Math.min(...sizes.map((s) => Math.max(s.width, s.height))),
    short: Math.min(...sizes.map((s) => Math.min(s.width, s.height))),
    standing: sizes[0]!.height > sizes[0]!.width,
  };
}

/** Courses that a first floor of picked boards has, and its width in boards. */
const FIRST = { courses: 12, lengths: 3 };

/** The first layout of a generated finish: pieces as wide as its leaves are cut from them, one from each. */
function ofLeaves(kind: string, initial: LayoutSettings, generated: GeneratedSettings): LayoutSettings {
  const leaves = leavesOf(generated);
  const leaf = leaves[0];
  if (!leaf) return initial;
  const { lengthMm, widthMm } = initial.piece;
  // A piece keeps its proportions where the leaf is long enough for them.
  const long = Math.min(leaf.width, (lengthMm.value / widthMm.value) * leaf.height);
  const rounded = (mm: number) => figure(Math.floor(10 * mm) / 10, 'mm', 'inferred');
  return {
    ...initial,
    bond: bondFor(kind, long),
    piece: { lengthMm: rounded(long), widthMm: rounded(leaf.height) },
    repeatMm: { width: Math.round(FIRST.lengths * long), height: Math.round(FIRST.courses * leaf.height) },
    faces: { ...initial.faces, from: 'areas' },
  };
}

/** The first layout of a finish: where areas are picked, its pieces are as large as they are and cut from them. */
export function firstLayout(kind: string, recipe: Recipe, geometry: SampleGeometry | null): LayoutSettings {
  const initial = initialLayout(kind);
  if (recipe.generated) return ofLeaves(kind, initial, recipe.generated);
  const area = geometry && smallestArea(recipe, geometry);
  if (!geometry || !area) return initial;
  const rounded = (mm: number) => figure(Math.floor(10 * mm) / 10, 'mm', 'inferred');
  return {
    ...initial,
    bond: bondFor(kind, area.long),
    piece: { lengthMm: rounded(area.long), widthMm: rounded(area.short) },
    repeatMm: {
      width: Math.round(FIRST.lengths * area.long),
      height: Math.round(FIRST.courses * area.short),
    },
    faces: { ...initial.faces, from: 'areas', grainDeg: area.standing ? 90 : 0 },
  };
}
