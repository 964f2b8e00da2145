import type { RenderContext } from '../surface';

/** Name and version of the repeat stage. */
export const REPEAT = {
  name: 'repeat',
  /**
   * 3: areas of one picture that pieces are cut from keep their tones; before, each was brought to that of the first.
   * 2: copies lie where they were solved to, to a part of a pixel, at every size.
   * 1: moved to whole pixels of the size asked for.
   */
  version: 3,
} as const;

/** Whether copies lie to a part of a pixel, as since version 2. */
export const laysExactly = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 2;

/** Whether areas of one picture keep their tones, as since version 3. */
export const keepsTones = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 3;
