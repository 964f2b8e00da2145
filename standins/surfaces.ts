import {
  brickwork,
  glazedTile,
  limestone,
  plaster,
  rgb,
  rolledMetal,
  timber,
  weave,
  type Draft,
  type GeneratedSurface,
} from '@jossel/core/generate';

/** Physical samples that exist only here. Each can be made at any density; its size in mm is the same at all of them. */
export interface PhysicalSample {
  widthMm: number;
  heightMm: number;
  make: (pxPerMm: number) => GeneratedSurface;
}

const sized = (
  widthMm: number,
  heightMm: number,
  make: (area: { widthMm: number; heightMm: number; pxPerMm: number }) => GeneratedSurface,
): PhysicalSample => ({
  widthMm,
  heightMm,
  make: (pxPerMm) => make({ widthMm, heightMm, pxPerMm }),
});

export const boards = (
  seed: number,
  [widthMm, heightMm]: readonly [number, number],
  boardMm: number,
  early: string,
  late: string,
  more: { ringPorous?: boolean; knotsPerM2?: number; jointMm?: number; face?: boolean } = {},
) =>
  sized(widthMm, heightMm, (area) =>
    timber({
      ...area,
      seed,
      boardMm,
      jointMm: more.jointMm ?? 2,
      shortestMm: widthMm * 0.5,
      longestMm: widthMm * 1.2,
      early: rgb(early),
      late: rgb(late),
      ringPorous: more.ringPorous ?? true,
      knotsPerM2: more.knotsPerM2 ?? 0.6,
      face: more.face ?? false,
    }),
  );
/** A single plank: one board that fills the sample. */
export const plank = (seed: number, size: readonly [number, number], early: string, late: string) =>
  boards(seed, size, size[1], early, late, { jointMm: 0, face: true });
export const tiles = (
  seed: number,
  [across, up]: readonly [number, number],
  [tileWidthMm, tileHeightMm]: readonly [number, number],
  glaze: string,
  more: { shift?: number; jointMm?: number; body?: string; joint?: string } = {},
) => {
  const jointMm = more.jointMm ?? 3;
  return sized(across * (tileWidthMm + jointMm), up * (tileHeightMm + jointMm), (area) =>
    glazedTile({
      ...area,
      seed,
      tileWidthMm,
      tileHeightMm,
      jointMm,
      shift: more.shift ?? 0,
      glaze: rgb(glaze),
      body: rgb(more.body ?? '#c9a888'),
      joint: rgb(more.joint ?? '#bdb7ab'),
    }),
  );
};
export const bricks = (
  seed: number,
  [across, up]: readonly [number, number],
  clay: string,
  burnt: string,
  mortar: string,
  strayMm = 2,
) =>
  sized(across * 225, up * 75, (area) =>
    brickwork({
      ...area,
      seed,
      brickWidthMm: 215,
      brickHeightMm: 65,
      jointMm: 10,
      shift: 0.5,
      strayMm,
      clay: rgb(clay),
      burnt: rgb(burnt),
      mortar: rgb(mortar),
    }),
  );
export const cloth = (
  seed: number,
  [widthMm, heightMm]: readonly [number, number],
  draft: Draft,
  [warpPerCm, weftPerCm]: readonly [number, number],
  warp: readonly string[],
  weft: readonly string[],
  pulled = 1,
) =>
  sized(widthMm, heightMm, (area) =>
    weave({
      ...area,
      seed,
      draft,
      warpPerCm,
      weftPerCm,
      cover: 1.02,
      warp: warp.map(rgb),
      weft: weft.map(rgb),
      strayFibresPerCm2: 0.5,
      pulled,
    }),
  );
export const wall = (seed: number, [widthMm, heightMm]: readonly [number, number], colour: string) =>
  sized(widthMm, heightMm, (area) =>
    plaster({ ...area, seed, colour: rgb(colour), strokesPerM2: 75, ridgeMm: 0.3 }),
  );
export const stone = (
  seed: number,
  [widthMm, heightMm]: readonly [number, number],
  pale: string,
  dark: string,
  rust: string,
  vein?: { colour: string; widthMm: number },
) =>
  sized(widthMm, heightMm, (area) =>
    limestone({
      ...area,
      seed,
      pale: rgb(pale),
      dark: rgb(dark),
      rust: rgb(rust),
      shellsPerM2: vein ? 900 : 4200,
      ...(vein ? { vein: { ...vein, colour: rgb(vein.colour) } } : {}),
    }),
  );
export const sheet = (
  seed: number,
  [widthMm, heightMm]: readonly [number, number],
  metal: string,
  oxide: string,
) =>
  sized(widthMm, heightMm, (area) =>
    rolledMetal({ ...area, seed, metal: rgb(metal), oxide: rgb(oxide), weathering: 0.6 }),
  );

/** Made surfaces by sample and density; the last few are kept. */
const made = new Map<string, GeneratedSurface>();
export function surfaceOf(id: string, sample: PhysicalSample, pxPerMm: number): GeneratedSurface {
  const key = `${id} ${pxPerMm}`;
  const surface = made.get(key) ?? sample.make(pxPerMm);
  made.delete(key);
  made.set(key, surface);
  if (made.size > 12) made.delete(made.keys().next().value!);
  return surface;
}
