import { randomBytes } from 'node:crypto';
import type { FastifyError, FastifyReply } from 'fastify';
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { Problem } from '../problem';
import { isConnectionError, isDiskFull } from '../store';

/** Sends a problem as RFC 9457 has it. */
export const sendProblem = (reply: FastifyReply, problem: Problem): FastifyReply =>
  reply
    .status(problem.status)
    .header('content-type', 'application/problem+json')
    .serializer((body: unknown) => JSON.stringify(body))
    .send({
      type: 'about:blank',
      title: problem.title,
      status: problem.status,
      detail: problem.detail,
      ...problem.extra,
    });

/**
 * What went wrong, as a sentence for whoever asked. Of a fault of our own it says a reference number alone; all else about it
 * goes to the log.
 */
export function toProblem(
  error: FastifyError | Problem | z.ZodError,
  request: { method: string; url: string },
  log: (message: string) => void,
): Problem {
  const known = knownProblem(error);
  if (known) return known;
  const reference = randomBytes(4).toString('hex');
  log(`${reference} ${request.method} ${request.url.split('?')[0]}: ${error.stack}`);
  return new Problem(
    500,
    'Fault in Jossel',
    `Something went wrong inside Jossel. What it was stands in its log under the reference ${reference}.`,
    { reference },
  );
}

function knownProblem(error: FastifyError | Problem | z.ZodError): Problem | null {
  if (error instanceof Problem) return error;
  // Whoever asked has left: nobody reads it.
  if (error.name === 'Stopped') return new Problem(503, 'Stopped', 'It was stopped.');
  if (error instanceof z.ZodError)
    return notValid(
      error.issues.map(({ path, message }) => ({ path: path.join('.'), message })),
      false,
    );
  if (hasZodFastifySchemaValidationErrors(error))
    return notValid(
      error.validation.map((v) => ({
        path: v.instancePath.slice(1).replaceAll('/', '.'),
        message: v.message ?? 'is not valid',
      })),
      true,
    );
  return ofDatabase(error) ?? ofServer(error);
}

function notValid(errors: { path: string; message: string }[], withPaths: boolean): Problem {
  const said = errors.map((e) => (withPaths && e.path ? `${e.path}: ${e.message}` : e.message));
  return new Problem(400, 'Not valid', said.join(' '), { errors });
}

function ofDatabase(error: unknown): Problem | null {
  if (isDiskFull(error))
    return new Problem(
      507,
      'Disk full',
      'The disk of the database is full: nothing can be saved until there is room on it. All that was saved can still be read.',
    );
  if (isConnectionError(error))
    return new Problem(
      503,
      'Database away',
      'The database does not answer. What you made is still in this window; it is saved as soon as the database is back.',
    );
  const { code = '' } = error as { code?: string };
  // Classes of SQLSTATE: 22 is data that a column cannot hold, 23503 names a row that is not there.
  if (/^22\w{3}$/.test(code))
    return new Problem(400, 'Not valid', 'A value is out of the range that can be stored.');
  if (code === '23503')
    return new Problem(409, 'Gone meanwhile', 'Something this names was removed meanwhile.');
  return null;
}

function ofServer(error: FastifyError): Problem | null {
  const status = error.statusCode ?? 500;
  if (status === 413)
    return new Problem(413, 'Too large', `The request is larger than is taken. ${error.message}`);
  return status < 500 ? new Problem(status, 'Not valid', error.message) : null;
}
