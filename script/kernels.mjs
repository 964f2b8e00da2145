import { readdirSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';

const FOLDER = 'core/kernels';

/** Compiles one kernel of core/kernels/assembly. @returns the module's bytes */
export async function compileKernel(name) {
  let bytes;
  const { error, stderr } = await asc.main(
    [
      `${FOLDER}/assembly/${name}.ts`,
      ...['--runtime', 'stub', '--optimizeLevel', '3', '--shrinkLevel', '0', '--noAssert'],
      ...['--enable', 'simd', '--use', 'abort=', '--outFile', 'kernel.wasm'],
    ],
    { writeFile: (file, contents) => void (file === 'kernel.wasm' && (bytes = contents)) },
  );
  if (error) throw new Error(`${name}: ${error.message}\n${stderr.toString()}`);
  return bytes;
}

/** The module that holds a compiled kernel, so that every bundler and test runner takes it in like any other code. */
export const kernelModule = (name, bytes) =>
  `/** Made by \`npm run kernels\` from assembly/${name}.ts; do not edit. WebAssembly in hexadecimal. */\n` +
  `export default '${Buffer.from(bytes).toString('hex')}';\n`;

export const kernelNames = () =>
  readdirSync(`${FOLDER}/assembly`)
    .filter((file) => file.endsWith('.ts'))
    .map((file) => file.slice(0, -3));

if (process.argv[1]?.endsWith('kernels.mjs'))
  for (const name of kernelNames())
    writeFileSync(`${FOLDER}/${name}.wasm.ts`, kernelModule(name, await compileKernel(name)));
