import { colourReadingSteps } from '../colour';
import type { Plane } from '../raster';
import { hashOf, withTurns, type RenderContext, type Surface } from '../surface';
import { roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import type { ResponseSettings } from './settings';

/** The roughness that reads the asked gloss, and what it was worked out for. */
export async function glossOf(
  ctx: RenderContext,
  { base, glossGu }: ResponseSettings,
  { fields, weathered }: Surface,
) {
  const of: ReflectingSurface =
    base.kind === 'metal'
      ? { kind: 'metal', f0: Math.min(1, (await meanLrv(ctx, weathered?.supplied ?? fields.colour!)) / 100) }
      : { kind: 'dielectric', index: base.index.value };
  return { ...roughnessOfGloss(glossGu.value, of), of };
}

const meanLrv = (ctx: RenderContext, colour: NonNullable<Surface['fields']['colour']>) =>
  ctx.known(
    hashOf('lrv', colour.key),
    async () => (await withTurns(ctx.options, colourReadingSteps(await colour.get()))).lrv,
  );

/** A plane of its own, of the shape of another one. */
export const planeOf = (value: number | Plane, { widthPx, heightPx, data }: Plane): Plane => ({
  widthPx,
  heightPx,
  data: typeof value === 'number' ? new Float32Array(data.length).fill(value) : value.data.slice(),
});
