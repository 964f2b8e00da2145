import type { Drawn } from '../../workers/render.worker';

/** What a section shows: where it runs on the field, and where its millimetres lie on the screen. */
export interface SectionAxis {
  widthPx: number;
  pxPerMm: number;
  /** Millimetres along the line at the left edge of the view. */
  startMm: number;
  /** Drawing scale as 1 : scale. */
  scale: number;
  /** Where the line begins on the field, mm from its left and upper edge, and where it ends. */
  from: readonly [number, number];
  to: readonly [number, number];
}

/** The profile of a relief along a line, in pixels of the section. */
export interface Profile {
  /** Height of the relief at every pixel column from `from` on, mm; empty: nothing is seen. */
  mm: number[];
  /** The same in px from the top. */
  y: number[];
  from: number;
  /** Where the level lies that stays in place, px from the top. */
  levelPx: number;
  pxPerDepthMm: number;
  /** Millimetres on the screen for one of depth. */
  deep: number;
}

/** Scales of depth: millimetres on the screen for one of the relief. */
const DEPTH_SCALES = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000];
/** Depth is drawn at most so high. */
const MOST_DEEP_PX = 56;

type Relief = Pick<Drawn, 'widthPx' | 'heightPx' | 'heightMm' | 'report'>;
const wrapped = (k: number, n: number) => ((k % n) + n) % n;

/**
 * @param edgesAt where the repeat begins on the plate, as shares of it
 * @param heightPx height of the section
 */
export function profileAlong(
  drawn: Relief,
  { widthPx, pxPerMm, startMm, scale, from: [x0, y0], to: [x1, y1] }: SectionAxis,
  edgesAt: readonly [number, number],
  heightPx: number,
): Profile {
  const { min, max } = drawn.report.heightMm;
  const trueMm = pxPerMm * scale;
  const deep = DEPTH_SCALES.findLast((k) => Math.max(1e-6, max - min) * k * trueMm <= MOST_DEEP_PX) ?? 0.01;
  const pxPerDepthMm = deep * trueMm;
  const middle = (max + min) / 2;
  const top = heightPx / 2 - 4;
  const lengthMm = Math.hypot(x1 - x0, y1 - y0);
  const [dx, dy] = [(x1 - x0) / lengthMm, (y1 - y0) / lengthMm];
  const first = Math.max(0, Math.ceil(-startMm * pxPerMm));
  const last = Math.min(widthPx, Math.floor((lengthMm - startMm) * pxPerMm));
  const mm: number[] = [];
  for (let px = first; px <= last; px++) {
    const at = startMm + px / pxPerMm;
    mm.push(heightAt(drawn, x0 + at * dx, y0 + at * dy, edgesAt));
  }
  const y = mm.map((height) => top - (height - middle) * pxPerDepthMm);
  return { mm, y, from: first, levelPx: top + middle * pxPerDepthMm, pxPerDepthMm, deep };
}

/** Height at a place of the field, mm; bilinear between pixels, and the repeat goes on beyond its edges. */
function heightAt(
  { widthPx: w, heightPx: h, heightMm: data, report: { repeatMm } }: Relief,
  xMm: number,
  yMm: number,
  edgesAt: readonly [number, number],
): number {
  const x = (xMm / repeatMm.width - edgesAt[0]) * w - 0.5;
  const y = (yMm / repeatMm.height - edgesAt[1]) * h - 0.5;
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [tx, ty] = [x - x0, y - y0];
  const row = (k: number) => {
    const at = wrapped(k, h) * w;
    const [a, b] = [data[at + wrapped(x0, w)]!, data[at + wrapped(x0 + 1, w)]!];
    return a + (b - a) * tx;
  };
  const [upper, lower] = [row(y0), row(y0 + 1)];
  return upper + (lower - upper) * ty;
}

/** Slope of a profile at a pixel column, degrees; falling to the right is below 0. */
export function slopeDegAt({ mm }: Profile, k: number, pxPerMm: number): number {
  const [a, b] = [Math.max(0, k - 1), Math.min(mm.length - 1, k + 1)];
  return b > a ? (Math.atan(((mm[b]! - mm[a]!) * pxPerMm) / (b - a)) * 180) / Math.PI : 0;
}

/** Share of a stretch at either end that is the face, where a depth is drawn across something. */
const FACE_SHARE = 0.2;

/**
 * How deep something lies between two columns of a profile: the lower of the two faces at the ends of the stretch against the
 * lowest place between them; above 0 it is recessed, below 0 it stands out, mm.
 */
export function depthBetween({ mm }: Profile, from: number, to: number): number {
  const [a, b] = [Math.max(0, Math.min(from, to)), Math.min(mm.length - 1, Math.max(from, to))];
  const stretch = mm.slice(a, b + 1);
  if (stretch.length < 3) return 0;
  const end = Math.max(1, Math.round(FACE_SHARE * stretch.length));
  const faces = [stretch.slice(0, end), stretch.slice(-end)].map(
    (part) => [...part].sort((p, q) => p - q)[part.length >> 1]!,
  );
  const face = (faces[0]! + faces[1]!) / 2;
  const [low, high] = [Math.min(...stretch), Math.max(...stretch)];
  return face - low >= high - face ? face - low : face - high;
}
