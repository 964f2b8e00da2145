import { Redo2, Undo2 } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import styled from 'styled-components';
import { namedSamples, type Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Preparation } from '@jossel/core/sample';
import { areaSizeMm } from '@jossel/core/size';
import { api, sentenceOf, type Finish, type Sample } from '../app/api';
import { settingsSlice } from '../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Button, Page, Quiet, Sentence } from '../controls/basics';
import { Choice } from '../controls/choice';
import { useAfterPaint } from '../controls/use-after-paint';
import { benchSlice, lookOf, type Look } from './bench-slice';
import { Checks } from './checks/Checks';
import { TitleBlock } from './checks/TitleBlock';
import { draftSlice } from './draft-slice';
import { geometryOf, usePictureInHand } from './picture-in-hand';
import { unsavedDraft } from './save-draft';
import { Ledger } from './ledger/Ledger';
import { BesideView } from './plate/BesideView';
import { Plate } from './plate/Plate';
import { SamplePlate } from './plate/SamplePlate';
import { StraightView } from './plate/StraightView';
import { WaysView } from './plate/WaysView';
import { FoldedProof } from './proof/FoldedProof';
import { useDrawn } from './use-drawn';
import { useGlare } from './use-glare';
import { useRepetition } from './use-repetition';
import { useStructure } from './use-structure';

const Proof = lazy(async () => ({ default: (await import('./proof/Proof')).Proof }));

const Sheet = styled.main`
  display: grid;
  min-height: 0;
  height: 100%;
  padding: 10px;
  gap: 0;
  grid-template-columns: var(--left) 8px minmax(280px, 1fr) 8px var(--right);
  &[data-filled] {
    grid-template-columns: minmax(0, 1fr);
  }
  &[data-filled='plate'] > :not(:nth-child(3)),
  &[data-filled='proof'] > :not(:nth-child(5)) {
    display: none;
  }
`;
const Column = styled.div`
  display: grid;
  min-height: 0;
  min-width: 0;
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.strong};
`;
const Divider = styled.div`
  cursor: col-resize;
  touch-action: none;
  display: grid;
  place-items: center;
  &::after {
    content: '';
    width: 2px;
    height: 28px;
    background: ${({ theme }) => theme.line};
  }
  &:hover::after,
  &:focus-visible::after {
    background: ${({ theme }) => theme.ink};
  }
`;
const Right = styled(Column)`
  grid-template-rows: minmax(200px, 1fr) auto auto;
  overflow: hidden;
  &[data-folded] {
    grid-template-rows: auto minmax(0, 1fr) auto;
    > section:nth-child(2) {
      max-height: none;
    }
  }
  [data-filled='proof'] > & {
    grid-template-rows: minmax(0, 1fr);
    > :not(:first-child) {
      display: none;
    }
  }
`;
const Tools = styled.div`
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 4px 8px;
  border-bottom: 1px solid ${({ theme }) => theme.line};
  min-height: 36px;
`;

/** The work on one finish, laid out as a drawing sheet. */
export function Bench() {
  const { id } = useParams() as { id: string };
  const { data: finish, error } = api.useFinishQuery(id, { refetchOnMountOrArgChange: true });
  // A finish that is open stays open while the server is away.
  if (error && finish?.id !== id) {
    return (
      <Page>
        <h1>This finish cannot be opened</h1>
        <Sentence>{sentenceOf(error)}</Sentence>
      </Page>
    );
  }
  return finish && finish.id === id ? <OpenBench key={id} finish={finish} /> : <Page>Opening …</Page>;
}

