import { rgbOf } from '../generate/canvas';
import { cellsAt, waves, type NoiseGround } from '../generate/noise';
import { blurSteps, hashUnit, seededRandom, smoothstep, type Plane } from '../raster';
import { roughnessOfGloss } from '../response/glossmeter';
import { inTurns, spans, type Steps } from '../steps';
import type { Surface } from '../surface';
import { withoutFlakes, type WeakPlaces } from './flaking';
import type { LayerOf, WeatheringLayer } from './settings';
import { coverColour, coverGloss, type Weathering } from './state';
import { WATER_GU, wetReflectance } from './wet';

/** What each kind of layer does to the finish where it lies. */

/** Deposits and films are dielectrics. */
const MATTER = { kind: 'dielectric', index: 1.5 } as const;
const roughnessOf = (gu: number) => roughnessOfGloss(gu, MATTER).roughness;

type LayerPainter<K extends WeatheringLayer['kind']> = (
  state: Weathering,
  layer: LayerOf<K>,
  weight: Plane,
  beside: Beside,
) => void | Promise<void>;

/** What a layer needs beside the finish it lies on. */
export interface Beside {
  /** The finish that it is detail of; null: it is none. */
  detail: Surface | null;
  /** Where a coating comes off first. */
  weak: WeakPlaces;
  /** Lets others in where it is time; throws where the work is to stop. */
  turn: () => Promise<void>;
}

export const PAINTERS: { readonly [K in WeatheringLayer['kind']]: LayerPainter<K> } = {
  deposit: layDeposit,
  coating: layCoating,
  wear: layWear,
  cracks: layCracks,
  wet: layWater,
  detail: layDetail,
};

const noiseRow = (ground: NoiseGround, cellMm: number, octaves: number, gain: number, seed: number) =>
  waves(ground, { cellMm, octaves, gain, seed });

/** Visits pixels with two noises: patches of the layer's scale, and grain. */
async function eachPixel(
  state: Weathering,
  layer: WeatheringLayer,
  grainMm: number,
  { turn }: Pick<Beside, 'turn'>,
  visit: (i: number, patch: number, grain: number) => void,
): Promise<void> {
  const patch = noiseRow(state, layer.scaleMm / 3, 4, 0.6, layer.seed * 17 + 3);
  const grain = noiseRow(state, grainMm, 3, 0.75, layer.seed * 17 + 5);
  for (let y = 0, i = 0; y < state.px.height; y++) {
    await turn();
    const [p, g] = [patch.row(y), grain.row(y)];
    for (let x = 0; x < state.px.width; x++, i++) visit(i, p[x]!, g[x]!);
  }
}

async function layDeposit(
  state: Weathering,
  layer: LayerOf<'deposit'>,
  weight: Plane,
  beside: Beside,
): Promise<void> {
  const [a, b] = [rgbOf(layer.colour.lab), rgbOf(layer.second.lab)];
  const thick = layer.thickMm.value;
  const hides = layer.hidesPercent / 100;
  const roughness = roughnessOf(layer.glossGu.value);
  const grainMm = layer.texture === 'cushions' ? 1.6 : layer.texture === 'grains' ? 0.5 : 0.9;
  const rosettes = layer.texture === 'rosettes' ? rosettesOf(state, layer) : null;
  let y = -1;
  let [rings, edges]: Float32Array[] = [new Float32Array(0), new Float32Array(0)];
  await eachPixel(state, layer, grainMm, beside, (i, patch, grain) => {
    const x = i % state.px.width;
    if (x === 0 && rosettes) [rings, edges] = rosettes(++y);
    const w = weight.data[i]! * (rosettes ? edges![x]! : 1);
    if (w <= 0) return;
    const loose = layer.texture === 'grains' ? Math.min(1, Math.max(0, 1 + 0.9 * grain)) : 1;
    const share = Math.min(1, w * hides * loose);
    const t = Math.min(
      1,
      Math.max(0, 0.5 + 0.7 * patch + (rosettes ? 0.6 * (rings![x]! - 0.5) : 0.3 * grain)),
    );
    const tone = 1 + (layer.texture === 'film' ? 0.05 : 0.16) * grain;
    coverColour(
      state,
      i,
      (a[0] + (b[0] - a[0]) * t) * tone,
      (a[1] + (b[1] - a[1]) * t) * tone,
      (a[2] + (b[2] - a[2]) * t) * tone,
      share,
    );
    coverGloss(state, i, roughness, share);
    state.bare[i]! *= 1 - share;
    const rough = layer.texture === 'film' ? 0.1 : layer.texture === 'cushions' ? 0.55 : 0.35;
    state.height.data[i]! += thick * w * Math.max(0, 1 - rough + rough * (0.5 + grain));
  });
  if (layer.texture === 'film' || layer.texture === 'grains') fillHollows(state, weight, 0.5 * thick);
}

