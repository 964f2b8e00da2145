import { useMemo, useState } from 'react';
import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import type { GlarePlace, TargetFit } from '@jossel/core/light';
import { mmOfLongSide, type Preparation } from '@jossel/core/sample';
import type { FoundStructure } from '@jossel/core/size';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import { makeFrame, toFrame, type Point, type Quad } from '@jossel/core/straighten';
import { printArea } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OnOff } from '../../../controls/basics';
import { benchSlice } from '../../bench-slice';
import { withKey } from '../../keys/bench-keys';
import { newId } from '../../new-id';
import { usedAreaOf } from '../../picture-in-hand';
import { useSamplePicture, useShownPart } from '../../use-sample';
import { Loupe } from '../handles/Loupe';
import { receivedView, straightView } from '../handles/place-view';
import { RuledView } from '../RuledView';
import { drawnNext, keepOutOf, type Hand } from './drawn';
import type { Edits } from './SampleOverlay';
import { SampleTools } from './SampleTools';
import { useSampleEdits } from './use-sample-edits';
import { useSampleTints } from './use-sample-tints';

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
  const saved = source.preparation;
  const [held, setHeld] = useState<Point | null>(null);
  const [track, setTrack] = useState<Point[]>([]);

  const { frame, size } = geometry;
  const frameMm = useMemo(() => ({ width: size.width.mm, height: size.height.mm }), [size]);
  const longMm = mmOfLongSide(frame, frameMm);
  const long = Math.max(sample.widthPx, sample.heightPx);
  const fieldMm =
    look === 'received'
      ? { width: (longMm * sample.widthPx) / long, height: (longMm * sample.heightPx) / long }
      : frameMm;
  const { canvas, sentence: unseen } = useSamplePicture(sample, saved, look);
  const { section, tool, selected, brush } = bench;
  const partInHand =
    section === 'sample' && tool === 'parts'
      ? (saved.parts.find((p) => p.id === selected) ?? saved.parts[0] ?? null)
      : null;
  const shownPart = useShownPart(sample, saved, look === 'straight' ? frameMm : null, partInHand);
  const drawing = drawnNext(bench);
  const hand = useMemo(
    (): Hand => ({ source, sample, geometry, brush, newId }),
    [source, sample, geometry, brush],
  );
  const { live, sentence, move, commit, drawn, putLine } = useSampleEdits({
    ...{ recipe, source, sample, hand, drawing, partInHand, onLive },
  });

  /** The frame by which marks are drawn over what is shown. */
  const shownFrame = useMemo(
    () =>
      look === 'straight'
        ? frame
        : makeFrame({ widthPx: sample.widthPx, heightPx: sample.heightPx }, { bowLines: [], frame: null }),
    [look, frame, sample.widthPx, sample.heightPx],
  );
  const trackMark = useMemo(
    () => (drawing === 'keep-outs' && track.length > 0 ? keepOutOf(hand, track, 'now') : null),
    [drawing, track, hand],
  );
  const paint = useSampleTints({
    canvas,
    marks: saved,
    drawn: trackMark,
    part: partInHand ? shownPart.value : null,
    frame: shownFrame,
    fieldMm,
  });

  const edits: Edits = { onHold: setHeld, onMove: move, onDone: commit };
  const liveFrame = useMemo(() => {
    try {
      return live ? makeFrame(sample, { ...live, frame: live.frame as Quad | null }) : frame;
    } catch {
      return frame;
    }
  }, [live, sample, frame]);

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
      pans={drawing === null}
      still={look === 'received'}
      bar={
        <OnOff
          name="grid"
          tip={withKey('Grid lines over the straightened frame', 'l')}
          value={bench.grid}
          onChange={(grid) => dispatch(benchSlice.actions.changed({ grid }))}
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
            <Over>
              <SampleTools
                {...{ source, sample, geometry, look, structure, glare, fit }}
                {...{ liveFrame, partInHand, drawing, track, view, edits }}
                used={usedAreaOf(recipe, source)}
                settings={live ?? saved}
                marked={trackMark !== null}
                box={placed.box}
                onTrack={setTrack}
                onDrawn={(places) => {
                  setTrack([]);
                  drawn(places);
                }}
                onLine={putLine}
              />
            </Over>
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
