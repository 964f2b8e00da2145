import type { RenderContext, Pending } from '../surface';
import { withTurns } from '../surface';
import type { HeightField } from './height';
import { normalsSteps, slopesSteps, type NormalField } from './normal';

/** Normals of a height. Their slopes are read at once, so that a large set can let them go before its report is made. */
export function normalFieldOf(
  ctx: RenderContext,
  height: Pending<HeightField>,
  mm: { x: number; y: number },
): Pending<NormalField> {
  const derived = ctx.releasable(['normal', height.key], async () => {
    const h = await height.get();
    await ctx.step(0.4, 'Deriving normals');
    return withTurns(ctx.options, normalsSteps(h, mm));
  });
  return {
    ...derived,
    get: async () => {
      const normal = await derived.get();
      await slopesOf(ctx, derived).get();
      return normal;
    },
  };
}

/** How steep a surface is: the mean and the 99th percentile. */
export const slopesOf = (ctx: RenderContext, normal: Pending<NormalField>) =>
  ctx.excerpt(normal, 'slopes', (n) => withTurns(ctx.options, slopesSteps(n)));
