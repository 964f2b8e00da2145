import { CATEGORY_IDS, MAP_NAMES, recipeJsonSchema } from '@jossel/core/finish';
import { reliefViewSchema } from '@jossel/core/schedule';
import { sourceMapSchema, straightenSchema } from '@jossel/core/sample';
import { z } from 'zod';
import * as finishes from '../services/finishes';
import { generators } from '../services/generators';
import * as looks from '../services/looks';
import * as plans from '../services/relief-plans';
import { versionIn } from '../services/etags';
import { recipeOf } from '../services/recipes';
import { issueRevision } from '../services/revisions';
import { solvedRepeat } from '../services/solved-repeats';
import { longText, nameText } from '../http/text';
import { ok, pageQuery, type App } from './app';

const id = z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.');
const name = nameText(200, 'Give the finish a name.');
const ifMatch = z.looseObject({ 'if-match': z.string().optional() });
const letter = z.string().regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …');

/** Finishes: drafts and revisions. */
export function finishRoutes(app: App): void {
  app.post(
    '/api/finishes',
    {
      schema: {
        summary: 'A new finish, from a recipe or with the default one for its samples',
        body: z.object({
          name,
          category: z.enum(CATEGORY_IDS),
          sampleIds: z.array(id).max(50).optional(),
          maps: z
            .array(sourceMapSchema)
            .max(20)
            .optional()
            .describe('Further maps of the surface in the first sample'),
          lightSetId: id
            .optional()
            .describe('A light set that relief and colour are measured from, instead of samples'),
          straighten: straightenSchema
            .nullable()
            .optional()
            .describe(
              'How all pictures of the light set are straightened first; overallMm is that of the frame',
            ),
          generated: z
            .looseObject({ kind: z.string().max(60).describe('See /api/generators') })
            .optional()
            .describe(
              'What the finish is generated as, with those settings that are not to be the initial ones',
            ),
          overallMm: z
            .object({
              width: z.number().positive().max(100000),
              height: z.number().positive().max(100000).optional(),
            })
            .optional()
            .describe('Size of the whole first picture; a light set cannot be measured without'),
          recipe: z.unknown().optional(),
        }),
        response: ok(201),
      },
    },
    async ({ body }, reply) => reply.status(201).send(await finishes.createFinish(app.context, body)),
  );

  app.get(
    '/api/generators',
    {
      schema: {
        summary: 'Everything that a finish can be generated as, with its settings and initial values',
        response: ok(),
      },
    },
    async () => generators(),
  );

  const query = z.object({
    search: z
      .string()
      .max(200)
      .optional()
      .describe(
        'Words, or parts of them, in name, supplier, line, code, category or state; all must be found',
      ),
    supplier: z.string().max(200).optional().describe('Exactly as noted with the sample'),
    removed: z.stringbool().optional().describe('Those in the bin'),
    state: z.enum(['draft', 'checked', 'issued', 'withdrawn']).optional(),
    category: z.enum(CATEGORY_IDS).optional(),
    issued: z.stringbool().optional().describe('Only those that have an issued revision'),
    ...pageQuery.shape,
  });
  app.get(
    '/api/finishes',
    {
      schema: {
        summary: 'A page of finishes with their headline figures',
        querystring: query,
        response: ok(),
      },
    },
    async (request) => finishes.pageOfFinishes(app.context, request.query),
  );
  app.get(
    '/api/finishes/:id',
    {
      schema: {
        summary: 'One finish with its draft and revisions',
        params: z.object({ id }),
        response: ok(),
      },
    },
    async ({ params }) => finishes.showFinish(app.context, params.id),
  );

  app.patch(
    '/api/finishes/:id',
    {
      schema: {
        summary:
          'Rename, put into a category, change the state; with If-Match (detailsEtag) only if nobody else did meanwhile',
        params: z.object({ id }),
        headers: ifMatch,
        body: z.object({
          name: name.optional(),
          category: z.enum(CATEGORY_IDS).optional(),
          state: z.enum(['draft', 'checked', 'issued', 'withdrawn']).optional(),
        }),
        response: ok(),
      },
    },
    async ({ params, body, headers }) =>
      finishes.renameFinish(app.context, params.id, headers['if-match'], body),
  );

  app.post(
    '/api/finishes/:id/derive',
    {
      schema: {
        summary: 'A new finish that starts from an issued revision, and keeps the link to it',
        params: z.object({ id }),
        body: z.object({ revision: letter.optional(), name: name.optional() }).nullish(),
        response: ok(201),
      },
    },
    async ({ params, body }, reply) =>
      reply.status(201).send(await finishes.deriveFinish(app.context, params.id, body ?? {})),
  );
  app.post(
    '/api/finishes/:id/duplicate',
    {
      schema: {
        summary: 'A new finish with a copy of the draft; nothing of it is issued',
        params: z.object({ id }),
        body: z.object({ name: name.optional() }).nullish(),
        response: ok(201),
      },
    },
    async ({ params, body }, reply) =>
      reply.status(201).send(await finishes.duplicateFinish(app.context, params.id, body?.name)),
  );
  app.delete(
    '/api/finishes/:id',
    { schema: { summary: 'Put a finish into the bin', params: z.object({ id }) } },
    async ({ params }, reply) => {
      await finishes.removeFinish(app.context, params.id);
      return reply.status(204).send();
    },
  );
  app.post(
    '/api/finishes/:id/restore',
    { schema: { summary: 'Take a finish out of the bin', params: z.object({ id }), response: ok() } },
    async ({ params }) => finishes.restoreFinish(app.context, params.id),
  );

  app.put(
    '/api/finishes/:id/draft',
    {
      schema: {
        summary: 'Save the draft over the version that was read (If-Match)',
        params: z.object({ id }),
        headers: ifMatch,
        body: z.object({ recipe: z.unknown() }),
        response: ok(),
      },
    },
    async ({ params, body, headers }, reply) => {
      const saved = await finishes.saveDraft(app.context, params.id, headers['if-match'], body.recipe);
      return reply.header('etag', saved.etag).send(saved);
    },
  );

  app.post(
    '/api/finishes/:id/revisions',
    {
      schema: {
        summary:
          'Issue the draft as the next revision; with If-Match only the version that was read, with Idempotency-Key once however often it is sent',
        params: z.object({ id }),
        headers: ifMatch.extend({
          'idempotency-key': z.string().min(1).max(200, 'At most 200 characters.').optional(),
        }),
        body: z.object({ note: longText(2000).default('') }).nullish(),
        response: { ...ok(201), ...ok(200) },
      },
    },
    async ({ params, body, headers }, reply) => {
      const etag = headers['if-match'];
      const { again, ...issued } = await issueRevision(app.context, params.id, {
        note: body?.note ?? '',
        // What is no ETag of ours is never the newest version.
        version: etag === undefined ? null : (versionIn(etag) ?? 0),
        key: headers['idempotency-key'] ?? null,
      });
      return reply.status(again ? 200 : 201).send(issued);
    },
  );
  app.get(
    '/api/finishes/:id/revisions/:letter',
    {
      schema: {
        summary: 'The frozen recipe of a revision, and the version of every stage that it was issued by',
        params: z.object({ id, letter }),
        response: ok(),
      },
    },
    async ({ params }) => {
      const { recipe, issued } = await recipeOf(app.context, params.id, params.letter);
      return { recipe, versions: issued?.versions ?? {} };
    },
  );

  app.post(
    '/api/finishes/:id/colour',
    {
      schema: {
        summary: 'What the repeat measures: mean colour and spread, and the colour of spots',
        params: z.object({ id }),
        body: z.object({
          revision: letter.optional(),
          way: z.string().min(1).max(40).optional().describe('A colourway by its id'),
          spots: z
            .array(
              z.object({
                xMm: z.number().describe('From the left edge of the repeat'),
                yMm: z.number().describe('From its top edge'),
                radiusMm: z.number().positive('A spot has a radius above 0 mm.').max(100000),
              }),
            )
            .max(1000)
            .default([]),
        }),
        response: ok(),
      },
    },
    async ({ params, body }) => looks.finishColour(app.context, params.id, body),
  );
  app.post(
    '/api/finishes/:id/repeat-advice',
    {
      schema: {
        summary:
          'Which method of making a repeat suits the sample, as settings of the recipe, why, and which methods were tried with what share of pieces broken',
        params: z.object({ id }),
        body: z.object({ apply: z.boolean().default(false).describe('Writes it into the draft') }).nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => finishes.repeatAdvice(app.context, params.id, body?.apply ?? false),
  );
  app.post(
    '/api/finishes/:id/pieces',
    {
      schema: {
        summary:
          'The pieces of the repeat, bricks, tiles or stones, segmented by their joints, and which are cut, fused or of mixed tones where copies of the sample meet; null where it has none',
        params: z.object({ id }),
        body: z.object({ revision: letter.optional() }).nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => looks.pieces(app.context, params.id, body?.revision),
  );
  app.post(
    '/api/finishes/:id/relaid-pieces',
    {
      schema: {
        summary:
          'Re-lays the broken pieces of a composed repeat, each with what lies about it, and keeps what makes pieces whole: the arrangements, and how many are broken before and after',
        params: z.object({ id }),
        body: z.object({ apply: z.boolean().default(false).describe('Writes it into the draft') }).nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => finishes.relaidPieces(app.context, params.id, body?.apply ?? false),
  );
  app.post(
    '/api/finishes/:id/picked-pieces',
    {
      schema: {
        summary:
          'The pieces that the leading sample shows, boards, bricks or tiles, each by its corners, with their usual size and joints; null where it shows none',
        params: z.object({ id }),
        body: z
          .object({
            apply: z
              .boolean()
              .default(false)
              .describe('Picks them as areas and lays the draft of them, in a bond like that of the sample'),
          })
          .nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => finishes.pickedPieces(app.context, params.id, body?.apply ?? false),
  );
  app.get(
    '/api/finishes/:id/surfaces',
    {
      schema: {
        summary: 'Surfaces of projects that a finish lies on, with their sizes',
        params: z.object({ id }),
        response: ok(),
      },
    },
    async ({ params }) => finishes.surfacesOf(app.context, params.id),
  );
  app.post(
    '/api/finishes/:id/relief-plan',
    {
      schema: {
        summary:
          'What the relief of a finish needs on a surface that is seen from a distance: colour, normals or a mesh; its spacing, halvings, triangles, memory, depth reserve, and the wavelength at which mesh and normals share it',
        params: z.object({ id }),
        body: reliefViewSchema.extend({ revision: letter.optional() }),
        response: ok(),
      },
    },
    async ({ params, body }) => plans.reliefPlan(app.context, params.id, body),
  );
  app.get(
    '/api/finishes/:id/relief-detail',
    {
      schema: {
        summary:
          'What meshes of every spacing leave out of the relief of a finish, mm, and its lowest and highest place',
        params: z.object({ id }),
        querystring: z.object({ revision: letter.optional() }),
        response: ok(),
      },
    },
    async ({ params, query }) => plans.reliefDetail(app.context, params.id, query.revision),
  );
  app.post(
    '/api/finishes/:id/repetition',
    {
      schema: {
        summary:
          'What gives the repetition away: places, their contrast, what of the pictures they come from; and from how far it is seen',
        params: z.object({ id }),
        body: z
          .object({
            revision: letter.optional(),
            fieldMm: z
              .number()
              .min(100, 'A field is at least 100 mm wide.')
              .max(1000000, 'A field is at most 1 000 000 mm wide.')
              .default(6000)
              .describe('Side of the square field of the finish that is looked at'),
          })
          .default({ fieldMm: 6000 }),
        response: ok(),
      },
    },
    async ({ params, body }) => looks.repetition(app.context, params.id, body),
  );
  app.get(
    '/api/finishes/:id/swatch.png',
    {
      schema: {
        summary: 'A small picture of the whole repeat',
        params: z.object({ id }),
        querystring: z.object({
          widthPx: z.coerce.number().int().min(16).max(2048).default(512),
          revision: letter.optional(),
          map: z.enum(MAP_NAMES).default('colour'),
          way: z.string().min(1).max(40).optional().describe('A colourway by its id'),
          etag: z.string().optional(),
        }),
      },
    },
    async (request, reply) => {
      const { widthPx, revision, map, way, etag } = request.query;
      const { key, bytes } = await looks.swatch(app.context, {
        ...{ id: request.params.id, letter: revision, widthPx, map },
        way: way ?? null,
      });
      return reply
        .header('content-type', 'image/png')
        .header('etag', `"${key}"`)
        .header('cache-control', etag || revision ? 'private, max-age=31536000, immutable' : 'no-cache')
        .send(bytes);
    },
  );

  app.get(
    '/api/solved-repeats/:key',
    {
      schema: {
        summary:
          'What was solved for a composed repeat before, by the key of all it depends on; 204: nothing',
        params: z.object({ key: z.string().regex(/^[0-9a-f]{64}$/, 'A key is 64 hexadecimal digits.') }),
      },
    },
    async ({ params }, reply) => {
      const deflated = await solvedRepeat(app.context, params.key);
      if (!deflated) return reply.status(204).header('cache-control', 'no-store').send();
      return reply
        .type('application/octet-stream')
        .header('content-encoding', 'deflate')
        .header('cache-control', 'private, max-age=31536000, immutable')
        .send(deflated);
    },
  );

  app.get(
    '/api/schemas/finish.json',
    { schema: { summary: 'JSON Schema of the recipe' } },
    async (_request, reply) => reply.type('application/schema+json').send(JSON.stringify(recipeJsonSchema())),
  );
}
