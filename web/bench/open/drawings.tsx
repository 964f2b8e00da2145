import { useMemo } from 'react';
import type { Recipe } from '@jossel/core/finish';
import { useAppSelector } from '../../app/store';
import { useAfterPaint } from '../../controls/use-after-paint';
import { useDrawn, type Drawing } from '../use-drawn';
import { concern } from './concern';
import { useInHand } from './in-hand';
import { recipeShown } from './recipe-shown';

/** What the plate shows of the finish. */
export interface OnPlate {
  /** The recipe that is drawn: the open section may leave something out of it. */
  shown: Recipe;
  drawing: Drawing;
}

const [OnPlateProvider, useOnPlate] = concern<OnPlate>('picture');
const [FollowedProvider, useFollowed] = concern<Drawing>('picture');

/** `useOnPlate`: the drawing as it is. `useFollowed`: two frames later, for all that must not hold up the plate. */
export { useFollowed, useOnPlate };

/** Draws the finish in hand for the views within. */
export function DrawingsProvider({ children }: { children: React.ReactNode }) {
  const { finish, recipe, samples } = useInHand();
  const section = useAppSelector((s) => s.bench.section);
  const alone = useAppSelector((s) => s.bench.alone);
  const beforeWeathering = useAppSelector((s) => s.bench.beforeWeathering);
  const map = useAppSelector((s) => s.bench.map);
  const way = useAppSelector((s) => s.bench.way);
  const shown = useMemo(
    () => recipeShown(recipe, { section, alone, beforeWeathering }),
    [recipe, section, alone, beforeWeathering],
  );
  const drawing = useDrawn(shown, samples, map, finish.category, way);
  const onPlate = useMemo(() => ({ shown, drawing }), [shown, drawing]);
  return (
    <OnPlateProvider value={onPlate}>
      <FollowedProvider value={useAfterPaint(drawing)}>{children}</FollowedProvider>
    </OnPlateProvider>
  );
}
