import type { GlarePlace, TargetFit } from '@jossel/core/light';
import type { Preparation } from '@jossel/core/sample';
import type { FoundStructure, RulerLine } from '@jossel/core/size';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Frame, Point } from '@jossel/core/straighten';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import type { PlaceView } from '../handles/place-view';
import { Ground } from '../handles/Ground';
import { ColourTools } from './ColourTools';
import { DRAWN_NAMES, type Drawn } from './drawn';
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

/** How the track of what is drawn is shown. */
const TRACKS: Partial<Record<Drawn, 'box' | 'free'>> = {
  area: 'box',
  'keep-outs': 'free',
  'continuity-lines': 'free',
};

/** The handles and marks over a sample: those of the section that is open and of the tool in hand. */
export function SampleTools({
  source,
  sample,
  geometry,
  look,
  structure,
  glare,
  fit,
  used,
  settings,
  liveFrame,
  partInHand,
  drawing,
  track,
  marked,
  view,
  box,
  edits,
  onTrack,
  onDrawn,
  onLine,
}: {
  source: PictureSource;
  sample: Sample;
  geometry: SampleGeometry;
  look: 'received' | 'straight';
  structure: FoundStructure | null;
  glare: readonly GlarePlace[];
  fit: TargetFit | null;
  /** Id of the area that the repeat is made from. */
  used: string | null;
  /** As they are while something is dragged. */
  settings: Preparation;
  liveFrame: Frame;
  partInHand: Preparation['parts'][number] | null;
  /** What is drawn next; null: nothing. */
  drawing: Drawn | null;
  /** What was drawn of it so far. */
  track: readonly Point[];
  /** The track is shown as the mark that it makes. */
  marked: boolean;
  view: PlaceView;
  box: { w: number; h: number };
  edits: Edits;
  onTrack: (places: Point[]) => void;
  onDrawn: (places: Point[]) => void;
  onLine: (line: RulerLine) => void;
}) {
  const { section, tool, grid } = useAppSelector((s) => s.bench);
  const { preparation: saved } = source;
  const { frame } = geometry;
  const onSample = section === 'sample';
  const usedArea = settings.areas.find((a) => a.id === used);
  const card = source.size?.card;
  return (
    <>
      {grid && <GridLines view={view} frame={liveFrame} />}
      {drawing && (
        <Ground name={DRAWN_NAMES[drawing]} view={view} box={box} onTrack={onTrack} onDone={onDrawn} />
      )}
      {onSample && tool === 'frame' && (
        <FrameTool
          saved={saved}
          settings={settings}
          sample={sample}
          view={view}
          bottomPx={box.h}
          withCorners={look === 'received' && drawing === null}
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
          onHold={edits.onHold}
          onLine={onLine}
        />
      )}
      {section === 'colour' && (
        <ColourTools source={source} sample={sample} frame={frame} glare={glare} fit={fit} view={view} />
      )}
      {partInHand && <Picks part={partInHand} view={view} />}
      {drawing && drawing !== 'parts' && !marked && (
        <TrackLine track={track} as={TRACKS[drawing] ?? 'line'} view={view} frame={frame} />
      )}
    </>
  );
}
