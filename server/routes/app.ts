import type {
  FastifyBaseLogger,
  FastifyInstance,
  RawReplyDefaultExpression,
  RawRequestDefaultExpression,
  RawServerDefault,
} from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { Context } from '../services/context';

declare module 'fastify' {
  interface FastifyInstance {
    context: Context;
  }
}

/** The server with input typed from Zod schemas. */
export type App = FastifyInstance<
  RawServerDefault,
  RawRequestDefaultExpression<RawServerDefault>,
  RawReplyDefaultExpression<RawServerDefault>,
  FastifyBaseLogger,
  ZodTypeProvider
>;

/** Which page of a list is wanted. */
export const pageQuery = z.object({
  limit: z.coerce.number().int().min(1).max(500).default(200).describe('Entries of one page'),
  offset: z.coerce.number().int().min(0).default(0).describe('How many entries come before it'),
});

/** A JSON answer; what is in it is said by the services' types. */
export const ok = (status = 200) => ({ [status]: z.any().describe('As described') });
