import { mapsOf, type Recipe } from '@jossel/core/finish';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { benchSlice } from '../bench-slice';
import { focusField, placeOf } from '../checks/places';
import type { OpenChecks } from '../checks/use-checks';
import { draftSlice } from '../draft-slice';
import { plateInView } from './plate-in-view';
import { useBenchKeys } from './use-bench-keys';

/** The keys of the Bench. @param showSheet shows what they are */
export function useKeysOnBench(recipe: Recipe, checks: OpenChecks, showSheet: () => void): void {
  const dispatch = useAppDispatch();
  const bench = useAppSelector((s) => s.bench);
  useBenchKeys({
    bench,
    maps: mapsOf(recipe),
    get plate() {
      return plateInView();
    },
    change: (change) => dispatch(benchSlice.actions.changed(change)),
    undo: () => dispatch(draftSlice.actions.undone()),
    redo: () => dispatch(draftSlice.actions.redone()),
    toFirstCheck: () => {
      const first = checks.checks?.[0];
      if (!first) return;
      const { state, field } = placeOf(first);
      dispatch(benchSlice.actions.changed(state));
      focusField(field);
    },
    showSheet,
  });
}