/** Lichen grows outwards in rings: round thalli of several sizes. @returns for a row: place between middle and rim 0–1, and how much is covered */
function rosettesOf(
  state: Weathering,
  layer: LayerOf<'deposit'>,
): (y: number) => [Float32Array, Float32Array] {
  const mm = layer.scaleMm;
  const [nx, ny] = [
    Math.max(3, Math.round(state.sizeMm.width / mm)),
    Math.max(3, Math.round(state.sizeMm.height / mm)),
  ];
  const cells = cellsAt(nx, ny, 0.9, layer.seed + 11);
  const lobes = noiseRow(state, 0.09 * mm, 3, 0.7, layer.seed + 13);
  const [rings, edges] = [new Float32Array(state.px.width), new Float32Array(state.px.width)];
  return (y) => {
    const lobe = lobes.row(y);
    for (let x = 0; x < state.px.width; x++) {
      const cell = cells((x + 0.5) / state.px.width, (y + 0.5) / state.px.height);
      const radius = 0.2 + 0.3 * hashUnit(cell.id, 1, 0, layer.seed);
      const t = (cell.f1 * (1 + 0.22 * lobe[x]!)) / radius;
      rings[x] = Math.min(1, t);
      edges[x] = 1 - smoothstep(0.86, 1, t);
    }
    return [rings, edges];
  };
}

/** Lets matter gather where the surface is low: hollows narrower than a few times its thickness are filled. */
function* fillHollows({ height, mm }: Weathering, weight: Plane, mostMm: number): Steps<void> {
  if (mostMm <= 0) return;
  const { data: around } = yield* blurSteps(height, (4 * mostMm) / mm.x, (4 * mostMm) / mm.y);
  const { data } = height;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++)
      data[i]! += weight.data[i]! * Math.min(mostMm, Math.max(0, around[i]! - data[i]!));
  }
}

/** Blisters of ISO 4628-2 in a square metre, and their diameter by degree, mm. */
const BLISTERS_PER_M2 = [0, 60, 250, 900, 2500, 6000] as const;
const BLISTER_MM = [0, 0.8, 1.5, 2.5, 4, 7] as const;
/** Net of cracks of ISO 4628-4 by degree: from one to the next, mm. */
const CRACKS_APART_MM = [0, 90, 55, 32, 18, 9] as const;

async function layCoating(
  state: Weathering,
  layer: LayerOf<'coating'>,
  weight: Plane,
  beside: Beside,
): Promise<void> {
  const film = layer.filmUm.value / 1000;
  const left = await inTurns(withoutFlakes(state, layer, weight, beside.weak), beside.turn);
  const [r, g, b] = rgbOf(layer.colour.lab);
  const gloss = layer.glossGu.value * (1 - 0.17 * layer.chalking);
  const roughness = roughnessOf(gloss);
  const chalk = 0.045 * layer.chalking;
  await eachPixel(state, layer, 0.7, beside, (i, patch, grain) => {
    const w = left.data[i]!;
    if (w <= 0) return;
    const { colour } = state;
    const tone = 1 + 0.012 * grain + 0.02 * patch;
    if (layer.coat === 'opaque') coverColour(state, i, r * tone, g * tone, b * tone, w);
    else if (layer.coat === 'translucent') {
      // Light passes it down and up again: its colour over white multiplies what lies under it.
      colour.r[i]! *= 1 + w * (r * tone - 1);
      colour.g[i]! *= 1 + w * (g * tone - 1);
      colour.b[i]! *= 1 + w * (b * tone - 1);
    }
    const white = chalk * w * (1 + 0.8 * patch);
    if (white > 0) coverColour(state, i, 0.8, 0.8, 0.8, Math.min(1, white));
    coverGloss(state, i, roughness, w);
    if (layer.coat === 'opaque') state.bare[i]! *= 1 - w;
    state.height.data[i]! += film * w;
  });
  await inTurns(fillHollows(state, left, 3 * film), beside.turn);
  blister(state, layer, left);
  if (layer.cracking > 0)
    await openCracks(state, beside, {
      apartMm: CRACKS_APART_MM[layer.cracking]!,
      widthMm: 0.08 + 0.07 * layer.cracking,
      depthMm: film,
      seed: layer.seed + 41,
      weight: left,
      stepped: false,
    });
}

