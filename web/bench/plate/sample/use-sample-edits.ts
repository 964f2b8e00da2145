import { useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { Preparation } from '@jossel/core/sample';
import type { RulerLine } from '@jossel/core/size';
import type { PictureSource } from '@jossel/core/sources';
import { faultOfQuad, makeFrame, type Point, type Quad } from '@jossel/core/straighten';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { benchSlice } from '../../bench-slice';
import { useGeometryChange, usePictureChange } from '../../ledger/use-change';
import { newId } from '../../new-id';
import { infoOf } from '../../use-drawn';
import { sampleWorker } from '../../use-sample';
import { outcomeOf, type Drawn, type Hand } from './drawn';

type Part = Preparation['parts'][number];

/** Ends of a ruler line that lie closer are one place, in shares of the picture. */
const SAME_PLACE = 1e-5;

/** Changes of a sample that are made on the plate: dragged, drawn, or picked; what cannot be is said, and all stays as it was. */
export function useSampleEdits({
  recipe,
  source,
  sample,
  hand,
  drawing,
  partInHand,
  onLive,
}: {
  recipe: Recipe;
  source: PictureSource;
  sample: Sample;
  hand: Hand;
  /** What is drawn next; null: nothing. */
  drawing: Drawn | null;
  partInHand: Part | null;
  /** Settings while something is dragged; null when it is let go. */
  onLive: (settings: Preparation | null) => void;
}) {
  const dispatch = useAppDispatch();
  const dropper = useAppSelector((s) => s.bench.dropper);
  const changePreparation = useGeometryChange(recipe, source, sample, 'preparation');
  const changeSize = useGeometryChange(recipe, source, sample, 'size');
  const changeLight = usePictureChange(recipe, source, 'light');
  const saved = source.preparation;
  const [live, setLive] = useState<Preparation | null>(null);
  const [sentence, setSentence] = useState('');

  const move = (next: Preparation) => {
    setLive(next);
    onLive(next);
  };
  /** Takes a change over if it can be; says why not otherwise, and everything stays as it was. */
  const commit = (what: string, change: Partial<Preparation>) => {
    setLive(null);
    onLive(null);
    const next = { ...saved, ...change };
    try {
      for (const quad of [next.frame, ...next.areas.map((a) => a.corners)]) {
        const fault = quad && faultOfQuad(quad as Quad);
        if (fault) throw new RangeError(fault);
      }
      makeFrame(sample, { ...next, frame: next.frame as Quad | null });
    } catch (error) {
      setSentence((error as Error).message);
      return;
    }
    setSentence('');
    changePreparation(what, change);
  };

  function drawn(places: Point[]): void {
    if (places.length === 0 || drawing === null) return;
    if (drawing === 'parts') return pickColour(places.at(-1)!);
    try {
      const outcome = outcomeOf(drawing, hand, places);
      if (outcome.preparation) commit(outcome.what, outcome.preparation);
      if (outcome.size) {
        setSentence('');
        changeSize(outcome.what, outcome.size);
      }
      if (outcome.light) {
        setSentence('');
        changeLight(outcome.what, outcome.light);
      }
      if (outcome.bench) dispatch(benchSlice.actions.changed(outcome.bench));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      setSentence(error.message);
    }
  }

  function pickColour(at: Point): void {
    const add = dropper === 'add';
    sampleWorker()
      .labAt(infoOf(sample), at)
      .then(
        (lab) => {
          const pick = { at: [...at] as [number, number], lab, add };
          const parts = partInHand
            ? saved.parts.map((p) => (p.id === partInHand.id ? { ...p, picks: [...p.picks, pick] } : p))
            : [{ id: newId(), name: 'Part 1', picks: [pick], tolerance: 12, growMm: 0, softenMm: 0 }];
          setSentence('');
          changePreparation('colour of a part', { parts });
        },
        (error: Error) => setSentence(error.message),
      );
  }

  function putLine(line: RulerLine): void {
    if (Math.hypot(line.from[0] - line.to[0], line.from[1] - line.to[1]) < SAME_PLACE)
      return setSentence('A ruler line needs two different ends.');
    setSentence('');
    changeSize(`ruler line ${line.id}`, {
      lines: (source.size?.lines ?? []).map((l) => (l.id === line.id ? line : l)),
    });
  }

  return { live, sentence, move, commit, drawn, putLine };
}
