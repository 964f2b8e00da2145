import { useCallback, useMemo, useState } from 'react';
import styled from 'styled-components';
import type { Recipe, SampleGeometry } from '@jossel/core/finish';
import {
  drawHoldLines,
  drawKeepOuts,
  mmOfLongSide,
  type Mark,
  type SampleSettings,
} from '@jossel/core/sample';
import type { FoundStructure } from '@jossel/core/size';
import {
  faultOfQuad,
  fitBow,
  fromMiddle,
  makeFrame,
  toFrame,
  toPicture,
  turnedAlong,
  UNIT_SQUARE,
  type Point,
  type Quad,
} from '@jossel/core/straighten';
import { figure, printArea, printLength } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { OnOff } from '../../controls/basics';
import { benchSlice } from '../bench-slice';
import { useGeometryChange } from '../ledger/use-change';
import { sampleWorker, useSamplePicture, useShownPart } from '../use-sample';
import { infoOf } from '../use-drawn';
import { Ground } from './handles/Ground';
import { Handle } from './handles/Handle';
import { Label } from './handles/Label';
import { Loupe } from './handles/Loupe';
import { pathOf, receivedView, straightView, type PlaceView } from './handles/place-view';
import { QuadHandles } from './handles/QuadHandles';
import { RulerOnPlate } from './handles/RulerOnPlate';
import { StructureLines } from './handles/StructureLines';
import { boxBetween, thinned } from './handles/tracks';
import { paintPart, paintTint } from './overlay';
import { RuledView, type Placed } from './RuledView';

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

const newId = () => Math.random().toString(36).slice(2, 10);

