import { test as base, type Locator, type Page } from '@playwright/test';
import { serve, startStandins, type TestServer } from '../server/test/serve';

/** Name of the database that holds the demo studio as it was loaded. */
export const STUDIO = 'demo_studio';

/** Tests get a Jossel of their own: `studio` with the demo loaded, one for all of a file; `empty` with nothing in it, new for each. */
type Standins = { url: string; end: () => void };
export const test = base.extend<
  { empty: TestServer; proofFolded: boolean },
  { studio: TestServer; standins: Standins }
>({
  // Drawing the proof in software takes more than all else: only walks that look at it have it drawn.
  proofFolded: [true, { option: true }],
  context: async ({ context, proofFolded }, use) => {
    await context.addInitScript((folded) => {
      localStorage['jossel.settings'] ??= JSON.stringify({ proofFolded: folded });
    }, proofFolded);
    await use(context);
  },
  standins: [
    async ({}, use) => {
      const standins = await startStandins();
      await use(standins);
      standins.end();
    },
    { scope: 'worker', timeout: 150000 },
  ],
  studio: [
    async ({ standins }, use) => {
      const server = await serve({ JOSSEL_STANDINS_URL: standins.url }, STUDIO);
      await use(server);
      await server.end();
    },
    { scope: 'worker', timeout: 300000 },
  ],
  empty: async ({}, use) => {
    const server = await serve();
    await use(server);
    await server.end();
  },
});
export { expect } from '@playwright/test';

export async function finishNamed(server: TestServer, words: string): Promise<string> {
  const { body } = await server.call<{ items: { id: string; name: string }[] }>(
    'GET',
    `/api/finishes?search=${encodeURIComponent(words)}`,
  );
  // The search finds the words in any order, also in finishes that other walks have made.
  return (body.items.find(({ name }) => name.includes(words)) ?? body.items[0]!).id;
}

/** Opens a finish on the Bench and waits until it is drawn. */
export async function openBench(page: Page, server: TestServer, words: string): Promise<string> {
  const id = await finishNamed(server, words);
  await page.goto(`${server.url}/bench/${id}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  return id;
}

/** Opens a section of the ledger. */
export async function openSection(page: Page, name: string): Promise<void> {
  const head = page
    .getByRole('region', { name: 'Ledger' })
    .getByRole('button', { name: new RegExp(`^${name}`) });
  if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click();
}

export const field = (page: Page | Locator, label: string) =>
  page.getByRole('textbox', { name: label, exact: true });

export async function type(page: Page | Locator, label: string, text: string): Promise<void> {
  const box = field(page, label);
  await box.fill(text);
  await box.press('Enter');
}

export const saved = (page: Page) =>
  page
    .getByRole('status')
    .filter({ hasText: /^saved$/ })
    .waitFor();
