import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Part, Preparation } from '@jossel/core/sample';
import type { FoundStructure, RulerLine } from '@jossel/core/size';
import {
  fitBow,
  fromMiddle,
  toPicture,
  UNIT_SQUARE,
  type Frame,
  type PictureShape,
  type Point,
  type Quad,
} from '@jossel/core/straighten';
import { printLength } from '@jossel/core/units';
import { useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { benchSlice } from '../../bench-slice';
import { Handle } from '../handles/Handle';
import { Label } from '../handles/Label';
import { pathOf, type PlaceView } from '../handles/place-view';
import { QuadHandles } from '../handles/QuadHandles';
import { RulerOnPlate } from '../handles/RulerOnPlate';
import { StructureLines } from '../handles/StructureLines';
import { boxBetween } from '../handles/tracks';

const RED = '#A6281C';

/** How what lies on the sample is changed: while it is moved, and when it is let go. */
export interface Edits {
  onHold: (place: Point | null) => void;
  onMove: (settings: Preparation) => void;
  onDone: (what: string, change: Partial<Preparation>) => void;
}

const replaced = <T,>(list: readonly T[], at: number, value: T): T[] =>
  list.map((v, i) => (i === at ? value : v));
const plain = (quad: Quad) => quad.map((p) => [...p]) as never;

/** Eighths of the frame, by which one sees whether it is true. */
export function GridLines({ view, frame }: { view: PlaceView; frame: Frame }) {
  const along = (f: (t: number) => Point) =>
    pathOf(
      view,
      Array.from({ length: 17 }, (_, k) => toPicture(frame, f(k / 16))),
    );
  return (
    <g stroke="#1B1B1B" strokeWidth="0.8" opacity="0.55" fill="none">
      {[1, 2, 3, 4, 5, 6, 7].map((k) => (
        <g key={k}>
          <path d={along((s) => [k / 8, s])} />
          <path d={along((s) => [s, k / 8])} />
        </g>
      ))}
    </g>
  );
}

/** Corners and edges of the frame, the edges that should be straight, and how far they are off. */
export function FrameTool({
  saved,
  settings,
  sample,
  view,
  bottomPx,
  withCorners,
  edits,
}: {
  /** As it stands in the recipe, and as it is while being dragged. */
  saved: Preparation;
  settings: Preparation;
  sample: PictureShape;
  view: PlaceView;
  bottomPx: number;
  withCorners: boolean;
  edits: Edits;
}) {
  const bow = useMemo(() => {
    if (settings.bowLines.length === 0) return null;
    try {
      return fitBow(settings.bowLines.map((line) => line.map((p) => fromMiddle(sample, p))));
    } catch {
      return null;
    }
  }, [settings.bowLines, sample]);
  const halfPx = Math.hypot(sample.widthPx, sample.heightPx) / 2;
  return (
    <>
      {settings.bowLines.map((line, n) => {
        const moved = (i: number, q: Point) =>
          replaced(saved.bowLines, n, replaced(line, i, [...q])) as Preparation['bowLines'];
        return (
          <g key={n}>
            <path d={pathOf(view, line)} stroke={RED} strokeWidth="1.2" fill="none" strokeDasharray="7 3" />
            {line.map((p, i) => (
              <Handle
                key={i}
                small
                name={`Straight edge ${n + 1}, point ${i + 1}`}
                place={p}
                view={view}
                onHold={edits.onHold}
                onMove={(q) => edits.onMove({ ...saved, bowLines: moved(i, q) })}
                onDone={(q) => edits.onDone('bow line', { bowLines: moved(i, q) })}
              />
            ))}
          </g>
        );
      })}
      {withCorners && (
        <QuadHandles
          name="Frame"
          quad={(settings.frame ?? UNIT_SQUARE) as Quad}
          view={view}
          onHold={edits.onHold}
          onMove={(q) => edits.onMove({ ...saved, frame: q as never })}
          onDone={(q) => edits.onDone('frame', { frame: plain(q) })}
        />
      )}
      {bow && (
        <text x={10} y={bottomPx - 12}>
          {`Straight edges: ${(bow.before * halfPx).toFixed(1)} px off before, ${(bow.after * halfPx).toFixed(1)} px after`}
        </text>
      )}
    </>
  );
}

/** Areas picked out of the sample; the one in hand with its corners. */
export function AreasTool({
  saved,
  settings,
  used,
  view,
  edits,
}: {
  saved: Preparation;
  settings: Preparation;
  /** The area that the repeat is made from; null: the whole frame. */
  used: string | null;
  view: PlaceView;
  edits: Edits;
}) {
  const dispatch = useAppDispatch();
  const { selected, drawing } = useAppSelector((s) => s.bench);
  const withCorners = (id: string, corners: never) =>
    saved.areas.map((a) => (a.id === id ? { ...a, corners } : a));
  return settings.areas.map((area) => (
    <g key={area.id} opacity={area.leftOut ? 0.5 : 1}>
      {selected === area.id && drawing === null ? (
        <QuadHandles
          name={area.name}
          quad={area.corners as Quad}
          view={view}
          onHold={edits.onHold}
          onMove={(q) => edits.onMove({ ...saved, areas: withCorners(area.id, q as never) })}
          onDone={(q) => edits.onDone(`area ${area.id}`, { areas: withCorners(area.id, plain(q)) })}
        />
      ) : (
        <path
          d={pathOf(view, area.corners, true)}
          fill="transparent"
          stroke={RED}
          strokeWidth={used === area.id ? 2.2 : 1}
          strokeDasharray={area.leftOut ? '4 4' : undefined}
          style={{ pointerEvents: drawing === null ? 'all' : 'none', cursor: 'pointer' }}
          onPointerDown={(e) => {
            e.stopPropagation();
            dispatch(benchSlice.actions.changed({ selected: area.id }));
          }}
        />
      )}
      <Label view={view} places={area.corners} text={`${area.name}${area.leftOut ? ', left out' : ''}`} />
    </g>
  ));
}

/** Ruler lines and the structure that was found. */
export function SizeTool({
  source,
  geometry,
  structure,
  view,
  onHold,
  onLine,
}: {
  source: PictureSource;
  geometry: SampleGeometry;
  structure: FoundStructure | null;
  view: PlaceView;
  onHold: Edits['onHold'];
  onLine: (line: RulerLine) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  return (
    <>
      {structure && (
        <StructureLines structure={structure} view={view} place={(p) => toPicture(geometry.frame, p)} />
      )}
      {(source.size?.lines ?? []).map((line, n) => (
        <RulerOnPlate
          key={line.id}
          name={`Ruler line ${n + 1}`}
          line={line}
          view={view}
          text={printLength(line.lengthMm.value, units, 1)}
          onHold={onHold}
          onChange={(change) => onLine({ ...line, ...change })}
        />
      ))}
    </>
  );
}

/** A closed outline that only shows where something lies. */
export const Outline = ({
  view,
  places,
  dashes,
}: {
  view: PlaceView;
  places: readonly Point[];
  dashes?: string;
}) => (
  <path d={pathOf(view, places, true)} fill="none" stroke={RED} strokeWidth="1.2" strokeDasharray={dashes} />
);

/** Where the colours of a part were picked. */
export const Picks = ({ part, view }: { part: Part; view: PlaceView }) =>
  part.picks.map((p, i) => {
    const [x, y] = view.toScreen(p.at);
    return (
      <g key={i} transform={`translate(${x} ${y})`} aria-hidden="true">
        <circle r="5" fill="#FFFFFF" stroke="#1B1B1B" />
        <path d={p.add ? 'M-3 0H3M0 -3V3' : 'M-3 0H3'} stroke={RED} strokeWidth="1.5" />
      </g>
    );
  });

/** What is being drawn just now: a box, a straight line, or freely. */
export function TrackLine({
  track,
  as,
  view,
  frame,
}: {
  track: readonly Point[];
  as: 'box' | 'line' | 'free';
  view: PlaceView;
  frame: Frame;
}) {
  if (track.length < 2) return null;
  const [a, b] = [track[0]!, track.at(-1)!];
  if (as === 'box') return <Outline view={view} places={boxBetween(a, b, frame)} />;
  return <path d={pathOf(view, as === 'line' ? [a, b] : track)} fill="none" stroke={RED} strokeWidth="1.6" />;
}
