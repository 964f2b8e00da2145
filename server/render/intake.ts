import { inspectSample } from './inspect';
import { serialiseErrors } from './serialise-errors';

/** The process that new files are looked at in: what they make of its memory ends with it. */

process.on('message', ({ id, bytes }: { id: number; bytes: Uint8Array }) => {
  serialiseErrors(() => inspectSample(bytes)).then(
    (answer) => process.send!({ id, answer }),
    (error: Error) => process.send!({ id, fault: error.stack ?? String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
