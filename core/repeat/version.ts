import type { RenderContext } from '../surface';

/** Name and version of the repeat stage. */
export const REPEAT = {
  name: 'repeat',
  /** 2: copies lie where they were solved to, to a part of a pixel, at every size. 1: moved to whole pixels of the size asked for. */
  version: 2,
} as const;

/** Whether copies lie to a part of a pixel, as since version 2. */
export const laysExactly = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 2;
