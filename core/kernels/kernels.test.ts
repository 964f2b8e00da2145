import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

test('every compiled kernel is what its source compiles to', () => {
  const program = `import('./script/kernels.mjs').then(async ({ compileKernel, kernelModule, kernelNames }) => {
    const made = {};
    for (const name of kernelNames()) made[name] = kernelModule(name, await compileKernel(name));
    process.stdout.write(JSON.stringify(made));
  })`;
  const made = JSON.parse(
    execFileSync(process.execPath, ['--input-type=module', '-e', program], {
      cwd: join(__dirname, '../..'),
      encoding: 'utf8',
    }),
  ) as Record<string, string>;
  expect(Object.keys(made)).toContain('occlusion');
  for (const [name, text] of Object.entries(made))
    expect(readFileSync(join(__dirname, `${name}.wasm.ts`), 'utf8')).toBe(text);
});
