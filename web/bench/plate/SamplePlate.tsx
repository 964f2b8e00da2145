import { useCallback, useMemo, useState } from 'react';
import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import { drawContinuityLines, drawKeepOuts, mmOfLongSide, type Preparation } from '@jossel/core/sample';
import type { FoundStructure, RulerLine } from '@jossel/core/size';
import { faultOfQuad, makeFrame, toFrame, type Point, type Quad } from '@jossel/core/straighten';
import { printArea } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { OnOff } from '../../controls/basics';
import { newId } from '../new-id';
import { benchSlice } from '../bench-slice';
import { usedAreaOf } from '../picture-in-hand';
import { useGeometryChange, usePictureChange } from '../ledger/use-change';
import type { GlarePlace, TargetFit } from '@jossel/core/light';
import { sampleWorker, useSamplePicture, useShownPart } from '../use-sample';
import { infoOf } from '../use-drawn';
import { withKey } from '../keys/bench-keys';
import { drawnNext, DRAWN_NAMES, keepOutOf, outcomeOf, type Hand } from './drawn';
import { Ground } from './handles/Ground';
import { Loupe } from './handles/Loupe';
import { receivedView, straightView, type PlaceView } from './handles/place-view';
import { paintPart, paintTint } from './overlay';
import { RuledView, type Placed } from './RuledView';
import {
  AreasTool,
  FrameTool,
  GridLines,
  Outline,
  Picks,
  SizeTool,
  TrackLine,
  type Edits,
} from './SampleOverlay';
import { ColourTools } from './ColourTools';

const Over = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  overflow: hidden;
  user-select: none;
  text {
    font-size: 12px;
    paint-order: stroke;
    stroke: #ffffff;
    stroke-width: 3px;
    fill: ${({ theme }) => theme.ink};
  }
`;
const Said = styled.p.attrs({ role: 'alert' })`
  position: absolute;
  left: 10px;
  bottom: 10px;
  right: 10px;
  width: fit-content;
  max-width: 60ch;
  padding: 6px 10px;
  background: ${({ theme }) => theme.field};
  border-left: 3px solid ${({ theme }) => theme.mark};
