import { Keyboard, Redo2, Undo2 } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { leadingPicture, namedSamples, unlaid, type Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Preparation } from '@jossel/core/sample';
import { areaSizeMm } from '@jossel/core/size';
import { api, type Finish, type Sample } from '../app/api';
import { Fault } from '../app/Fault';
import { Guarded } from '../app/Guarded';
import { settingsSlice } from '../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Button, Page, Quiet } from '../controls/basics';
import { Choice } from '../controls/choice';
import { useAfterPaint } from '../controls/use-after-paint';
import { benchSlice, lookOf, type Look } from './bench-slice';
import { ColumnDivider } from './ColumnDivider';
import { Checks } from './checks/Checks';
import { useChecks } from './checks/use-checks';
import { TitleBlock } from './checks/TitleBlock';
import { draftSlice } from './draft-slice';
import { keptHistory } from './kept-history';
import { geometryOf, usePictureInHand } from './picture-in-hand';
import { unsavedDraft } from './save-draft';
import { Saving } from './Saving';
import { withKey } from './keys/bench-keys';
import { KeysSheet } from './keys/KeysSheet';
import { useKeysOnBench } from './keys/use-keys-on-bench';
import { Ledger } from './ledger/Ledger';
import { BesideView } from './plate/BesideView';
import { Plate } from './plate/Plate';
import { SamplePlate } from './plate/sample/SamplePlate';
import { StraightView } from './plate/StraightView';
import { WaysView } from './plate/WaysView';
import { FoldedProof } from './proof/FoldedProof';
import { useAddress } from './use-address';
import { useDrawn } from './use-drawn';
import { useGlare } from './use-glare';
import { usePieces } from './use-pieces';
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
  /* What is drawn in it must not hold it open when it becomes narrower. */
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  min-width: 0;
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.strong};
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
  const {
    data: finish,
    error,
    refetch,
    isFetching,
  } = api.useFinishQuery(id, { refetchOnMountOrArgChange: true });
  // A finish that is open stays open while the server is away.
  if (error && finish?.id !== id) {
    return (
      <Page>
        <h1>This finish cannot be opened</h1>
        <Fault error={error} retry={() => void refetch()} busy={isFetching} />
        <p style={{ marginTop: 12 }}>
          <Link to="/rack">To the rack</Link>
        </p>
      </Page>
    );
  }
  return finish && finish.id === id ? <OpenBench key={id} finish={finish} /> : <Page>Opening …</Page>;
}

