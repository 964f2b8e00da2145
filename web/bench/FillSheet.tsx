import { Maximize2, Minimize2 } from 'lucide-react';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Button } from '../controls/basics';
import { withKey } from './keys/bench-keys';
import { benchSlice, type BenchState } from './bench-slice';

/** Gives the whole sheet to one view, and takes it back. */
export function FillSheet({ view }: { view: NonNullable<BenchState['filled']> }) {
  const dispatch = useAppDispatch();
  const fills = useAppSelector((s) => s.bench.filled) === view;
  const words = fills ? 'Back to the sheet' : `Fill the sheet with the ${view}`;
  return (
    <Button
      weight="icon"
      aria-label={words}
      tip={withKey(words, view === 'plate' ? 'p' : 'o')}
      onPress={() => dispatch(benchSlice.actions.changed({ filled: fills ? null : view }))}
    >
      {fills ? <Minimize2 aria-hidden /> : <Maximize2 aria-hidden />}
    </Button>
  );
}
