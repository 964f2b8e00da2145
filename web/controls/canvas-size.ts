/**
 * Gives a canvas the pixels of its size on the screen and returns its context, scaled to CSS pixels. Its memory is only
 * made anew when the size changes.
 */
export function sizedContext(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D {
  const dpr = window.devicePixelRatio || 1;
  const [w, h] = [Math.max(1, Math.round(width * dpr)), Math.max(1, Math.round(height * dpr))];
  if (canvas.width !== w) canvas.width = w;
  if (canvas.height !== h) canvas.height = h;
  const context = canvas.getContext('2d')!;
  context.setTransform(dpr, 0, 0, dpr, 0, 0);
  context.setLineDash([]);
  return context;
}
