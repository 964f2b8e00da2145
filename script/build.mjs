/** Builds the server, its computing threads, the demo's loader and the stand-ins with esbuild; packages stay outside, our own code goes in. */
import { readFileSync } from 'node:fs';
import { build } from 'esbuild';

const packages = ['server', 'core', 'demo', 'standins'].flatMap((w) =>
  Object.keys(JSON.parse(readFileSync(`${w}/package.json`, 'utf8')).dependencies ?? {}),
);
const common = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: 'linked',
  logLevel: 'warning',
  splitting: false,
  external: packages.filter((p) => !p.startsWith('@jossel/')).flatMap((p) => [p, `${p}/*`]),
};
await Promise.all([
  build({
    ...common,
    entryPoints: {
      main: 'server/main.ts',
      thread: 'server/render/thread.ts',
      helper: 'server/render/helper.ts',
      intake: 'server/render/intake.ts',
    },
    outdir: 'server/dist',
  }),
  build({ ...common, entryPoints: ['demo/load.ts'], outdir: 'demo/dist' }),
  build({
    ...common,
    entryPoints: { main: 'standins/main.ts', thread: 'standins/thread.ts' },
    outdir: 'standins/dist',
  }),
]);
