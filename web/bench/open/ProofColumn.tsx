import { lazy, Suspense, useCallback, useState } from 'react';
import type { Preparation } from '@jossel/core/sample';
import { areaSizeMm } from '@jossel/core/size';
import type { SampleGeometry } from '@jossel/core/sources';
import { Guarded } from '../../app/Guarded';
import { settingsSlice } from '../../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Quiet } from '../../controls/basics';
import { Checks } from '../checks/Checks';
import { TitleBlock } from '../checks/TitleBlock';
import { BesideView } from '../plate/BesideView';
import { StraightView } from '../plate/StraightView';
import { FoldedProof } from '../proof/FoldedProof';
import { useFollowed, useOnPlate } from './drawings';
import { useOpenChecks } from './findings';
import { useInHand } from './in-hand';

const Proof = lazy(async () => ({ default: (await import('../proof/Proof')).Proof }));

/** What stands in the place of the proof: what the section and tool in hand are judged by. */
export type Judged = 'straightened' | 'beside' | 'proof';

export function useJudged(): Judged {
  const { sample, geometry } = useInHand();
  const section = useAppSelector((s) => s.bench.section);
  const tool = useAppSelector((s) => s.bench.tool);
  const colourTool = useAppSelector((s) => s.bench.colourTool);
  if (section === 'sample' && (tool === 'frame' || tool === 'areas') && sample) return 'straightened';
  if (section === 'colour' && sample && geometry && colourTool !== 'ways') return 'beside';
  return 'proof';
}

/** The proof, the checks and the title block. */
export function ProofColumn({
  judged,
  live,
}: {
  judged: Judged;
  /** The preparation of the sample while it is dragged; null: it is not. */
  live: Preparation | null;
}) {
  const { finish, recipe } = useInHand();
  const { drawn } = useFollowed();
  const section = useAppSelector((s) => s.bench.section);
  const form = useAppSelector((s) => s.bench.form);
  return (
    <>
      <Guarded name="The proof" shows={[recipe, section, form]}>
        {judged === 'straightened' ? (
          <Straightened live={live} />
        ) : judged === 'beside' ? (
          <Beside />
        ) : (
          <OnForm />
        )}
      </Guarded>
      <Guarded name="The list of checks" shows={[recipe, drawn]}>
        <Checks {...useOpenChecks()} />
      </Guarded>
      <Guarded name="The title block" shows={[recipe, drawn]}>
        <TitleBlock finish={finish} recipe={recipe} report={drawn?.report ?? null} />
      </Guarded>
    </>
  );
}

function Straightened({ live }: { live: Preparation | null }) {
  const { source, sample, geometry } = useInHand();
  const areaId = useAppSelector(({ bench }) => (bench.tool === 'areas' ? bench.selected : null));
  const settings = live ?? source!.preparation;
  return (
    <StraightView
      sample={sample!}
      settings={settings}
      areaId={areaId}
      sizeMm={geometry && sizeOf(geometry, settings, areaId)}
    />
  );
}

/** Size of the frame, or of the area that is being worked on. */
function sizeOf({ frame, size }: SampleGeometry, settings: Preparation, areaId: string | null) {
  const frameMm = { width: size.width.mm, height: size.height.mm };
  const area = settings.areas.find((a) => a.id === areaId);
  return area ? areaSizeMm(frame, frameMm, area.corners) : frameMm;
}

function Beside() {
  const { recipe, source, samples } = useInHand();
  const { drawn } = useFollowed();
  return <BesideView recipe={recipe} source={source!} samples={samples} drawn={drawn} />;
}

function OnForm() {
  const dispatch = useAppDispatch();
  const { finish } = useInHand();
  const { shown, drawing } = useOnPlate();
  const { drawn } = useFollowed();
  const folded = useAppSelector((s) => s.settings.proofFolded);
  // Who folds by keyboard goes on from there.
  const [foldedByHand, setFoldedByHand] = useState(false);
  const fold = useCallback(
    (proofFolded: boolean) => {
      setFoldedByHand(true);
      dispatch(settingsSlice.actions.changed({ proofFolded }));
    },
    [dispatch],
  );
  if (folded) return <FoldedProof onFold={fold} focused={foldedByHand} />;
  return (
    <Suspense fallback={<Quiet style={{ padding: 12 }}>Setting up the proof …</Quiet>}>
      <Proof
        finish={finish}
        drawn={drawn}
        isBehind={drawn?.recipe !== shown && !drawing.sentence}
        onFold={fold}
        focused={foldedByHand}
      />
    </Suspense>
  );
}
