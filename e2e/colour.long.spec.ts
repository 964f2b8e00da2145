import { lrvOf } from '@jossel/core/colour';
import { mean } from '@jossel/core/raster';
import { captureSchema, captureTruth } from '../standins/capture/capture';
import { benchSample } from '../standins/capture/samples';
import { barriersOn, draftOf, idOf, knownBy, straighten, takePicture, tool } from './hands';
import { expect, field, openBench, openSection, saved, test, type } from './jossel';

test('a capture with a yellow cast and a fall of light becomes a finish that agrees with the meter, in four colourways', async ({
  page,
  studio,
}) => {
  const numbers = {
    'Uneven light': '0.45',
    'Colour cast': '0.7',
    'Exposure, stops': '-0.5',
    'Width, px': '1300',
  };
  await takePicture(page, studio, 'Board with trowelled plaster', numbers, 'plaster-board.jpg');
  const truth = captureTruth(captureSchema.parse({ sampleId: 'plaster-board', widthPx: 1300 }))!;
  await straighten(page, truth.sampleCorners);
  await openSection(page, 'Size');
  // The target card was found when the finish was made, and is used.
  for (const axis of ['Width', 'Height']) {
    const block = page.getByRole('region', { name: axis, exact: true });
    await expect(knownBy(block)).toContainText('target card');
    await expect(block.getByText('corner marks of the target card')).toBeVisible();
  }

  await openSection(page, 'Colour');
  await tool(page, 'light');
  await page.getByText('Level uneven light').click();
  await expect(page.getByText(/Illumination falls off by \d+ %/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Light over the sample, in percent/ })).toBeVisible();
  await expect(page.getByText(/No glare is found/)).toBeVisible();
  await tool(page, 'balance');
  await expect(page.getByRole('radio', { name: 'target card' })).toBeChecked();
  await expect(page.getByText(/Residual: mean ΔE00 0\.\d+/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Difference of each patch/ })).toBeVisible();
  // A patch is left out of the fit, and taken back.
  await page.getByText(/Patches, 0 left out/).click();
  await page.getByRole('checkbox', { name: 'C5 takes part in the fit' }).uncheck();
  await expect(page.getByText(/Patches, 1 left out/)).toBeVisible();
  await page.getByRole('checkbox', { name: 'C5 takes part in the fit' }).check();
  await expect(page.getByText(/Patches, 0 left out/)).toBeVisible();

  await tool(page, 'match');
  await page.getByRole('button', { name: 'Read the reflectance meter three times' }).click();
  const known = page.getByRole('table', { name: 'What is known of the colour' });
  await expect(known.getByRole('row', { name: /picture, governs/ })).toBeVisible();
  await expect(known.getByRole('row', { name: /^reflectance/ })).toBeVisible();
  await saved(page);
  const recipe = await draftOf(studio, idOf(page));
  expect(recipe.sources[0]!.light.balance).toBe('card');
  expect(recipe.colour).toMatchObject({ ruling: 'picture', lrv: { basis: 'measured' } });
  expect(recipe.colour.colour!.basis).toBe('measured');
  // Within the tolerance of three readings: no check speaks of the colour.
  await expect(page.getByRole('region', { name: /Checks/ }).getByText(/ΔE00|measures LRV/)).toHaveCount(0);
  const { body } = await studio.call<{ repeat: { lrv: number } }>(
    'POST',
    `/api/finishes/${idOf(page)}/colour`,
    { spots: [] },
  );
  const { colour } = await benchSample('plaster-board')!.make(1);
  expect(Math.abs(body.repeat.lrv - lrvOf([mean(colour.r), mean(colour.g), mean(colour.b)]))).toBeLessThan(1);

  await tool(page, 'colourways');
  await page
    .getByLabel('List, one a line: name; code; colour')
    .fill('Dune; D-1; Lab 72 4 22\nSlip; D-2; #6a7480\nOxide; D-3; Lab 45 24 22\nSedge; D-4; 58 -9 18');
  await page.getByRole('button', { name: 'Add these colourways' }).click();
  const shown = page.getByRole('region', { name: 'Colourways', exact: true });
  for (const name of ['Dune', 'Slip', 'Oxide', 'Sedge'])
    await expect(
      shown.getByRole('button', { name: new RegExp(`${name}.*ΔE00 0(\\.[0-5])?\\b`) }),
    ).toBeVisible();
  await shown.getByRole('button', { name: /Oxide/ }).click();
  await expect(page.getByRole('heading', { name: /Plate, Oxide/ })).toBeVisible();
  await expect(page.getByRole('rowheader', { name: 'Oxide' })).toBeVisible();
  // Undo takes the whole list back at once.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('No colourways yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  await saved(page);
  expect((await draftOf(studio, idOf(page))).colour.ways.map((w) => w.code)).toEqual([
    'D-1',
    'D-2',
    'D-3',
    'D-4',
  ]);
});

