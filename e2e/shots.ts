import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { chromium, type Page } from 'playwright-core';
import { serve, startStandins } from '../server/test/serve';
import { launchOptions } from './browser';

/** Takes the pictures in docs/screenshots from the demo studio. */
const standins = await startStandins();
const server = await serve({ JOSSEL_STANDINS_URL: standins.url });
execFileSync(process.execPath, ['demo/dist/load.js', server.url], { stdio: 'inherit' });
const browser = await chromium.launch(launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
mkdirSync('docs/screenshots', { recursive: true });

async function shot(name: string): Promise<void> {
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

await page.goto(`${server.url}/rack`);
await shot('rack');
await page.goto(`${server.url}/receiving`);
await page.getByRole('radio', { name: 'supplier' }).click();
await page.getByText('Rolled zinc, anthracite').waitFor();
// The catalogue's small pictures are drawn when they are first asked for.
await page.waitForTimeout(20000);
await shot('receiving');
await bench('Oak strips from', 'Size');
await shot('bench-size');
await bench('Oak strips from', 'Sample', async (p) => {
  await p.getByRole('radio', { name: 'straighten', exact: true }).click();
});
await shot('bench-straighten');
await bench('Oak strips from', 'Sample', async (p) => {
  await p.getByRole('radio', { name: 'pick', exact: true }).click();
});
await shot('bench-pick');
await bench('plaster, shell', 'Colour', async (p) => {
  await p.getByRole('radio', { name: '2×' }).click();
});
await shot('bench-colour');
for (const [tool, name] of [
  ['light', 'bench-light'],
  ['balance', 'bench-balance'],
  ['colourways', 'bench-colourways'],
] as const) {
  await bench('Moss tile', 'Colour', async (p) => {
    await p.getByRole('radio', { name: tool, exact: true }).click();
    await p.waitForTimeout(4000);
  });
  await shot(name);
}
await bench('Quarry rubble', 'Layout', async (p) => {
  await p.waitForTimeout(6000);
});
await shot('bench-layout');
await bench('Smoked ash', 'Repeat', async (p) => {
  await p.getByRole('radio', { name: 'composed' }).click();
  await p.getByRole('button', { name: 'Keep to the structure' }).click({ timeout: 60000 });
  await p.getByRole('radio', { name: '2×' }).click();
  await p.waitForTimeout(9000);
  await p.getByRole('button', { name: 'Another arrangement' }).click();
  await p.waitForTimeout(9000);
});
await shot('bench-repeat');
await bench('Glazed', 'Repeat', async (p) => {
  await p.getByRole('button', { name: 'Suggest a method' }).click();
  await p.getByText(/pieces in the repeat; all of them whole/).waitFor({ timeout: 120000 });
  await p.waitForTimeout(5000);
});
await shot('bench-suggested');
await bench('Smoked ash', 'Repeat', async (p) => {
  await p.getByRole('radio', { name: '1×' }).click();
  await p.getByRole('radio', { name: 'telltales' }).click();
  await p.getByText(/The repetition is visible from/).waitFor({ timeout: 60000 });
});
await shot('bench-telltales');
await bench('Glazed', 'Relief', async (p) => {
  await p.getByRole('button', { name: /Map on the plate/ }).click();
  await p.getByRole('option', { name: 'normals' }).click();
  const line = p.getByRole('slider', { name: 'Line A–A' });
  await line.focus();
  for (let i = 0; i < 5; i++) await p.keyboard.press('Shift+ArrowDown');
});
await shot('bench-relief');
const { body: projects } = await server.call<{ items: { id: string }[] }>('GET', '/api/projects');
await page.goto(`${server.url}/projects/${projects.items[1]!.id}`);
await shot('project');
const { body: finishes } = await server.call<{ items: { id: string; state: string; name: string }[] }>(
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
await shot('handovers');
await page.goto(`${server.url}/display`);
await shot('display');
await browser.close();
await server.end();
standins.end();
