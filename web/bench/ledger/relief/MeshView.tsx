import { useEffect, useRef, useState } from 'react';
import styled, { useTheme } from 'styled-components';
import { seenMesh, type ReliefPlan, type ReliefView, type SeenMesh } from '@jossel/core/schedule';
import { printNumber } from '@jossel/core/units';
import { Tick } from '../../../controls/amounts';
import { Quiet } from '../../../controls/basics';
import { sizedContext } from '../../../controls/canvas-size';
import type { Drawn } from '../../../workers/render.worker';

const Figure = styled.figure`
  display: grid;
  gap: 6px;
  canvas {
    display: block;
    width: 100%;
    border: 1px solid ${({ theme }) => theme.line};
  }
`;

/** At least so many pixels of the camera's picture are drawn across, and so many edges of the mesh. */
const LEAST_PX = 48;
const LEAST_EDGES = 14;
const ASPECT = 1.6;
/** Lengths of the scale bar, px of the picture; the longest that takes less than this share of the width is drawn. */
const BARS_PX = [5, 10, 20, 50, 100, 200, 500, 1000];
const BAR_SHARE = 0.3;
/** Lines closer than this on the screen, px, would only darken the picture. */
const LINES_FROM_PX = 3;

/** The planned mesh as the camera sees it around the middle of the surface, enlarged, with all its edges. */
export function MeshView({ drawn, plan, view }: { drawn: Drawn; plan: ReliefPlan; view: ReliefView }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [all, setAll] = useState(false);
  const theme = useTheme();
  const acrossPx = Math.max(LEAST_PX, LEAST_EDGES * plan.spacingPx);
  const barPx = BARS_PX.filter((px) => px < BAR_SHARE * acrossPx).at(-1)!;
  const spacingMm = all ? Math.min(plan.spacingMm, plan.choices[0]!.spacingMm) : plan.spacingMm;
  useEffect(() => {
    const { heightMm: data, widthPx, heightPx, report } = drawn;
    const { width, height } = report.repeatMm;
    const mesh = seenMesh(
      { widthPx, heightPx, data },
      { x: width / widthPx, y: height / heightPx },
      view,
      spacingMm,
      { width: acrossPx, height: acrossPx / ASPECT },
    );
    const size = { width: canvas.current!.clientWidth, height: canvas.current!.clientWidth / ASPECT };
    const zoom = size.width / acrossPx;
    const context = sizedContext(canvas.current!, size.width, size.height);
    context.fillStyle = theme.field;
    context.fillRect(0, 0, size.width, size.height);
    context.save();
    context.translate(size.width / 2, size.height / 2);
    drawCells(context, mesh, zoom, plan.spacingPx * zoom >= LINES_FROM_PX && !all ? theme.mark : null);
    context.restore();
    drawBar(context, barPx * zoom, size.height, theme);
  }, [drawn, plan, view, spacingMm, all, theme, acrossPx, barPx]);
  return (
    <Figure>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`The mesh from the camera: edges of ${printNumber(plan.spacingPx, 1)} px, lit from the upper left`}
        style={{ aspectRatio: ASPECT }}
      />
      <Quiet as="figcaption">
        As the camera sees the middle of the surface, enlarged; the bar is {barPx} px of its picture long.
      </Quiet>
      <Tick name="All heights instead of the mesh" value={all} onChange={setAll} />
    </Figure>
  );
}

/** Cells about the origin from the farthest to the nearest, each with its light and, where lines are told, its edges and one diagonal. */
function drawCells(
  context: CanvasRenderingContext2D,
  { columns, rows, x, y, light }: SeenMesh,
  zoom: number,
  lines: string | null,
): void {
  const to = (i: number) => [x[i]! * zoom, -y[i]! * zoom] as const;
  context.lineWidth = 0.75;
  context.lineJoin = 'round';
  for (let row = 0, k = 0; row < rows - 1; row++)
    for (let column = 0; column < columns - 1; column++, k++) {
      const i = row * columns + column;
      const corners = [to(i), to(i + 1), to(i + columns + 1), to(i + columns)];
      const grey = Math.round(255 * Math.sqrt(0.04 + 0.9 * light[k]!));
      context.beginPath();
      corners.forEach(([px, py], n) => (n === 0 ? context.moveTo(px, py) : context.lineTo(px, py)));
      context.closePath();
      context.fillStyle = `rgb(${grey} ${grey} ${grey})`;
      context.fill();
      if (lines) context.lineTo(...corners[2]!);
      context.strokeStyle = lines ?? context.fillStyle;
      context.stroke();
    }
}

function drawBar(
  context: CanvasRenderingContext2D,
  length: number,
  height: number,
  theme: { ink: string; field: string },
): void {
  const [x, y] = [10, height - 12];
  context.fillStyle = theme.field;
  context.fillRect(x - 4, y - 5, length + 8, 11);
  context.strokeStyle = theme.ink;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(x, y - 3);
  context.lineTo(x, y + 3);
  context.moveTo(x, y);
  context.lineTo(x + length, y);
  context.moveTo(x + length, y - 3);
  context.lineTo(x + length, y + 3);
  context.stroke();
}