function blister(state: Weathering, layer: LayerOf<'coating'>, weight: Plane): void {
  const random = seededRandom(layer.seed + 51);
  const { width, height } = state.sizeMm;
  const count = Math.round((BLISTERS_PER_M2[layer.blistering]! * width * height) / 1e6);
  for (let n = 0; n < count; n++) {
    const radius = 0.5 * BLISTER_MM[layer.blistering]! * (0.4 + 0.9 * random.next() * random.next());
    disc(state, random.next() * width, random.next() * height, radius, (i, d) => {
      state.height.data[i]! += weight.data[i]! * 0.35 * radius * (1 - d * d) * (1 - d * d);
    });
  }
}

/** Visits pixels of a disc that may run over the edges. @param visit gets the distance from its middle over its radius */
function disc(
  { px, mm }: Weathering,
  xMm: number,
  yMm: number,
  radiusMm: number,
  visit: (i: number, d: number) => void,
): void {
  const [x0, x1] = [Math.floor((xMm - radiusMm) / mm.x), Math.ceil((xMm + radiusMm) / mm.x)];
  const [y0, y1] = [Math.floor((yMm - radiusMm) / mm.y), Math.ceil((yMm + radiusMm) / mm.y)];
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const d = Math.hypot((x + 0.5) * mm.x - xMm, (y + 0.5) * mm.y - yMm) / radiusMm;
      if (d < 1)
        visit(
          (((y % px.height) + px.height) % px.height) * px.width + (((x % px.width) + px.width) % px.width),
          d,
        );
    }
}

/** Worn places are lower, lighter or darker, and polished or scuffed. */
async function layWear(
  state: Weathering,
  layer: LayerOf<'wear'>,
  weight: Plane,
  beside: Beside,
): Promise<void> {
  const roughness = roughnessOf(layer.glossGu.value);
  const { reachMm } = layer.place;
  const { data: around } = await inTurns(
    blurSteps(state.height, reachMm / 2 / state.mm.x, reachMm / 2 / state.mm.y),
    beside.turn,
  );
  // A change of lightness as a factor of reflectance, at the middle of the scale.
  const factor = Math.exp(0.045 * layer.lighterBy);
  await eachPixel(state, layer, 0.8, beside, (i, _patch, grain) => {
    const w = weight.data[i]!;
    if (w <= 0) return;
    const { data } = state.height;
    // What stands out is rubbed down to its surroundings, at most by the depth of the wear.
    const above = Math.max(0, data[i]! - around[i]!);
    data[i]! -= w * Math.min(layer.depthMm.value, above + 0.25 * layer.depthMm.value);
    const tone = 1 + w * (factor - 1) * (1 + 0.3 * grain);
    state.colour.r[i] = Math.min(1, state.colour.r[i]! * tone);
    state.colour.g[i] = Math.min(1, state.colour.g[i]! * tone);
    state.colour.b[i] = Math.min(1, state.colour.b[i]! * tone);
    coverGloss(state, i, roughness, w);
  });
}

function layCracks(
  state: Weathering,
  layer: LayerOf<'cracks'>,
  weight: Plane,
  beside: Beside,
): Promise<void> {
  return openCracks(state, beside, {
    apartMm: layer.scaleMm,
    widthMm: layer.widthMm.value,
    depthMm: layer.depthMm.value,
    seed: layer.seed,
    weight,
    stepped: layer.pattern === 'settlement',
  });
}

/** Fine cracks between wide ones are so much closer. */
const FINE = 0.4;

/** Side of the smallest cells that a layer is drawn by; null: by none. */
export function smallestCellMm(layer: WeatheringLayer): number | null {
  if (layer.kind === 'cracks') return FINE * layer.scaleMm;
  return layer.kind === 'deposit' && layer.texture === 'rosettes' ? layer.scaleMm : null;
}

