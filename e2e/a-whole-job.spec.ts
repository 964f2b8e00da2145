import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { linearToSrgb8 } from '@jossel/core/colour';
import { manifestSchema } from '@jossel/core/formats';
import { unzip } from '../server/test/unzip';
import { boards } from '../standins/physical/kinds';
import { expect, field, openSection, saved, test, type } from './jossel';
import { axisOf, know } from './hands';

/** 17 boards of 145 mm with 16 joints of 3 mm, as a photograph: 2513 mm high. */
async function floorPicture(): Promise<Buffer> {
  const floor = boards(3, [1600, 17 * 148], 145, '#b39671', '#6b4f36', { jointMm: 3, knotsPerM2: 0.5 });
  const { widthPx, r, g, b } = (await floor.make(0.5)).colour;
  const heightPx = Math.round(2513 * 0.5);
  const pixels = Buffer.alloc(3 * widthPx * heightPx);
  for (let i = 0; i < widthPx * heightPx; i++) pixels.set([r[i]!, g[i]!, b[i]!].map(linearToSrgb8), 3 * i);
  return sharp(pixels, { raw: { width: widthPx, height: heightPx, channels: 3 } })
    .jpeg({ quality: 92 })
    .toBuffer();
}

test.use({ proofFolded: false });

test('a new user goes the whole way: picture, size, reflectance, proof, revision, floor, package', async ({
  page,
  empty,
}) => {
  // It does everything one after the other.
  await page.goto(empty.url);
  await expect(page.getByText('The rack is empty')).toBeVisible();
  await page.getByRole('link', { name: 'Bring in a sample' }).click();

  // Receiving: origin first, then the picture.
  await page.getByRole('textbox', { name: 'Supplier' }).fill('Velthrask Timber');
  await page.getByRole('textbox', { name: 'Code' }).fill('VT-17');
  await page.getByLabel('Permission to use').fill('sample box, 3 Nov 2026');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'oak-floor.jpg', mimeType: 'image/jpeg', buffer: await floorPicture() });
  const arrived = page.getByRole('listitem', { name: 'oak-floor.jpg' });
  await expect(arrived.getByText('800 × 1257 px')).toBeVisible();
  await arrived.getByLabel('Name of the finish').fill('Oak, seventeen boards');
  await arrived.getByRole('button', { name: /Category/ }).click();
  await page.getByRole('option', { name: 'Timber' }).click();
  await arrived.getByRole('button', { name: 'Make a finish' }).click();
  await expect(page).toHaveURL(/\/bench\//);
  await page.locator('section[data-look="received"]').waitFor();

  // Size: 17 boards × 145 mm with 3 mm joints.
  await openSection(page, 'Size');
  await know(axisOf(page, 'Height'), 'counted modules');
  const height = page.getByRole('region', { name: 'Height', exact: true });
  await type(height, 'Count', '17');
  await type(height, 'Joint', '3');
  await type(height, 'Module', '145');
  // A typed figure is assumed until somebody says what it rests on, with one key.
  await expect(height.getByText('Assumed, or')).toBeVisible();
  await page.keyboard.press('m');
  await expect(height.getByText('2513 mm')).toBeVisible();
  await know(axisOf(page, 'Width'), 'from proportions');
  await expect(
    page.getByRole('region', { name: 'Width', exact: true }).getByText('follows the height, square pixels'),
  ).toBeVisible();

  // Colour: a reflectance from the data sheet.
  await openSection(page, 'Colour');
  await type(page, 'Light reflectance value', '27');
  await page.keyboard.press('p');
  await expect(page.getByRole('region', { name: 'Title block' }).getByText('LRV 27')).toBeVisible();

  // The repeat is 16 whole boards: joints meet.
  await openSection(page, 'Repeat');
  await expect(page.getByText('16 whole modules')).toBeVisible();
  await openSection(page, 'Relief');
  await type(page, 'Depth', '0.5');
  await page.keyboard.press('m');
  await openSection(page, 'Response');
  await type(page, 'Gloss at 60°', '18');
  await page.keyboard.press('m');

  // Proof at true size; the light is turned.
  await expect(page.getByText('2.4 × 2.4 m')).toBeVisible();
  const proof = page.getByRole('region', { name: 'Proof' });
  await proof.getByRole('button', { name: /Light$/ }).click();
  await page.getByRole('option', { name: 'low sun' }).click();
  const canvas = proof.locator('canvas').first();
  await page.waitForTimeout(1500);
  const before = await canvas.screenshot();
  await page.getByRole('slider', { name: 'Light elevation' }).focus();
  for (let i = 0; i < 9; i++) await page.keyboard.press('ArrowLeft');
  await expect(field(page, 'Light elevation, number')).toHaveValue('15');
  await expect.poll(async () => before.equals(await canvas.screenshot())).toBe(false);

  // Revision A.
  await saved(page);
  await openSection(page, 'Revision');
  await page.getByRole('button', { name: 'Issue revision A' }).click();
  await expect(page.getByText(/Revision A is the same as the draft/)).toBeVisible();

  // On a floor.
  await page.getByRole('link', { name: 'Projects' }).click();
  await page.getByLabel('Name of the new project').fill('Boat house');
  await page.getByRole('button', { name: 'Add project' }).click();
  await page.getByLabel('Name of the new room').fill('Workshop');
  await page.getByRole('button', { name: 'Add room' }).click();
  await page.getByRole('textbox', { name: 'New surface in Workshop', exact: true }).fill('Floor');
  await type(page, 'Width of the new surface in Workshop', '8 m');
  await type(page, 'Height of the new surface in Workshop', '2*2368');
  await page.getByRole('button', { name: 'Add surface' }).click();
  await page.getByRole('button', { name: /Finish of Floor/ }).click();
  await page.getByRole('option', { name: 'Oak, seventeen boards' }).click();
  // 2513 mm hold 17 boards; the repeat is 16 boards and joints, 2368 mm, and lies twice on 4736 mm.
  await expect(page.getByRole('row', { name: 'Floor', exact: true }).getByText(/× 2$/)).toBeVisible();

  // Handed over.
  await page.getByRole('link', { name: 'Handovers' }).click();
  await page.getByRole('region', { name: 'New handover' }).getByText('Oak, seventeen boards').click();
  await page.getByRole('button', { name: 'Make the package' }).click();
  const link = page.getByRole('link', { name: /oak-seventeen-boards-A-general-2048\.zip/ });
  await link.waitFor();
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const files = await unzip(readFileSync((await download.path())!));
  const manifest = manifestSchema.parse(JSON.parse(files.get('manifest.json')!.toString()));
  const [finish] = manifest.finishes;
  expect(finish).toMatchObject({
    name: 'Oak, seventeen boards',
    revision: 'A',
    origin: { supplier: 'Velthrask Timber', code: 'VT-17', permission: 'sample box, 3 Nov 2026' },
  });
  expect(finish!.size).toMatchObject({
    ruling: { across: 'follows', up: 'count' },
    count: { up: { modules: 17, moduleMm: { value: 145, unit: 'mm' }, jointMm: 3, ends: 'flush' } },
  });
  const figures = Object.fromEntries(finish!.figures.map((f) => [f.name, f]));
  expect(figures['physical height of the sample']).toMatchObject({
    value: 2513,
    unit: 'mm',
    basis: 'measured',
  });
  expect(figures['light reflectance value']).toMatchObject({ value: 27, unit: 'LRV', basis: 'published' });
  expect(figures['relief depth']).toMatchObject({ value: 0.5, basis: 'measured' });
  expect(figures['gloss at 60°']).toMatchObject({ value: 18, basis: 'measured' });
  expect(finish!.repeatMm.height).toBeCloseTo(2368, 6);
  expect(finish!.measured.lrv).toBeCloseTo(27, 1);
  expect(files.has('oak-seventeen-boards-A/panel.glb')).toBe(true);
});
