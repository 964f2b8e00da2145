import { cellularNoise, fractalNoise, gradientNoise, hashUnit, ridgedNoise, smoothstep } from '../raster';
import type { LaidPiece } from './lay';
import { quarterExact } from './polygon';
import type { LayoutSettings, Working } from './settings';

/** The relief that tools leave on a face, mm about its mean; along the piece and across it, other on every piece. */

/** Noises repeat after this length, mm; longer than a piece. */
const PERIOD_MM = 4096;
const cells = (waveMm: number) => Math.round(PERIOD_MM / waveMm);

type Face = (u: number, v: number, seed: number) => number;

const noise = (u: number, v: number, wave: { u: number; v: number }, seed: number) =>
  gradientNoise(u / PERIOD_MM, v / PERIOD_MM, cells(wave.u), cells(wave.v), seed);
const fractal = (u: number, v: number, waveMm: number, octaves: number, gain: number, seed: number) =>
  fractalNoise(u / PERIOD_MM, v / PERIOD_MM, cells(waveMm), cells(waveMm), octaves, gain, seed);

/** Lines that a circular blade leaves: a little bent, not all equally deep. */
const sawn: Face = (u, v, seed) => {
  const bent = u + 6 * Math.sin((2 * Math.PI * v) / (PERIOD_MM / 8));
  const deep = 0.65 + 0.35 * noise(u, v, { u: 14, v: 60 }, seed);
  return 0.5 * Math.cos((2 * Math.PI * bent) / 3.2) * deep + 0.12 * noise(u, v, { u: 4, v: 30 }, seed + 1);
};

/** Worn by brushes: soft and hard places of the stone. */
const brushed: Face = (u, v, seed) => 0.45 * fractal(u, v, 16, 3, 0.5, seed);

/** Split along its bed: terraces with torn edges. */
const riven: Face = (u, v, seed) => {
  const bed = 2.6 * fractal(u, v, 120, 4, 0.55, seed);
  const layer = Math.floor(bed);
  const terrace = layer + smoothstep(0.7, 1, bed - layer);
  return 0.22 * terrace + 0.06 * fractal(u, v, 7, 2, 0.5, seed + 3);
};

/** Struck with a hammer of many points: pits that lie close. */
const bushHammered: Face = (u, v, seed) => {
  const pit = cellularNoise(u / PERIOD_MM, v / PERIOD_MM, cells(4.6), cells(4.6), 0.85, seed);
  return smoothstep(0.05, 0.62, pit.f1) - 0.75 + 0.1 * noise(u, v, { u: 9, v: 9 }, seed + 1);
};

/** Heated until crystals flake off: small facets, each tilted its own way. */
const flamed: Face = (u, v, seed) => {
  const flake = cellularNoise(u / PERIOD_MM, v / PERIOD_MM, cells(8), cells(8), 0.95, seed);
  const tilt = (k: number) => 1.5 * (hashUnit(flake.id, k, 5, seed) - 0.5);
  return tilt(1) * flake.dx + tilt(2) * flake.dy + 0.25 * fractal(u, v, 4, 2, 0.6, seed + 2);
};

/** Blasted with grit: even and fine. */
const blasted: Face = (u, v, seed) => 0.42 * fractal(u, v, 2.4, 2, 0.6, seed);

/** Cut off by a wire as clay: drag lines along it, torn in places. */
const wireCut: Face = (u, v, seed) =>
  0.45 * noise(u, v, { u: 70, v: 3.4 }, seed) +
  0.2 * noise(u, v, { u: 22, v: 9 }, seed + 1) -
  0.3 * smoothstep(0.35, 0.8, noise(u, v, { u: 16, v: 5 }, seed + 2));

/** Thrown into a mould by hand: folds of the clay, and the sand that it was rolled in. */
const handMoulded: Face = (u, v, seed) => {
  const skew = v + 0.35 * u;
  const fold = ridgedNoise(u / PERIOD_MM, skew / PERIOD_MM, cells(95), cells(30), 2, 0.5, seed);
  return (
    0.35 * fractal(u, v, 45, 3, 0.5, seed + 1) -
    0.7 * smoothstep(0.72, 0.98, fold) +
    0.08 * fractal(u, v, 2, 1, 1, seed + 2)
  );
};

/** How it is done, and the finest wave of it, mm. */
const FACES: Readonly<Partial<Record<Working, { height: Face; finestMm: number }>>> = {
  sawn: { height: sawn, finestMm: 3.2 },
  brushed: { height: brushed, finestMm: 4 },
  riven: { height: riven, finestMm: 7 },
  'bush-hammered': { height: bushHammered, finestMm: 4.6 },
  flamed: { height: flamed, finestMm: 4 },
  blasted: { height: blasted, finestMm: 2.4 },
  'wire-cut': { height: wireCut, finestMm: 3.4 },
  'hand-moulded': { height: handMoulded, finestMm: 6 },
};

/**
 * What a gloss meter usually reads at 60° on stone worked so, GU; clay may be glazed over whatever its working is, and boards
 * oiled or lacquered.
 */
const USUAL_GLOSS_GU: Readonly<Partial<Record<Working, readonly [from: number, to: number]>>> = {
  sawn: [1, 12],
  riven: [1, 15],
  'bush-hammered': [0, 6],
  flamed: [0, 6],
  blasted: [0, 6],
};

/** A working and what it usually reads; null: any gloss is usual. */
export function usualGlossOf({ kind }: Pick<LayoutSettings['working'], 'kind'>) {
  const glossGu = USUAL_GLOSS_GU[kind];
  return glossGu ? { working: kind, glossGu } : null;
}

/** Section of a worked face along a piece, for drawings of it: height by place, in depths; null: no tool is drawn. */
export const workedSection = (kind: Working): ((mm: number) => number) | null => {
  const face = FACES[kind];
  return face ? (mm) => face.height(700 + mm, 1300 + 0.2 * mm, 5) : null;
};

/** A wave is drawn from so many pixels on; below it fades, so that it does not turn into another one. */
const PIXELS = { none: 1.4, all: 2.6 };

/**
 * Height of a worked face about its mean, mm.
 * @param mmPerPx of the plane it is drawn on
 * @returns null where the faces stay as the sample shows them
 */
export function workedFace(
  { working, seed }: Pick<LayoutSettings, 'working' | 'seed'>,
  mmPerPx: number,
): ((piece: LaidPiece, dx: number, dy: number) => number) | null {
  const face = FACES[working.kind];
  if (!face || working.depthMm === 0) return null;
  const seen = smoothstep(PIXELS.none, PIXELS.all, face.finestMm / mmPerPx);
  if (seen === 0) return null;
  const depth = seen * working.depthMm;
  return ({ id, directionDeg }, dx, dy) => {
    const [cos, sin] = quarterExact(directionDeg);
    const begin = (k: number) => PERIOD_MM * hashUnit(id, k, 29, seed);
    const u = begin(1) + cos * dx + sin * dy;
    const v = begin(2) + cos * dy - sin * dx;
    return depth * face.height(u, v, seed + 7 * (id % 97));
  };
}
