import { useEffect, useRef } from 'react';
import styled from 'styled-components';

const SIZE_PX = 132;
const TIMES = 5;

const Glass = styled.div`
  position: absolute;
  pointer-events: none;
  width: ${SIZE_PX}px;
  height: ${SIZE_PX}px;
  border: 2px solid ${({ theme }) => theme.ink};
  background: #919191;
  z-index: 2;
  canvas {
    display: block;
  }
`;

/** What lies under the pointer, five times as large, with a cross on the very pixel. */
export function Loupe({
  picture,
  at,
  screen,
  box,
}: {
  picture: HTMLCanvasElement;
  /** Place in shares of the shown picture. */
  at: readonly [number, number];
  screen: readonly [number, number];
  box: { w: number; h: number };
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    context.imageSmoothingEnabled = false;
    context.fillStyle = '#919191';
    context.fillRect(0, 0, SIZE_PX, SIZE_PX);
    const n = SIZE_PX / TIMES;
    const [x, y] = [at[0] * picture.width - n / 2, at[1] * picture.height - n / 2];
    context.drawImage(picture, x, y, n, n, 0, 0, SIZE_PX, SIZE_PX);
    for (const [colour, width] of [
      ['#FFFFFF', 3],
      ['#A6281C', 1],
    ] as const) {
      context.strokeStyle = colour;
      context.lineWidth = width;
      context.beginPath();
      context.moveTo(SIZE_PX / 2, 0);
      context.lineTo(SIZE_PX / 2, SIZE_PX);
      context.moveTo(0, SIZE_PX / 2);
      context.lineTo(SIZE_PX, SIZE_PX / 2);
      context.stroke();
    }
  });
  // Beside the pointer, on the side where there is room.
  const left = screen[0] + SIZE_PX + 36 < box.w ? screen[0] + 26 : screen[0] - SIZE_PX - 26;
  const top = Math.min(box.h - SIZE_PX - 6, Math.max(6, screen[1] - SIZE_PX / 2));
  return (
    <Glass style={{ left, top }} aria-hidden="true">
      <canvas ref={canvas} width={SIZE_PX} height={SIZE_PX} />
    </Glass>
  );
}
