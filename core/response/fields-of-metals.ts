import type { ColourPicture, Plane } from '../raster';
import type { Pending, RenderContext, Surface } from '../surface';
import { glossOf, planeOf } from './gloss-asked';
import { roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import { metalPartsOn, withMetalColours, withMetalParts, type MetalColour, type MetalPart } from './metals';
import type { ResponseSettings } from './settings';

/** Colour, roughness and metalness of a surface where parts of it are of metal. */

/** Weights of the parts of metal that the surface has. */
const weightsOf = (surface: Surface, parts: readonly MetalPart[]) =>
  Promise.all(parts.map(({ part }) => surface.parts.get(part)!.get()));

/** What a meter reads on a metal of known colour; null: its colour is not known. */
export const ofMetal = (colour: MetalColour | null | undefined): ReflectingSurface | null =>
  colour ? { kind: 'metal', f0: Math.min(1, colour.lrv / 100) } : null;

/** Roughness where parts of metal read their gloss: their own where one is given, otherwise that of the finish. */
export function withRoughnessOfMetals(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  own: Pending<Plane> | undefined,
): Pending<Plane> | undefined {
  const metals = metalPartsOn(settings, surface);
  if (metals.length === 0 || surface.maps.has('roughness') || surface.maps.has('gloss')) return own;
  const keys = metals.map(({ part }) => surface.parts.get(part)!.key);
  return ctx.later(
    ['roughness of metals', settings, own?.key ?? null, keys, surface.fields.colour!.key],
    async () => {
      const weights = await weightsOf(surface, metals);
      const of = (await glossOf(ctx, settings, surface)).of;
      const plane = planeOf(
        own ? await own.get() : (await glossOf(ctx, settings, surface)).roughness,
        weights[0]!,
      );
      for (const [k, { part, colour }] of metals.entries()) {
        const gloss = settings.parts?.find((p) => p.part === part)?.glossGu ?? settings.glossGu;
        const { roughness } = roughnessOfGloss(gloss.value, ofMetal(colour) ?? of);
        const weight = weights[k]!.data;
        for (let i = 0; i < weight.length; i++) plane.data[i]! += weight[i]! * (roughness - plane.data[i]!);
      }
      return plane;
    },
  );
}

/** Colour where parts of metal have that of their metal. */
export function withColourOfMetals(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
): Pending<ColourPicture> {
  const metals = metalPartsOn(settings, surface);
  const colour = surface.fields.colour!;
  const keys = metals.map(({ part }) => surface.parts.get(part)!.key);
  return ctx.later(['colour of metals', metals, keys, colour.key], async () => {
    const weights = await weightsOf(surface, metals);
    return withMetalColours(
      await colour.get(),
      metals.flatMap((metal, k) =>
        metal.colour ? [{ weight: weights[k]!, linear: metal.colour.linear }] : [],
      ),
    );
  });
}

export function withMetalnessOfMetals(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  own: number | Pending<Plane>,
): number | Pending<Plane> {
  const metals = metalPartsOn(settings, surface);
  if (metals.length === 0 || own === 1) return own;
  const keys = metals.map(({ part }) => surface.parts.get(part)!.key);
  return ctx.later(['metalness of metals', typeof own === 'number' ? own : own.key, keys], async () => {
    const weights = await weightsOf(surface, metals);
    return withMetalParts(planeOf(typeof own === 'number' ? own : await own.get(), weights[0]!), weights);
  });
}
