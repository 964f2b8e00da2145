import type { RenderContext } from '../surface';
import { FEW_COURSES, MOST_COURSES } from './settings';

/** Name and version of the repeat stage. */
export const REPEAT = {
  name: 'repeat',
  /**
   * 7: where a structure runs one way and the sample shows boards, a composed repeat is laid of whole ones, each ending in a joint; before,
   * of copies whose outlines were drawn to joints. Joints are seen between pieces of all sizes, and through the grain of granite; bonds of
   * up to sixteen courses come back, before, of six; rows are cut
   * at an edge only where a line between them lies in the overlap.
   * 6: with a structure, copies are cut in the joints of the pieces that the sample shows, from joint to joint; before, on lines of the
   * structure, which run through pieces of a bond. Parts of one piece that come from several copies are brought to one tone.
   * 5: where no structure is kept, joints of the pieces that the sample shows run on over outlines, and nothing is evened out from where a joint
   * meets a face; before, joints counted by their colour alone.
   * 4: normals of a set are turned where their picture is turned or mirrored; before, only their places were.
   * 3: areas of one picture that pieces are cut from keep their tones, and those that keep-outs reach into are not used; before,
   * each was brought to the tone of the first, used, and lay close to the next.
   * 2: copies lie where they were solved to, to a part of a pixel, at every size.
   * 1: moved to whole pixels of the size asked for.
   */
  version: 7,
} as const;

/** Whether copies lie to a part of a pixel, as since version 2. */
export const laysExactly = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 2;

/** Whether areas that pieces are cut from are taken as single faces, as since version 3. */
export const knowsFaces = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 3;

/** Whether normals are turned with their pictures, as since version 4. */
export const turnsNormals = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 4;

/** Whether joints are looked for where no structure tells where they are, as since version 5. */
export const runsJointsOn = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 5;

/** Whether copies that keep to a structure are cut in the joints that pictures show, and pieces are brought to one tone, as since version 6. */
export const knowsPieces = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 6;

/** Whether a composed repeat of boards is laid of whole ones, as since version 7. */
export const laysBoards = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 7;

/** Whether joints are seen between pieces of all sizes and through the grain of their faces, as since version 7. */
export const seesAnyJoints = (ctx: RenderContext): boolean => ctx.versionOf(REPEAT) >= 7;

/** How many courses of a bond are looked at: since version 7 as many as those of herringbones. */
export const mostCoursesOf = (version: number): number => (version >= 7 ? MOST_COURSES : FEW_COURSES);

/** Whether rows are only cut at an edge where a line between them lies in the overlap, as since version 7. */
export const cutsInLines = (version: number): boolean => version >= 7;
