import { barriersOn, copyOf, draftOf } from './hands';
import { expect, saved, test } from './jossel';

test('gloss in words, of parts, varied about its mean and read at three angles; contradictions are said; undone', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Cliff Bed slab, honed');
  await page.goto(`${studio.url}/bench/${id}?section=layout`);
  // Laid of pieces, it has faces as a part.
  await page.getByRole('button', { name: 'Running bond' }).click();
  await expect(page.getByText(/Closes at/)).toBeVisible();
  await page.goto(`${studio.url}/bench/${id}?section=response`);

  await page.getByRole('button', { name: /In words/ }).click();
  await page.getByRole('option', { name: 'satin, 25–40 GU' }).click();
  const gloss = page.getByRole('textbox', { name: 'Gloss at 60°', exact: true });
  await expect(gloss).toHaveValue('32.5');

  // A finish begins with hollows that are more matt.
  const varied = page.getByRole('group', { name: 'Variation 1' });
  await expect(varied).toContainText('hollows of the relief');
  await varied.getByRole('button', { name: 'Remove' }).click();
  await expect(varied).toHaveCount(0);
  await page.getByRole('button', { name: 'Add variation' }).click();
  await varied.getByRole('button', { name: /With/ }).click();
  await page.getByRole('option', { name: 'generated waves' }).click();
  await varied.getByRole('textbox', { name: 'Range' }).fill('20');
  await varied.getByRole('textbox', { name: 'Range' }).press('Enter');
  await expect(page.getByRole('img', { name: /Gloss over the repeat: \d+ GU on average/ })).toBeVisible();
  // As another finish has it, kept in the recipe; then as the variation gives it.
  await page.getByRole('button', { name: /Spread$/ }).press('Enter');
  await page.getByRole('option', { name: 'as Quarry rubble, lime mortar', exact: true }).press('Enter');
  await expect(page.getByRole('button', { name: /as Quarry rubble.*Spread/ })).toBeVisible();
  await page.getByRole('button', { name: /Spread$/ }).press('Enter');
  await page.getByRole('option', { name: 'as Grey pane, 6 mm', exact: true }).press('Enter');
  await expect(page.getByText('The gloss of Grey pane, 6 mm is the same everywhere.')).toBeVisible();
  await varied.getByRole('textbox', { name: 'Range' }).fill('500');
  await varied.getByRole('textbox', { name: 'Range' }).press('Enter');
  await expect(page.getByText(/200 GU/).first()).toBeVisible();
  await varied.getByRole('textbox', { name: 'Range' }).press('Escape');
  await expect(varied.getByRole('textbox', { name: 'Range' })).toHaveValue('20');

  await page.getByRole('button', { name: 'Add a part', exact: true }).click();
  const face = page.getByRole('group', { name: 'Gloss of Faces' }).first();
  await expect(face).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(face).toHaveCount(0);

  // Readings that no surface has are said to contradict, until one of them is taken back.
  await page.getByRole('button', { name: 'Add a reading at 20°' }).click();
  await page.getByRole('textbox', { name: 'Gloss at 20°', exact: true }).fill('85');
  await page.getByRole('textbox', { name: 'Gloss at 20°', exact: true }).press('Enter');
  await expect(page.getByText(/No surface of this material reads 85 GU at 20°/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Gloss at 20°', exact: true }).fill('9');
  await page.getByRole('textbox', { name: 'Gloss at 20°', exact: true }).press('Enter');
  await expect(page.getByText(/No surface of this material reads/)).toHaveCount(0);
  await expect(page.getByText(/With one lobe, as the roughness map has it/)).toBeVisible();

  await page.getByRole('button', { name: 'Add a clear coat' }).click();
  await expect(page.getByText(/A meter reads \d+ GU of coat and surface together/)).toBeVisible();
  await page.getByRole('checkbox', { name: 'levels the relief' }).press('Space');
  expect(await barriersOn(page)).toEqual([]);

  await saved(page);
  const { response } = await draftOf(studio, id);
  expect(response).toMatchObject({
    glossGu: { value: 32.5, tolerance: 7.5, basis: 'assumed' },
    gloss20Gu: { value: 9 },
    variation: [{ from: 'generated', byGu: 20 }],
    spreadLike: { name: 'Quarry rubble, lime mortar' },
    coat: { glossGu: { value: 70 }, levels: false },
  });
  const { report } = await studio.render(id, { widthPx: 300, maps: ['roughness'] });
  expect(report.glossSpread!.highGu - report.glossSpread!.lowGu).toBeGreaterThan(8);
});

test('a metal by its constants under a film, then glass: colours follow, what cannot be is said, all is undone', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Brushed steel');
  await page.goto(`${studio.url}/bench/${id}?section=response`);
  const block = page.getByRole('region', { name: 'Title block' });
  await expect(block.getByText('LRV 53', { exact: false })).toBeVisible();

  await page.getByRole('button', { name: /Metal$/ }).press('Enter');
  await page.getByRole('option', { name: 'titanium' }).press('Enter');
  await page.getByRole('button', { name: 'Add a thin film' }).press('Enter');
  const thickness = page.getByRole('slider', { name: 'Colour by thickness, 0 to 1 200 nm' });
  await thickness.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('textbox', { name: 'Thickness of the film', exact: true })).toHaveValue('42');
  // Titanium under 42 nm of an oxide is a deep blue: dark, with a b* far below zero.
  await expect(page.getByText(/Reflects LRV .* b\* −\d/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Colour of the film by the angle/ })).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);

  await page.getByRole('radio', { name: 'glass' }).press('Space');
  const light = page.getByRole('textbox', { name: 'Light transmittance', exact: true });
  await light.fill('97');
  await light.press('Enter');
  await expect(page.getByText(/lets at most 91\.\d % through/)).toBeVisible();
  await light.fill('44');
  await light.press('Enter');
  await expect(page.getByText(/lets at most/)).toHaveCount(0);
  await expect(block.getByText(/44 %$/)).toBeVisible();
  await expect(page.getByRole('row', { name: /^19 mm/ })).toContainText('%');
  // A laminate is darker than its first glass; taken back, it is as it was.
  await page.getByRole('button', { name: 'Laminate a second glass' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Second glass' })).toBeVisible();
  await expect(block.getByText(/2\d(\.\d)? %$/)).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);
  await page.getByRole('button', { name: 'Remove the second glass' }).press('Enter');
  await expect(block.getByText(/44 %$/)).toBeVisible();
  await page.getByRole('button', { name: 'One side is satin' }).press('Enter');
  await expect(page.getByText(/of the satin side/)).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);
  await saved(page);
  expect((await draftOf(studio, id)).response.base).toMatchObject({
    kind: 'glass',
    lightPercent: { value: 44, basis: 'assumed' },
    hazePercent: { value: 80 },
  });

  for (let k = 0; k < 6; k++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('radio', { name: 'bare metal' })).toBeChecked();
  await saved(page);
  expect((await draftOf(studio, id)).response).toMatchObject({
    base: { kind: 'metal', of: { from: 'constants', metal: 'titanium' } },
    films: [{ part: null, thicknessNm: { value: 42 } }],
  });
});