function OpenBench({ finish }: { finish: Finish }) {
  const dispatch = useAppDispatch();
  const draft = useAppSelector((s) => s.draft);
  const mine = draft.finishId === finish.id;
  const opened = useRef(false);
  useEffect(() => {
    // Opened once; later answers of the server must not undo what was typed meanwhile.
    if (opened.current && mine) return;
    opened.current = true;
    const unsaved = unsavedDraft(finish.id);
    dispatch(draftSlice.actions.opened({ finishId: finish.id, ...finish.draft, unsaved }));
  }, [dispatch, finish, mine]);
  useUndoKeys();

  const recipe = mine ? draft.recipe : null;
  const map = useAppSelector((s) => s.bench.map);
  const way = useAppSelector((s) => s.bench.way);
  const samples = useSamplesOf(finish, recipe);
  const drawing = useDrawn(recipe, samples, map, finish.category, way);
  // The plate is looked at while something is changed; all else follows it.
  const followed = useAfterPaint(drawing);
  const [left, setLeft] = useState(336);
  const [right, setRight] = useState(348);
  const bench = useAppSelector((s) => s.bench);
  const proofFolded = useAppSelector((s) => s.settings.proofFolded);
  // Who folds by keyboard goes on from there.
  const [foldedByHand, setFoldedByHand] = useState(false);
  const fold = useCallback(
    (folded: boolean) => {
      setFoldedByHand(true);
      dispatch(settingsSlice.actions.changed({ proofFolded: folded }));
    },
    [dispatch],
  );
  const source = usePictureInHand(recipe);
  const sample = samples.find((s) => s.id === source?.sampleId);
  const geometry = useMemo(
    () => (recipe && source && sample ? resolved(recipe, source, samples) : null),
    [recipe, source, sample, samples],
  );
  const [live, setLive] = useState<Preparation | null>(null);
  const search = useStructure(source, sample, bench.section === 'size' || bench.section === 'repeat');
  const onColour = bench.section === 'colour';
  const glare = useGlare(
    source,
    sample,
    geometry && 'frame' in geometry ? geometry.frame : null,
    onColour && bench.colourTool === 'light',
  );
  const repetition = useRepetition(
    recipe,
    samples,
    drawing,
    bench.lookedAtMm,
    bench.section === 'repeat' && bench.repeatTool === 'repetition',
  );
  const looked = lookOf(bench);
  const look = sample && geometry && 'frame' in geometry ? looked : 'repeat';
  const looks = useMemo(
    () =>
      sample && (
        <Choice<Look>
          hideLabel
          inline
          label="What the plate shows"
          value={look}
          options={LOOK_NAMES}
          onChange={(value) => dispatch(benchSlice.actions.changed({ look: value, drawing: null }))}
        />
      ),
    [sample, look, dispatch],
  );
  if (!recipe) return <Page>Opening …</Page>;
  const sentence = geometry && 'fault' in geometry ? geometry.fault : drawing.sentence;
  const straightens =
    bench.section === 'sample' && (bench.tool === 'frame' || bench.tool === 'areas') && sample;
  const compares = onColour && sample && geometry && 'frame' in geometry && bench.colourTool !== 'ways';
  const proves = !straightens && !compares;
  // The proof has the sheet only while there is one.
  const filled = bench.filled === 'proof' && (!proves || proofFolded) ? null : bench.filled;
  const areaInHand = bench.tool === 'areas' ? bench.selected : null;
  return (
    <Sheet
      data-filled={filled ?? undefined}
      style={{ '--left': `${left}px`, '--right': `${right}px` } as React.CSSProperties}
    >
      <Column style={{ gridTemplateRows: 'auto minmax(0, 1fr)' }}>
        <Tools role="toolbar" aria-label="Undo and saving">
          <Button
            weight="quiet"
            aria-label="Undo"
            isDisabled={draft.past.length === 0}
            onPress={() => dispatch(draftSlice.actions.undone())}
          >
            <Undo2 aria-hidden />
          </Button>
          <Button
            weight="quiet"
            aria-label="Redo"
            isDisabled={draft.future.length === 0}
            onPress={() => dispatch(draftSlice.actions.redone())}
          >
            <Redo2 aria-hidden />
          </Button>
          <Saving />
        </Tools>
        <Ledger
          finish={finish}
          recipe={recipe}
          samples={samples}
          drawing={followed}
          search={search}
          glare={glare}
          repetition={repetition}
        />
      </Column>
      <Drag label="Width of the ledger" value={left} min={260} max={460} sign={1} onChange={setLeft} />
      <Column>
        {look !== 'repeat' && sample && geometry && 'frame' in geometry ? (
          <SamplePlate
            key={source!.id}
            recipe={recipe}
            source={source!}
            sample={sample}
            geometry={geometry}
            look={look}
            looks={looks}
            structure={search.found}
            glare={glare.places}
            fit={followed.drawn?.report.calibration.target ?? null}
            onLive={setLive}
          />
        ) : onColour && bench.colourTool === 'ways' && way === null && recipe.colour.ways.length > 0 ? (
          <WaysView recipe={recipe} samples={samples} drawing={drawing} looks={looks} />
        ) : (
          <Plate recipe={recipe} drawing={drawing} repetition={repetition} looks={looks} />
        )}
      </Column>
      <Drag label="Width of the proof" value={right} min={280} max={820} sign={-1} onChange={setRight} />
      <Right data-folded={(proves && proofFolded) || undefined}>
        {straightens ? (
          <StraightView
            sample={sample}
            settings={live ?? source!.preparation}
            areaId={areaInHand}
            sizeMm={
              geometry && 'frame' in geometry
                ? sizeInHand(geometry, live ?? source!.preparation, areaInHand)
                : null
            }
          />
        ) : compares ? (
          <BesideView recipe={recipe} source={source!} samples={samples} drawn={followed.drawn} />
        ) : proofFolded ? (
          <FoldedProof onFold={fold} focused={foldedByHand} />
        ) : (
          <Suspense fallback={<Quiet style={{ padding: 12 }}>Setting up the proof …</Quiet>}>
            <Proof drawn={followed.drawn} onFold={fold} focused={foldedByHand} />
          </Suspense>
        )}
        <Checks checks={followed.drawn?.report.checks ?? null} sentence={sentence} />
        <TitleBlock finish={finish} recipe={recipe} report={followed.drawn?.report ?? null} />
      </Right>
    </Sheet>
  );
}

