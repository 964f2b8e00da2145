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

/** Part of the camera's picture that is drawn, px. */
const SEEN_PX = { width: 48, height: 30 };
/** Pixels of the picture that the scale bar is long. */
const BAR_PX = 10;
/** Lines closer than this on the screen, px, would only darken the picture. */
const LINES_FROM_PX = 3;

/** The planned mesh as the camera sees it around the middle of the surface, enlarged, with all its edges. */
export function MeshView({ drawn, plan, view }: { drawn: Drawn; plan: ReliefPlan; view: ReliefView }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [all, setAll] = useState(false);
  const theme = useTheme();
  const spacingMm = all ? Math.min(plan.spacingMm, plan.choices[0]!.spacingMm) : plan.spacingMm;
  useEffect(() => {
    const { heightMm: data, widthPx, heightPx, report } = drawn;
    const { width, height } = report.repeatMm;
    const mesh = seenMesh(
      { widthPx, heightPx, data },
      { x: width / widthPx, y: height / heightPx },
      view,
      spacingMm,
      SEEN_PX,
    );
    const shown = canvas.current!.clientWidth;
    const zoom = shown / SEEN_PX.width;
    const context = sizedContext(canvas.current!, shown, SEEN_PX.height * zoom);
    context.fillStyle = theme.field;
    context.fillRect(0, 0, shown, SEEN_PX.height * zoom);
    drawCells(context, mesh, zoom, plan.spacingPx * zoom >= LINES_FROM_PX && !all ? theme.mark : null);
    drawBar(context, zoom, theme);
  }, [drawn, plan, view, spacingMm, all, theme]);
  return (
    <Figure>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`The mesh from the camera: edges of ${printNumber(plan.spacingPx, 1)} px, lit from the upper left`}
        style={{ aspectRatio: `${SEEN_PX.width} / ${SEEN_PX.height}` }}
      />
      <Quiet as="figcaption">
        As the camera sees the middle of the surface, enlarged; the bar is {BAR_PX} px of its picture long.
      </Quiet>
      <Tick name="All heights instead of the mesh" value={all} onChange={setAll} />
    </Figure>
  );
}

/** Cells from the farthest to the nearest, each with its light and, where lines are told, its edges and one diagonal. */
function drawCells(
  context: CanvasRenderingContext2D,
  { columns, rows, x, y, light }: SeenMesh,
  zoom: number,
  lines: string | null,
): void {
  const [left, top] = [(SEEN_PX.width / 2) * zoom, (SEEN_PX.height / 2) * zoom];
  const to = (i: number) => [left + x[i]! * zoom, top - y[i]! * zoom] as const;
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
  zoom: number,
  theme: { ink: string; field: string },
): void {
  const [x, y, length] = [10, SEEN_PX.height * zoom - 12, BAR_PX * zoom];
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
