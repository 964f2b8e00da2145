import styled from 'styled-components';

const Line = styled.svg`
  display: block;
  background: ${({ theme }) => theme.sheet};
  color: ${({ theme }) => theme.quiet};
  font-size: 11px;
  overflow: hidden;
  user-select: none;
`;

/** Distance between numbered ticks in mm so that numbers stand at least `apartPx` apart: 1, 2 or 5 times a power of ten. */
export function tickStep(pxPerMm: number, apartPx: number): number {
  const least = apartPx / pxPerMm;
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((k) => k * power).find((s) => s >= least)!;
}

/** A ruler in millimetres along the top or the left of a picture; `startMm` is what lies at its first pixel. */
export function Ruler({
  along,
  lengthPx,
  startMm,
  pxPerMm,
}: {
  along: 'top' | 'left';
  lengthPx: number;
  startMm: number;
  pxPerMm: number;
}) {
  const step = tickStep(pxPerMm, 64);
  const small = step / 10;
  const ticks: { at: number; big: boolean; middle: boolean; mm: number }[] = [];
  if (lengthPx > 0 && pxPerMm > 0) {
    for (let k = Math.ceil(startMm / small); k * small <= startMm + lengthPx / pxPerMm; k++) {
      ticks.push({
        at: (k * small - startMm) * pxPerMm,
        big: k % 10 === 0,
        middle: k % 5 === 0,
        mm: k * small,
      });
    }
  }
  const horizontal = along === 'top';
  const digits = step < 1 ? Math.ceil(-Math.log10(step)) : 0;
  return (
    <Line width={horizontal ? lengthPx : 34} height={horizontal ? 22 : lengthPx} aria-hidden="true">
      {ticks.map(({ at, big, middle, mm }) => {
        const length = big ? 8 : middle ? 6 : 3;
        return horizontal ? (
          <g key={mm} transform={`translate(${at.toFixed(2)},0)`}>
            <path d={`M0 22v${-length}`} stroke="currentColor" strokeWidth={big ? 1 : 0.6} />
            {big && (
              <text x="3" y="11" fill="currentColor">
                {mm.toFixed(digits).replace('-', '−')}
              </text>
            )}
          </g>
        ) : (
          <g key={mm} transform={`translate(0,${at.toFixed(2)})`}>
            <path d={`M34 0h${-length}`} stroke="currentColor" strokeWidth={big ? 1 : 0.6} />
            {big && (
              <text x="30" y="-3" textAnchor="end" fill="currentColor">
                {mm.toFixed(digits).replace('-', '−')}
              </text>
            )}
          </g>
        );
      })}
    </Line>
  );
}
