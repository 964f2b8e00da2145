import { useEffect, useRef, useState } from 'react';
import type { PictureSource } from '@jossel/core/sources';
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
  source: PictureSource | undefined,
  sample: Sample | undefined,
  wanted: boolean,
): StructureSearch {
  const [state, setState] = useState<StructureSearch>({ found: null, busy: false, sentence: '' });
  const done = useRef('');
  const key =
    source && sample
      ? JSON.stringify([
          sample.id,
          source.preparation.bowLines,
          source.preparation.frame,
          source.preparation.keepOuts,
        ])
      : '';
  const now = useRef({ source, sample });
  now.current = { source, sample };
  useEffect(() => {
    const { source: of, sample: s } = now.current;
    if (!wanted || !of || !s || done.current === key) return;
    let gone = false;
    setState((before) => ({ ...before, busy: true, sentence: '' }));
    sampleWorker()
      .structure(infoOf(s), of.preparation)
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
