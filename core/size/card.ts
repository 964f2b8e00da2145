import { CARD_MARKS_MM, toFrame, type Frame, type Point } from '../straighten';

/** What a target card in the plane of the finish says about the size of a frame. */
export interface CardSize {
  widthMm: number;
  heightMm: number;
  /** Relative: the larger of how far the marks miss their places, and one pixel over the card's span. */
  tolerance: number;
}

/**
 * Size of a frame from the corner marks of a target card beside it. The frame knows the perspective of the plane over
 * its whole extent, better than a small card does; so the card's marks are taken into the frame, where they differ from
 * the card only by turn, shift and the two scales that are asked for: the least-squares affine map from frame to card
 * has the frame's width and height as the lengths of its columns.
 *
 * @param marks centres of the marks, shares of the picture, in the card's order
 * @param frame the straightened frame
 * @throws RangeError when the marks lie on one line
 */
export function sizeOfCard(marks: readonly Point[], frame: Frame): CardSize {
  const seen = marks.map((m) => toFrame(frame, m));
  const mean = (points: readonly Point[], k: 0 | 1) => points.reduce((s, p) => s + p[k], 0) / points.length;
  const [mu, mv, mx, my] = [mean(seen, 0), mean(seen, 1), mean(CARD_MARKS_MM, 0), mean(CARD_MARKS_MM, 1)];
  let [uu, uv, vv, ux, uy, vx, vy] = [0, 0, 0, 0, 0, 0, 0];
  seen.forEach(([su, sv], i) => {
    const [u, v] = [su - mu, sv - mv];
    const [x, y] = [CARD_MARKS_MM[i]![0] - mx, CARD_MARKS_MM[i]![1] - my];
    uu += u * u;
    uv += u * v;
    vv += v * v;
    ux += u * x;
    uy += u * y;
    vx += v * x;
    vy += v * y;
  });
  const det = uu * vv - uv * uv;
  if (!(det > 1e-14 * uu * vv))
    throw new RangeError('The marks of the target card lie on one line; find them again.');
  const across: Point = [(vv * ux - uv * vx) / det, (vv * uy - uv * vy) / det];
  const up: Point = [(uu * vx - uv * ux) / det, (uu * vy - uv * uy) / det];
  const miss = Math.max(
    ...seen.map(([su, sv], i) => {
      const [u, v] = [su - mu, sv - mv];
      return Math.hypot(
        across[0] * u + up[0] * v - CARD_MARKS_MM[i]![0] + mx,
        across[1] * u + up[1] * v - CARD_MARKS_MM[i]![1] + my,
      );
    }),
  );
  const { widthPx, heightPx } = frame.picture;
  const px = marks.map(([x, y]) => [x * widthPx, y * heightPx] as const);
  const span = Math.min(
    ...[0, 1, 2, 3].map((i) => Math.hypot(px[i]![0] - px[(i + 1) % 4]![0], px[i]![1] - px[(i + 1) % 4]![1])),
  );
  const cardMm = Math.hypot(
    CARD_MARKS_MM[1]![0] - CARD_MARKS_MM[0]![0],
    CARD_MARKS_MM[3]![1] - CARD_MARKS_MM[0]![1],
  );
  return {
    widthMm: Math.hypot(...across),
    heightMm: Math.hypot(...up),
    tolerance: Math.max(miss / cardMm, 1 / span),
  };
}
