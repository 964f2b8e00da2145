import { memo, useCallback, useMemo } from 'react';
import styled from 'styled-components';
import { MAPS, mapsOf, type Recipe } from '@jossel/core/finish';
import type { PiecesJudged } from '@jossel/core/repeat';
import { printArea, printLength } from '@jossel/core/units';
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
import { SectionView } from './SectionView';
import { useSectionLine } from './use-section-line';
import { shrunk, tileOf, tileOfPixels } from './tile';

const Line = styled.div`
  position: absolute;
  left: 0;
  right: 0;
  height: 15px;
  margin-top: -7px;
  cursor: row-resize;
  touch-action: none;
  display: flex;
  align-items: center;
  color: ${({ theme }) => theme.mark};
  i {
    position: absolute;
    left: 15px;
    right: 15px;
    top: 7px;
    height: 1px;
    /* The line of a cut: long and short by turns. */
    background: repeating-linear-gradient(
      to right,
      currentColor 0 18px,
      transparent 18px 22px,
      currentColor 22px 25px,
      transparent 25px 29px
    );
  }
  b {
    position: absolute;
    background: ${({ theme }) => theme.mark};
    color: ${({ theme }) => theme.onMark};
    width: 15px;
    text-align: center;
    font-size: 11px;
    line-height: 15px;
  }
  b:last-child {
    right: 0;
  }
`;
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
  const { map, field, edgesAt, probe, section, way, repeatTool, hatch } = useAppSelector((s) => s.bench);
  const begins = edgesAt ?? AT_ITS_EDGES;
  const probing = probe && section === 'colour';
  const redoing = section === 'repeat' && repeatTool === 'anew' && recipe.repeat.method === 'composed';
  const showing = section === 'repeat' && repeatTool === 'repetition';
  const selected = useAppSelector((s) => s.bench.selected);
  const { ways, colour } = recipe.colour;
  const shownWay = ways.find((w) => w.id === way);
  const units = useAppSelector((s) => s.settings.units);
  const { drawn, working } = drawing;
  const [sectionAt, moveLine] = useSectionLine(finishId, drawn);
  const early = map === 'colour' ? drawing.early : null;
  const repeat = early?.repeatMm ?? drawn?.report.repeatMm ?? NO_REPEAT;
  const fieldMm = field === 'wall' ? WALL_MM : { width: repeat.width * field, height: repeat.height * field };
  const metal = recipe.response.base.kind === 'metal';
  const tile = useMemo(
    () => (early ? tileOfPixels(early) : drawn ? tileOf(drawn, map, metal) : null),
    [early, drawn, map, metal],
  );
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
        `${MAPS[map].title} of the finish at 1:${scale}, ${field === 'wall' ? 'a wall of 12 by 6 m' : `${field} by ${field} repeats`}${edgesAt ? ', its edges moved into view' : ''}`
      }
      end={
        <>
          {looks}
          <Choice
            hideLabel
            inline
            label="Map on the plate"
            value={map}
            options={maps.map((value) => ({ value, name: MAPS[value].title }))}
            onChange={(value) => set({ map: value })}
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
          atShare={sectionAt}
          edgesAt={begins}
          fieldMm={fieldMm.width}
          window={{ widthPx: box.w, pxPerMm, startMm: -left / pxPerMm, scale }}
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
            <Line
              style={{ top: placed.top + sectionAt * repeat.height * placed.pxPerMm }}
              role="slider"
              tabIndex={0}
              aria-label="Line A–A of the section"
              aria-orientation="vertical"
              aria-valuemin={0}
              aria-valuemax={Math.round(repeat.height)}
              aria-valuenow={Math.round(sectionAt * repeat.height)}
              aria-valuetext={`${printLength(sectionAt * repeat.height, units, 0)} from the top`}
              onPointerDown={(e) => {
                e.stopPropagation();
                const target = e.currentTarget;
                const start = e.clientY;
                target.setPointerCapture(e.pointerId);
                target.onpointermove = (m) =>
                  moveLine(sectionAt + (m.clientY - start) / (repeat.height * placed.pxPerMm));
                target.onpointerup = () => (target.onpointermove = null);
              }}
              onKeyDown={(e) => {
                if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
                e.preventDefault();
                e.stopPropagation();
                moveLine(
                  sectionAt +
                    ((e.key === 'ArrowDown' ? 1 : -1) * (e.shiftKey ? 10 : 1)) /
                      (repeat.height * placed.pxPerMm),
                );
              }}
            >
              <i aria-hidden="true" />
              <b>A</b>
              <b>A</b>
            </Line>
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
          {drawn && tile && !early && <MapLegend map={map} drawn={drawn} />}
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
