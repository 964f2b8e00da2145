import { useMemo } from 'react';
import type { Preparation } from '@jossel/core/sample';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Guarded } from '../../app/Guarded';
import { Choice } from '../../controls/choice';
import { benchSlice, lookOf, type Look } from '../bench-slice';
import { Plate } from '../plate/Plate';
import { SamplePlate } from '../plate/sample/SamplePlate';
import { WaysView } from '../plate/WaysView';
import { useFollowed, useOnPlate } from './drawings';
import { useFindings } from './findings';
import { useInHand } from './in-hand';

/** The plate: the sample that is prepared, the repeat, or the colourways side by side. */
export function PlateColumn({ onLive }: { onLive: (settings: Preparation | null) => void }) {
  const { recipe, sample, geometry } = useInHand();
  const section = useAppSelector((s) => s.bench.section);
  const map = useAppSelector((s) => s.bench.map);
  const wanted = useAppSelector((s) => lookOf(s.bench));
  const look = sample && geometry ? wanted : 'repeat';
  return (
    <Guarded name="The plate" shows={[recipe, section, look, map]}>
      {look === 'repeat' ? <RepeatOnPlate /> : <SampleOnPlate look={look} onLive={onLive} />}
    </Guarded>
  );
}

const LOOK_NAMES = [
  { value: 'received', name: 'as received' },
  { value: 'straight', name: 'straightened' },
  { value: 'repeat', name: 'repeat' },
] as const satisfies { value: Look; name: string }[];

/** The choice of what the plate shows; none: there is no sample. */
function useLooks(look: Look) {
  const dispatch = useAppDispatch();
  const hasSample = useInHand().sample !== undefined;
  return useMemo(
    () =>
      hasSample ? (
        <Choice<Look>
          hideLabel
          inline
          label="What the plate shows"
          value={look}
          options={LOOK_NAMES}
          onChange={(value) => dispatch(benchSlice.actions.changed({ look: value, drawing: null }))}
        />
      ) : undefined,
    [hasSample, look, dispatch],
  );
}

function SampleOnPlate({
  look,
  onLive,
}: {
  look: Exclude<Look, 'repeat'>;
  onLive: (settings: Preparation | null) => void;
}) {
  const { recipe, source, sample, geometry } = useInHand();
  const { structure, glare } = useFindings();
  const { drawn } = useFollowed();
  return (
    <SamplePlate
      key={source!.id}
      recipe={recipe}
      source={source!}
      sample={sample!}
      geometry={geometry!}
      look={look}
      looks={useLooks(look)}
      structure={structure.found}
      glare={glare.places}
      fit={drawn?.report.calibration.target ?? null}
      onLive={onLive}
    />
  );
}

function RepeatOnPlate() {
  const { finish, recipe, samples } = useInHand();
  const { shown, drawing } = useOnPlate();
  const { repetition, pieces } = useFindings();
  const looks = useLooks('repeat');
  const choosesWay = useAppSelector(
    ({ bench }) => bench.section === 'colour' && bench.colourTool === 'ways' && bench.way === null,
  );
  if (choosesWay && recipe.colour.ways.length > 0)
    return <WaysView recipe={recipe} samples={samples} drawing={drawing} looks={looks} />;
  return (
    <Plate
      finishId={finish.id}
      recipe={recipe}
      drawnFrom={shown}
      drawing={drawing}
      repetition={repetition}
      pieces={pieces}
      looks={looks}
    />
  );
}