const LOOK_NAMES = [
  { value: 'received', name: 'as received' },
  { value: 'straight', name: 'straightened' },
  { value: 'repeat', name: 'repeat' },
] as const satisfies { value: Look; name: string }[];

/** The pictures of a finish, with those that were added since it was opened. */
function useSamplesOf(finish: Finish, recipe: Recipe | null): readonly Sample[] {
  const ids = useMemo(() => recipe && namedSamples(recipe), [recipe]);
  const missing = ids?.some((id) => !finish.samples.some((s) => s.id === id)) ?? false;
  const { data } = api.useSamplesQuery(undefined, { skip: !missing });
  return useMemo(
    () =>
      missing
        ? [
            ...finish.samples,
            ...(data?.items ?? []).filter(
              (s) => ids!.includes(s.id) && !finish.samples.some((o) => o.id === s.id),
            ),
          ]
        : finish.samples,
    [finish.samples, data, missing, ids],
  );
}

/** The geometry of a sample, or why there is none. */
function resolved(
  recipe: Recipe,
  source: PictureSource,
  samples: readonly Sample[],
): SampleGeometry | { fault: string } {
  try {
    return geometryOf(recipe, source, samples);
  } catch (error) {
    return { fault: (error as Error).message };
  }
}

/** Size of the frame, or of the area that is being worked on. */
function sizeInHand({ frame, size }: SampleGeometry, settings: Preparation, areaId: string | null) {
  const frameMm = { width: size.width.mm, height: size.height.mm };
  const area = settings.areas.find((a) => a.id === areaId);
  return area ? areaSizeMm(frame, frameMm, area.corners) : frameMm;
}

function useUndoKeys() {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z') return;
      // While text is being typed, the field's own undo is meant.
      const field = document.activeElement;
      if (field instanceof HTMLInputElement && field.type === 'text' && field.dataset['typing'] !== 'no')
        return;
      e.preventDefault();
      dispatch(e.shiftKey ? draftSlice.actions.redone() : draftSlice.actions.undone());
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [dispatch]);
}

/** A line between two columns that can be dragged or moved with the arrow keys. */
function Drag({
  label,
  value,
  min,
  max,
  sign,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  sign: 1 | -1;
  onChange: (value: number) => void;
}) {
  const limit = (v: number) => Math.min(max, Math.max(min, v));
  return (
    <Divider
      role="separator"
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      tabIndex={0}
      onPointerDown={(e) => {
        const start = e.clientX;
        const target = e.currentTarget;
        target.setPointerCapture(e.pointerId);
        target.onpointermove = (m) => onChange(limit(value + sign * (m.clientX - start)));
        target.onpointerup = () => (target.onpointermove = null);
      }}
      onKeyDown={(e) => {
        if (e.key === 'ArrowLeft') onChange(limit(value - sign * 16));
        if (e.key === 'ArrowRight') onChange(limit(value + sign * 16));
      }}
    />
  );
}

const Asking = styled.div.attrs({ role: 'alertdialog' })`
  position: fixed;
  left: 50%;
  top: 56px;
  transform: translateX(-50%);
  z-index: 5;
  width: min(520px, 90vw);
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  background: ${({ theme }) => theme.field};
  border: 2px solid ${({ theme }) => theme.mark};
`;

/** Says whether the work is saved; asks when another window saved the same finish. */
function Saving() {
  const { saving, sentence } = useAppSelector((s) => s.draft);
  const dispatch = useAppDispatch();
  if (saving === 'conflict') {
    return (
      <Asking aria-label="Changed somewhere else" aria-describedby="conflict-text">
        <p id="conflict-text">
          <strong>This draft was changed in another window or by somebody else.</strong> Both versions are
          kept, whichever you take: undo brings back the other one.
        </p>
        <div style={{ display: 'flex', gap: 8 }}>
          <Button weight="main" autoFocus onPress={() => dispatch(draftSlice.actions.mineKept())}>
            Keep this window’s
          </Button>
          <Button onPress={() => dispatch(draftSlice.actions.theirsTaken())}>Take the other one</Button>
        </div>
      </Asking>
    );
  }
  const words = { saved: 'saved', changed: 'saving …', saving: 'saving …', failed: 'not saved yet' }[saving];
  return (
    <Quiet role="status" title={sentence} style={{ marginLeft: 'auto', fontSize: 12 }}>
      {words}
      {saving === 'failed' && `: ${sentence}`}
    </Quiet>
  );
}
