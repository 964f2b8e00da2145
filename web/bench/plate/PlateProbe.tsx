import { useState } from 'react';
import styled from 'styled-components';
import { ciede2000 } from '@jossel/core/colour';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { printLab } from '../ledger/colour/parts';
import type { Drawn } from '../../workers/render.worker';
import { OverPlate } from './OverPlate';
import { Ground } from './handles/Ground';
import type { PlaceView } from './handles/place-view';
import { probe } from './probe';
import type { Placed } from './RuledView';

const Read = styled.p.attrs({ role: 'status' })`
  position: absolute;
  left: 10px;
  bottom: 10px;
  padding: 5px 10px;
  background: ${({ theme }) => theme.sheet};
  border-left: 3px solid ${({ theme }) => theme.ink};
  pointer-events: none;
`;

/** Opening of the probe when it is only pressed, mm: that of a common reflectance meter. */
const OPENING_MM = 8;

/** Reads the repeat where it is pressed; drawn outwards, a larger round area. */
export function PlateProbe({
  drawn,
  placed,
  edgesAt,
  target,
}: {
  drawn: Drawn;
  placed: Placed;
  edgesAt: readonly [number, number];
  target: readonly [number, number, number] | null;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const [spot, setSpot] = useState<{ xMm: number; yMm: number; radiusMm: number } | null>(null);
  const { left, top, pxPerMm, box } = placed;
  // Places of this view are mm on the plate.
  const view: PlaceView = {
    toScreen: ([x, y]) => [left + x * pxPerMm, top + y * pxPerMm],
    toPlace: (x, y) => [(x - left) / pxPerMm, (y - top) / pxPerMm],
    step: { x: 1, y: 1 },
    longSharePerPx: 1 / pxPerMm,
  };
  const read = (places: readonly (readonly [number, number])[]) => {
    if (places.length === 0) return;
    const [a, b] = [places[0]!, places.at(-1)!];
    setSpot({
      xMm: a[0],
      yMm: a[1],
      radiusMm: Math.max(OPENING_MM / 2, Math.hypot(b[0] - a[0], b[1] - a[1])),
    });
  };
  const { repeatMm } = drawn.report;
  const reading =
    spot &&
    probe(
      drawn,
      [spot.xMm / repeatMm.width - edgesAt[0], spot.yMm / repeatMm.height - edgesAt[1]],
      spot.radiusMm,
    );
  const [x, y] = spot ? view.toScreen([spot.xMm, spot.yMm]) : [0, 0];
  return (
    <>
      <OverPlate>
        <Ground name="Read a spot of the repeat" view={view} box={box} onTrack={read} onDone={read} />
        {spot && (
          <g pointerEvents="none" fill="none">
            <circle cx={x} cy={y} r={Math.max(3, spot.radiusMm * pxPerMm)} stroke="#FFFFFF" strokeWidth="3" />
            <circle
              cx={x}
              cy={y}
              r={Math.max(3, spot.radiusMm * pxPerMm)}
              stroke="#1B1B1B"
              strokeWidth="1.2"
            />
          </g>
        )}
      </OverPlate>
      <Read>
        {reading && spot ? (
          <>
            <strong>LRV {printNumber(reading.lrv, 1)}</strong>, Lab {printLab(reading.lab)}
            {target && `, ΔE00 ${printNumber(ciede2000(reading.lab, target), 1)}`}, over{' '}
            {printLength(2 * spot.radiusMm, units, 0)}
          </>
        ) : (
          `Press to read ${OPENING_MM} mm, drag outwards for more.`
        )}
      </Read>
    </>
  );
}
