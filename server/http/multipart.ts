import type { FastifyRequest } from 'fastify';
import { LIMITS } from '../config';
import { Budget } from './budget';
import { refuseText } from './json-body';
import { seenOnly } from './text';
import { Problem } from '../problem';
import { tooLargeFile } from '../services/samples';
import { isConnectionError } from '../store';

/** A file of a form, under the name of its field. */
export interface FormFile {
  field: string;
  name: string;
  bytes: Buffer;
}

/**
 * Reads a form with files.
 * @param most files
 * @param asked what is to be sent, for those who send something else
 * @throws Problem when it is no form, or a file is too large
 */
export async function readForm(
  request: FastifyRequest,
  most: number,
  asked: string,
): Promise<{ fields: Record<string, string>; files: FormFile[] }> {
  if (!request.isMultipart()) throw new Problem(415, 'Not a form', asked);
  const done = await uploads.take(announcedBytes(request), PATIENCE_MS);
  if (!done)
    throw new Problem(
      503,
      'Busy',
      'Other uploads use all the memory there is for them. Send it again in a minute.',
    );
  // Of an upload that goes on, bytes come all the time; how long it may take in all is a limit of the server.
  request.raw.setTimeout(IDLE_MS, () => request.raw.destroy());
  try {
    return await partsOf(request, most);
  } catch (error) {
    throw asProblem(error);
  } finally {
    // What is computed from it may take longer than its bytes may.
    request.raw.setTimeout(0);
    done();
  }
}

/** Bytes that uploads may hold in memory at once. */
const uploads = new Budget(LIMITS.uploadBytes + 64 * 1024 * 1024);
const PATIENCE_MS = 30_000;
const IDLE_MS = 20_000;

/** What the form says it has; one that does not say counts as the largest. */
function announcedBytes({ headers }: FastifyRequest): number {
  const bytes = Number(headers['content-length']);
  return Number.isFinite(bytes) && bytes >= 0 ? bytes : LIMITS.uploadBytes;
}

async function partsOf(request: FastifyRequest, most: number) {
  const fields: Record<string, string> = {};
  const files: FormFile[] = [];
  for await (const part of request.parts({ limits: { fileSize: LIMITS.uploadBytes, files: most } })) {
    if (part.type === 'field') {
      const value = String(part.value);
      refuseText(part.fieldname + value);
      fields[part.fieldname] = value;
      continue;
    }
    const bytes = await part.toBuffer();
    if (part.file.truncated) throw tooLargeFile();
    files.push({ field: part.fieldname, name: fileNameOf(part.filename), bytes });
  }
  return { fields, files };
}

/** The last part of a path, in one form of Unicode, without characters that cannot be seen. */
function fileNameOf(sent: string | undefined): string {
  const last = (sent ?? '').split(/[\\/]/).at(-1)!;
  return seenOnly(last).slice(0, 255) || 'unnamed';
}

/** What is wrong with a form, as a sentence; what is no fault of the form stays as it is. */
function asProblem(error: unknown): unknown {
  const { code, statusCode, message } = error as { code?: string; statusCode?: number; message: string };
  if (error instanceof Problem) return error;
  if (code === 'FST_REQ_FILE_TOO_LARGE') return tooLargeFile();
  if (code === 'FST_FILES_LIMIT' || code === 'FST_PARTS_LIMIT' || code === 'FST_FIELDS_LIMIT')
    return new Problem(413, 'Too many files', 'The form has more files or fields than are taken at once.');
  if (statusCode !== undefined && statusCode < 500) return error;
  if (isConnectionError(error)) return error;
  return new Problem(
    400,
    'Form not readable',
    `The form is not multipart/form-data with a boundary, or it broke off (${message}). Send it again.`,
  );
}
