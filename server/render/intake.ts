import { inspectSample } from './inspect';
import { serialiseErrors } from './serialise-errors';

/** The process that analyses new files. Memory that a file takes is given back when the process ends. */

process.on('message', ({ id, bytes }: { id: number; bytes: Uint8Array }) => {
  serialiseErrors(() => inspectSample(bytes)).then(
    (answer) => process.send!({ id, answer }),
    (error: Error) => process.send!({ id, fault: error.stack ?? String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
