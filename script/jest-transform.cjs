/**
 * Each test file becomes one module with all of ours that it imports, as in the programs themselves, and the globals that
 * pixel loops use become local names. Jest runs modules in a context where every look-up of a global or of another
 * module's export is slow, which makes such loops several times slower than they are. Packages are required as they are;
 * those that are ES modules only are turned by @swc/jest.
 */
const { createHash } = require('node:crypto');
const { readdirSync, readFileSync } = require('node:fs');
const path = require('node:path');
const { pathToFileURL } = require('node:url');
const { createTransformer } = require('@swc/jest');
const { buildSync } = require('esbuild');

const root = path.join(__dirname, '..');
const packages = createTransformer({
  jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' },
  module: { type: 'commonjs' },
});
const LOCAL = [
  'Math',
  'Number',
  'Infinity',
  'NaN',
  'Array',
  'Float32Array',
  'Float64Array',
  'Int16Array',
  'Int32Array',
  'Uint8Array',
  'Uint16Array',
  'Map',
  'Set',
];
/** ES modules with a default export, which is lost where they are required: they are built in. */
const WITH_DEFAULT = Object.fromEntries(
  ['flatbush/index.js', 'flatqueue/index.js', 'styled-components/dist/styled-components.browser.esm.js'].map(
    (file) => [file.split('/')[0], path.join(root, 'node_modules', file)],
  ),
);
const banner = LOCAL.map((name) => `const ${name} = globalThis.${name};`).join('');

/** One hash over all of our sources: a test file is built anew when any of them changes. */
let sources;
function hashOfSources() {
  if (sources) return sources;
  const hash = createHash('sha256');
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (['node_modules', 'dist'].includes(entry.name) || entry.name.startsWith('.')) continue;
      const file = path.join(folder, entry.name);
      if (entry.isDirectory()) walk(file);
      else if (/\.(ts|tsx|json)$/.test(entry.name)) hash.update(file).update(readFileSync(file));
    }
  };
  for (const part of ['core', 'server', 'web', 'demo', 'standins']) walk(path.join(root, part));
  return (sources = hash.digest('hex'));
}

const isOurs = (file) => !file.includes('/node_modules/');
module.exports = {
  ...packages,
  getCacheKey: (source, file, ...rest) =>
    isOurs(file)
      ? `${file}-${hashOfSources()}-${readFileSync(__filename)}`
      : packages.getCacheKey(source, file, ...rest),
  process(source, file, options) {
    if (!isOurs(file)) return packages.process(source, file, options);
    const built = buildSync({
      entryPoints: [file],
      bundle: true,
      write: false,
      outdir: '/',
      platform: 'node',
      format: 'cjs',
      target: 'es2022',
      // Jest imports nothing while it runs; it requires.
      supported: { 'dynamic-import': false },
      sourcemap: 'inline',
      banner: { js: banner },
      // Modules that look for their own folder lie in the folder of the test.
      define: { 'import.meta.url': JSON.stringify(pathToFileURL(file).href) },
      alias: { '@jossel/core': path.join(root, 'core'), ...WITH_DEFAULT },
      packages: 'external',
      absWorkingDir: root,
    });
    return { code: built.outputFiles.find((f) => f.path.endsWith('.js')).text };
  },
};
