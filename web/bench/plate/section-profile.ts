import type { Drawn } from '../../workers/render.worker';

/** What of the field a section shows: the same millimetre axis as the plate above it. */
export interface SectionWindow {
  widthPx: number;
  pxPerMm: number;
  startMm: number;
  /** Drawing scale of the plate as 1 : scale. */
  scale: number;
}

/** The profile of a relief along a line, in pixels of the section. */
export interface Profile {
  /** Height of the profile at every pixel column from `from` on, px from the top; empty: nothing is seen. */
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
 * @param atShare height of the line on the plate, as a share of the repeat
 * @param edgesAt where the repeat begins on the plate, as shares of it
 * @param fieldMm length of the field along the line
 * @param heightPx height of the section
 */
export function profileAlong(
  drawn: Relief,
  { widthPx, pxPerMm, startMm, scale }: SectionWindow,
  atShare: number,
  edgesAt: readonly [number, number],
  fieldMm: number,
  heightPx: number,
): Profile {
  const { widthPx: w, heightPx: h, heightMm: data, report } = drawn;
  const { min, max } = report.heightMm;
  const trueMm = pxPerMm * scale;
  const deep = DEPTH_SCALES.findLast((k) => Math.max(1e-6, max - min) * k * trueMm <= MOST_DEEP_PX) ?? 0.01;
  const pxPerDepthMm = deep * trueMm;
  const row = Math.min(h - 1, Math.floor(wrapped(atShare - edgesAt[1], 1) * h)) * w;
  const middle = (max + min) / 2;
  const top = heightPx / 2 - 4;
  const first = Math.max(0, Math.ceil(-startMm * pxPerMm));
  const last = Math.min(widthPx, Math.floor((fieldMm - startMm) * pxPerMm));
  const y: number[] = [];
  for (let px = first; px <= last; px++) {
    const mm = startMm + px / pxPerMm;
    const x = (mm / report.repeatMm.width - edgesAt[0]) * w - 0.5;
    const x0 = Math.floor(x);
    const a = data[row + wrapped(x0, w)]!;
    const b = data[row + wrapped(x0 + 1, w)]!;
    y.push(top - (a + (b - a) * (x - x0) - middle) * pxPerDepthMm);
  }
  return { y, from: first, levelPx: top + middle * pxPerDepthMm, pxPerDepthMm, deep };
}
