import { spawn } from 'node:child_process';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, serve } from '../server/test/serve';
import { benchCore } from './core';
import { benchGenerated } from './generated';
import { benchKernels } from './kernels';
import { benchPage } from './page';
import { benchLayout } from './layout';
import { benchHostile, benchKills, benchLoad } from './load';
import { benchMany } from './many';
import { benchProof } from './proof';
import { benchRandom } from './random-recipes';
import { benchRelief } from './relief';
import { benchRepeat } from './repeat';
import { benchFinding, benchLaid, benchLight, benchPieces, benchStraighten } from './sample';

/** Measures the figures Jossel is to reach. Nothing here is asserted: the machine decides, the reader judges. */
const rows: [string, string, string][] = [];
const print = (what: string, value: string, reach = '') => {
  rows.push([what, value, reach]);
  console.log(`${what}: ${value} ${reach && `(to reach: ${reach})`}`);
};

/** `npm run bench` measures all; `npm run bench page core` only those parts. */
const asked = process.argv.slice(2);
const wanted = (
  part:
    | 'core'
    | 'kernels'
    | 'repeat'
    | 'many'
    | 'finding'
    | 'laid'
    | 'layout'
    | 'pieces'
    | 'light'
    | 'relief'
    | 'proof'
    | 'generated'
    | 'random'
    | 'load'
    | 'hostile'
    | 'kills'
    | 'server'
    | 'page'
    | 'start',
) => asked.length === 0 || asked.includes(part);

if (wanted('core')) await benchCore(print);
if (wanted('kernels')) await benchKernels(print);
if (wanted('repeat')) await benchRepeat(print);
if (wanted('many')) await benchMany(print);
if (wanted('finding')) await benchFinding(print);
if (wanted('laid')) benchLaid(print);
if (wanted('layout')) await benchLayout(print);
if (wanted('pieces')) await benchPieces(print);
if (wanted('light')) await benchLight(print);
if (wanted('relief')) await benchRelief(print);
if (wanted('proof')) await benchProof(print);
if (wanted('generated')) await benchGenerated(print);
if (wanted('random')) await benchRandom(print);
if (wanted('load')) await benchLoad(print);
if (wanted('hostile')) await benchHostile(print);
if (wanted('kills')) await benchKills(print);

if (wanted('server') || wanted('page')) await benchStudio();

// The second start of an installed Jossel.
const data = mkdtempSync(join(tmpdir(), 'jossel-bench-'));
const port = await freePort();
for (const turn of wanted('start') ? ['first', 'second'] : []) {
  const started = performance.now();
  const { DATABASE_URL: _, ...environment } = process.env;
  const child = spawn('npm', ['start'], {
    env: { ...environment, JOSSEL_DATA: data, JOSSEL_PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  });
  await new Promise<void>((resolve) =>
    child.stdout.on('data', (chunk: Buffer) => chunk.toString().includes('Jossel is at') && resolve()),
  );
  print(
    `npm start when installed, ${turn} with this data`,
    `${((performance.now() - started) / 1000).toFixed(1)} s`,
    turn === 'second' ? '≤ 8 s' : '',
  );
  process.kill(-child.pid!, 'SIGINT');
  await new Promise((resolve) => child.once('exit', resolve));
  await new Promise((resolve) => setTimeout(resolve, 1500));
}
rmSync(data, { recursive: true, force: true });

const widths = [0, 1, 2].map((c) => Math.max(...rows.map((r) => r[c]!.length)));
console.log(`\n${['what', 'measured', 'to reach'].map((h, c) => h.padEnd(widths[c]!)).join('  ')}`);
for (const row of rows) console.log(row.map((v, c) => v.padEnd(widths[c]!)).join('  '));

/** What is measured with the demo studio loaded. */
async function benchStudio(): Promise<void> {
  const server = await serve();
  execFileSync(process.execPath, ['demo/dist/load.js', server.url]);
  if (wanted('server')) await benchStraighten(server, print);
  const find = async (words: string) =>
    (
      await server.call<{ items: { id: string }[] }>(
        'GET',
        `/api/finishes?search=${encodeURIComponent(words)}`,
      )
    ).body.items[0]!.id;

  for (const [profile, words, reach] of [
    ['general-2048', 'plaster, shell', '≤ 12 s'],
    ['general-2048', 'Smoked ash', '≤ 12 s'],
    ['close-4096', 'plaster, shell', '≤ 20 s'],
    ['large-8192', 'plaster, shell', '≤ 120 s'],
  ] as const) {
    if (!wanted('server')) break;
    const started = performance.now();
    const { body } = await server.call<{ id: string }>('POST', '/api/handovers', {
      items: [{ finishId: await find(words) }],
      profile,
    });
    await server.until(
      'the package is done',
      async () =>
        (await server.call<{ state: string }>('GET', `/api/handovers/${body.id}`)).body.state === 'done',
    );
    const bytes = Buffer.from(
      await (await fetch(`${server.url}/api/handovers/${body.id}/file`)).arrayBuffer(),
    ).length;
    print(
      `full set to packed file, ${profile}, ${words}`,
      `${((performance.now() - started) / 1000).toFixed(1)} s, ${(bytes / 1048576).toFixed(0)} MB`,
      reach,
    );
  }

  if (wanted('page')) await benchPage(server, find, print);
  await server.end();
}
