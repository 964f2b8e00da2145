import styled from 'styled-components';
import { drawdownOfCloth, type GeneratedSettings } from '@jossel/core/generate';

const Draft = styled.figure`
  margin: 0;
  display: grid;
  gap: 4px;
  svg {
    width: 100%;
    height: 120px;
    background: ${({ theme }) => theme.field};
    border: 1px solid ${({ theme }) => theme.line};
  }
  rect {
    fill: ${({ theme }) => theme.ink};
  }
  figcaption {
    font-size: 12px;
    color: ${({ theme }) => theme.quiet};
  }
`;

const COLUMNS = 32;
const ROWS = 12;

/** The draft as weavers draw it: a filled square where the warp lies on top, wefts from the bottom up. */
export function Drawdown({ generated }: { generated: GeneratedSettings }) {
  const down = drawnOr(generated);
  if (typeof down === 'string') return <p role="alert">{down}</p>;
  const height = down.length;
  const width = down[0]!.length;
  const squares: React.ReactNode[] = [];
  for (let j = 0; j < ROWS; j++)
    for (let i = 0; i < COLUMNS; i++)
      if (down[j % height]![i % width])
        squares.push(
          <rect key={`${i} ${j}`} x={i + 0.06} y={ROWS - 1 - j + 0.06} width={0.88} height={0.88} />,
        );
  return (
    <Draft>
      <svg
        viewBox={`0 0 ${COLUMNS} ${ROWS}`}
        role="img"
        aria-label={`Draft of ${width} by ${height} threads`}
      >
        {squares}
      </svg>
      <figcaption>
        Draft, {width} × {height} threads; filled: warp on top
      </figcaption>
    </Draft>
  );
}

function drawnOr(generated: GeneratedSettings) {
  try {
    return drawdownOfCloth(generated);
  } catch (error) {
    return (error as Error).message;
  }
}
