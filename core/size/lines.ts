import { solveLinear, squared } from '../exact';
import { toFrame, stretchAt, type Frame } from '../straighten';
import { weakestBasis, type Basis } from '../units';
import type { RulerLine } from './settings';

/** What ruler lines together say about the size of a frame. */
export interface RuledSize {
  widthMm: number;
  heightMm: number;
  /** Relative tolerance: the larger of the lines' spread and one pixel per end. */
  tolerance: { across: number; up: number };
  /** Whether some line runs along this axis (within 60° of it), so that it is known and not only followed. */
  knows: { across: boolean; up: boolean };
  basis: Basis;
  /** Per line: measured with the fitted size, less its given length, over its given length. */
  residuals: readonly number[];
}

/** By how much an error of the lines may grow in an axis that they tell only together. */
const MOST_SPREAD = 12;

/**
 * Best size of a frame from ruler lines of known length: weighted least squares on the two sides of the frame
 * (Gauss–Newton). A line of length L between places that lie (Δu, Δv) apart in the frame wants
 * √((Δu·W)² + (Δv·H)²) = L. Lines weigh by the pixels they cover. Where the lines say nothing about one axis, it
 * follows with the frame's own proportions.
 *
 * @param lines at least one
 * @param frame the frame; places of the lines are shares of its picture
 * @throws RangeError when a line has no length in the frame
 */
export function sizeOfLines(lines: readonly RulerLine[], frame: Frame): RuledSize {
  if (lines.length === 0) throw new RangeError('No ruler line is drawn yet.');
  const seen = lines.map((line) => {
    const a = toFrame(frame, line.from);
    const b = toFrame(frame, line.to);
    const [du, dv] = [b[0] - a[0], b[1] - a[1]];
    const { du: px, dv: py } = stretchAt(frame, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]);
    const lengthPx = Math.hypot(px[0] * du + py[0] * dv, px[1] * du + py[1] * dv);
    if (!(lengthPx > 0.5)) throw new RangeError('A ruler line has no length; pull its ends apart.');
    return { du, dv, mm: line.lengthMm.value, lengthPx, given: line.lengthMm.tolerance ?? 0 };
  });
  const ratio = frame.aspect.ratio;
  // Start: every line with the frame's proportions.
  const logs = seen.map((s) => Math.log(s.mm / Math.hypot(s.du * ratio, s.dv)));
  let h = Math.exp(logs.reduce((a, b) => a + b, 0) / logs.length);
  let w = h * ratio;
  for (let turn = 0; turn < 30; turn++) {
    const a = [
      [0, 0],
      [0, 0],
    ];
    const b = [0, 0];
    const add = (row: readonly [number, number], residual: number, weight: number) => {
      for (const i of [0, 1] as const) {
        for (const j of [0, 1] as const) a[i]![j]! += weight * row[i] * row[j];
        b[i]! -= weight * row[i] * residual;
      }
    };
    // In logarithms of W and H, so that both axes weigh alike.
    for (const s of seen) {
      const length = Math.hypot(s.du * w, s.dv * h);
      add(
        [squared(s.du * w) / squared(length), squared(s.dv * h) / squared(length)],
        Math.log(length / s.mm),
        squared(s.lengthPx),
      );
    }
    // The frame's proportions hold where no line says otherwise.
    const weak = 1e-8 * seen.reduce((sum, s) => sum + squared(s.lengthPx), 0);
    add([1, -1], Math.log(w / h / ratio), weak);
    const [dw, dh] = solveLinear(a, b) as [number, number];
    w *= Math.exp(Math.min(1, Math.max(-1, dw)));
    h *= Math.exp(Math.min(1, Math.max(-1, dh)));
    if (Math.abs(dw) + Math.abs(dh) < 1e-13) break;
  }
  const residuals = seen.map((s) => Math.hypot(s.du * w, s.dv * h) / s.mm - 1);
  const along = (s: (typeof seen)[number]) => {
    const [x, y] = [Math.abs(s.du * w), Math.abs(s.dv * h)];
    return { across: x >= 0.5 * Math.hypot(x, y), up: y >= 0.5 * Math.hypot(x, y) };
  };
  const tolerance = (axis: 'across' | 'up') => {
    const mine = seen.map((s, i) => ({ s, r: residuals[i]! })).filter(({ s }) => along(s)[axis]);
    if (mine.length === 0) return 0;
    const perEnd = 2 / Math.max(...mine.map(({ s }) => s.lengthPx));
    const spread = Math.max(...mine.map(({ r }) => Math.abs(r)));
    const given = Math.min(...mine.map(({ s }) => s.given / s.mm));
    return Math.max(spread, perEnd, given);
  };
  const [across, up] = [tolerance('across'), tolerance('up')];
  // Lines in different directions together tell an axis that none of them runs along.
  const shares = seen.map((s) => {
    const [x, y] = [squared(s.du * w), squared(s.dv * h)];
    return { x: x / (x + y), y: y / (x + y), weight: squared(s.lengthPx) };
  });
  const all = shares.reduce((sum, s) => sum + s.weight, 0);
  const sumOf = (of: (s: (typeof shares)[number]) => number) =>
    shares.reduce((sum, s) => sum + s.weight * of(s), 0) / all;
  const [xx, yy, xy] = [sumOf((s) => squared(s.x)), sumOf((s) => squared(s.y)), sumOf((s) => s.x * s.y)];
  const apart = xx * yy - xy * xy;
  const together = (own: number) => apart > 1e-9 && own / apart < squared(MOST_SPREAD);
  return {
    widthMm: w,
    heightMm: h,
    tolerance: { across: across || up, up: up || across },
    knows: { across: across > 0 || together(yy), up: up > 0 || together(xx) },
    basis: weakestBasis(...lines.map((l) => l.lengthMm.basis)),
    residuals,
  };
}
