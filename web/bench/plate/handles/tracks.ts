import { toFrame, toPicture, type Frame, type Point } from '@jossel/core/straighten';

/** A track with no more points than it needs: those nearer than a thousandth to the last are left out. */
export function thinned(places: readonly Point[]): [number, number][] {
  const out: [number, number][] = [];
  for (const [i, [x, y]] of places.entries()) {
    const last = out.at(-1);
    if (!last || Math.hypot(x - last[0], y - last[1]) > 0.0015 || i === places.length - 1)
      out.push([Number(x.toFixed(5)), Number(y.toFixed(5))]);
  }
  return out.slice(0, 5000);
}

/** The rectangle of the frame between two places of the picture, as places of the picture. */
export function boxBetween(a: Point, b: Point, frame: Frame): Point[] {
  const [p, q] = [toFrame(frame, a), toFrame(frame, b)];
  return (
    [
      [p[0], p[1]],
      [q[0], p[1]],
      [q[0], q[1]],
      [p[0], q[1]],
    ] as Point[]
  ).map((c) => toPicture(frame, c));
}
