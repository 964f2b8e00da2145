import type { FastifyRequest } from 'fastify';
import { LIMITS } from '../config';
import { Problem } from '../problem';
import { tooLargeFile } from '../services/samples';

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
  const fields: Record<string, string> = {};
  const files: FormFile[] = [];
  for await (const part of request.parts({ limits: { fileSize: LIMITS.uploadBytes, files: most } })) {
    if (part.type === 'field') {
      fields[part.fieldname] = String(part.value);
      continue;
    }
    const bytes = await part.toBuffer().catch((error: { code?: string }) => {
      throw error.code === 'FST_REQ_FILE_TOO_LARGE' ? tooLargeFile() : error;
    });
    if (part.file.truncated) throw tooLargeFile();
    files.push({ field: part.fieldname, name: part.filename || 'unnamed', bytes });
  }
  return { fields, files };
}
