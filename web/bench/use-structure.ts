import { useEffect, useRef, useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { FoundStructure } from '@jossel/core/size';
import type { Sample } from '../app/api';
import { infoOf } from './use-drawn';
import { sampleWorker } from './use-sample';

export interface StructureSearch {
  found: FoundStructure | null;
  busy: boolean;
  sentence: string;
}

/** Looks for the structure of the straightened sample while it is wanted; again when the frame or the keep-outs change. */
export function useStructure(
  recipe: Recipe | null,
  sample: Sample | undefined,
  wanted: boolean,
): StructureSearch {
  const [state, setState] = useState<StructureSearch>({ found: null, busy: false, sentence: '' });
  const done = useRef('');
  const key =
    recipe && sample
      ? JSON.stringify([sample.id, recipe.sample.bowLines, recipe.sample.frame, recipe.sample.keepOuts])
      : '';
  const now = useRef({ recipe, sample });
  now.current = { recipe, sample };
  useEffect(() => {
    const { recipe: r, sample: s } = now.current;
    if (!wanted || !r || !s || done.current === key) return;
    let gone = false;
    setState((before) => ({ ...before, busy: true, sentence: '' }));
    sampleWorker()
      .structure(infoOf(s), {
        bowLines: r.sample.bowLines,
        frame: r.sample.frame,
        keepOuts: r.sample.keepOuts,
      })
      .then(
        (found) => {
          if (gone) return;
          done.current = key;
          setState({ found, busy: false, sentence: '' });
        },
        (error: Error) => !gone && setState({ found: null, busy: false, sentence: error.message }),
      );
    return () => {
      gone = true;
    };
  }, [key, wanted]);
  return state;
}
