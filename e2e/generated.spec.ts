import { expect, finishNamed, openSection, saved, test, type } from './jossel';
import { barriersOn, draftOf, idOf } from './hands';

/** Finishes that no picture shows: generated from figures, weathered, derived; by pointer and by keyboard. */

test('a terrazzo is generated, specified, weathered and issued', async ({ page, empty }) => {
  await page.goto(`${empty.url}/rack`);
  await page.getByRole('link', { name: 'Generate a finish' }).first().click();
  await expect(page.getByRole('heading', { name: 'Generate a finish' })).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);
  await page.getByRole('button', { name: 'Terrazzo' }).click();
  await expect(page.getByRole('button', { name: /^Sample.*generated, terrazzo/ })).toBeVisible();
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();

  // A share that does not fit is refused in words; the last picture stays.
  const first = page.getByRole('region', { name: 'Stone 1' });
  await type(first, 'Share', '70');
  await expect(page.getByText(/add up to 94 %; chips cover at most 82 %/).first()).toBeVisible();
  await type(first, 'Share', '25');
  await expect(page.getByText(/add up to/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Remove stone 3' }).click();
  await page.getByRole('button', { name: 'Add a stone' }).click();
  await type(
    page.getByRole('region', { name: 'Stone 3' }).getByRole('group', { name: 'Colour of Colour' }),
    'L*',
    '30',
  );
  // A figure out of its range says what is accepted.
  const sieve = first.getByRole('textbox', { name: 'From sieve', exact: true });
  await type(first, 'From sieve', '0');
  await expect(first.getByRole('alert')).toHaveText(/From sieve must be between 0.5.mm and 200.mm/);
  await sieve.press('Escape');

  await openSection(page, 'Size');
  await type(page, 'Width', '300');
  await expect(page.getByText(/Closes on 300 × 400/)).toBeVisible();

  await openSection(page, 'Weathering');
  await page.getByRole('button', { name: 'Add a layer' }).click();
  await page.getByRole('button', { name: 'Foot traffic' }).click();
  await page.getByRole('button', { name: 'Add a layer' }).click();
  await page.getByRole('button', { name: 'Wet', exact: true }).click();
  await expect(page.getByRole('row', { name: /Wet/ })).toContainText(/100 %, LRV \d+/);
  await page.getByRole('button', { name: 'Before' }).click();
  await expect(page.getByText(/over all/)).toHaveCount(0);
  await page.getByRole('button', { name: 'After', exact: true }).click();
  // Water before traffic: the row is moved by keyboard.
  await page.getByRole('button', { name: 'Move Wet to another place' }).focus();
  await page.keyboard.press('Enter');
  const below = page.getByRole('button', { name: 'Insert after Foot traffic' });
  for (let i = 0; i < 4 && !(await below.evaluate((node) => node === document.activeElement)); i++)
    await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(
    page
      .getByRole('grid', { name: /^Layers/ })
      .getByRole('row')
      .last(),
  ).toContainText('Wet');
  await saved(page);
  const draft = await draftOf(empty, idOf(page));
  expect(draft.weathering.map(({ name }) => name)).toEqual(['Wet', 'Foot traffic']);
  expect(draft.generated).toMatchObject({ kind: 'terrazzo', repeatMm: { width: 300, height: 400 } });
  expect(await barriersOn(page)).toEqual([]);

  await openSection(page, 'Revision');
  await page.getByRole('button', { name: 'Issue revision A' }).click();
  await expect(page.getByText(/Revision A is the same as the draft/)).toBeVisible();

  // A finish is derived from it; what differs is listed.
  await page.getByRole('link', { name: 'Rack' }).click();
  await page.getByRole('button', { name: 'Actions for Terrazzo' }).click();
  await page.getByRole('menuitem', { name: 'Derive a finish' }).click();
  await expect(page.getByRole('heading', { name: 'Terrazzo, derived' })).toBeVisible();
  await page.goto(`${empty.url}/bench/${await finishNamed(empty, 'Terrazzo, derived')}?section=revision`);
  await expect(page.getByText('Nothing differs from it yet.')).toBeVisible();
  await openSection(page, 'Size');
  await page.getByRole('button', { name: 'Another one' }).click();
  await openSection(page, 'Revision');
  await expect(page.getByRole('list', { name: 'What differs' })).toHaveText(/Sample: seed/);
});

test('a cloth shows its draft, and one that leaves a thread loose says which', async ({ page, empty }) => {
  await page.goto(`${empty.url}/generate`);
  await page.getByRole('button', { name: 'Woven cloth' }).press('Enter');
  await expect(page.getByRole('img', { name: 'Draft of 2 by 2 threads' })).toBeVisible();
  await page.getByRole('button', { name: /Weave$/ }).click();
  await page.getByRole('option', { name: 'own draft' }).click();
  await expect(page.getByRole('img', { name: 'Draft of 4 by 4 threads' })).toBeVisible();
  await page.getByRole('button', { name: /more settings/ }).click();
  const tieUp = page.getByRole('textbox', { name: 'Tie-up' });
  await type(page, 'Tie-up', '1+2 2+3 3+4 1+2+3+4');
  await expect(
    page.getByText(/Weft 4 of the draft passes over or under all warp threads/).first(),
  ).toBeVisible();
  await type(page, 'Tie-up', '1+2 x');
  await expect(page.getByText(/"x" means nothing here/)).toBeVisible();
  await tieUp.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('img', { name: 'Draft of 4 by 4 threads' })).toBeVisible();
  await expect(page.getByText(/% of the area is open/)).toBeVisible();
});
