import sharp from 'sharp';
import { slopingWall } from '../server/test/pictures';
import { barriersOn, composed, differingBytes, draftOf, openCopyOf, tool } from './hands';
import { expect, openSection, saved, test, type } from './jossel';

test('a plaster is composed anew, larger than its sample; another arrangement is one click, and the first is kept', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'plaster, shell', 'Render of the walk');
  await tool(page, 'composed');
  await expect(composed(page)).toBeVisible();
  await type(page, 'Repeat, width', '1.5 m');
  const block = page.getByRole('region', { name: 'Horizontal' });
  await expect(block.getByText(/^1500.mm; seam [\d.]+, lines inside [\d.]+ to [\d.]+$/)).toBeVisible();

  const arrangements = page.getByRole('region', { name: 'Arrangements' });
  await page.getByRole('button', { name: 'Another arrangement' }).click();
  const second = arrangements.getByRole('radio', { name: 'Arrangement 2' });
  await expect(second).toBeChecked();
  await expect(second.locator('img')).toHaveCount(1);
  // Back to the first with the keyboard alone.
  await second.focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await expect(arrangements.getByRole('radio', { name: 'Arrangement 1' })).toBeChecked();
  await saved(page);
  expect((await draftOf(studio, id)).repeat).toMatchObject({
    method: 'composed',
    arrangement: 1,
    composed: { widthMm: 1500, heightMm: null },
  });
  await page.getByRole('button', { name: 'Remove 1' }).click();
  await expect(arrangements.getByRole('radio')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(arrangements.getByRole('radio')).toHaveCount(2);

  // After a reload both are seen without being solved again.
  await saved(page);
  await page.reload();
  await openSection(page, 'Repeat');
  await expect(arrangements.getByRole('radio').locator('img')).toHaveCount(2);

  // What cannot be is said; the last good picture stays.
  await type(page, 'Repeat, width', '900000');
  await expect(page.getByText(/more than 200 times as long as the sample/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText(/more than 200 times as long as the sample/)).toHaveCount(0);
  // The tip of the button that was pressed lies outside of all regions.
  await page.mouse.move(2, 2);
  await expect(page.getByRole('tooltip')).toHaveCount(0);
  expect(await barriersOn(page)).toEqual([]);
});

test('telltales are found, chosen on the plate and replaced; an area is laid anew; both are taken back', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'limestone', 'Stone of telltales');
  await page.getByRole('button', { name: 'Suggest a method' }).click();
  await expect(page.getByRole('list', { name: 'Why this method' })).toContainText(/composed anew/);
  // Cut at its edges, which looks as much like the sample, comes first: it shows whole faces of it.
  await page.getByRole('button', { name: 'Use composed anew' }).click();
  await expect(composed(page)).toBeVisible();

  // What Jossel chose is its choice until something is changed by hand.
  await page.getByRole('radio', { name: 'half turns' }).click();
  await expect(page.getByRole('list', { name: 'Why this method' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('list', { name: 'Why this method' })).toBeVisible();

  await tool(page, 'telltales');
  const status = page.getByRole('region', { name: 'From how far it is seen' });
  await expect(status).toContainText(/The repetition is visible from [\d.,]+.m to/);
  await expect(page.getByRole('img', { name: /Contrast of the repetition/ })).toBeVisible();
  await type(page, 'Side of the field that is looked at, lit by 500 lx', '800');
  await expect(status).toContainText(/The repetition is visible/);
  const found = page.getByRole('region', { name: 'Telltales' });
  await expect(found).toContainText(/stands out from the rest|Replace/);

  // An area, drawn by pointer over the middle of the plate.
  await tool(page, 're-lay');
  const ground = page.getByRole('application', { name: /Draw round an area/ });
  const box = (await ground.boundingBox())!;
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(cx + 60, cy);
  await page.mouse.down();
  for (let k = 1; k <= 16; k++)
    await page.mouse.move(cx + 60 * Math.cos((k * Math.PI) / 8), cy + 40 * Math.sin((k * Math.PI) / 8));
  await page.mouse.up();
  const list = page.getByRole('list', { name: 'Areas re-laid' });
  await expect(list.getByRole('listitem')).toHaveCount(1);
  // A stroke without extent is refused in words; nothing is changed.
  await page.mouse.click(cx, cy);
  await expect(page.getByText(/This area has no extent/)).toBeVisible();
  await saved(page);
  expect((await draftOf(studio, id)).repeat.arrangements[0]!.redone).toHaveLength(1);
  await expect(page.getByRole('progressbar')).toHaveCount(0);
  // Solved twice, in the page and on the server, it is one repeat.
  expect(await differingBytes(page, studio, id, 'colour')).toBe(0);
  await list.getByRole('button', { name: 'Undo re-laying area 1' }).click();
  await expect(list.getByRole('listitem')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(list.getByRole('listitem')).toHaveCount(1);

  // The edges in view, moved with the keyboard; a whole wall.
  await page.getByRole('button', { name: 'edges in view' }).click();
  const edge = page.getByRole('slider', { name: 'Left and right edge' });
  await edge.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(edge).not.toHaveAttribute('aria-valuenow', '50');
  // Where each edge shows most is marked on it, with its figure.
  await expect(page.getByText(/^\d+(\.\d+)? here$/)).toHaveCount(2);
  await tool(page, 'wall');
  await expect(page.getByRole('region', { name: 'Plate', exact: true })).toContainText(/12 × 6/);
  expect(await barriersOn(page)).toEqual([]);
});

test('a repeat is made from two pictures; its elements and its detail are said to be what they are', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'limestone', 'Stone of two pictures');
  await tool(page, 'composed');
  await expect(composed(page)).toBeVisible();
  await tool(page, 'made from');
  await page.getByRole('button', { name: /Join another picture/ }).click();
  await page
    .getByRole('option', { name: /trowelled-plaster/ })
    .first()
    .click();
  await expect(page.getByRole('list', { name: 'Joined pictures' })).toContainText('trowelled-plaster');
  await expect(page.getByText(/Brought to the tone of the first: red × /)).toBeVisible();
  await type(page, 'It shows across', '800');
  await saved(page);
  const draft = await draftOf(studio, id);
  expect(draft.sources).toHaveLength(2);
  expect(draft.repeat.from).toEqual([
    { source: 'p1', area: null },
    { source: 'p2', area: null },
  ]);
  expect(draft.sources[1]!.size!.overall.across!.value).toBe(800);

  // The second picture has marks of its own: something is painted out of it, and the first has none of that.
  await openSection(page, 'Sample');
  await page
    .getByRole('button', { name: /Picture/ })
    .first()
    .click();
  await page.getByRole('option', { name: /^2: trowelled-plaster/ }).click();
  await tool(page, 'keep-outs');
  await expect(page.getByRole('img', { name: /Sample trowelled-plaster.* straightened/ })).toBeVisible();
  const ground = page.getByRole('application', { name: /Paint a keep-out/ });
  await ground.focus();
  await page.keyboard.press('Space');
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await saved(page);
  expect((await draftOf(studio, id)).sources.map((s) => s.preparation.keepOuts.length)).toEqual([0, 1]);
  await page.reload();
  await openSection(page, 'Repeat');
  await tool(page, 'made from');
  await page.getByRole('button', { name: /^Take .* out$/ }).click();
  await expect(page.getByRole('list', { name: 'Joined pictures' })).toHaveCount(0);

  await type(page, 'Module in the repeat, against its true size', '150');
  const checks = page.getByRole('region', { name: 'Checks' });
  await expect(checks).toContainText(/150 % of its true size/);
  await page.getByText('This size is meant', { exact: true }).click();
  await expect(checks).not.toContainText(/150 % of its true size/);
});

