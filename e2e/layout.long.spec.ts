import { expect, saved, test, type } from './jossel';
import { BONDS } from '@jossel/core/layout';
import { barriersOn, copyOf, differingBytes, draftOf } from './hands';

/** Laying a finish of pieces: bond, sizes, blend, hatch, by pointer and by keyboard. */

test('a bond is chosen from the drawn sheet, dimensioned on the plate, blended, and taken back', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Cliff Bed slab, honed');
  await page.goto(`${studio.url}/bench/${id}?section=layout`);
  const bonds = page.getByRole('group', { name: 'Bonds' });
  await expect(bonds.getByRole('button')).toHaveCount(BONDS.length);

  // Under the pointer a bond is drawn on the plate at its true size.
  await bonds.getByRole('button', { name: 'Flemish bond' }).hover();
  await expect(page.getByRole('img', { name: /^Bond as lines, \d+ pieces/ })).toBeVisible();
  await bonds.getByRole('button', { name: 'Running bond' }).click();
  await expect(page.getByText(/Closes at 900 × 450.mm: 24 pieces in 6 courses/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Bond sheet' })).toBeFocused();

  // The same figure on the plate and in the ledger.
  const onPlate = page.getByRole('textbox', { name: 'Length on the plate' });
  await onPlate.fill('240');
  await onPlate.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Length of a piece', exact: true })).toHaveValue('240');
  await expect(page.getByText(/Closes at 1000 × 450.mm/)).toBeVisible();

  await page.getByRole('radio', { name: 'recessed' }).click();
  await page.getByRole('button', { name: 'Add a kind' }).click();
  const kind = page.getByRole('group', { name: 'Kind 1' });
  await kind.getByRole('textbox', { name: 'Share' }).fill('25');
  await kind.getByRole('textbox', { name: 'Share' }).press('Enter');
  await expect(page.getByText('75 % keep the finish as it is.')).toBeVisible();
  await expect(page.getByRole('row', { name: /Kind 1 25/ })).toBeVisible();
  // Ten bricks on ten courses: every second course has two halves.
  await type(page, 'Field, width', '2500');
  await type(page, 'Field, height', '750');
  await expect(page.getByRole('row', { name: 'Whole pieces 95' })).toBeVisible();
  await expect(page.getByRole('row', { name: 'Cut pieces 10, the narrowest 120 mm' })).toBeVisible();
  await page.getByRole('button', { name: 'lines on the plate' }).click();
  await expect(page.getByRole('img', { name: 'Lines of the layout' })).toBeVisible();

  await saved(page);
  const draft = await draftOf(studio, id);
  expect(draft.layout).toMatchObject({
    bond: { kind: 'running' },
    piece: { lengthMm: { value: 240 } },
    joint: { profile: 'recessed' },
    blend: { others: [{ share: 25 }] },
  });
  const hatch = await page.request.get(`${studio.url}/api/finishes/${id}/hatch.svg`);
  expect(await hatch.text()).toContain('viewBox="0 0 1000 450"');

  // A joint that leaves nothing of the pieces is refused in words, and the last good picture stays.
  const joint = page.getByRole('textbox', { name: 'Joint along', exact: true });
  await joint.fill('70');
  await joint.press('Enter');
  await expect(page.getByText(/A joint of 70 mm is as wide as a piece of 240 × 65 mm/).first()).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/A joint of 70 mm/)).toHaveCount(0);

  await page.getByRole('button', { name: 'Remove the layout' }).click();
  await expect(bonds).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: 'Running bond', exact: true })).toBeVisible();
});

