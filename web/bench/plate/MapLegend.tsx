import styled from 'styled-components';
import type { MapName } from '@jossel/core/finish';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import type { Drawn } from '../../workers/render.worker';

const Legend = styled.div`
  position: absolute;
  right: 8px;
  bottom: 8px;
  padding: 2px 7px 3px;
  background: ${({ theme }) => theme.sheet};
  font-size: 11px;
  display: flex;
  align-items: center;
  gap: 6px;
  pointer-events: none;
  i {
    width: 70px;
    height: 8px;
    border: 1px solid ${({ theme }) => theme.strong};
    background: linear-gradient(to right, #000, #fff);
  }
`;

/** What black and white stand for on a map of figures. */
export function MapLegend({ map, drawn: { report, uneven } }: { map: MapName; drawn: Drawn }) {
  const units = useAppSelector((s) => s.settings.units);
  const ends = ((): readonly [string, string] | string | null => {
    switch (map) {
      case 'height':
        return [printLength(report.heightMm.min, units, 2), printLength(report.heightMm.max, units, 2)];
      case 'roughness':
        return uneven.roughness ? ['0', '1'] : `even: ${printNumber(report.roughness, 3)}`;
      case 'metalness':
      case 'opacity':
        return uneven[map] ? ['0', '1'] : 'even';
      case 'occlusion':
        return ['0, hidden', '1, open'];
      case 'normal':
        return 'red: right, green: up, blue: to the eye';
      default:
        return null;
    }
  })();
  if (!ends) return null;
  if (typeof ends === 'string') return <Legend>{ends}</Legend>;
  return (
    <Legend role="img" aria-label={`Black is ${ends[0]}, white is ${ends[1]}`}>
      {ends[0]}
      <i />
      {ends[1]}
    </Legend>
  );
}
