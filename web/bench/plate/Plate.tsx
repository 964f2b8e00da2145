import { memo, useCallback, useMemo } from 'react';
import styled from 'styled-components';
import { MAPS, mapsOf, type MapName, type Recipe } from '@jossel/core/finish';
import type { PiecesJudged } from '@jossel/core/repeat';
import { printArea } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Button, OneOf, OnOff, Progress } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { benchSlice, FIELDS, WALL_MM } from '../bench-slice';
import type { Drawing } from '../use-drawn';
import type { RepetitionSearch } from '../use-repetition';
import { withKey } from '../keys/bench-keys';
import { EdgesInView } from './EdgesInView';
import { WorstPlaces } from './WorstPlaces';
import { PlateProbe } from './PlateProbe';
import { RedoOnPlate } from './RedoOnPlate';
import { BrokenOnPlate } from './BrokenOnPlate';
import { RepetitionOnPlate, repeatView } from './RepetitionOnPlate';
import { RuledView, type Placed } from './RuledView';
import { LayoutOnPlate } from './LayoutOnPlate';
import { MapLegend } from './MapLegend';
import { JointDetail } from './JointDetail';
import { endsMm } from './section-line';
import { SectionLineOnPlate } from './SectionLineOnPlate';
import { axisOf, SectionView } from './SectionView';
import { useSectionLine } from './use-section-line';
import { RakingMark } from './RakingMark';
import { rakedTile, shrunk, tileOf, tileOfPixels } from './tile';

const Working = styled.div`
  /* The plate is moved and zoomed under it. */
  pointer-events: none;
  position: absolute;
  left: 8px;
  top: 8px;
  padding: 3px 8px;
  background: ${({ theme }) => theme.sheet};
  font-size: 12px;
  display: grid;
  gap: 3px;
`;

const NO_REPEAT = { width: 1000, height: 1000 };
const FIELD_OPTIONS = FIELDS.map((value) => ({ value, name: value === 'wall' ? 'wall' : `${value}×` }));
/** The relief under a light that rakes across it, beside the maps of the finish. */
const RAKING = 'raking light';
const AT_ITS_EDGES = [0, 0] as const;

