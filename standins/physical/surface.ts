import { srgbToLinear } from '@jossel/core/colour';
import { renderMaps, type Recipe } from '@jossel/core/finish';
import { generatedSizeMm } from '@jossel/core/generate';
import { layoutSizeMm } from '@jossel/core/layout';
import { sampleWrapped, type ColourPicture, type Plane } from '@jossel/core/raster';
import { NO_PICTURES } from '@jossel/core/surface';
import { glossOfRoughness, type ReflectingSurface } from '@jossel/core/response';

/** What a sample is at every place: linear reflectance, height (mm) and gloss at 60° (GU), rows from the top. */
export interface PhysicalSurface {
  widthMm: number;
  heightMm: number;
  colour: ColourPicture;
  heightMmPlane: Plane;
  glossGu: Plane;
}

/** A physical sample that exists only here. It can be made at any density; its size in mm is the same at all of them. */
export interface PhysicalSample {
  widthMm: number;
  heightMm: number;
  make: (pxPerMm: number) => Promise<PhysicalSurface>;
}

/** A sample of a generated finish, cut where its repeat ends. @throws Refusal when the finish cannot be generated or laid */
export function sampleOf(recipe: Recipe): PhysicalSample {
  const { width, height } = recipe.layout ? layoutSizeMm(recipe.layout) : generatedSizeMm(recipe.generated!);
  return {
    widthMm: width,
    heightMm: height,
    make: (pxPerMm) => rendered(recipe, { widthMm: width, heightMm: height }, Math.round(width * pxPerMm)),
  };
}

/** The material of all samples, as far as gloss goes. */
const MATERIAL: ReflectingSurface = { kind: 'dielectric', index: 1.5 };

async function rendered(
  recipe: Recipe,
  sizeMm: { widthMm: number; heightMm: number },
  widthPx: number,
): Promise<PhysicalSurface> {
  const { maps } = await renderMaps(recipe, NO_PICTURES, {
    widthPx,
    maps: ['colour', 'height', 'roughness', 'opacity'],
  });
  const { height, roughness, opacity } = maps;
  const colour = typeof opacity === 'number' ? maps.colour : overDark(maps.colour, opacity);
  const { widthPx: w, heightPx: h } = colour;
  const glossAt = glossByRoughness();
  const glossGu =
    typeof roughness === 'number'
      ? new Float32Array(w * h).fill(glossAt(roughness))
      : roughness.data.map(glossAt);
  return {
    ...sizeMm,
    colour,
    heightMmPlane: { widthPx: w, heightPx: h, data: height.data },
    glossGu: { widthPx: w, heightPx: h, data: glossGu },
  };
}

/** What lies under a sample with openings, linear. */
const TABLE = 0.008;

/** A colour with the dark table in its openings. */
function overDark({ widthPx, heightPx, ...channels }: ColourPicture, { data: covers }: Plane): ColourPicture {
  const over = (data: Float32Array) => data.map((v, i) => TABLE + (v - TABLE) * covers[i]!);
  return { widthPx, heightPx, r: over(channels.r), g: over(channels.g), b: over(channels.b) };
}

const STEPS = 512;
/** The gloss of a roughness, read from a table. */
function glossByRoughness(): (roughness: number) => number {
  const table = Float32Array.from({ length: STEPS + 2 }, (_, k) =>
    glossOfRoughness(Math.min(1, k / STEPS), MATERIAL, 60),
  );
  return (roughness) => {
    const at = Math.min(1, Math.max(0, roughness)) * STEPS;
    const k = Math.floor(at);
    return table[k]! + (table[k + 1]! - table[k]!) * (at - k);
  };
}

/**
 * A sample of which every place shows what lies a little beside it.
 * @param by from where to where, mm, for a place in mm from the top left corner; it has to repeat with the sample
 */
export const moved = (
  sample: PhysicalSample,
  by: (xMm: number, yMm: number) => readonly [number, number],
): PhysicalSample => ({
  ...sample,
  make: async (pxPerMm) => {
    const surface = await sample.make(pxPerMm);
    const { widthPx: w, heightPx: h, r, g, b } = surface.colour;
    const mm = { x: sample.widthMm / w, y: sample.heightMm / h };
    const planes = [r, g, b, surface.heightMmPlane.data, surface.glossGu.data];
    const out = planes.map(() => new Float32Array(w * h));
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const [dx, dy] = by((x + 0.5) * mm.x, (y + 0.5) * mm.y);
        for (const [k, data] of planes.entries())
          out[k]![y * w + x] = sampleWrapped({ widthPx: w, heightPx: h, data }, x + dx / mm.x, y + dy / mm.y);
      }
    const plane = (data: Float32Array): Plane => ({ widthPx: w, heightPx: h, data });
    return {
      ...surface,
      colour: { widthPx: w, heightPx: h, r: out[0]!, g: out[1]!, b: out[2]! },
      heightMmPlane: plane(out[3]!),
      glossGu: plane(out[4]!),
    };
  },
});

/**
 * A sample with colours laid over its own, which keep its lightness from place to place, and none of its relief.
 * @param at the colour (hex) of a place in mm from the top left corner; null: none
 */
export const printed = (
  sample: PhysicalSample,
  at: (xMm: number, yMm: number) => string | null,
): PhysicalSample => ({
  ...sample,
  make: async (pxPerMm) => {
    const surface = await sample.make(pxPerMm);
    const { widthPx: w, heightPx: h } = surface.colour;
    const planes = [surface.colour.r, surface.colour.g, surface.colour.b].map((data) => data.slice());
    const mean = planes.map((data) => data.reduce((sum, v) => sum + v, 0) / data.length);
    for (let i = 0; i < w * h; i++) {
      const ink = at(
        ((i % w) + 0.5) * (sample.widthMm / w),
        (Math.floor(i / w) + 0.5) * (sample.heightMm / h),
      );
      if (ink === null) continue;
      for (const [c, data] of planes.entries())
        data[i]! *= srgbToLinear(Number.parseInt(ink.slice(1 + 2 * c, 3 + 2 * c), 16) / 255) / mean[c]!;
    }
    const [r, g, b] = planes as [Float32Array, Float32Array, Float32Array];
    return { ...surface, colour: { widthPx: w, heightPx: h, r, g, b } };
  },
});

/** Made surfaces by sample and density; the last few are kept. */
const made = new Map<string, Promise<PhysicalSurface>>();
export function surfaceOf(id: string, sample: PhysicalSample, pxPerMm: number): Promise<PhysicalSurface> {
  const key = `${id} ${pxPerMm}`;
  const surface = made.get(key) ?? sample.make(pxPerMm);
  made.delete(key);
  made.set(key, surface);
  if (made.size > 12) made.delete(made.keys().next().value!);
  return surface;
}
