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

/** A JSON answer; what is in it is said by the services' types. */
export const ok = (status = 200) => ({ [status]: z.any().describe('As described') });
