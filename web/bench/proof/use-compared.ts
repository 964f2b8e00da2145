import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useMemo, useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import { NO_HAND } from '@jossel/core/light';
import { api, type Finish } from '../../app/api';
import type { Drawn } from '../../workers/render.worker';
import type { Compared } from '../bench-slice';
import { drawOther, type OtherFinish } from '../draw-other';
import type { Subject } from './material';

/** What a finish is compared with, once it is drawn. */
export interface ComparedSubject extends Subject {
  name: string;
}

/** The recipe that is compared; null: it is not there yet, or nothing is compared. */
function useWanted(compared: Compared | null, finish: Finish, recipe: Recipe): OtherFinish | null {
  const letter = compared?.kind === 'revision' ? compared.letter : null;
  const other = compared?.kind === 'finish' ? compared.id : null;
  const { data: revision } = api.useRevisionQuery(letter ? { id: finish.id, letter } : skipToken);
  const { data: of } = api.useFinishQuery(other ?? skipToken);
  return useMemo((): OtherFinish | null => {
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
        return revision
          ? {
              name: `${name} ${letter}`,
              recipe: revision.recipe,
              way: null,
              category,
              versions: revision.versions,
            }
          : null;
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
  const [made, setMade] = useState<
    { of: OtherFinish; drawn: Drawn } | { of: OtherFinish; sentence: string } | null
  >(null);
  useEffect(() => {
    if (!wanted || !all) return;
    let left = false;
    drawOther(wanted, all.items).then(
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
