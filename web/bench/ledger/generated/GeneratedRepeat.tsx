import { useEffect } from 'react';
import type { Recipe } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Quiet } from '../../../controls/basics';
import { benchSlice } from '../../bench-slice';
import type { DrawnOf } from '../../use-drawn';
import type { RepetitionSearch } from '../../use-repetition';
import { RepetitionPanel } from '../repeat/RepetitionPanel';

/** The repeat of a generated finish closes by itself; what can still give it away are its telltales. */
export function GeneratedRepeat({
  recipe,
  drawn,
  repetition,
}: {
  recipe: Recipe;
  drawn: DrawnOf | null;
  repetition: RepetitionSearch;
}) {
  const tool = useAppSelector((s) => s.bench.repeatTool);
  const dispatch = useAppDispatch();
  useEffect(() => {
    if (tool !== 'repetition') dispatch(benchSlice.actions.changed({ repeatTool: 'repetition' }));
  }, [tool, dispatch]);
  const seam = drawn?.report.seam;
  return (
    <>
      <Quiet>
        It closes by itself.
        {seam &&
          ` Contrast across its edges over that inside: ${printNumber(seam.acrossWidth, 2)} and ${printNumber(seam.acrossHeight, 2)}.`}{' '}
        Its size is set under Size.
      </Quiet>
      <RepetitionPanel recipe={recipe} drawn={drawn} repetition={repetition} />
    </>
  );
}