test('a cut closes the sample at its edges, beside any other way on the other axis', async ({
  page,
  studio,
}) => {
  await openCopyOf(page, studio, 'limestone', 'Stone of the walk');
  await tool(page, 'closed at its edges');
  const across = page.getByRole('region', { name: 'Horizontal' });
  const up = page.getByRole('region', { name: 'Vertical' });
  await across.getByRole('radio', { name: 'cut' }).click();
  await expect(across.getByText(/cut within/)).toBeVisible();
  await up.getByRole('radio', { name: 'cut' }).click();
  await expect(composed(page)).toBeVisible();
  await up.getByRole('radio', { name: 'mirror' }).click();
  await expect(across.getByRole('radio', { name: 'cut' })).toBeChecked();
  await expect(up.getByText(/^1200.mm; seam/)).toBeVisible();
});

test('a wall photographed askew is straightened by its courses, a method suggested, and no brick is broken', async ({
  page,
  studio,
}) => {
  const [width, height] = [600, 440];
  const png = await sharp(slopingWall(width, height, 1.4), { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  const sample = await studio.upload('courses.png', png, { permission: 'given for tests' });
  const made = await studio.call<{ id: string }>('POST', '/api/finishes', {
    name: 'Wall of the walk',
    category: 'brick',
    sampleIds: [sample.body.id],
  });
  await page.goto(`${studio.url}/bench/${made.body.id}?section=repeat`);
  // Blended as it came, bricks are broken where copies meet: they are counted and outlined.
  await expect(page.getByText(/pieces in the repeat; \d+ broken where copies meet/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Pieces broken: \d+ cut/ })).toBeVisible();
  const checks = page.getByRole('region', { name: 'Checks' });
  await expect(checks).toContainText(/pieces are broken where copies of the sample meet/);
  // Mortar is lighter than the bricks; it is recessed all the same.
  await expect(checks).not.toContainText(/the relief raises them/);
  await page.getByRole('button', { name: 'Straighten by the structure' }).click();
  await expect(page.getByText('The structure is seen at an angle')).toBeHidden();
  await page.getByRole('button', { name: 'Suggest a method' }).click();
  await expect(page.getByText(/pieces in the repeat; all of them whole/)).toBeVisible();
  await expect(page.getByRole('list', { name: 'Why this method' })).toContainText(/cut at its edges none of/);
  await expect(checks).not.toContainText(/pieces are broken/);
  await saved(page);
  const { repeat, relief } = await draftOf(studio, made.body.id);
  // The next best stands beside it, and is taken with one press; so is the best again.
  const tried = page.getByRole('group', { name: 'Methods that were tried' });
  await expect(tried.getByRole('img')).toHaveCount(2);
  await expect(tried).toContainText(/all \d+ pieces whole/);
  await tried.getByRole('button', { name: /^Use composed anew/ }).click();
  await expect(tried.getByRole('button', { name: 'Use cut at its edges' })).toBeVisible();
  await saved(page);
  expect((await draftOf(studio, made.body.id)).repeat.method).toBe('composed');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(tried.getByRole('button', { name: /^Use composed anew/ })).toBeVisible();
  // Asked again and stopped, nothing is changed.
  const ask = page.getByRole('button', { name: 'Suggest a method' });
  await ask.click();
  await page.getByRole('button', { name: 'Stop trying' }).click();
  await expect(ask).toBeVisible();
  await saved(page);
  expect((await draftOf(studio, made.body.id)).repeat).toEqual(repeat);
  expect(repeat).toMatchObject({ method: 'edges', across: { closing: 'cut' } });
  expect(relief.contributions).toMatchObject([{ kind: 'picture' }, { kind: 'joints', look: 'lighter' }]);
});