/** The finish flat, with millimetre rulers, at a drawing scale; below it the section along the line on it. */
export const Plate = memo(function Plate({
  finishId,
  recipe,
  drawnFrom,
  drawing,
  repetition,
  pieces,
  looks,
}: {
  finishId: string;
  recipe: Recipe;
  /** What of the recipe is drawn: all of it, or what comes before the layout. */
  drawnFrom: Recipe;
  drawing: Drawing;
  repetition: RepetitionSearch;
  /** Pieces of the repeat, and which are broken; null: not known, or it has none. */
  pieces: PiecesJudged | null;
  /** Choice between sample and repeat. */
  looks?: React.ReactNode;
}) {
  const dispatch = useAppDispatch();
  const set = (change: Parameters<typeof benchSlice.actions.changed>[0]) =>
    dispatch(benchSlice.actions.changed(change));
  const { map, field, edgesAt, probe, section, way, repeatTool, hatch, rakingFromDeg } = useAppSelector(
    (s) => s.bench,
  );
  const raking = useAppSelector((s) => s.bench.raking);
  const begins = edgesAt ?? AT_ITS_EDGES;
  const probing = probe && section === 'colour';
  const redoing = section === 'repeat' && repeatTool === 'anew' && recipe.repeat.method === 'composed';
  const showing = section === 'repeat' && repeatTool === 'repetition';
  const selected = useAppSelector((s) => s.bench.selected);
  const { ways, colour } = recipe.colour;
  const shownWay = ways.find((w) => w.id === way);
  const units = useAppSelector((s) => s.settings.units);
  const { drawn, working } = drawing;
  const [line, putLine] = useSectionLine(finishId, drawn);
  const early = map === 'colour' ? drawing.early : null;
  const repeat = early?.repeatMm ?? drawn?.report.repeatMm ?? NO_REPEAT;
  const fieldMm = field === 'wall' ? WALL_MM : { width: repeat.width * field, height: repeat.height * field };
  const metal = recipe.response.base.kind === 'metal';
  const tile = useMemo(() => {
    if (early) return tileOfPixels(early);
    if (!drawn) return null;
    return raking ? rakedTile(drawn, rakingFromDeg) : tileOf(drawn, map, metal);
  }, [early, drawn, map, metal, raking, rakingFromDeg]);
  const maps = useMemo(() => mapsOf(recipe), [recipe]);
  const complete = drawn?.recipe === drawnFrom && maps.every((name) => drawn.maps.includes(name));

  const paint = useCallback(
    (context: CanvasRenderingContext2D, { left, top, pxPerMm }: Placed, dpr: number) => {
      if (!tile) return;
      const [w, h] = [repeat.width * pxPerMm * dpr, repeat.height * pxPerMm * dpr];
      const small = shrunk(tile, w, h);
      const pattern = context.createPattern(small, 'repeat')!;
      pattern.setTransform(
        new DOMMatrix()
          .translate(left * dpr + begins[0] * w, top * dpr + begins[1] * h)
          .scale(w / small.width, h / small.height),
      );
      context.fillStyle = pattern;
      context.fillRect(left * dpr, top * dpr, fieldMm.width * pxPerMm * dpr, fieldMm.height * pxPerMm * dpr);
    },
    [tile, begins, fieldMm.width, fieldMm.height, repeat],
  );

  function save() {
    if (!tile) return;
    tile.toBlob((blob) => {
      if (!blob) return;
      const link = document.createElement('a');
      link.href = URL.createObjectURL(blob);
      link.download = `${map}-${tile.width}px.png`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 1000);
    }, 'image/png');
  }

  return (
    <RuledView
      name="Plate"
      keptAs={`${finishId} repeat`}
      title={shownWay ? `Plate, ${shownWay.name},` : 'Plate'}
      pans={!probing && !redoing}
      data={{ 'data-drawn': drawn?.serial, 'data-complete': complete ? 'yes' : undefined }}
      fieldMm={fieldMm}
      quiet={drawn && printArea(fieldMm, units)}
      about={({ scale }) =>
        `${raking ? 'Relief under raking light' : MAPS[map].title} of the finish at 1:${scale}, ${field === 'wall' ? 'a wall of 12 by 6 m' : `${field} by ${field} repeats`}${edgesAt ? ', its edges moved into view' : ''}`
      }
      end={
        <>
          {looks}
          <Choice<MapName | typeof RAKING>
            hideLabel
            inline
            label="Map on the plate"
            value={raking ? RAKING : map}
            options={[
              ...maps.map((value) => ({ value, name: MAPS[value].title })),
              { value: RAKING, name: 'raking light' },
            ]}
            onChange={(value) => set(value === RAKING ? { raking: true } : { map: value, raking: false })}
          />
          <Button weight="quiet" isDisabled={!tile || early !== null} onPress={save}>
            Save picture
          </Button>
        </>
      }
      paint={paint}
      below={({ box, pxPerMm, left, scale }) => (
        <SectionView
          drawn={drawn}
          edgesAt={begins}
          axis={axisOf(line, endsMm(line, repeat, fieldMm.width), { widthPx: box.w, pxPerMm, left, scale })}
          recipe={recipe}
          onLevel={typeof line === 'number' ? null : () => putLine(null)}
        >
          {section === 'layout' && recipe.layout && <JointDetail recipe={recipe} layout={recipe.layout} />}
        </SectionView>
      )}
      bar={
        <>
          {section === 'colour' && (
            <OnOff name="probe" value={probing} onChange={(on) => set({ probe: on })} />
          )}
          <OneOf
            label="Repeats shown"
            value={field}
            options={FIELD_OPTIONS}
            onChange={(value) => set({ field: value })}
          />
          <OnOff
            name="edges in view"
            tip={withKey('The edges of the repeat are moved into view', 'e')}
            value={edgesAt !== null}
            onChange={(on) => set({ edgesAt: on ? [0.5, 0.5] : null })}
          />
        </>
      }
    >
      {(placed) => (
        <>
          {drawn && (
            <SectionLineOnPlate
              line={line}
              placed={placed}
              repeatMm={repeat}
              fieldMm={fieldMm}
              onPut={putLine}
            />
          )}
          {probing && drawn && (
            <PlateProbe
              drawn={drawn}
              placed={placed}
              edgesAt={begins}
              target={shownWay?.target.lab ?? colour?.lab ?? null}
            />
          )}
          {edgesAt && drawn && (
            <EdgesInView
              placed={placed}
              fieldMm={fieldMm}
              repeatMm={repeat}
              edgesAt={edgesAt}
              seam={drawn.report.seam}
              onMove={(at) => set({ edgesAt: at })}
            />
          )}
          {section === 'repeat' && typeof field === 'number' && field > 1 && !edgesAt && drawn && (
            <WorstPlaces placed={placed} repeatMm={repeat} seam={drawn.report.seam} />
          )}
          {showing && repetition.found && (
            <RepetitionOnPlate
              telltales={repetition.found.telltales}
              view={repeatView(placed, repeat, begins)}
              placed={placed}
              repeatMm={repeat}
              selected={selected}
              onSelect={(index) => set({ selected: index })}
            />
          )}
          {section === 'repeat' && repeatTool === 'way' && drawn && pieces && pieces.broken.length > 0 && (
            <BrokenOnPlate
              broken={pieces.broken}
              view={repeatView(placed, repeat, begins)}
              placed={placed}
              repeatMm={repeat}
            />
          )}
          {drawn && (section === 'layout' || hatch) && section !== 'repeat' && (
            <LayoutOnPlate recipe={recipe} placed={placed} repeatMm={repeat} />
          )}
          {redoing && drawn && (
            <RedoOnPlate
              recipe={recipe}
              placed={placed}
              repeatMm={repeat}
              view={repeatView(placed, repeat, begins)}
            />
          )}
          {drawn && tile && !early && !raking && <MapLegend map={map} drawn={drawn} />}
          {raking && (
            <RakingMark
              azimuthDeg={rakingFromDeg}
              box={placed.box}
              onTurn={(deg) => set({ rakingFromDeg: deg })}
            />
          )}
          {working ? (
            <Working role="status">
              {working.step}
              <Progress label={working.step} value={working.share} />
            </Working>
          ) : (
            drawn && !tile && <Working role="status">Computed next: {MAPS[map].title}</Working>
          )}
        </>
      )}
    </RuledView>
  );
});