test('five picked strips become a herringbone floor with the keyboard alone; the section is accessible', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Oak strips from the capture bench');
  await page.goto(`${studio.url}/bench/${id}`);
  await page.locator('section[data-drawn]').waitFor();
  await page.keyboard.press('5');
  const herringbone = page.getByRole('button', { name: 'Herringbone' });
  await herringbone.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Bond sheet' })).toBeFocused();
  // Pieces are as large as the strips and cut from the four that are used.
  await expect(page.getByRole('radio', { name: '4 picked areas' })).toBeChecked();
  await expect(page.getByText(/Each area is shown \d/)).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);
  await page.getByRole('button', { name: 'Bond sheet' }).press('Enter');
  expect(await barriersOn(page)).toEqual([]);
  await saved(page);
  const { layout } = await draftOf(studio, id);
  expect(layout).toMatchObject({ bond: { kind: 'herringbone' }, faces: { from: 'areas' } });
  expect(layout!.piece.lengthMm.value).toBeGreaterThan(400);
  const { report } = await studio.render(id, { widthPx: 400, maps: ['colour'] });
  expect(report.repeatMm.width).toBeGreaterThan(600);
});

test('joint and arris are worked in their section, joints and inserts are made of other finishes, and it lies diagonally', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Cliff Bed slab, honed');
  await page.goto(`${studio.url}/bench/${id}?section=layout`);
  await page.getByRole('button', { name: 'Running bond' }).click();
  await page.getByRole('radio', { name: 'recessed' }).click();
  await page.getByRole('radio', { name: 'bevel' }).click();

  // The depth of the joint, dragged by ten pixels in its section, then stepped with the keys.
  const depth = page.getByRole('slider', { name: 'Depth of the joint, in the section' });
  const before = Number(await depth.getAttribute('aria-valuenow'));
  const box = (await depth.locator('rect').boundingBox())!;
  await page.mouse.move(box.x + 3, box.y + 3);
  await page.mouse.down();
  await page.mouse.move(box.x + 3, box.y + 13, { steps: 4 });
  await page.mouse.up();
  const dragged = Number(await depth.getAttribute('aria-valuenow'));
  expect(dragged).toBeGreaterThan(before + 0.3);
  await depth.press('Shift+ArrowDown');
  await expect(page.getByRole('textbox', { name: 'Depth of the joint', exact: true })).toHaveValue(
    String(Math.round(10 * (dragged + 1)) / 10),
  );
  const arris = page.getByRole('slider', { name: 'Width of the arris, in the section' });
  await arris.press('Shift+ArrowLeft');
  await expect(page.getByRole('textbox', { name: 'Width of the arris', exact: true })).toHaveValue('2');

  // Joints of plaster, and a quarter of the pieces cut from a glazed tile.
  const choose = async (label: string, name: RegExp) => {
    await page.getByRole('button', { name: label }).click();
    await page.getByRole('option', { name }).click();
  };
  await choose('Made of another finish', /Trowelled plaster, shell/);
  await expect(page.getByText('Revision A', { exact: true })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Gloss of the joint' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a kind' }).click();
  await page.getByRole('radio', { name: 'another finish' }).click();
  await choose('Finish of Kind 1', /Glazed tile, lagoon/);
  const kind = page.getByRole('group', { name: 'Glazed tile, lagoon' });
  await kind.getByRole('textbox', { name: 'Share' }).fill('25');
  await kind.getByRole('textbox', { name: 'Share' }).press('Enter');
  await expect(page.getByRole('row', { name: /Glazed tile, lagoon 25/ })).toBeVisible();
  await page.getByRole('slider', { name: 'Direction of laying, on the plate' }).press('ArrowUp');
  await expect(page.getByRole('radio', { name: '45°', exact: true })).toBeChecked();
  await expect(page.getByText(/Closes at 6\d\d(\.\d)? × 6\d\d/)).toBeVisible();
  await page.getByRole('radio', { name: 'riven' }).click();
  await saved(page);

  const { layout } = await draftOf(studio, id);
  expect(layout).toMatchObject({
    turnedDeg: 45,
    working: { kind: 'riven' },
    joint: { finish: { name: 'Trowelled plaster, shell', letter: 'A' } },
    blend: { others: [{ finish: { name: 'Glazed tile, lagoon' } }] },
  });
  // Pictures of three finishes, solved in the page and on the server alike.
  expect(await differingBytes(page, studio, id, 'colour')).toBe(0);
  expect(await barriersOn(page)).toEqual([]);
});