/** The sample on the plate, as received or straightened, with the handles of what is being done to it. */
export function SamplePlate({
  recipe,
  sample,
  geometry,
  look,
  looks,
  structure,
  onLive,
}: {
  recipe: Recipe;
  sample: Sample;
  geometry: SampleGeometry;
  look: 'received' | 'straight';
  looks: React.ReactNode;
  structure: FoundStructure | null;
  /** Settings while something is dragged; null when it is let go. */
  onLive: (settings: SampleSettings | null) => void;
}) {
  const dispatch = useAppDispatch();
  const bench = useAppSelector((s) => s.bench);
  const units = useAppSelector((s) => s.settings.units);
  const set = (change: Partial<typeof bench>) => dispatch(benchSlice.actions.changed(change));
  const changeSample = useGeometryChange(recipe, sample, 'sample');
  const changeSize = useGeometryChange(recipe, sample, 'size');
  const [live, setLive] = useState<SampleSettings | null>(null);
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
  const settings = live ?? recipe.sample;
  const { canvas, sentence: unseen } = useSamplePicture(sample, recipe.sample, look);
  const { section, tool, drawing, selected, brush } = bench;
  const onSample = section === 'sample';
  const onSize = section === 'size';
  const partInHand =
    onSample && tool === 'parts'
      ? (settings.parts.find((p) => p.id === selected) ?? settings.parts[0] ?? null)
      : null;
  const shownPart = useShownPart(sample, recipe.sample, look === 'straight' ? frameMm : null, partInHand);

  /** The frame by which marks are drawn over what is shown. */
  const shownFrame = useMemo(
    () =>
      look === 'straight'
        ? frame
        : makeFrame({ widthPx: sample.widthPx, heightPx: sample.heightPx }, { bowLines: [], frame: null }),
    [look, frame, sample.widthPx, sample.heightPx],
  );
  const trackMark = useMemo(
    (): Mark | null =>
      tool === 'keep-outs' && onSample && track.length > 0
        ? brush.kind === 'stroke'
          ? {
              id: 'now',
              kind: 'stroke',
              points: track as [number, number][],
              width: brush.widthMm / longMm,
              erase: brush.erase,
            }
          : track.length > 2
            ? { id: 'now', kind: 'outline', points: track as [number, number][], erase: brush.erase }
            : null
        : null,
    [track, tool, onSample, brush, longMm],
  );
  const { keepOuts, holdLines } = recipe.sample;
  const tints = useMemo(() => {
    const marks = trackMark ? [...keepOuts, trackMark] : keepOuts;
    const scale = 700 / Math.max(fieldMm.width, fieldMm.height);
    const [w, h] = [
      Math.max(8, Math.round(fieldMm.width * scale)),
      Math.max(8, Math.round(fieldMm.height * scale)),
    ];
    return {
      keepOuts: marks.length > 0 ? paintTint(drawKeepOuts(shownFrame, marks, w, h), 'hatch') : null,
      holdLines: holdLines.length > 0 ? paintTint(drawHoldLines(shownFrame, holdLines, w, h), 'dots') : null,
    };
  }, [keepOuts, holdLines, trackMark, shownFrame, fieldMm.width, fieldMm.height]);
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
      context.imageSmoothingQuality = 'high';
      if (canvas) context.drawImage(canvas, ...rect);
      for (const layer of [partTint, tints.holdLines, tints.keepOuts])
        if (layer) context.drawImage(layer, ...rect);
    },
    [canvas, tints, partTint, fieldMm.width, fieldMm.height],
  );

  const move = (next: SampleSettings) => {
    setLive(next);
    onLive(next);
  };
  /** Takes a change over if it can be; says why not otherwise, and everything stays as it was. */
  const commit = (what: string, change: Partial<SampleSettings>) => {
    setLive(null);
    onLive(null);
    const next = { ...recipe.sample, ...change };
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
    changeSample(what, change);
  };

  const usedArea = settings.areas.find((a) => a.id === settings.used);
  const quad = (settings.frame ?? UNIT_SQUARE) as Quad;
  const straightPlaces = (a: Point, b: Point, n: number): [number, number][] =>
    Array.from({ length: n + 1 }, (_, k) => [a[0] + ((b[0] - a[0]) * k) / n, a[1] + ((b[1] - a[1]) * k) / n]);
  const ends = (places: Point[]) => {
    const [a, b] = [places[0]!, places.at(-1)!];
    const apart = Math.hypot((a[0] - b[0]) * sample.widthPx, (a[1] - b[1]) * sample.heightPx);
    return { a, b, apart };
  };

  function drawn(places: Point[]): void {
    setTrack([]);
    if (places.length === 0) return;
    const { a, b, apart } = ends(places);
    const tooShort = (what: string) =>
      setSentence(`${what} has no length; press at one end and let go at the other.`);
    if (onSize && drawing === 'ruler') {
      if (apart < 3) return tooShort('This ruler line');
      const [p, q] = [toFrame(frame, a), toFrame(frame, b)];
      const mm = Math.hypot((p[0] - q[0]) * frameMm.width, (p[1] - q[1]) * frameMm.height);
      const id = newId();
      setSentence('');
      changeSize('new ruler line', {
        lines: [
          ...recipe.size.lines,
          { id, from: [...a], to: [...b], lengthMm: figure(Number(mm.toPrecision(4)), 'mm', 'assumed') },
        ],
      });
      set({ drawing: null, selected: id });
      return;
    }
    if (drawing === 'bow') {
      if (apart < 3) return tooShort('This line');
      const line = straightPlaces(a, b, 4);
      commit('bow line', { bowLines: [...recipe.sample.bowLines, line] });
      set({ drawing: null });
      return;
    }
    if (drawing === 'grain') {
      set({ drawing: null });
      try {
        commit('turned along the grain', {
          frame: turnedAlong(sample, quad, a, b).map((p) => [...p]) as unknown as NonNullable<
            SampleSettings['frame']
          >,
        });
      } catch (error) {
        setSentence((error as Error).message);
      }
      return;
    }
    if (drawing === 'area') {
      const [p, q] = [toFrame(frame, a), toFrame(frame, b)];
      const [l, r] = [Math.min(p[0], q[0]), Math.max(p[0], q[0])];
      const [t, bo] = [Math.min(p[1], q[1]), Math.max(p[1], q[1])];
      if (apart < 6 || r - l < 0.003 || bo - t < 0.003)
        return setSentence('This area has no extent; draw from one corner to the opposite one.');
      const id = newId();
      commit('new area', {
        areas: [
          ...recipe.sample.areas,
          {
            id,
            name: `Area ${recipe.sample.areas.length + 1}`,
            leftOut: false,
            corners: (
              [
                [l, t],
                [r, t],
                [r, bo],
                [l, bo],
              ] as Point[]
            ).map((c) => [...toPicture(frame, c)]) as never,
          },
        ],
      });
      set({ drawing: null, selected: id });
      return;
    }
    if (tool === 'keep-outs') {
      if (brush.kind === 'outline' && places.length < 3)
        return setSentence('An outline needs some extent; draw round what is to be kept out.');
      const mark: Mark =
        brush.kind === 'stroke'
          ? {
              id: newId(),
              kind: 'stroke',
              points: thinned(places),
              width: Math.min(1, Math.max(0.0002, brush.widthMm / longMm)),
              erase: brush.erase,
            }
          : { id: newId(), kind: 'outline', points: thinned(places), erase: brush.erase };
      const next = [...recipe.sample.keepOuts, mark];
      const mask = drawKeepOuts(geometry.used, next, 160, 160);
      const share = mask.data.reduce((s, v) => s + v, 0) / mask.data.length;
      if (share > 0.98)
        return setSentence(
          'This would keep out the whole sample, so that nothing is left to use. It was not taken over.',
        );
      return commit('keep-out', { keepOuts: next });
    }
    if (tool === 'hold-lines') {
      if (apart < 3 && places.length < 3) return tooShort('This hold line');
      return commit('hold line', {
        holdLines: [
          ...recipe.sample.holdLines,
          {
            id: newId(),
            points: thinned(places.length > 1 ? places : [a, b]),
            width: Math.min(1, Math.max(0.0002, brush.widthMm / longMm)),
          },
        ],
      });
    }
    if (tool === 'parts' && bench.dropper) {
      const add = bench.dropper === 'add';
      sampleWorker()
        .labAt(infoOf(sample), b)
        .then(
          (lab) => {
            const pick = { at: [...b] as [number, number], lab, add };
            const parts = partInHand
              ? recipe.sample.parts.map((p) =>
                  p.id === partInHand.id ? { ...p, picks: [...p.picks, pick] } : p,
                )
              : [{ id: newId(), name: 'Part 1', picks: [pick], tolerance: 12, growMm: 0, softenMm: 0 }];
            setSentence('');
            changeSample('colour of a part', { parts });
          },
          (error: Error) => setSentence(error.message),
        );
    }
  }

  const draws =
    (onSize && drawing === 'ruler') ||
    (onSample &&
      (drawing !== null ||
        tool === 'keep-outs' ||
        tool === 'hold-lines' ||
        (tool === 'parts' && bench.dropper !== null)));
  const groundName =
    drawing === 'ruler'
      ? 'Draw a ruler line'
      : drawing === 'bow'
        ? 'Draw a line along an edge that should be straight'
        : drawing === 'grain'
          ? 'Draw a line along the grain'
          : drawing === 'area'
            ? 'Draw an area'
            : tool === 'parts'
              ? 'Click a colour of the part'
              : tool === 'hold-lines'
                ? 'Draw a hold line'
                : 'Paint a keep-out';

  const bowFit = useMemo(() => {
    if (settings.bowLines.length === 0) return null;
    try {
      return fitBow(settings.bowLines.map((line) => line.map((p) => fromMiddle(sample, p))));
    } catch {
      return null;
    }
  }, [settings.bowLines, sample]);

  function overlay(view: PlaceView, { box }: Placed) {
    const gridAt = [1, 2, 3, 4, 5, 6, 7].map((k) => k / 8);
    const along = (f: (t: number) => Point) =>
      pathOf(
        view,
        Array.from({ length: 17 }, (_, k) => toPicture(liveFrame, f(k / 16))),
      );
    let liveFrame = frame;
    if (live) {
      try {
        liveFrame = makeFrame(sample, { ...live, frame: live.frame as Quad | null });
      } catch {
        liveFrame = frame;
      }
    }
    const pxOff = bowFit && (bowFit.after * Math.hypot(sample.widthPx, sample.heightPx)) / 2;
    return (
      <>
        {bench.grid && (
          <g stroke="#1B1B1B" strokeWidth="0.8" opacity="0.55" fill="none">
            {gridAt.map((t) => (
              <g key={t}>
                <path d={along((s) => [t, s])} />
                <path d={along((s) => [s, t])} />
              </g>
            ))}
          </g>
        )}
        {onSize && structure && look === 'straight' && (
          <StructureLines structure={structure} view={view} place={(p) => toPicture(frame, p)} />
        )}
        {draws && <Ground name={groundName} view={view} box={box} onTrack={setTrack} onDone={drawn} />}
        {onSample &&
          tool === 'frame' &&
          settings.bowLines.map((line, n) => (
            <g key={n}>
              <path
                d={pathOf(view, line)}
                stroke="#A6281C"
                strokeWidth="1.2"
                fill="none"
                strokeDasharray="7 3"
              />
              {line.map((p, i) => (
                <Handle
                  key={i}
                  small
                  name={`Straight edge ${n + 1}, point ${i + 1}`}
                  place={p}
                  view={view}
                  onHold={setHeld}
                  onMove={(q) =>
                    move({
                      ...recipe.sample,
                      bowLines: replaced(
                        recipe.sample.bowLines,
                        n,
                        replaced(line, i, [...q]),
                      ) as SampleSettings['bowLines'],
                    })
                  }
                  onDone={(q) =>
                    commit('bow line', {
                      bowLines: replaced(
                        recipe.sample.bowLines,
                        n,
                        replaced(line, i, [...q]),
                      ) as SampleSettings['bowLines'],
                    })
                  }
                />
              ))}
            </g>
          ))}
        {onSample && tool === 'frame' && look === 'received' && drawing === null && (
          <QuadHandles
            name="Frame"
            quad={quad}
            view={view}
            onHold={setHeld}
            onMove={(q) => move({ ...recipe.sample, frame: q as never })}
            onDone={(q) => commit('frame', { frame: q.map((p) => [...p]) as never })}
          />
        )}
        {onSample &&
          tool === 'areas' &&
          settings.areas.map((area) => (
            <g key={area.id} opacity={area.leftOut ? 0.5 : 1}>
              {selected === area.id && drawing === null ? (
                <QuadHandles
                  name={area.name}
                  quad={area.corners as Quad}
                  view={view}
                  onHold={setHeld}
                  onMove={(q) =>
                    move({
                      ...recipe.sample,
                      areas: recipe.sample.areas.map((a) =>
                        a.id === area.id ? { ...a, corners: q as never } : a,
                      ),
                    })
                  }
                  onDone={(q) =>
                    commit(`area ${area.id}`, {
                      areas: recipe.sample.areas.map((a) =>
                        a.id === area.id ? { ...a, corners: q.map((p) => [...p]) as never } : a,
                      ),
                    })
                  }
                />
              ) : (
                <path
                  d={pathOf(view, area.corners, true)}
                  fill="transparent"
                  stroke="#A6281C"
                  strokeWidth={settings.used === area.id ? 2.2 : 1}
                  strokeDasharray={area.leftOut ? '4 4' : undefined}
                  style={{ pointerEvents: drawing === null ? 'all' : 'none', cursor: 'pointer' }}
                  onPointerDown={(e) => {
                    e.stopPropagation();
                    set({ selected: area.id });
                  }}
                />
              )}
              <Label
                view={view}
                places={area.corners}
                text={`${area.name}${area.leftOut ? ', left out' : ''}`}
              />
            </g>
          ))}
        {onSample && tool !== 'areas' && tool !== 'report' && usedArea && (
          <path
            d={pathOf(view, usedArea.corners, true)}
            fill="none"
            stroke="#A6281C"
            strokeWidth="1"
            strokeDasharray="9 4"
          />
        )}
        {(onSize || (onSample && tool === 'frame')) && recipe.size.card && (
          <path
            d={pathOf(view, recipe.size.card.marks, true)}
            fill="none"
            stroke="#A6281C"
            strokeWidth="1.2"
            strokeDasharray="2 3"
          />
        )}
        {onSize &&
          recipe.size.lines.map((line, n) => {
            const put = (change: Partial<typeof line>) =>
              changeSize(`ruler line ${line.id}`, {
                lines: recipe.size.lines.map((l) => (l.id === line.id ? { ...l, ...change } : l)),
              });
            return (
              <RulerOnPlate
                key={line.id}
                name={`Ruler line ${n + 1}`}
                line={line}
                view={view}
                text={printLength(line.lengthMm.value, units, 1)}
                onHold={setHeld}
                onChange={(change) => {
                  const next = { ...line, ...change };
                  if (Math.hypot(next.from[0] - next.to[0], next.from[1] - next.to[1]) < 1e-5)
                    return setSentence('A ruler line needs two different ends.');
                  setSentence('');
                  put(change);
                }}
              />
            );
          })}
        {partInHand &&
          onSample &&
          partInHand.picks.map((p, i) => {
            const [x, y] = view.toScreen(p.at);
            return (
              <g key={i} transform={`translate(${x} ${y})`} aria-hidden="true">
                <circle r="5" fill="#FFFFFF" stroke="#1B1B1B" />
                <path d={p.add ? 'M-3 0H3M0 -3V3' : 'M-3 0H3'} stroke="#A6281C" strokeWidth="1.5" />
              </g>
            );
          })}
        {track.length > 1 && !trackMark && drawing !== 'area' && (
          <path
            d={pathOf(view, drawing === null ? track : [track[0]!, track.at(-1)!])}
            fill="none"
            stroke="#A6281C"
            strokeWidth="1.6"
          />
        )}
        {track.length > 1 && drawing === 'area' && (
          <path
            d={pathOf(view, boxBetween(track[0]!, track.at(-1)!, frame), true)}
            fill="none"
            stroke="#A6281C"
            strokeWidth="1.4"
          />
        )}
        {bowFit && onSample && tool === 'frame' && (
          <text x={10} y={box.h - 12}>
            {`Straight edges: ${((bowFit.before * Math.hypot(sample.widthPx, sample.heightPx)) / 2).toFixed(1)} px off before, ${pxOff!.toFixed(1)} px after`}
          </text>
        )}
      </>
    );
  }

  return (
    <RuledView
      name="Plate"
      title={look === 'received' ? 'Plate, as received' : 'Plate, straightened'}
      data={{ 'data-look': canvas ? look : undefined }}
      fieldMm={fieldMm}
      quiet={look === 'straight' ? printArea(frameMm, units) : `${sample.widthPx} × ${sample.heightPx} px`}
      about={({ scale }) =>
        `Sample ${sample.fileName} ${look === 'received' ? 'as received' : 'straightened'}, at 1:${Number(scale.toPrecision(2))}`
      }
      end={looks}
      paint={paint}
      pans={!draws}
      still={look === 'received'}
      bar={<OnOff name="grid" value={bench.grid} onChange={(grid) => set({ grid })} />}
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

const replaced = <T,>(list: readonly T[], at: number, value: T): T[] =>
  list.map((v, i) => (i === at ? value : v));
