import { wrap, type Remote } from 'comlink';
import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useMemo, useState } from 'react';
import { finishSizeMm, leadingPicture, mapsOf, neededSamples, type Recipe } from '@jossel/core/finish';
import { NO_HAND } from '@jossel/core/light';
import { api, type Finish } from '../../app/api';
import type { Drawn, RenderWorker } from '../../workers/render.worker';
import type { Compared } from '../bench-slice';
import { FULL_PX, infoOf, widthForLongSide } from '../use-drawn';
import type { Subject } from './material';

let remote: Remote<RenderWorker> | null = null;
/** A worker of its own: what is compared does not push out what is being changed. */
const compareWorker = (): Remote<RenderWorker> =>
  (remote ??= wrap<RenderWorker>(
    new Worker(new URL('../../workers/render.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** What a finish is compared with, once it is drawn. */
export interface ComparedSubject extends Subject {
  name: string;
}

interface Wanted {
  name: string;
  recipe: Recipe;
  way: string | null;
  category: string;
}

/** The recipe that is compared; null: it is not there yet, or nothing is compared. */
function useWanted(compared: Compared | null, finish: Finish, recipe: Recipe): Wanted | null {
  const letter = compared?.kind === 'revision' ? compared.letter : null;
  const other = compared?.kind === 'finish' ? compared.id : null;
  const { data: revision } = api.useRevisionQuery(letter ? { id: finish.id, letter } : skipToken);
  const { data: of } = api.useFinishQuery(other ?? skipToken);
  return useMemo((): Wanted | null => {
    const { category, name } = finish;
    switch (compared?.kind) {
      case 'sample': {
        const colour = { ...recipe.colour, ruling: 'picture' as const, hand: NO_HAND };
        return { name: 'sample as pictured', recipe: { ...recipe, colour }, way: null, category };
      }
      case 'way': {
        const way = recipe.colour.ways.find(({ id }) => id === compared.id);
        return way ? { name: way.name, recipe, way: way.id, category } : null;
      }
      case 'revision':
        return revision ? { name: `${name} ${letter}`, recipe: revision.recipe, way: null, category } : null;
      case 'finish':
        return of ? { name: of.name, recipe: of.draft.recipe, way: null, category: of.category } : null;
      default:
        return null;
    }
  }, [compared, finish, recipe, revision, of, letter]);
}

/** What the proof is compared with, drawn; with a sentence where it cannot be. */
export function useCompared(
  compared: Compared | null,
  finish: Finish,
  recipe: Recipe,
): { subject: ComparedSubject | null; sentence: string } {
  const wanted = useWanted(compared, finish, recipe);
  const { data: all } = api.useSamplesQuery(wanted ? undefined : skipToken);
  const [made, setMade] = useState<{ of: Wanted; drawn: Drawn } | { of: Wanted; sentence: string } | null>(
    null,
  );
  useEffect(() => {
    if (!wanted || !all) return;
    let left = false;
    const needed = neededSamples(wanted.recipe);
    const samples = all.items.filter(({ id }) => needed.includes(id));
    const lead = samples.find(({ id }) => id === leadingPicture(wanted.recipe)?.sampleId);
    const draw = async () => {
      if (!lead) throw new Error(`${wanted.name}: its sample is not in this studio any more.`);
      const widthPx = widthForLongSide(finishSizeMm(wanted.recipe, lead), FULL_PX);
      const maps = mapsOf(wanted.recipe);
      return compareWorker().draw(
        wanted.recipe,
        samples.map(infoOf),
        widthPx,
        maps,
        wanted.category,
        wanted.way,
        0,
      );
    };
    draw().then(
      (drawn) => drawn && !left && setMade({ of: wanted, drawn }),
      (error: Error) => !left && setMade({ of: wanted, sentence: error.message }),
    );
    return () => {
      left = true;
    };
  }, [wanted, all]);
  return useMemo(() => {
    if (!wanted || made?.of !== wanted) return { subject: null, sentence: '' };
    if ('sentence' in made) return { subject: null, sentence: made.sentence };
    const subject = { drawn: made.drawn, response: wanted.recipe.response, name: wanted.name };
    return { subject, sentence: '' };
  }, [wanted, made]);
}
