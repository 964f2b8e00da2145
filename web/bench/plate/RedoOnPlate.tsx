import { useState } from 'react';
import styled from 'styled-components';
import { withAreasRedone, type Recipe } from '@jossel/core/finish';
import { arrangementOf } from '@jossel/core/repeat';
import { quadArea, type Point } from '@jossel/core/straighten';
import { useChange } from '../ledger/use-change';
import { newId } from '../new-id';
import { OverPlate } from './OverPlate';
import { Ground } from './handles/Ground';
import { pathOf, type PlaceView } from './handles/place-view';
import { thinned } from './handles/tracks';
import { InFirstRepeat } from './RepetitionOnPlate';
import type { Placed } from './RuledView';

const Say = styled.p.attrs({ role: 'alert' })`
  position: absolute;
  left: 10px;
  bottom: 10px;
  max-width: 60ch;
  padding: 5px 10px;
  background: ${({ theme }) => theme.sheet};
  border-left: 3px solid ${({ theme }) => theme.mark};
  pointer-events: none;
`;

/** An area smaller than this share of the repeat holds no cell of it. */
const LEAST_SHARE = 0.0004;

/** The repeat to draw areas on that are to be laid anew; those that were are outlined. */
export function RedoOnPlate({
  recipe,
  view,
  placed,
  repeatMm,
}: {
  recipe: Recipe;
  view: PlaceView;
  placed: Placed;
  repeatMm: { width: number; height: number };
}) {
  const change = useChange(recipe, 'repeat');
  const [track, setTrack] = useState<readonly Point[]>([]);
  const [fault, setFault] = useState('');
  const { redone } = arrangementOf(recipe.repeat);

  function done(places: readonly Point[]) {
    setTrack([]);
    const outline = thinned(places).slice(0, 500);
    const size = Math.abs(quadArea(outline));
    if (outline.length < 3 || size < LEAST_SHARE) {
      setFault('This area has no extent. Outline the area to re-lay.');
      return;
    }
    if (size > 0.6) {
      setFault('This is most of the repeat. Ask for another arrangement instead, or draw a smaller area.');
      return;
    }
    if (redone.length >= 200) {
      setFault('200 areas are re-laid; remove some, or begin another arrangement.');
      return;
    }
    setFault('');
    // Drawn on any of the repeats shown: taken to the first.
    const [mx, my] = [0, 1].map((k) => outline.reduce((sum, p) => sum + p[k]!, 0) / outline.length) as [
      number,
      number,
    ];
    const area = outline.map(([x, y]): [number, number] => [
      Math.min(2, Math.max(-1, x - Math.floor(mx))),
      Math.min(2, Math.max(-1, y - Math.floor(my))),
    ]);
    change('area laid anew', withAreasRedone(recipe.repeat, [area], [], newId()));
  }
  return (
    <>
      <OverPlate>
        <Ground
          name="Draw round an area that is to be laid anew"
          view={view}
          box={placed.box}
          onTrack={(places) => {
            setFault('');
            setTrack(places);
          }}
          onDone={done}
        />
        <g pointerEvents="none" fill="none">
          <InFirstRepeat placed={placed} repeatMm={repeatMm}>
            {redone.map(({ id, areas }, k) => (
              <g key={id}>
                {areas.map((area, n) => (
                  <g key={n}>
                    <path d={pathOf(view, area, true)} stroke="#F7F7F7" strokeWidth="2.6" opacity="0.7" />
                    <path
                      d={pathOf(view, area, true)}
                      stroke="#1B1B1B"
                      strokeWidth="1"
                      strokeDasharray="5 4"
                    />
                    <text
                      x={view.toScreen(area[0]!)[0]}
                      y={view.toScreen(area[0]!)[1] - 4}
                      fontSize="12"
                      fill="#1B1B1B"
                      stroke="#F7F7F7"
                      strokeWidth="3"
                      paintOrder="stroke"
                    >
                      {k + 1}
                    </text>
                  </g>
                ))}
              </g>
            ))}
          </InFirstRepeat>
          {track.length > 1 && (
            <path d={pathOf(view, track)} stroke="#A6281C" strokeWidth="2" strokeLinejoin="round" />
          )}
        </g>
      </OverPlate>
      {fault && <Say>{fault}</Say>}
    </>
  );
}
