import { linearToLab, srgbToLinear } from '@jossel/core/colour';
import { generatedRecipe, type Recipe } from '@jossel/core/finish';
import {
  familyOf,
  initialItem,
  yarnMm,
  type GeneratedSettings,
  type ListSetting,
} from '@jossel/core/generate';
import { initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { fractalNoise } from '@jossel/core/raster';
import { figure, type FigureUnit } from '@jossel/core/units';
import { moved, printed, sampleOf, type PhysicalSample } from './surface';

/** Kinds of samples: each a generated finish, laid where the real one is. */

type Size = readonly [widthMm: number, heightMm: number];

const known = <U extends FigureUnit>(value: number, unit: U) => figure(value, unit, 'measured', 0);
const mm = (value: number) => known(value, 'mm');

function labOf(hex: string): [number, number, number] {
  const channel = (from: number) => srgbToLinear(Number.parseInt(hex.slice(from, from + 2), 16) / 255);
  return [...linearToLab([channel(1), channel(3), channel(5)])];
}
const coloured = (hex: string) => ({ lab: labOf(hex), basis: 'measured' as const });

/** A generated recipe of a seed and a size. */
function generated(
  kind: string,
  seed: number,
  [width, height]: Size,
  settings: Partial<GeneratedSettings>,
  glossGu?: number,
): Recipe {
  const recipe = generatedRecipe(kind, { ...settings, seed, repeatMm: { width, height } });
  const base = { kind: 'dielectric' as const, index: known(1.5, '1') };
  const gloss = glossGu === undefined ? recipe.response.glossGu : known(glossGu, 'GU');
  return { ...recipe, response: { ...recipe.response, base, glossGu: gloss } };
}

interface Laying {
  bond: string;
  settings?: object;
  repeatMm: Size;
  piece: Size;
  jointMm: number;
  depthMm: number;
  joint: string;
  profile?: LayoutSettings['joint']['profile'];
  change?: Partial<LayoutSettings>;
  seed: number;
}

/** A recipe laid of pieces. The sample ends in the middle of its joints. */
function laid(recipe: Recipe, of: Laying): PhysicalSample {
  const layout = initialLayout(of.bond);
  return sampleOf({
    ...recipe,
    layout: {
      ...layout,
      ...of.change,
      bond: { ...layout.bond, ...of.settings },
      piece: { lengthMm: mm(of.piece[0]), widthMm: mm(of.piece[1]) },
      joint: {
        ...layout.joint,
        alongMm: mm(of.jointMm),
        acrossMm: mm(of.jointMm),
        depthMm: mm(of.depthMm),
        profile: of.profile ?? 'bucket-handle',
        lab: labOf(of.joint),
      },
      repeatMm: { width: of.repeatMm[0], height: of.repeatMm[1] },
      seed: of.seed,
    },
  });
}

/** Boards of any length in courses, each of its own log. */
export function boards(
  seed: number,
  [widthMm, heightMm]: Size,
  boardMm: number,
  early: string,
  late: string,
  more: { ringPorous?: boolean; knotsPerM2?: number; jointMm?: number } = {},
): PhysicalSample {
  const { ringPorous = true, knotsPerM2 = 0.6, jointMm = 2 } = more;
  const longestMm = 1.2 * widthMm;
  const leaves = 2 * Math.max(4, Math.round(heightMm / boardMm));
  const recipe = generated('timber', seed, [1.1 * longestMm, leaves * boardMm], {
    leafMm: mm(boardMm),
    early: coloured(early),
    late: coloured(late),
    pores: ringPorous ? 'ring' : 'diffuse',
    knotsPerM2: known(knotsPerM2, '1/m²'),
    spread: known(3, '1'),
  });
  const layout = initialLayout('random-length');
  return laid(recipe, {
    bond: 'random-length',
    settings: { shortestMm: widthMm / 2, staggerMm: Math.min(150, widthMm / 8) },
    repeatMm: [widthMm, heightMm],
    piece: [longestMm, boardMm],
    jointMm,
    depthMm: Math.min(2, jointMm),
    joint: '#2b2420',
    profile: 'v',
    seed,
    change: {
      faces: { ...layout.faces, from: 'areas', halfTurn: true },
      arris: { ...layout.arris, form: 'round', sizeMm: mm(0.6), uneven: 0.2 },
    },
  });
}

/** Herringbone parquet of blocks four times as long as wide. */
export function herringbone(seed: number, repeatMm: Size): PhysicalSample {
  const recipe = generated('timber', seed, [1290, 650], { leafMm: mm(75) });
  return laid(recipe, {
    bond: 'herringbone',
    repeatMm,
    piece: [300, 75],
    jointMm: 1,
    depthMm: 1,
    joint: '#3a2f28',
    profile: 'v',
    seed,
  });
}

/** Granite setts in rows, no two of one width. */
export function setts(seed: number, repeatMm: Size): PhysicalSample {
  const recipe = generated('granite', seed, [1290, 650], {});
  return laid(recipe, {
    bond: 'setts-rows',
    repeatMm,
    piece: [130, 100],
    jointMm: 10,
    depthMm: 8,
    joint: '#6f6a5c',
    seed,
  });
}

/** A single plank: one board that fills the sample. */
export const plank = (seed: number, size: Size, early: string, late: string): PhysicalSample =>
  sampleOf(
    generated('timber', seed, size, {
      leafMm: mm(size[1]),
      early: coloured(early),
      late: coloured(late),
      pores: 'ring',
    }),
  );

/** So many glazed tiles across and up. Every one was fired by itself. */
export function tiles(
  seed: number,
  [across, up]: Size,
  [tileWidthMm, tileHeightMm]: Size,
  glaze: string,
  more: { shift?: number; jointMm?: number; body?: string; joint?: string } = {},
): PhysicalSample {
  const { shift = 0, jointMm = 3, body = '#c9a888', joint = '#bdb7ab' } = more;
  const recipe = generated('glaze', seed, [3 * tileWidthMm, 4 * tileHeightMm], {
    glaze: coloured(glaze),
    body: coloured(body),
    unevenPercent: known(55, '%'),
  });
  const layout = initialLayout('running');
  return laid(recipe, {
    bond: shift ? 'running' : 'stack',
    settings: shift ? { shift } : {},
    repeatMm: [across * (tileWidthMm + jointMm), up * (tileHeightMm + jointMm)],
    piece: [tileWidthMm, tileHeightMm],
    jointMm,
    depthMm: 1.3,
    joint,
    seed,
    change: {
      arris: { ...layout.arris, form: 'round', sizeMm: mm(1.6), uneven: 0.25, bodyLab: labOf(body) },
      shade: { lightness: 3, chroma: 2, hueDeg: 2, drift: 0 },
      tolerance: { lippageMm: 0.2, tiltMm: 0.1, turnDeg: 0.1, sizeMm: 0.3 },
    },
  });
}

/** Bonds of brickwork by the bricks that a module is long. */
const BRICKS_TO_MODULE = { running: 1, english: 1, flemish: 1.5 } as const;

/**
 * Brickwork, so many modules of its bond across and courses up.
 * @param strayMm how far courses and heads stray
 */
export function bricks(
  seed: number,
  [across, up]: Size,
  clay: string,
  burnt: string,
  mortar: string,
  more: {
    strayMm?: number;
    bond?: keyof typeof BRICKS_TO_MODULE;
    /** Of running bond: how far a course lies beside the one below, as a share of a brick. */
    shift?: number;
    piece?: Size;
    jointMm?: number;
    glossGu?: number;
  } = {},
): PhysicalSample {
  const { strayMm = 2, bond = 'running', shift = 0.5, piece = [215, 65], jointMm = 10 } = more;
  const settings = {
    clay: coloured(clay),
    burnt: coloured(burnt),
    firePercent: known(80, '%'),
    reliefMm: mm(1.1),
  };
  const layout = initialLayout(bond);
  return laid(generated('clay', seed, [1290, 650], settings, more.glossGu), {
    bond,
    settings: bond === 'running' ? { shift, scatterMm: strayMm } : {},
    repeatMm: [across * BRICKS_TO_MODULE[bond] * (piece[0] + jointMm), up * (piece[1] + jointMm)],
    piece,
    jointMm,
    depthMm: jointMm / 2,
    joint: mortar,
    seed,
    change: {
      arris: { ...layout.arris, form: 'round', sizeMm: mm(2.5), uneven: 0.7 },
      shade: { lightness: 5, chroma: 3, hueDeg: 3, drift: 0 },
      tolerance: { lippageMm: 0.75, tiltMm: 0.4, turnDeg: 0.15 * strayMm, sizeMm: 0.8 * strayMm },
    },
  });
}

/** Slates in half lap, each a little proud of the one below. */
export function slates(seed: number, repeatMm: Size): PhysicalSample {
  const layout = initialLayout('slates');
  return laid(generated('slate', seed, [1290, 650], {}), {
    bond: 'slates',
    settings: { lapMm: 6 },
    repeatMm,
    piece: [250, 210],
    jointMm: 3,
    depthMm: 4,
    joint: '#191a1c',
    seed,
    change: {
      faces: { ...layout.faces, halfTurn: false },
      shade: { lightness: 3, chroma: 1, hueDeg: 3, drift: 0 },
      tolerance: { lippageMm: 1, tiltMm: 0.5, turnDeg: 0.3, sizeMm: 2 },
    },
  });
}

/** Stones without a bond: flags of several sizes in random ashlar, or field stones. */
export function stones(
  seed: number,
  repeatMm: Size,
  bond: 'random-ashlar' | 'fieldstone' | 'crazy-paving',
  piece: Size,
  jointMm: number,
  joint: string,
): PhysicalSample {
  const recipe =
    bond === 'fieldstone'
      ? generated('granite', seed, [1290, 650], {})
      : generated('sandstone', seed, [1290, 650], {
          lab: coloured('#b3a283'),
          second: coloured('#8c7a5e'),
        });
  const layout = initialLayout(bond);
  return laid(recipe, {
    bond,
    repeatMm,
    piece,
    jointMm,
    depthMm: Math.min(8, jointMm),
    joint,
    seed,
    change: {
      arris: { ...layout.arris, form: 'round', sizeMm: mm(2), uneven: 0.6 },
      shade: { lightness: 6, chroma: 3, hueDeg: 4, drift: 0 },
    },
  });
}

/**
 * Cement tiles with an inlaid pattern that goes on over four of them.
 * @param tileMm side of a tile
 */
export function encaustic(
  seed: number,
  [across, up]: Size,
  tileMm: number,
  inlay: readonly [string, string],
): PhysicalSample {
  const jointMm = 1.5;
  const plain = tiles(seed, [across, up], [tileMm, tileMm], '#d9d0bc', { jointMm, joint: '#8f897d' });
  const pitchMm = tileMm + jointMm;
  return printed(plain, (xMm, yMm) => {
    const [u, v] = [xMm, yMm].map((at) => {
      const place = ((at / pitchMm) % 2) + (at < 0 ? 2 : 0);
      return Math.min(place, 2 - place);
    }) as [number, number];
    const [from, to] = [Math.hypot(u, v), Math.hypot(1 - u, 1 - v)];
    if (from < 0.32 || Math.abs(from - 0.62) < 0.07) return inlay[0];
    if (to < 0.3 + 0.12 * Math.cos(4 * Math.atan2(1 - v, 1 - u))) return inlay[1];
    return null;
  });
}

export type Weave = 'plain' | 'hopsack' | 'twill22' | 'satin5' | 'herringbone';

/**
 * Cloth whose size is that of whole repeats of its draft.
 * @param cover thickness of the yarn over the space that it has
 * @param pulled how far the whole cloth is pulled out of square, as a share of what handling usually does
 */
export function cloth(
  seed: number,
  size: Size,
  weave: Weave,
  [warpPerCm, weftPerCm]: readonly [number, number],
  warp: readonly string[],
  weft: readonly string[],
  { pulled = 0.6, cover = 1.02 }: { pulled?: number; cover?: number } = {},
): PhysicalSample {
  const yarn = (of: readonly string[]) => ({
    ...initialItem(familyOf('cloth').settings['yarns'] as ListSetting),
    lab: coloured(of[0]!),
    second: coloured(of[1] ?? of[0]!),
  });
  const flattening = 1.2;
  const texOf = (perCm: number) => {
    const diameterMm = ((10 / perCm) * cover) / flattening;
    // The thickness goes with the root of the linear density.
    return Math.min(20000, 100 * (diameterMm / yarnMm(100, 'wool')) ** 2);
  };
  const cut = sampleOf(
    generated('cloth', seed, size, {
      weave,
      ends: known(4, '1'),
      warpPerCm: known(warpPerCm, '1/cm'),
      weftPerCm: known(weftPerCm, '1/cm'),
      warpTex: known(texOf(warpPerCm), 'tex'),
      weftTex: known(texOf(weftPerCm), 'tex'),
      flattening: known(flattening, '1'),
      fibre: 'wool',
      yarns: [yarn(warp), yarn(weft)],
    }),
  );
  if (pulled === 0) return cut;
  const { widthMm: w, heightMm: h } = cut;
  const [x, y] = [(pulled * 1.8) / warpPerCm, (pulled * 2.2) / weftPerCm];
  return moved(cut, (xMm, yMm) => [
    x * fractalNoise(xMm / w, yMm / h, 5, 4, 2, 0.5, seed + 1),
    y * fractalNoise(xMm / w, yMm / h, 4, 5, 2, 0.5, seed + 2),
  ]);
}

/** Trowelled plaster. */
export const wall = (seed: number, size: Size, colour: string): PhysicalSample =>
  sampleOf(
    generated('plaster', seed, size, {
      lab: coloured(colour),
      reliefMm: mm(0.5),
      cloudPercent: known(45, '%'),
    }),
  );

/** Shell limestone, honed; with a bright vein it is marble. */
export const stone = (
  seed: number,
  size: Size,
  pale: string,
  dark: string,
  vein?: { colour: string; widthMm: number },
): PhysicalSample =>
  sampleOf(
    vein
      ? generated('marble', seed, size, {
          lab: coloured(pale),
          second: coloured(dark),
          vein: coloured(vein.colour),
          veinMm: mm(vein.widthMm),
        })
      : generated('limestone', seed, size, {
          lab: coloured(pale),
          second: coloured(dark),
          shellsPerM2: known(4200, '1/m²'),
        }),
  );

/** Sandstone, sawn. */
export const sandstone = (seed: number, size: Size, pale: string, dark: string): PhysicalSample =>
  sampleOf(generated('sandstone', seed, size, { lab: coloured(pale), second: coloured(dark) }));

/** Rolled sheet metal under its oxide. */
export const sheet = (seed: number, size: Size, metal: string, oxide: string): PhysicalSample =>
  sampleOf(
    generated(
      'sheet-metal',
      seed,
      size,
      { surface: 'rolled', lab: coloured(metal), cover: coloured(oxide) },
      40,
    ),
  );

/** Brushed sheet metal, scratched along its width. */
export const brushedSheet = (seed: number, size: Size, metal: string, scratchesPerCm2: number) =>
  sampleOf(
    generated(
      'brushed-metal',
      seed,
      size,
      { lab: coloured(metal), perCm2: known(scratchesPerCm2, '1'), deepestUm: known(3, 'µm') },
      80,
    ),
  );

/** A pane with a roller wave, lying on white. */
export const pane = (seed: number, size: Size, colour: string, bubblesPerM2: number) =>
  sampleOf(
    generated(
      'sheet-glass',
      seed,
      size,
      {
        making: 'roller',
        pitchMm: mm(size[0] / 2),
        depthMm: mm(0.008),
        seedsPerM2: known(bubblesPerM2, '1/m²'),
        lab: coloured(colour),
      },
      90,
    ),
  );
