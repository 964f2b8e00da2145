import { leadGeometry, leadingPicture, type Recipe } from '@jossel/core/finish';
import { sampleGeometry, type PictureSource, type SampleGeometry } from '@jossel/core/sources';
import { NO_SIZE, type SizeSettings } from '@jossel/core/size';
import { useAppSelector } from '../app/store';
import type { Sample } from '../app/api';

/** Of several pictures of a finish, the one that is straightened, marked, sized and levelled. */

/** The picture in hand: the one that was chosen, else the one that leads the repeat. */
export const pictureInHand = (recipe: Recipe, sourceId: string | null): PictureSource | undefined =>
  recipe.sources.find((s) => s.id === sourceId) ?? leadingPicture(recipe);

export function usePictureInHand(recipe: Recipe | null): PictureSource | undefined {
  const sourceId = useAppSelector((s) => s.bench.sourceId);
  return recipe ? pictureInHand(recipe, sourceId) : undefined;
}

/** The area of a picture that the repeat is made from first; null: its whole frame. */
export const usedAreaOf = ({ repeat }: Pick<Recipe, 'repeat'>, { id }: Pick<PictureSource, 'id'>) =>
  repeat.from.find((place) => place.source === id)?.area ?? null;

/**
 * Frame, size and used part of a picture of a finish.
 * @param samples those of the finish
 * @throws Refusal when corners, lines or marks cannot be
 */
export function geometryOf(
  recipe: Recipe,
  source: PictureSource,
  samples: readonly Sample[],
): SampleGeometry {
  const shape = (sampleId: string) => samples.find((s) => s.id === sampleId)!;
  const first = leadingPicture(recipe)!;
  const lead = source.size ? undefined : leadGeometry(recipe, shape(first.sampleId)).size;
  return sampleGeometry(source, usedAreaOf(recipe, source), shape(source.sampleId), lead);
}

/** A recipe in which one of its pictures is changed. */
export const withSource = (recipe: Recipe, id: string, change: Partial<PictureSource>): Recipe => ({
  ...recipe,
  sources: recipe.sources.map((s) => (s.id === id ? { ...s, ...change } : s)),
});

/** A recipe whose repeat is made from another area of a picture than before. */
export const withUsedArea = (recipe: Recipe, id: string, area: string | null): Recipe => {
  const { from } = recipe.repeat;
  const at = from.findIndex((place) => place.source === id);
  const next =
    at < 0 ? [...from, { source: id, area }] : from.map((p, k) => (k === at ? { source: id, area } : p));
  // The same area is not joined with itself.
  const unlike = next.filter(
    (p, k) => next.findIndex((o) => o.source === p.source && o.area === p.area) === k,
  );
  return { ...recipe, repeat: { ...recipe.repeat, from: unlike } };
};

/** The size of a picture with a target card that was found on it. One whose pixels were as large as those of another now has a size by it. */
export function sizeWithCard(
  size: SizeSettings | null,
  found: readonly (readonly [number, number])[],
): SizeSettings {
  const card = { marks: found.map((m) => [...m]) as never };
  return size ? { ...size, card } : { ...NO_SIZE, ruling: { across: 'card', up: 'card' }, card };
}
