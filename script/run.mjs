/** Runs a TypeScript file of this project: run.mjs FILE [ARGUMENTS]. */
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { basename } from 'node:path';
import { build } from 'esbuild';

const [file, ...rest] = process.argv.slice(2);
mkdirSync('out', { recursive: true });
const outfile = `out/${basename(file).replace(/\.ts$/, '')}.mjs`;
await build({
  entryPoints: [file],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  plugins: [
    {
      name: 'own-packages-inside',
      setup(b) {
        b.onResolve({ filter: /^@jossel\/core\// }, (args) => ({
          path: `${process.cwd()}/core/${args.path.slice('@jossel/core/'.length)}/index.ts`,
        }));
      },
    },
  ],
  logLevel: 'warning',
});
process.exit(
  spawnSync(process.execPath, ['--enable-source-maps', '--max-old-space-size=6144', outfile, ...rest], {
    stdio: 'inherit',
  }).status ?? 1,
);
