import type { FastifyReply } from 'fastify';
import type { BlobStream } from '../store';

/** Sends stored bytes as they come from the database. */
export const sendBlob = (reply: FastifyReply, { bytes, stream }: BlobStream): FastifyReply =>
  reply.header('content-length', bytes).send(stream);
