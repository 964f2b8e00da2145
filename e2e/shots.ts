import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { chromium, type Page } from 'playwright-core';
import { serve, startStandins } from '../server/test/serve';
import { launchOptions } from './browser';

/** Takes the pictures in docs/screenshots from the demo studio: all, or those whose names are given. */
const asked = process.argv.slice(2);
const standins = await startStandins();
const server = await serve({ JOSSEL_STANDINS_URL: standins.url });
execFileSync(process.execPath, ['demo/dist/load.js', server.url], { stdio: 'inherit' });
const browser = await chromium.launch(launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
mkdirSync('docs/screenshots', { recursive: true });

async function save(name: string): Promise<void> {
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(3500);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  console.log(`docs/screenshots/${name}.png`);
}
async function bench(
  words: string,
  section: string,
  also: (page: Page) => Promise<void> = async () => undefined,
): Promise<void> {
  const { body } = await server.call<{ items: { id: string }[] }>(
    'GET',
    `/api/finishes?search=${encodeURIComponent(words)}`,
  );
  await page.goto(`${server.url}/bench/${body.items[0]!.id}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor({ timeout: 120000 });
  const head = page
    .getByRole('region', { name: 'Ledger' })
    .getByRole('button', { name: new RegExp(`^${section}`) });
  if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click();
  await also(page);
}

/** Chooses an entry of a list of the proof. */
async function chooseInProof(p: Page, list: RegExp, entry: string): Promise<void> {
  await p.getByRole('region', { name: 'Proof' }).getByRole('button', { name: list }).click();
  await p.getByRole('option', { name: entry, exact: true }).click();
}
/** Until the refined picture has so few samples to go that none is seen to come. */
const REFINED_MS = 40000;

const colourTool = (tool: string) => () =>
  bench('Moss tile', 'Colour', async (p) => {
    await p.getByRole('radio', { name: tool, exact: true }).click();
    await p.waitForTimeout(4000);
  });
const sampleTool = (tool: string) => () =>
  bench('Oak strips from', 'Sample', async (p) => {
    await p.getByRole('radio', { name: tool, exact: true }).click();
  });

async function packages(): Promise<void> {
  const { body: finishes } = await server.call<{ items: { id: string }[] }>(
    'GET',
    '/api/finishes?state=issued',
  );
  for (const items of [finishes.items.slice(0, 2), finishes.items.slice(2, 3)]) {
    const { body } = await server.call<{ id: string }>('POST', '/api/handovers', {
      items: items.map((f) => ({ finishId: f.id })),
      profile: 'draft-1024',
    });
    await server.until(
      'the package is done',
      async () =>
        (await server.call<{ state: string }>('GET', `/api/handovers/${body.id}`)).body.state === 'done',
    );
  }
  await server.call('POST', '/api/handovers', {
    items: [{ finishId: finishes.items[3]!.id }],
    profile: 'close-4096',
  });
  await page.goto(`${server.url}/handovers`);
  await page.getByRole('checkbox', { name: /Smoked ash/ }).click({ force: true });
  await page.getByText(/^About \d+/).waitFor();
}

const SHOTS: Readonly<Record<string, () => Promise<unknown>>> = {
  rack: () => page.goto(`${server.url}/rack`),
  receiving: async () => {
    await page.goto(`${server.url}/receiving`);
    await page.getByRole('radio', { name: 'supplier' }).click();
    await page.getByText('Rolled zinc, anthracite').waitFor();
    // The catalogue's small pictures are drawn when they are first asked for.
    await page.waitForTimeout(20000);
  },
  'bench-size': () => bench('Oak strips from', 'Size'),
  'bench-straighten': sampleTool('straighten'),
  generate: async () => {
    await page.goto(`${server.url}/generate`);
    await page.waitForTimeout(15000);
  },
  'bench-weathering': () => bench('Limewashed wall', 'Weathering', (p) => p.waitForTimeout(16000)),
  'bench-colour': () =>
    bench('plaster, shell', 'Colour', async (p) => {
      await p.getByRole('radio', { name: '2×' }).click();
    }),
  'bench-light': colourTool('light'),
  'bench-colourways': colourTool('colourways'),
  'bench-layout': () => bench('Quarry rubble', 'Layout', (p) => p.waitForTimeout(6000)),
  'bench-repeat': () =>
    bench('Smoked ash', 'Repeat', async (p) => {
      await p.getByRole('radio', { name: 'composed' }).click();
      await p.getByRole('button', { name: 'Keep to the structure' }).click({ timeout: 60000 });
      await p.getByRole('radio', { name: '2×' }).click();
      await p.waitForTimeout(9000);
      await p.getByRole('button', { name: 'Another arrangement' }).click();
      await p.waitForTimeout(9000);
    }),
  'bench-telltales': () =>
    bench('Smoked ash', 'Repeat', async (p) => {
      await p.getByRole('radio', { name: '1×' }).click();
      await p.getByRole('radio', { name: 'telltales' }).click();
      await p.getByText(/The repetition is visible from/).waitFor({ timeout: 60000 });
    }),
  'bench-relief': () =>
    bench('Glazed', 'Relief', async (p) => {
      await p.getByRole('button', { name: /Map on the plate/ }).click();
      await p.getByRole('option', { name: 'normals' }).click();
      const line = p.getByRole('slider', { name: 'Line A–A' });
      await line.focus();
      for (let i = 0; i < 5; i++) await p.keyboard.press('Shift+ArrowDown');
    }),
  'bench-response': () =>
    bench('Fluted pane', 'Response', async (p) => {
      await chooseInProof(p, /Form$/, 'pane');
      await p.waitForTimeout(REFINED_MS);
    }),
  'bench-boards-laid': () =>
    bench('Oak strips from', 'Layout', async (p) => {
      await p.getByRole('button', { name: 'Lay the pieces of the sample' }).click();
      await p.waitForTimeout(20000);
      await p.keyboard.press('Escape');
    }),
  project: async () => {
    const { body } = await server.call<{ items: { id: string }[] }>('GET', '/api/projects');
    await page.goto(`${server.url}/projects/${body.items[1]!.id}`);
  },
  'project-relief': async () => {
    const { body } = await server.call<{ items: { id: string }[] }>('GET', '/api/projects');
    await page.goto(`${server.url}/projects/${body.items[1]!.id}/relief`);
    await page.getByRole('button', { name: 'Hand over for these meshes' }).waitFor({ timeout: 120000 });
  },
  handovers: packages,
};

for (const [name, show] of Object.entries(SHOTS)) {
  if (asked.length > 0 && !asked.includes(name)) continue;
  await show();
  await save(name);
}
await browser.close();
await server.end();
standins.end();
