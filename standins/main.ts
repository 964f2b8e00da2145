import { buildStandins } from './build-standins';

/** Serves the stand-ins on a loopback port: main.js [PORT]. */
const port = Number(process.argv[2] ?? process.env['JOSSEL_STANDINS_PORT'] ?? 4311);
const app = buildStandins({ tellTruth: process.env['JOSSEL_STANDINS_TRUTH'] === '1' });
// The channel to whoever supervises it closes with that: it does not outlive it.
for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const)
  process.on(signal, () => {
    void app.close().finally(() => process.exit(0));
  });
try {
  const address = await app.listen({ host: '127.0.0.1', port });
  process.stdout.write(`stand-ins at ${address}\n`);
} catch (error) {
  process.stderr.write(`The stand-ins could not listen on port ${port}: ${(error as Error).message}\n`);
  // By this status a supervisor knows not to try again.
  process.exit(2);
}
