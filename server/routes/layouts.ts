import { HATCH_DETAILS, SETTING_OUT_POINTS } from '@jossel/core/layout';
import { z } from 'zod';
import * as layouts from '../services/layouts';
import { ok, type App } from './app';

const params = z.object({ id: z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.') });
const revision = z
  .string()
  .regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …')
  .optional();
const hatchQuery = z.object({
  detail: z
    .enum(HATCH_DETAILS, 'The detail is full or simple.')
    .default('full')
    .describe('full: every outline; simple: the courses, or every fourth outline'),
  revision,
});

const sideSchema = z.coerce.number('A side of a field is a number of mm.').optional();
const fieldQuery = z.object({
  revision,
  fieldWidthMm: sideSchema.describe('Width of a field whose whole and cut pieces are counted, mm'),
  fieldHeightMm: sideSchema.describe('Height of that field, mm'),
  settingOutPoint: z
    .enum(SETTING_OUT_POINTS, 'The setting-out point of a field is its corner or its middle.')
    .default('corner')
    .describe('corner: the repeat begins in the lower left corner; middle: middle on middle'),
});

/** Layouts: pieces, hatches, bonds. */
export function layoutRoutes(app: App): void {
  app.get(
    '/api/finishes/:id/layout.json',
    {
      schema: {
        summary: 'The pieces a finish is laid of, in mm, y up, with quantities for estimates',
        params,
        querystring: fieldQuery,
        response: ok(),
      },
    },
    async (request) => layouts.layoutJson(app.context, request.params.id, request.query),
  );
  app.get(
    '/api/finishes/:id/hatch.svg',
    {
      schema: {
        summary: 'The line hatch of a layout as SVG in mm: lines, and a pattern of them',
        params,
        querystring: hatchQuery,
      },
    },
    async (request, reply) =>
      reply
        .type('image/svg+xml')
        .send(await layouts.hatch(app.context, request.params.id, 'svg', request.query)),
  );
  app.get(
    '/api/finishes/:id/hatch.dxf',
    {
      schema: {
        summary: 'The line hatch of a layout as DXF in mm, a layer for each kind of piece',
        params,
        querystring: hatchQuery,
      },
    },
    async (request, reply) =>
      reply
        .type('image/vnd.dxf')
        .header('content-disposition', 'attachment; filename="hatch.dxf"')
        .send(await layouts.hatch(app.context, request.params.id, 'dxf', request.query)),
  );
  app.get(
    '/api/bonds',
    { schema: { summary: 'Every bond, with its settings and a default layout that closes', response: ok() } },
    async () => layouts.bonds(),
  );
}
