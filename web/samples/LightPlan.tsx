import styled from 'styled-components';
import { anglesOf, type Light } from '@jossel/core/photometric';

const Plan = styled.svg`
  display: block;
  circle,
  line {
    fill: none;
    stroke: ${({ theme }) => theme.line};
  }
  rect {
    fill: ${({ theme }) => theme.field};
    stroke: ${({ theme }) => theme.ink};
  }
  text {
    font-size: 10px;
    fill: ${({ theme }) => theme.ink};
  }
  circle.light {
    fill: ${({ theme }) => theme.sheet};
    stroke: ${({ theme }) => theme.ink};
  }
  circle.doubted {
    fill: ${({ theme }) => theme.mark};
    stroke: ${({ theme }) => theme.mark};
  }
  circle.doubted + text {
    fill: ${({ theme }) => theme.onMark};
  }
`;

const SIZE_PX = 168;
const OUTER_PX = 72;
const RINGS_DEG = [0, 30, 60];

/** Where the lights of a set stand, seen from above: the sample in the middle, the horizon at the outer ring. */
export function LightPlan({
  lights,
  doubted = [],
}: {
  lights: readonly Light[];
  doubted?: readonly number[];
}) {
  const middle = SIZE_PX / 2;
  const radius = (elevationDeg: number) => OUTER_PX * (1 - elevationDeg / 90);
  return (
    <Plan width={SIZE_PX} height={SIZE_PX} role="img" aria-label={`${lights.length} lights, seen from above`}>
      {RINGS_DEG.map((deg) => (
        <circle key={deg} cx={middle} cy={middle} r={radius(deg)} />
      ))}
      <line x1={middle - OUTER_PX} x2={middle + OUTER_PX} y1={middle} y2={middle} />
      <line y1={middle - OUTER_PX} y2={middle + OUTER_PX} x1={middle} x2={middle} />
      <rect x={middle - 9} y={middle - 7} width={18} height={14} />
      {lights.map((light, k) => {
        const { azimuthDeg, elevationDeg } = anglesOf(light);
        const r = radius(Math.max(0, elevationDeg));
        const [x, y] = [
          middle + r * Math.cos((azimuthDeg * Math.PI) / 180),
          middle - r * Math.sin((azimuthDeg * Math.PI) / 180),
        ];
        return (
          <g key={k}>
            <circle className={doubted.includes(k) ? 'doubted' : 'light'} cx={x} cy={y} r={8} />
            <text x={x} y={y + 3.5} textAnchor="middle">
              {k + 1}
            </text>
          </g>
        );
      })}
    </Plan>
  );
}