/** A net of cracks: borders of cells that are bent; wide ones and fine ones between them. */
async function openCracks(
  state: Weathering,
  { turn }: Pick<Beside, 'turn'>,
  {
    apartMm,
    widthMm,
    depthMm,
    seed,
    weight,
    stepped,
  }: { apartMm: number; widthMm: number; depthMm: number; seed: number; weight: Plane; stepped: boolean },
): Promise<void> {
  const { px, sizeMm, mm } = state;
  const count = (cell: number) =>
    [Math.max(2, Math.round(sizeMm.width / cell)), Math.max(2, Math.round(sizeMm.height / cell))] as const;
  const wide = cellsAt(...count(apartMm), 1, seed + 1);
  const fine = cellsAt(...count(FINE * apartMm), 1, seed + 2);
  const bend = noiseRow(state, 0.35 * apartMm, 5, 0.62, seed + 3);
  const bendY = noiseRow(state, 0.35 * apartMm, 5, 0.62, seed + 4);
  const ragged = noiseRow(state, 1.5, 3, 0.7, seed + 5);
  const pixel = Math.max(mm.x, mm.y);
  const scale = Math.min(sizeMm.width / count(apartMm)[0], sizeMm.height / count(apartMm)[1]);
  const fineScale = Math.min(
    sizeMm.width / count(FINE * apartMm)[0],
    sizeMm.height / count(FINE * apartMm)[1],
  );
  for (let y = 0, i = 0; y < px.height; y++) {
    await turn();
    const [bx, by, rg] = [bend.row(y), bendY.row(y), ragged.row(y)];
    for (let x = 0; x < px.width; x++, i++) {
      const w = weight.data[i]!;
      if (w <= 0) continue;
      const u = (x + 0.5) / px.width + (0.12 * apartMm * bx[x]!) / sizeMm.width;
      const v = (y + 0.5) / px.height + (0.12 * apartMm * by[x]!) / sizeMm.height;
      const half = 0.5 * widthMm * Math.max(0.15, 1 + 0.8 * rg[x]!);
      const edge = wide(u, v).edge * scale;
      // A crack finer than a pixel is seen fainter.
      const line = (d: number, h: number) =>
        Math.min(1, (2 * h) / pixel) * (1 - smoothstep(0.4 * h, h + 0.6 * pixel, d));
      const main = line(edge, half);
      const small = stepped ? 0 : 0.7 * line(fine(u, v).edge * fineScale, 0.4 * half);
      const open = w * Math.max(main, small);
      if (open <= 0) continue;
      coverColour(state, i, 0.012, 0.011, 0.01, 0.85 * open);
      state.height.data[i]! -= depthMm * open;
      coverGloss(state, i, 1, open);
    }
  }
}

/** Darkens what soaks water up, and gives what is wet its gloss. @param film of the water, mm */
function* wetten(
  state: Weathering,
  weight: Float32Array,
  { porous, roughness, film }: { porous: number; roughness: number; film: number },
): Steps<void> {
  const { r, g, b } = state.colour;
  const soaked = (dry: number, w: number) => dry + w * porous * (wetReflectance(dry) - dry);
  for (const { from, to } of spans(weight.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const w = weight[i]!;
      if (w <= 0) continue;
      r[i] = soaked(r[i]!, w);
      g[i] = soaked(g[i]!, w);
      b[i] = soaked(b[i]!, w);
      // Damp without a film shines little more than dry.
      coverGloss(state, i, roughness, w * Math.min(1, 0.25 + film / 0.02));
    }
  }
}

async function layWater(
  state: Weathering,
  layer: LayerOf<'wet'>,
  weight: Plane,
  { turn }: Beside,
): Promise<void> {
  const porous = layer.porousPercent / 100;
  const film = layer.filmUm.value / 1000;
  const roughness = roughnessOf(WATER_GU);
  await inTurns(wetten(state, weight.data, { porous, roughness, film }), turn);
  await inTurns(fillHollows(state, weight, film), turn);
}

/** Another finish at its own size, repeated over this one. */
async function layDetail(
  state: Weathering,
  layer: LayerOf<'detail'>,
  weight: Plane,
  { detail, turn }: Beside,
): Promise<void> {
  if (!detail) return;
  const from = await detail.fields.colour!.get();
  const relief = await detail.fields.height!.get();
  const shine = detail.fields.roughness!;
  const own = typeof shine === 'number' ? shine : await shine.get();
  const share = layer.colourPercent / 100;
  const { px, mm } = state;
  const across = detail.px.width / detail.sizeMm.width;
  const up = detail.px.height / detail.sizeMm.height;
  for (let y = 0, i = 0; y < px.height; y++) {
    await turn();
    const row = (Math.floor((y + 0.5) * mm.y * up) % detail.px.height) * detail.px.width;
    for (let x = 0; x < px.width; x++, i++) {
      const w = weight.data[i]!;
      if (w <= 0) continue;
      const k = row + (Math.floor((x + 0.5) * mm.x * across) % detail.px.width);
      coverColour(state, i, from.r[k]!, from.g[k]!, from.b[k]!, w * share);
      coverGloss(state, i, typeof own === 'number' ? own : own.data[k]!, (w * layer.glossPercent) / 100);
      state.height.data[i]! += w * layer.reliefTimes * relief.data[k]!;
    }
  }
}