test('what cannot be is said where it was typed, and the last good picture stays', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'plaster, shell');
  await openSection(page, 'Colour');
  await tool(page, 'match');
  const plate = page.getByRole('region', { name: 'Plate', exact: true });
  const checks = page.getByRole('region', { name: /Checks/ });
  await type(page, 'Light reflectance value', '99');
  await expect(checks.getByText(/would clip \d+ % of the repeat at white/)).toBeVisible();
  await expect(plate.getByRole('img', { name: /colour of the finish/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(checks.getByText(/would clip/)).toHaveCount(0);
  await type(page, 'Colour', 'beige');
  await expect(page.getByText(/“beige” is not a colour. Give a colour as Lab 62 8 22/)).toBeVisible();
  await field(page, 'Colour').press('Escape');
  await type(page, 'Colour', 'Lab 60 -110 20');
  await tool(page, 'colour');
  await expect(checks.getByText(/outside the sRGB gamut/)).toBeVisible();
  await type(page, 'Colour', '#b9ad9c');
  await expect(checks.getByText(/outside the sRGB gamut/)).toHaveCount(0);

  // No card in this picture; a grey patch on nothing grey; a list of colours without columns.
  await tool(page, 'balance');
  await tool(page, 'target card');
  await expect(page.getByText(/No target card is seen/)).toBeVisible();
  await tool(page, 'grey patch');
  await expect(page.getByText('Draw round the grey patch on the plate')).toBeVisible();
  const ground = page.getByRole('application', { name: /Draw round a grey patch/ });
  const box = (await ground.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.getByText(/This patch has no extent/)).toBeVisible();
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 20, box.y + box.height / 2, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByText(/Gains in linear light/)).toBeVisible();
  await type(page, 'Reflectance of the grey', '55');
  await saved(page);

  await tool(page, 'colourways');
  await page.getByLabel('List, one a line: name; code; colour').fill('Dune; D-1; beige');
  await page.getByRole('button', { name: 'Add these colourways' }).click();
  await expect(page.getByText(/Line 1, “Dune; D-1; beige”/)).toBeVisible();
  await expect(page.getByLabel('List, one a line: name; code; colour')).toHaveValue('Dune; D-1; beige');
});

test('reference values are opened from a file; one that is not such a list is refused', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Moss tile');
  await openSection(page, 'Colour');
  await tool(page, 'balance');
  await expect(page.getByText(/Residual/)).toBeVisible();
  const open = (name: string, text: string) =>
    page
      .locator('input[type=file]')
      .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  await open('short.csv', 'Name;L;a;b\nA1;78;4;18\nA2;66;10;26\nA3;55;16;30\n');
  await expect(page.getByText(/short.csv: short.csv names 3 of the card’s patches/)).toBeVisible();
  await open('swapped.csv', 'Name,a,L,b\nA1,92,1,1\nA2,95,2,4\nA3,99,3,6');
  await expect(page.getByText(/columns seem to be swapped/)).toBeVisible();
  const rows = [
    'Grey 1 92',
    'Grey 2 80',
    'Grey 3 68',
    'Grey 4 56',
    'Grey 5 44',
    'Grey 6 32',
    'Grey 7 22',
  ].map((r, n) => `${n + 1} "${r.slice(0, 6)}" ${r.slice(7)} 0 0`);
  await open(
    'spring.txt',
    [
      'CGATS.17',
      'DESCRIPTOR "Spring print"',
      'BEGIN_DATA_FORMAT',
      'SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B',
      'END_DATA_FORMAT',
      'BEGIN_DATA',
      ...rows,
      'END_DATA',
    ].join('\n'),
  );
  await expect(page.getByText('Reference: Spring print, 7 patches.')).toBeVisible();
  await page.getByRole('button', { name: 'Use the card’s own' }).click();
  await expect(page.getByText(/Reference: the card’s nominal values/)).toBeVisible();
});

test('corrections by hand say what they do; with the keyboard alone; the probe reads', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'limestone');
  await openSection(page, 'Colour');
  await tool(page, 'hand');
  const readings = page.getByRole('table', { name: 'Readings' });
  const lrv = async () =>
    (await readings
      .getByRole('row', { name: /the repeat/ })
      .getByRole('cell')
      .first()
      .textContent())!;
  const before = await lrv();
  const contrast = page.getByRole('slider', { name: 'Contrast' });
  await contrast.focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/LRV ±0, ΔE00/)).toBeVisible();
  expect(await lrv()).toBe(before);
  await page.getByText('Keep reflectance').click();
  const lightness = page.getByRole('slider', { name: 'Lightness' });
  await lightness.focus();
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/LRV \+\d+\.\d+, ΔE00 [1-9]/)).toBeVisible();
  await expect(page.getByText(/The finish measures LRV/)).toBeVisible();
  await page.getByRole('button', { name: 'Take all back' }).click();
  await expect(page.getByText(/The finish measures LRV/)).toHaveCount(0);

  await page.getByRole('button', { name: 'probe' }).click();
  const ground = page.getByRole('application', { name: /Read a spot of the repeat/ });
  await ground.focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('Space');
  await expect(page.getByRole('status').filter({ hasText: /LRV \d+(\.\d)?, Lab/ })).toBeVisible();
  const box = (await ground.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByRole('status').filter({ hasText: /over \d+/ })).toBeVisible();
});

test('colours are drawn from a picture, and every panel of light and colour is accessible', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Moss tile');
  await openSection(page, 'Colour');
  for (const name of ['light', 'balance', 'match', 'hand', 'colourways']) {
    await tool(page, name);
    await page.waitForTimeout(600);
    expect(await barriersOn(page), name).toEqual([]);
  }
  await page.getByRole('button', { name: /Draw colours from a picture/ }).click();
  await page.getByRole('option', { name: 'glazed-tile-lagoon.jpg' }).click();
  const palette = page.getByRole('region', { name: 'Palette of a picture' });
  await expect(palette.getByRole('img', { name: /Shares: \d+ %/ })).toBeVisible();
  await palette.getByRole('button', { name: 'Add', exact: true }).first().click();
  await expect(page.getByRole('textbox', { name: 'Name of colourway glazed-tile-lagoon 1' })).toBeVisible();
});
