import { useLayoutEffect, useRef } from 'react';
import styled, { useTheme } from 'styled-components';
import { sizedContext } from './canvas-size';

const Line = styled.canvas`
  display: block;
  background: ${({ theme }) => theme.sheet};
`;

/** Distance between numbered ticks in mm so that numbers stand at least `apartPx` apart: 1, 2 or 5 times a power of ten. */
export function tickStep(pxPerMm: number, apartPx: number): number {
  const least = apartPx / pxPerMm;
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((k) => k * power).find((s) => s >= least)!;
}

/** Room that a number takes; one that would be cut off at the end is left out. */
const LABEL_PX = 26;
/** Breadth of a ruler along the top and along the left. */
const BREADTH_PX = { top: 22, left: 34 } as const;
/** Of the numbers, as the theme sets it. */
const FONT = "11px 'Archivo Variable', sans-serif";
/** Lengths of numbered ticks, of those in the middle between them, and of all others. */
const TICK_PX = { numbered: 8, middle: 6, other: 3 } as const;

/**
 * A ruler in millimetres along the top or the left of a picture; `startMm` is what lies at its first pixel. It is painted,
 * not built of elements, since it changes with every step of a drag.
 */
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
  const canvas = useRef<HTMLCanvasElement>(null);
  const { quiet } = useTheme();
  const [width, height] = along === 'top' ? [lengthPx, BREADTH_PX.top] : [BREADTH_PX.left, lengthPx];
  useLayoutEffect(() => {
    const target = canvas.current!;
    const context = sizedContext(target, width, height);
    context.clearRect(0, 0, width, height);
    context.strokeStyle = context.fillStyle = quiet;
    context.font = FONT;
    if (lengthPx > 0 && pxPerMm > 0) paintTicks(context, along, lengthPx, startMm, pxPerMm);
  }, [along, lengthPx, startMm, pxPerMm, width, height, quiet]);
  return <Line ref={canvas} style={{ width, height }} aria-hidden="true" />;
}

function paintTicks(
  context: CanvasRenderingContext2D,
  along: 'top' | 'left',
  lengthPx: number,
  startMm: number,
  pxPerMm: number,
): void {
  const step = tickStep(pxPerMm, 64);
  const small = step / 10;
  const digits = step < 1 ? Math.ceil(-Math.log10(step)) : 0;
  const breadth = BREADTH_PX[along];
  for (let k = Math.ceil(startMm / small); k * small <= startMm + lengthPx / pxPerMm; k++) {
    const at = (k * small - startMm) * pxPerMm;
    const numbered = k % 10 === 0;
    const length = numbered ? TICK_PX.numbered : k % 5 === 0 ? TICK_PX.middle : TICK_PX.other;
    context.lineWidth = numbered ? 1 : 0.6;
    context.beginPath();
    if (along === 'top') {
      context.moveTo(at, breadth);
      context.lineTo(at, breadth - length);
    } else {
      context.moveTo(breadth, at);
      context.lineTo(breadth - length, at);
    }
    context.stroke();
    if (!numbered) continue;
    const words = (k * small).toFixed(digits).replace('-', '−');
    if (along === 'top') {
      context.textAlign = 'left';
      if (at + 3 + LABEL_PX < lengthPx) context.fillText(words, at + 3, 11);
    } else {
      context.textAlign = 'right';
      if (at > 12) context.fillText(words, breadth - 4, at - 3);
    }
  }
}
