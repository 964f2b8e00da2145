import { Agent, request } from 'undici';
import { z } from 'zod';
import { Problem } from '../problem';
import { at, checkedLookup } from './addresses';

/** Calls of outside services: with a limit on time and size, without following where they point. */

/** A service: what it is called in sentences, and where it is. */
export interface Service {
  name: string;
  address: string;
}

const PATIENCE_MS = 45000;
const MOST_BYTES = 64 * 1024 * 1024;
const agent = new Agent({ connect: { lookup: checkedLookup, timeout: 10000 } });

/** Asks a service; what it does not do is said in a sentence. @param path begins with a slash */
export async function ask(
  service: Service,
  path: string,
  body?: unknown,
  patienceMs = PATIENCE_MS,
): Promise<Buffer> {
  const url = at(service.address, path);
  try {
    // Redirects are answers like others: what is at another address was not asked for.
    const answer = await request(url, {
      dispatcher: agent,
      method: body === undefined ? 'GET' : 'POST',
      signal: AbortSignal.timeout(patienceMs),
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const bytes = await upTo(MOST_BYTES, answer.body, service.name);
    if (answer.statusCode >= 200 && answer.statusCode < 300) return bytes;
    throw refusedBy(service.name, answer.statusCode, messageIn(bytes));
  } catch (error) {
    if (error instanceof Problem) throw error;
    if ((error as Error).name === 'TimeoutError')
      throw new Problem(
        504,
        'No answer in time',
        `${service.name} did not answer within ${patienceMs / 1000} seconds. Try again in a while.`,
      );
    throw new Problem(
      502,
      'Not reached',
      `${service.name} cannot be reached at ${url.host}. Start it, or correct its address under Receiving.`,
    );
  }
}

/** Reads bytes as they come, and stops when there are too many. */
async function upTo(most: number, body: AsyncIterable<Uint8Array>, name: string): Promise<Buffer> {
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  for await (const chunk of body) {
    bytes += chunk.byteLength;
    if (bytes > most)
      throw new Problem(
        502,
        'Answer too large',
        `${name} sent more than ${most / 1024 / 1024} MiB; nothing was imported.`,
      );
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}

function refusedBy(name: string, status: number, said: string): Problem {
  if (status === 404 || status === 400 || status === 422)
    return new Problem(status === 404 ? 404 : 422, 'Refused outside', `${name} says: ${said}`);
  if (status >= 300 && status < 400)
    return new Problem(
      502,
      'Points elsewhere',
      `${name} points to another address (${status}), which is not followed. Correct its address under Receiving.`,
    );
  return new Problem(
    502,
    'Fault outside',
    `${name} answers with a fault (${status}: ${said}). Try again in a while; nothing was changed here.`,
  );
}

function messageIn(bytes: Buffer): string {
  try {
    const { message } = JSON.parse(bytes.toString()) as { message?: unknown };
    return typeof message === 'string' ? message.slice(0, 500) : 'no reason given';
  } catch {
    return 'no reason given';
  }
}

/** Reads an answer against a schema; an answer that is not what it says is refused as a whole. */
export function readAnswer<T>(schema: z.ZodType<T>, { name }: Service, bytes: Buffer): T {
  try {
    return schema.parse(JSON.parse(bytes.toString()));
  } catch (error) {
    throw notUnderstood(
      name,
      error instanceof z.ZodError ? ` (${error.issues[0]?.path.join('.')}: ${error.issues[0]?.message})` : '',
    );
  }
}

/** Bytes of a JPEG. @throws Problem when they are something else */
export function jpegIn({ name }: Service, bytes: Buffer): Buffer {
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return bytes;
  throw notUnderstood(name, ' (no JPEG)');
}

const notUnderstood = (name: string, why: string) =>
  new Problem(
    502,
    'Answer not understood',
    `${name} answered something else than was asked for${why}. Nothing was imported.`,
  );
