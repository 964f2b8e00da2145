import { z } from 'zod';

const coordinate = z
  .number('A place is two numbers, each a share of the picture.')
  .min(-1, 'A place lies on the picture or just beside it: −1 to 2.')
  .max(2, 'A place lies on the picture or just beside it: −1 to 2.');

/** A place in shares of the picture as received: 0, 0 its top left, 1, 1 its bottom right. */
export const placeSchema = z
  .tuple([coordinate, coordinate])
  .describe('A place in shares of the picture as received: 0, 0 top left, 1, 1 bottom right');

/** Four places in order round what they frame: top left, top right, bottom right, bottom left. */
export const quadSchema = z
  .tuple([placeSchema, placeSchema, placeSchema, placeSchema])
  .describe('Four places: top left, top right, bottom right, bottom left of what they frame');
