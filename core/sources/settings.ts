import { z } from 'zod';
import { lightSchema } from '../light/settings';
import { preparationSchema, sourceMapSchema } from '../sample/settings';
import { sizeSchema } from '../size/settings';

/** A picture that the finish is made from, with all that belongs to it alone. */
export const pictureSourceSchema = z
  .object({
    kind: z.literal('picture').describe('A picture as received'),
    id: z.string().min(1).max(40).describe('Name of this source within the recipe'),
    sampleId: z.string().min(1).max(100).describe('The picture'),
    preparation: preparationSchema,
    size: sizeSchema
      .nullable()
      .describe('Its size; null: its pixels are as large as those of the picture that leads the repeat'),
    light: lightSchema,
    maps: z
      .array(sourceMapSchema)
      .max(20)
      .describe('Further maps of the surface in this picture; all share its size and placement'),
  })
  .describe('A picture of the finish: how it is prepared, how large it is, what light does to it');
export type PictureSource = z.infer<typeof pictureSourceSchema>;

/** What a finish is made from. */
export const sourceSchema = z
  .discriminatedUnion('kind', [pictureSourceSchema])
  .describe('What the finish is made from');

/** Every source with a name of its own. */
export const sourcesSchema = z
  .array(sourceSchema)
  .max(50, 'A finish is made from at most 50 sources.')
  .superRefine((sources, context) => {
    const names = new Set<string>();
    sources.forEach(({ id }, n) => {
      if (names.has(id))
        context.addIssue({ code: 'custom', path: [n, 'id'], message: `Two sources have the name "${id}".` });
      names.add(id);
    });
  })
  .describe('Pictures of the finish, in order');
