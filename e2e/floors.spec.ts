import { composed, differingBytes, DRAWN, draftOf, openCopyOf, tool } from './hands';
import { expect, openSection, saved, test, type } from './jossel';

/** Which areas of the picture a repeat is made from; null: the whole frame. */
const areasOf = async (...of: Parameters<typeof draftOf>) =>
  (await draftOf(...of)).repeat.from.map(({ area }) => area);

test('boards keep to the structure that was found, and close on whole boards', async ({ page, studio }) => {
  const id = await openCopyOf(page, studio, 'Smoked ash', 'Boards of the walk');
  await tool(page, 'composed');
  await page.getByRole('button', { name: 'Keep to the structure' }).click({ timeout: 60000 });
  await expect(page.getByText(/Keeps to a structure of 148.mm up/)).toBeVisible();
  await type(page, 'Height', '900');
  await expect(
    page.getByRole('region', { name: 'Vertical' }).getByText(/^888.mm, 6 whole periods/),
  ).toBeVisible(DRAWN);
  await expect(
    page.getByText(/Laid of \d+ boards from joint to joint; the sample shows \d+ joints/),
  ).toBeVisible(DRAWN);
  await saved(page);
  expect((await draftOf(studio, id)).repeat.structure.up!.period).toBeCloseTo(0.125, 2);
  // Solved twice, in the page and on the server, it is one repeat.
  expect(await differingBytes(page, studio, id, 'colour')).toBe(0);
  // Boards need not end in joints.
  await tool(page, 'anywhere');
  await expect(composed(page)).toBeVisible(DRAWN);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('radio', { name: 'boards end in joints', exact: true })).toBeChecked();
  await page.getByRole('button', { name: 'Ignore the structure' }).click();
  await expect(page.getByText(/Keeps to the counted modules of 148.mm up/)).toBeVisible();
});

test('strips that were picked are joined to one floor; tiles are stretched to a size asked for', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'Oak strips', 'Strips of the walk');
  await tool(page, 'composed');
  await tool(page, 'made from');
  for (const strip of ['Strip 2', 'Strip 4']) await page.getByText(strip, { exact: true }).click();
  await expect(page.getByText('Composed from the used part of the sample, and from:')).toBeVisible();
  await expect(page.getByText(/Brought to the tone of the first: red × /).first()).toBeVisible(DRAWN);
  await saved(page);
  expect(await areasOf(studio, id)).toEqual([null, 'strip-2', 'strip-4']);
  // Solved from all of them, in the page and on the server alike.
  expect(await differingBytes(page, studio, id, 'colour')).toBe(0);
  await page.getByText('Strip 4', { exact: true }).click();
  await saved(page);
  expect(await areasOf(studio, id)).toEqual([null, 'strip-2']);

  await openCopyOf(page, studio, 'Glazed tile', 'Tiles of the walk');
  await tool(page, 'composed');
  await type(page, 'Repeat, width', '840');
  const across = page.getByRole('region', { name: 'Horizontal' });
  await expect(across.getByText(/^832.mm, 4 whole modules; seam/)).toBeVisible(DRAWN);
  await type(page, 'Stretch at most, to fill that with whole periods', '2');
  await expect(across.getByText(/^840.mm, 4 whole modules, stretched by 1(\.0)? %; seam/)).toBeVisible(DRAWN);
  await type(page, 'Stretch at most, to fill that with whole periods', '0.5');
  await expect(across.getByText(/^832.mm, 4 whole modules; seam/)).toBeVisible(DRAWN);
  // More than a tenth is refused where it is typed.
  await type(page, 'Stretch at most, to fill that with whole periods', '40');
  await expect(page.getByRole('alert').filter({ hasText: /must be between .* 40 % is not/ })).toBeVisible();
});

test('a board that is kept out with the brush is laid nowhere, and comes back with undo', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'Smoked ash', 'Floor without one board');
  await tool(page, 'composed');
  await page.getByRole('button', { name: 'Keep to the structure' }).click({ timeout: 60000 });
  const laid = page.getByText(/Laid of \d+ boards from joint to joint; the sample shows \d+ joints/);
  await expect(laid).toBeVisible(DRAWN);
  await openSection(page, 'Sample');
  await tool(page, 'keep-outs');
  const ground = page.getByRole('application', { name: /Paint a keep-out/ });
  const box = (await ground.boundingBox())!;
  const frame = (await page.getByRole('img', { name: /straightened, at/ }).boundingBox())!;
  // Along the fourth of eight courses, from one end to the other.
  const y = box.y + box.height / 2 - frame.height / 16;
  await page.mouse.move(box.x + box.width / 2 - 150, y);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 150, y, { steps: 8 });
  await page.mouse.up();
  await saved(page);
  expect((await draftOf(studio, id)).sources[0]!.preparation.keepOuts).toHaveLength(1);
  await openSection(page, 'Repeat');
  await expect(page.getByRole('progressbar')).toHaveCount(0, DRAWN);
  await expect(laid).toBeVisible(DRAWN);
  const done = await studio.render(id, { widthPx: 400, maps: ['colour'] });
  expect(done.report.keptOut).toBeGreaterThan(0.001);
  expect(done.report.boards!.laid).toBeGreaterThan(8);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await saved(page);
  expect((await draftOf(studio, id)).sources[0]!.preparation.keepOuts).toHaveLength(0);
});
