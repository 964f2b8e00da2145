import sharp from 'sharp';
import { barriersOn } from './hands';
import { expect, finishNamed, openBench, openSection, test } from './jossel';

test.use({ proofFolded: false });

test.describe('every place is accessible', () => {
  for (const place of [
    '/rack',
    '/receiving',
    '/projects',
    '/handovers',
    '/display',
    'project',
    'relief of a project',
    'bench',
  ]) {
    test(place, async ({ page, studio }) => {
      if (place === 'bench') {
        await openBench(page, studio, 'Smoked ash');
        for (const section of ['Sample', 'Size', 'Colour', 'Repeat', 'Relief', 'Response', 'Revision']) {
          await openSection(page, section);
          await page.waitForTimeout(300);
          expect(await barriersOn(page), section).toEqual([]);
        }
        return;
      }
      if (place.endsWith('project')) {
        const { body } = await studio.call<{ items: { id: string }[] }>('GET', '/api/projects');
        const view = place === 'project' ? '' : '/relief';
        await page.goto(`${studio.url}/projects/${body.items[1]!.id}${view}`);
      } else await page.goto(studio.url + place);
      await page.getByRole('heading', { level: 1 }).waitFor();
      await page.waitForLoadState('networkidle');
      expect(await barriersOn(page)).toEqual([]);
    });
  }
});

test('the rack draws every finish at one scale, and finds by words', async ({ page, studio }) => {
  await page.goto(`${studio.url}/rack`);
  const size = async () =>
    (await page.getByRole('img', { name: /Glazed tile/ }).evaluate((n) => getComputedStyle(n).backgroundSize))
      .split(' ')
      .map(parseFloat);
  // 624 mm at 1:10 and 96 dpi.
  expect((await size())[0]).toBeCloseTo((624 * 96) / 25.4 / 10, 1);
  await page.getByRole('radio', { name: '1:5', exact: true }).click();
  expect((await size())[0]).toBeCloseTo((624 * 96) / 25.4 / 5, 1);
  // As one types, without Enter.
  await page.getByLabel('Find a finish').fill('plaster');
  const { body: plaster } = await studio.call<{ items: unknown[] }>('GET', '/api/finishes?search=plaster');
  expect(plaster.items.length).toBeGreaterThan(1);
  await expect(page.getByText(`${plaster.items.length} finishes with “plaster”`)).toBeVisible();
  await page.getByLabel('Find a finish').fill('nothing like it');
  await expect(page.getByText('No finish fits')).toBeVisible();
});

test('several files at once: the good one arrives, each bad one says why', async ({ page, studio }) => {
  await page.goto(`${studio.url}/receiving`);
  const good = await sharp({
    create: {
      width: 300,
      height: 200,
      channels: 3,
      background: '#a98',
      noise: { type: 'gaussian', mean: 120, sigma: 12 },
    },
  })
    .tiff()
    .toBuffer();
  await page.locator('input[type=file]').setInputFiles([
    { name: 'letter.png', mimeType: 'image/png', buffer: Buffer.from('Dear all') },
    { name: 'good-stone.tif', mimeType: 'image/tiff', buffer: good },
    {
      name: 'dot.png',
      mimeType: 'image/png',
      buffer: await sharp({ create: { width: 2, height: 2, channels: 3, background: 'red' } })
        .png()
        .toBuffer(),
    },
  ]);
  await expect(page.getByRole('listitem', { name: 'good-stone.tif' })).toBeVisible();
  await expect(
    page.getByText(/letter\.png: This file is not a picture, whatever its name says/),
  ).toBeVisible();
  await expect(page.getByText(/dot\.png: This picture has only 2 × 2 pixels/)).toBeVisible();
  // No permission was noted, and that is said.
  await expect(
    page.getByRole('listitem', { name: 'good-stone.tif' }).getByText(/cannot be handed over yet/),
  ).toBeVisible();
});

test('a picture is dropped with the pointer', async ({ page, studio }) => {
  await page.goto(`${studio.url}/receiving`);
  const file = test.info().outputPath('dropped.png');
  await sharp({ create: { width: 120, height: 90, channels: 3, background: '#777' } })
    .png()
    .toFile(file);
  const box = (await page.getByText('Drop pictures of samples here').boundingBox())!;
  // The browser's own drag and drop of a file from outside.
  const browser = await page.context().newCDPSession(page);
  const data = { items: [], files: [file], dragOperationsMask: 1 };
  for (const event of ['dragEnter', 'dragOver', 'drop'] as const)
    await browser.send('Input.dispatchDragEvent', { type: event, x: box.x + 20, y: box.y + 8, data });
  await expect(page.getByRole('listitem', { name: 'dropped.png' })).toBeVisible();
});

test('a package is stopped from the interface', async ({ page, studio }) => {
  await page.goto(`${studio.url}/handovers`);
  await page.getByText('Trowelled plaster, shell').click();
  await page.getByRole('button', { name: /Profile/ }).click();
  await page.getByRole('option', { name: /4096/ }).click();
  await page.getByRole('button', { name: 'Make the package' }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByText('stopped', { exact: true })).toBeVisible();
});

test('an address that leads nowhere says so, and back leads back', async ({ page, studio }) => {
  await page.goto(`${studio.url}/rack`);
  await page.getByRole('link', { name: /Glazed tile/ }).click();
  await page.waitForURL(/bench/);
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Rack' })).toBeVisible();
  await page.goto(`${studio.url}/bench/00000000-0000-4000-8000-000000000000`);
  await expect(page.getByText(/There is no finish/)).toBeVisible();
});

test('withdrawn finishes are neither handed over nor laid', async ({ page, studio }) => {
  const id = await finishNamed(studio, 'zinc');
  const { status, body } = await studio.call<{ detail: string }>('POST', '/api/handovers', {
    items: [{ finishId: id }],
    profile: 'draft-1024',
  });
  expect([status, body.detail]).toEqual([409, expect.stringContaining('withdrawn')]);
  await page.goto(`${studio.url}/handovers`);
  await expect(page.getByRole('checkbox', { name: /Rolled zinc/ })).toBeDisabled();
});
