import { useMemo } from 'react';
import type { FinishPieces } from '@jossel/core/finish';
import { useAppSelector } from '../../app/store';
import { useChecks, type OpenChecks } from '../checks/use-checks';
import { useGlare, type GlareSearch } from '../use-glare';
import { usePieces } from '../use-pieces';
import { useRepetition, type RepetitionSearch } from '../use-repetition';
import { useStructure, type StructureSearch } from '../use-structure';
import { concern } from './concern';
import { useFollowed, useOnPlate } from './drawings';
import { useInHand } from './in-hand';

/** What was looked for in the sample and in the drawn finish. */
export interface Findings {
  structure: StructureSearch;
  glare: GlareSearch;
  repetition: RepetitionSearch;
  /** Null: not known, or the finish has none. */
  pieces: FinishPieces | null;
}

const [Provider, useFindings] = concern<Findings>('findings');
const [ChecksProvider, useOpenChecks] = concern<OpenChecks>('checks');
export { useFindings, useOpenChecks };

/** Looks for what the open section needs, and checks the finish in hand. */
export function FindingsProvider({ children }: { children: React.ReactNode }) {
  const { recipe, samples, source, sample, geometry, fault, leading } = useInHand();
  const { shown, drawing } = useOnPlate();
  const followed = useFollowed();
  const section = useAppSelector((s) => s.bench.section);
  const colourTool = useAppSelector((s) => s.bench.colourTool);
  const repeatTool = useAppSelector((s) => s.bench.repeatTool);
  const lookedAtMm = useAppSelector((s) => s.bench.lookedAtMm);
  // Looked for when it is worked with, and once the picture stands, so that a structure that is cut is pointed out.
  const wantsStructure = section === 'size' || section === 'repeat' || followed.drawn?.recipe === shown;
  const structure = useStructure(source, sample, wantsStructure);
  const wantsGlare = section === 'colour' && colourTool === 'light';
  const glare = useGlare(source, sample, geometry?.frame ?? null, wantsGlare);
  const wantsRepetition = section === 'repeat' && repeatTool === 'repetition';
  const repetition = useRepetition(recipe, samples, drawing, lookedAtMm, wantsRepetition);
  const pieces = usePieces(shown, samples, followed);
  const leads = source !== undefined && source.id === leading.source?.id;
  const checks = useChecks(
    shown,
    samples,
    followed,
    leads ? structure : NO_SEARCH,
    // Where pieces are laid, those that the sample shows say nothing of the finish.
    shown.layout ? null : pieces,
    fault || drawing.sentence,
  );
  const findings = useMemo(
    () => ({ structure, glare, repetition, pieces }),
    [structure, glare, repetition, pieces],
  );
  return (
    <Provider value={findings}>
      <ChecksProvider value={checks}>{children}</ChecksProvider>
    </Provider>
  );
}

const NO_SEARCH: StructureSearch = { found: null, busy: false, sentence: '' };