`;

/** The sample on the plate, as received or straightened, with the handles of what is being done to it. */
export function SamplePlate({
  recipe,
  source,
  sample,
  geometry,
  look,
  looks,
  structure,
  glare,
  fit,
  onLive,
}: {
  recipe: Recipe;
  /** The picture in hand. */
  source: PictureSource;
  sample: Sample;
  geometry: SampleGeometry;
  look: 'received' | 'straight';
  looks: React.ReactNode;
  structure: FoundStructure | null;
  /** Places of glare, while light is worked on. */
  glare: readonly GlarePlace[];
  /** How the target card came out, when the balance rests on it. */
  fit: TargetFit | null;
  /** Settings while something is dragged; null when it is let go. */
  onLive: (settings: Preparation | null) => void;
}) {
  const dispatch = useAppDispatch();
  const bench = useAppSelector((s) => s.bench);
  const units = useAppSelector((s) => s.settings.units);
  const set = (change: Partial<typeof bench>) => dispatch(benchSlice.actions.changed(change));
  const changePreparation = useGeometryChange(recipe, source, sample, 'preparation');
  const changeSize = useGeometryChange(recipe, source, sample, 'size');
  const changeLight = usePictureChange(recipe, source, 'light');
  const saved = source.preparation;
  const used = usedAreaOf(recipe, source);
  const [live, setLive] = useState<Preparation | null>(null);
  const [held, setHeld] = useState<Point | null>(null);
  const [track, setTrack] = useState<Point[]>([]);
  const [sentence, setSentence] = useState('');

  const { frame, size } = geometry;
  const frameMm = useMemo(() => ({ width: size.width.mm, height: size.height.mm }), [size]);
  const longMm = mmOfLongSide(frame, frameMm);
  const long = Math.max(sample.widthPx, sample.heightPx);
  const fieldMm =
    look === 'received'
      ? { width: (longMm * sample.widthPx) / long, height: (longMm * sample.heightPx) / long }
      : frameMm;
  const settings = live ?? saved;
  const { canvas, sentence: unseen } = useSamplePicture(sample, saved, look);
  const { section, tool, selected, brush } = bench;
  const onSample = section === 'sample';
  const partInHand =
    onSample && tool === 'parts'
      ? (settings.parts.find((p) => p.id === selected) ?? settings.parts[0] ?? null)
      : null;
  const shownPart = useShownPart(sample, saved, look === 'straight' ? frameMm : null, partInHand);
  const next = drawnNext(bench);
  const hand = useMemo(
    (): Hand => ({ source, sample, geometry, brush, newId }),
    [source, sample, geometry, brush],
  );

  /** The frame by which marks are drawn over what is shown. */
  const shownFrame = useMemo(
    () =>
      look === 'straight'
        ? frame
        : makeFrame({ widthPx: sample.widthPx, heightPx: sample.heightPx }, { bowLines: [], frame: null }),
    [look, frame, sample.widthPx, sample.heightPx],
  );
  const trackMark = useMemo(
    () => (next === 'keep-outs' && track.length > 0 ? keepOutOf(hand, track, 'now') : null),
    [next, track, hand],
  );
  const { keepOuts, continuityLines } = saved;
  const tints = useMemo(() => {
    const marks = trackMark ? [...keepOuts, trackMark] : keepOuts;
    const scale = 700 / Math.max(fieldMm.width, fieldMm.height);
    const [w, h] = [
      Math.max(8, Math.round(fieldMm.width * scale)),
      Math.max(8, Math.round(fieldMm.height * scale)),
    ];
    return {
      keepOuts: marks.length > 0 ? paintTint(drawKeepOuts(shownFrame, marks, w, h), 'hatch') : null,
      continuityLines:
        continuityLines.length > 0
          ? paintTint(drawContinuityLines(shownFrame, continuityLines, w, h), 'dots')
          : null,
    };
  }, [keepOuts, continuityLines, trackMark, shownFrame, fieldMm.width, fieldMm.height]);
  const partTint = useMemo(
    () => (partInHand && shownPart.value ? paintPart(shownPart.value) : null),
    [partInHand, shownPart.value],
  );

  const paint = useCallback(
    (context: CanvasRenderingContext2D, { left, top, pxPerMm }: Placed, dpr: number) => {
      const rect = [
        left * dpr,
        top * dpr,
        fieldMm.width * pxPerMm * dpr,
        fieldMm.height * pxPerMm * dpr,
      ] as const;
      if (canvas) context.drawImage(canvas, ...rect);
      for (const layer of [partTint, tints.continuityLines, tints.keepOuts])
        if (layer) context.drawImage(layer, ...rect);
    },
    [canvas, tints, partTint, fieldMm.width, fieldMm.height],
  );

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

  const edits: Edits = { onHold: setHeld, onMove: move, onDone: commit };

  function drawn(places: Point[]): void {
    setTrack([]);
    if (places.length === 0 || next === null) return;
    if (next === 'parts') return pickColour(places.at(-1)!);
    try {
      const outcome = outcomeOf(next, hand, places);
      if (outcome.preparation) commit(outcome.what, outcome.preparation);
      if (outcome.size) {
        setSentence('');
        changeSize(outcome.what, outcome.size);
      }
      if (outcome.light) {
        setSentence('');
        changeLight(outcome.what, outcome.light);
      }
      if (outcome.bench) set(outcome.bench);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      setSentence(error.message);
    }
  }

  function pickColour(at: Point): void {
    const add = bench.dropper === 'add';
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
    if (Math.hypot(line.from[0] - line.to[0], line.from[1] - line.to[1]) < 1e-5)
      return setSentence('A ruler line needs two different ends.');
    setSentence('');
    changeSize(`ruler line ${line.id}`, {
      lines: (source.size?.lines ?? []).map((l) => (l.id === line.id ? line : l)),
    });
  }

  const liveFrame = useMemo(() => {
    try {
      return live ? makeFrame(sample, { ...live, frame: live.frame as Quad | null }) : frame;
    } catch {
      return frame;
    }
  }, [live, sample, frame]);

  function overlay(view: PlaceView, { box }: Placed) {
    const usedArea = settings.areas.find((a) => a.id === used);
    const card = source.size?.card;
    return (
      <>
        {bench.grid && <GridLines view={view} frame={liveFrame} />}
        {next && <Ground name={DRAWN_NAMES[next]} view={view} box={box} onTrack={setTrack} onDone={drawn} />}
        {onSample && tool === 'frame' && (
          <FrameTool
            saved={saved}
            settings={settings}
            sample={sample}
            view={view}
            bottomPx={box.h}
            withCorners={look === 'received' && next === null}
            edits={edits}
          />
        )}
        {onSample && tool === 'areas' && (
          <AreasTool saved={saved} settings={settings} used={used} view={view} edits={edits} />
        )}
        {onSample && tool !== 'areas' && tool !== 'report' && usedArea && (
          <Outline view={view} places={usedArea.corners} dashes="9 4" />
        )}
        {(section === 'size' || (onSample && tool === 'frame')) && card && (
          <Outline view={view} places={card.marks} dashes="2 3" />
        )}
        {section === 'size' && (
          <SizeTool
            source={source}
            geometry={geometry}
            structure={look === 'straight' ? structure : null}
            view={view}
            onHold={setHeld}
            onLine={putLine}
          />
        )}
        {section === 'colour' && (
          <ColourTools source={source} sample={sample} frame={frame} glare={glare} fit={fit} view={view} />
        )}
        {partInHand && <Picks part={partInHand} view={view} />}
        {next && next !== 'parts' && !trackMark && (
          <TrackLine
            track={track}
            as={
              next === 'area' ? 'box' : next === 'keep-outs' || next === 'continuity-lines' ? 'free' : 'line'
            }
            view={view}
            frame={frame}
          />
        )}
      </>
    );
  }

  return (
    <RuledView
      name="Plate"
      keptAs={`${sample.id} ${look}`}
      title={look === 'received' ? 'Plate, as received' : 'Plate, straightened'}
      data={{ 'data-look': canvas ? look : undefined }}
      fieldMm={fieldMm}
      quiet={look === 'straight' ? printArea(frameMm, units) : `${sample.widthPx} × ${sample.heightPx} px`}
      about={({ scale }) =>
        `Sample ${sample.fileName} ${look === 'received' ? 'as received' : 'straightened'}, at 1:${Number(scale.toPrecision(2))}`
      }
      end={looks}
      paint={paint}
      pans={next === null}
      still={look === 'received'}
      bar={
        <OnOff
          name="grid"
          tip={withKey('Grid lines over the straightened frame', 'l')}
          value={bench.grid}
          onChange={(grid) => set({ grid })}
        />
      }
    >
      {(placed) => {
        const view =
          look === 'received'
            ? receivedView(frame, placed, fieldMm)
            : straightView(frame, placed, fieldMm, longMm);
        return (
          <>
            <Over>{overlay(view, placed)}</Over>
            {held && canvas && (
              <Loupe
                picture={canvas}
                at={look === 'received' ? held : toFrame(frame, held)}
                screen={view.toScreen(held)}
                box={placed.box}
              />
            )}
            {(sentence || unseen || shownPart.sentence) && (
              <Said>{sentence || unseen || shownPart.sentence}</Said>
            )}
          </>
        );
      }}
    </RuledView>
  );
}
