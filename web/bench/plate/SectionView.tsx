import styled from 'styled-components';
import type { Drawn } from '../../workers/render.worker';
import { Quiet } from '../../controls/basics';

const Box = styled.section`
  display: grid;
  grid-template-rows: 26px 1fr;
  height: 118px;
  border-top: 1px solid ${({ theme }) => theme.strong};
  min-width: 0;
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 0 10px;
  }
  svg {
    display: block;
    margin-left: 34px;
    background: ${({ theme }) => theme.field};
  }
`;

const DEPTH_SCALES = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000];
const HEIGHT_PX = 90;

export interface Window {
  widthPx: number;
  pxPerMm: number;
  startMm: number;
  scale: number;
}

/** The relief along line A–A, on the same millimetre axis as the plate above it; its depth scale is stated. */
export function SectionView({
  drawn,
  window,
  atShare,
  edgesAt,
  fieldMm,
}: {
  drawn: Drawn | null;
  window: Window;
  atShare: number;
  /** Where the repeat begins on the plate, as shares of it. */
  edgesAt: readonly [number, number];
  fieldMm: number;
}) {
  const depth = drawn ? Math.max(1e-6, drawn.report.heightMm.max - drawn.report.heightMm.min) : 1;
  const trueMm = window.pxPerMm * window.scale;
  // Depth is drawn at most 56 px high.
  const deep = [...DEPTH_SCALES].reverse().find((k) => (depth * k * trueMm) / window.scale <= 56) ?? 1;
  const pxPerDepthMm = (deep * trueMm) / window.scale;
  let path = '';
  let level = 0;
  if (drawn && window.widthPx > 0) {
    const { widthPx: w, heightPx: h, heightMm: data, report } = drawn;
    const row = Math.min(h - 1, Math.floor(((((atShare - edgesAt[1]) % 1) + 1) % 1) * h)) * w;
    const middle = (report.heightMm.max + report.heightMm.min) / 2;
    const top = HEIGHT_PX / 2 - 4;
    level = top + middle * pxPerDepthMm;
    const points: string[] = [];
    for (let px = 0; px <= window.widthPx; px++) {
      const mm = window.startMm + px / window.pxPerMm;
      if (mm < 0 || mm > fieldMm) continue;
      const x = (mm / report.repeatMm.width - edgesAt[0]) * w - 0.5;
      const x0 = Math.floor(x);
      const a = data[row + (((x0 % w) + w) % w)]!;
      const b = data[row + ((((x0 + 1) % w) + w) % w)]!;
      points.push(`${px},${(top - (a + (b - a) * (x - x0) - middle) * pxPerDepthMm).toFixed(1)}`);
    }
    if (points.length > 1) {
      const [first, last] = [points[0]!.split(',')[0], points.at(-1)!.split(',')[0]];
      path = `M${first},${HEIGHT_PX + 2}L${points.join('L')}L${last},${HEIGHT_PX + 2}Z`;
    }
  }
  const ratio =
    deep >= window.scale
      ? `${deep / window.scale >= 1 ? Number((deep / window.scale).toPrecision(3)) : 1}:1`
      : `1:${Number((window.scale / deep).toPrecision(3))}`;
  return (
    <Box aria-label="Section A–A">
      <header>
        <h2>Section A–A</h2>
        <Quiet>
          along 1:{window.scale}, deep {ratio}
        </Quiet>
      </header>
      <svg
        width={Math.max(0, window.widthPx)}
        height={HEIGHT_PX}
        role="img"
        aria-label="Profile of the relief along line A–A"
      >
        <defs>
          <pattern id="cut" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V6" stroke="#C9C9C9" strokeWidth="1.4" />
          </pattern>
        </defs>
        <path d={path} fill="url(#cut)" stroke="#1B1B1B" strokeWidth="1" strokeLinejoin="round" />
        {path && (
          <path
            d={`M0 ${level.toFixed(1)}H${window.widthPx}`}
            stroke="#A6281C"
            strokeWidth="0.7"
            strokeDasharray="10 3 2 3"
          />
        )}
      </svg>
    </Box>
  );
}
