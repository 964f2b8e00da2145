import styled from 'styled-components';
import { Amount } from '../../controls/amounts';
import { RAKING_DEG } from './tile';

const Mark = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  color: ${({ theme }) => theme.mark};
  path {
    fill: currentColor;
  }
  line {
    stroke: currentColor;
    stroke-width: 1.5px;
  }
`;
const Legend = styled.div`
  position: absolute;
  right: 8px;
  bottom: 8px;
  padding: 2px 7px 3px;
  background: ${({ theme }) => theme.sheet};
  width: 260px;
  font-size: 11px;
`;

const LENGTH_PX = 44;
const INSET_PX = 30;

/** The side that the raking light comes from, as an arrow at the edge of the view that points the way it goes. */
export function RakingMark({
  azimuthDeg,
  box,
  onTurn,
}: {
  azimuthDeg: number;
  box: { w: number; h: number };
  onTurn: (azimuthDeg: number) => void;
}) {
  const azimuth = (azimuthDeg * Math.PI) / 180;
  const [dx, dy] = [Math.cos(azimuth), -Math.sin(azimuth)];
  const reach = Math.min(
    (box.w / 2 - INSET_PX) / Math.max(1e-6, Math.abs(dx)),
    (box.h / 2 - INSET_PX) / Math.max(1e-6, Math.abs(dy)),
  );
  const turnDeg = 180 - azimuthDeg;
  return (
    <>
      <Mark aria-hidden="true">
        <g transform={`translate(${box.w / 2 + dx * reach} ${box.h / 2 + dy * reach}) rotate(${turnDeg})`}>
          <line x1={-LENGTH_PX / 2} x2={LENGTH_PX / 2} y1={0} y2={0} />
          <path d={`M${LENGTH_PX / 2} 0l-11-5v10Z`} />
        </g>
      </Mark>
      <Legend>
        <Amount
          label="Light from"
          labelPx={64}
          unit="°"
          value={azimuthDeg}
          min={0}
          max={360}
          step={5}
          digits={0}
          neutral={0}
          onChange={onTurn}
        />
        {RAKING_DEG}° above the surface; colour left out
      </Legend>
    </>
  );
}