/** A recipe whose relief is one contribution, and what laying makes, without the others; as it is where there is none of that name. */
function withAlone(recipe: Recipe, id: string): Recipe {
  const one = recipe.relief.contributions.find((c) => c.id === id);
  if (!one) return recipe;
  const { off: _, combine: __, mask: ___, ...plain } = one;
  return { ...recipe, relief: { ...recipe.relief, contributions: [plain as typeof one] } };
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
    const history = keptHistory(sessionStorage, finish.id, unsaved?.recipe ?? finish.draft.recipe);
    dispatch(draftSlice.actions.opened({ finishId: finish.id, ...finish.draft, unsaved, history }));
  }, [dispatch, finish, mine]);

  useAddress();
  useEffect(() => {
    document.title = `${finish.name} · Jossel`;
  }, [finish.name]);

  const recipe = mine ? draft.recipe : null;
  const map = useAppSelector((s) => s.bench.map);
  const way = useAppSelector((s) => s.bench.way);
  const samples = useSamplesOf(finish, recipe);
  const onRepeat = useAppSelector((s) => s.bench.section === 'repeat');
  // The repeat is worked on as it is before pieces are cut from it.
  const onRelief = useAppSelector((s) => s.bench.section === 'relief');
  const alone = useAppSelector((s) => s.bench.alone);
  const onWeathering = useAppSelector((s) => s.bench.section === 'weathering');
  const before = useAppSelector((s) => s.bench.beforeWeathering);
  const shown = useMemo(() => {
    if (!recipe || onRepeat) return recipe && unlaid(recipe);
    if (onWeathering && before) return { ...recipe, weathering: [] };
    return onRelief && alone ? withAlone(recipe, alone) : recipe;
  }, [recipe, onRepeat, onRelief, alone, onWeathering, before]);
  const drawing = useDrawn(shown, samples, map, finish.category, way);
  // The plate is looked at while something is changed; all else follows it.
  const followed = useAfterPaint(drawing);
  const [left, setLeft] = useState(() => columnFor(window.innerWidth, 0.17, LEFT_PX));
  const [right, setRight] = useState(() => columnFor(window.innerWidth, 0.27, RIGHT_PX));
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
  // Looked for when it is worked with, and once the picture stands, so that a structure that is cut is pointed out.
  const search = useStructure(
    source,
    sample,
    bench.section === 'size' || bench.section === 'repeat' || followed.drawn?.recipe === shown,
  );
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
  const sentence = geometry && 'fault' in geometry ? geometry.fault : drawing.sentence;
  const leads = recipe && source && leadingPicture(recipe)?.id === source.id;
  const pieces = usePieces(shown, samples, followed);
  // Where pieces are laid, those that the sample shows say nothing of the finish.
  const judged = shown?.layout ? null : pieces;
  const checks = useChecks(shown, samples, followed, leads ? search : NO_SEARCH, judged, sentence);
  const [keysOpen, setKeysOpen] = useKeysOnBench(recipe, checks);
  if (!recipe) return <Page>Opening …</Page>;
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
            tip={withKey('Undo', 'ctrl+z')}
            isDisabled={draft.past.length === 0}
            onPress={() => dispatch(draftSlice.actions.undone())}
          >
            <Undo2 aria-hidden />
          </Button>
          <Button
            weight="quiet"
            aria-label="Redo"
            tip={withKey('Redo', 'ctrl+y')}
            isDisabled={draft.future.length === 0}
            onPress={() => dispatch(draftSlice.actions.redone())}
          >
            <Redo2 aria-hidden />
          </Button>
          <Button
            weight="quiet"
            aria-label="Sheet of keys"
            tip={withKey('Sheet of keys', '?')}
            onPress={() => setKeysOpen(true)}
          >
            <Keyboard aria-hidden />
          </Button>
          <Saving />
        </Tools>
        <Guarded name="The ledger" shows={[recipe, bench.section]}>
          <Ledger
            finish={finish}
            recipe={recipe}
            samples={samples}
            drawing={followed}
            search={search}
            glare={glare}
            repetition={repetition}
            pieces={pieces}
            checks={checks}
          />
        </Guarded>
      </Column>
      <ColumnDivider
        label="Width of the ledger"
        value={left}
        min={260}
        max={LEFT_PX[1]}
        sign={1}
        onChange={setLeft}
      />
      <Column>
        <Guarded name="The plate" shows={[recipe, bench.section, look, bench.map]}>
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
            <Plate
              finishId={finish.id}
              recipe={recipe}
              drawnFrom={shown!}
              drawing={drawing}
              repetition={repetition}
              pieces={pieces}
              looks={looks}
            />
          )}
        </Guarded>
      </Column>
      <ColumnDivider
        label="Width of the proof"
        value={right}
        min={280}
        max={RIGHT_PX[1]}
        sign={-1}
        onChange={setRight}
      />
      <Right data-folded={(proves && proofFolded) || undefined}>
        <Guarded name="The proof" shows={[recipe, bench.section, bench.form]}>
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
              <Proof
                finish={finish}
                drawn={followed.drawn}
                isBehind={followed.drawn?.recipe !== shown && !drawing.sentence}
                onFold={fold}
                focused={foldedByHand}
              />
            </Suspense>
          )}
        </Guarded>
        <Guarded name="The list of checks" shows={[recipe, followed.drawn]}>
          <Checks {...checks} />
        </Guarded>
        <Guarded name="The title block" shows={[recipe, followed.drawn]}>
          <TitleBlock finish={finish} recipe={recipe} report={followed.drawn?.report ?? null} />
        </Guarded>
      </Right>
      <KeysSheet isOpen={keysOpen} onClose={() => setKeysOpen(false)} />
    </Sheet>
  );
}

/** Widths that ledger and proof begin with, at least and at most. */
const LEFT_PX = [336, 460] as const;
const RIGHT_PX = [348, 820] as const;
const columnFor = (windowPx: number, share: number, [least, most]: readonly [number, number]) =>
  Math.round(Math.min(most, Math.max(least, share * windowPx)));

const NO_SEARCH = { found: null, busy: false, sentence: '' };
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
