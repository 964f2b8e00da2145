import { spawn } from 'node:child_process';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium } from 'playwright-core';
import { launchOptions } from '../e2e/browser';
import { freePort, serve } from '../server/test/serve';
import { benchCore } from './core';
import { benchFinding, benchLight, benchStraighten } from './sample';

/** Measures the figures Jossel is to reach. Nothing here is asserted: the machine decides, the reader judges. */
const rows: [string, string, string][] = [];
const print = (what: string, value: string, reach = '') => {
  rows.push([what, value, reach]);
  console.log(`${what}: ${value} ${reach && `(to reach: ${reach})`}`);
};
const median = (times: number[]) => `${times.sort((a, b) => a - b)[times.length >> 1]!.toFixed(0)} ms`;

await benchCore(print);
benchFinding(print);
await benchLight(print);

const server = await serve();
execFileSync(process.execPath, ['demo/dist/load.js', server.url]);
await benchStraighten(server, print);
const find = async (words: string) =>
  (await server.call<{ items: { id: string }[] }>('GET', `/api/finishes?search=${encodeURIComponent(words)}`))
    .body.items[0]!.id;

for (const [profile, words, reach] of [
  ['general-2048', 'plaster, shell', '≤ 12 s'],
  ['general-2048', 'Smoked ash', '≤ 12 s'],
  ['close-4096', 'plaster, shell', '≤ 40 s'],
] as const) {
  const started = performance.now();
  const { body } = await server.call<{ id: string }>('POST', '/api/handovers', {
    items: [{ finishId: await find(words) }],
    profile,
  });
  await server.until(
    'the package is done',
    async () =>
      (await server.call<{ state: string }>('GET', `/api/handovers/${body.id}`)).body.state === 'done',
    300000,
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

// In the browser: from the key to the frame in which the new picture stands.
const browser = await chromium.launch(launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const scripts = new Map<string, number>();
page.on('response', async (response) => {
  if (/\.js$/.test(new URL(response.url()).pathname))
    scripts.set(response.url(), gzipSync(await response.body()).length);
});
await page.goto(`${server.url}/rack`);
await page.waitForLoadState('networkidle');
print(
  'first view, gzipped script',
  `${([...scripts.values()].reduce((a, b) => a + b, 0) / 1024).toFixed(0)} kB`,
  '≤ 350 kB',
);

await page.goto(`${server.url}/bench/${await find('plaster, slate')}`);
await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
await page.waitForTimeout(4000);
for (const [section, label] of [
  ['Colour', 'Light reflectance value'],
  ['Relief', 'Depth'],
  ['Response', 'Gloss at 60°'],
] as const) {
  const head = page
    .getByRole('region', { name: 'Ledger' })
    .getByRole('button', { name: new RegExp(`^${section}`) });
  if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click();
  const field = page.getByRole('textbox', { name: label, exact: true });
  await field.focus();
  const times: number[] = [];
  for (let i = 0; i < 9; i++) {
    await page.waitForTimeout(3500);
    times.push(
      await field.evaluate(
        (input) =>
          new Promise<number>((resolve) => {
            const plate = document.querySelector('section[data-drawn]')!;
            const started = performance.now();
            const observer = new MutationObserver(() => {
              observer.disconnect();
              requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - started)));
            });
            observer.observe(plate, { attributes: true, attributeFilter: ['data-drawn'] });
            input.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));
          }),
      ),
    );
  }
  print(
    `draft 512 px, ${section.toLowerCase()} changed, key to screen in the browser`,
    median(times),
    '≤ 150 ms',
  );
}
// A slider of the corrections by hand: from the key to the frame in which the new picture stands.
await page.goto(`${server.url}/bench/${await find('plaster, shell')}`);
await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
await page.getByRole('button', { name: /^Colour/ }).click();
await page.getByRole('radio', { name: 'hand', exact: true }).click();
await page.getByRole('slider', { name: 'Contrast' }).focus();
const slides: number[] = [];
for (let i = 0; i < 11; i++) {
  await page.waitForTimeout(3500);
  await page.evaluate(() => {
    const plate = document.querySelector('section[data-drawn]')!;
    const box = window as unknown as { drawn: Promise<number> };
    box.drawn = new Promise((resolve) => {
      const observer = new MutationObserver(() => {
        observer.disconnect();
        requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now())));
      });
      observer.observe(plate, { attributes: true, attributeFilter: ['data-drawn'] });
    });
    document.addEventListener(
      'keydown',
      () => ((window as unknown as { pressed: number }).pressed = performance.now()),
      { capture: true, once: true },
    );
  });
  await page.keyboard.press('ArrowRight');
  slides.push(
    await page.evaluate(async () => {
      const box = window as unknown as { drawn: Promise<number>; pressed: number };
      return (await box.drawn) - box.pressed;
    }),
  );
}
print('a slider of colour by hand, 512 px, key to screen in the browser', median(slides), '≤ 100 ms');
// A corner of the frame dragged: from the request for a draft to the picture on the page.
await page.goto(`${server.url}/bench/${await find('Oak strips from')}`);
await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
await page.getByRole('button', { name: /^Sample/ }).click();
await page.getByRole('radio', { name: 'straighten', exact: true }).click();
await page.waitForTimeout(4000);
const corner = (await page.getByRole('slider', { name: 'Frame, top left corner' }).boundingBox())!;
await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
await page.mouse.down();
const drafts: number[] = [];
for (let i = 1; i <= 15; i++) {
  await page.mouse.move(corner.x + corner.width / 2 + i, corner.y + corner.height / 2 - i / 2);
  await page.waitForTimeout(350);
  drafts.push(Number(await page.getByRole('region', { name: 'Straightened' }).getAttribute('data-ms')));
}
await page.mouse.up();
print('straightening draft 512 px while dragging, in the browser', median(drafts.slice(3)), '≤ 150 ms');
await browser.close();
await server.end();

// The second start of an installed Jossel.
const data = mkdtempSync(join(tmpdir(), 'jossel-bench-'));
const port = await freePort();
for (const turn of ['first', 'second']) {
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
