import { differingBytes, draftOf, openCopyOf, tool } from './hands';
import { expect, openSection, saved, test, type } from './jossel';

/** Which areas of the picture a repeat is made from; null: the whole frame. */
const areasOf = async (...of: Parameters<typeof draftOf>) =>
  (await draftOf(...of)).repeat.from.map(({ area }) => area);

test('the boards of a sample are picked and laid at one press, and one that is kept out is laid nowhere', async ({
  page,
  studio,
}) => {
  const id = await openCopyOf(page, studio, 'Smoked ash', 'Boards of the walk');
  await openSection(page, 'Layout');
  await page.getByRole('button', { name: 'Lay the pieces of the sample' }).click();
  await expect(page.getByRole('heading', { name: 'Random-length boards', exact: true })).toBeVisible();
  await saved(page);
  const { layout, sources } = await draftOf(studio, id);
  expect(layout!.piece.widthMm.value).toBeCloseTo(145, -1);
  const count = sources[0]!.preparation.areas.length;
  expect(count).toBeGreaterThan(8);
  await expect(page.getByText(`${count} picked areas`)).toBeVisible();
  // Laid twice, in the page and on the server, it is one floor.
  expect(await differingBytes(page, studio, id, 'colour')).toBe(0);
  // Other stretches of boards are of another lightness.
  const shown = async () =>
    (await studio.render(id, { widthPx: 400, maps: ['colour'] })).report.layout!.overall.lrv;
  const before = await shown();
  await openSection(page, 'Sample');
  await tool(page, 'keep-outs');
  const ground = page.getByRole('application', { name: /Paint a keep-out/ });
  const box = (await ground.boundingBox())!;
  const frame = (await page.getByRole('img', { name: /straightened, at/ }).boundingBox())!;
  // Along the fourth of eight courses.
  const y = box.y + box.height / 2 - frame.height / 16;
  await page.mouse.move(box.x + box.width / 2 - 150, y);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 150, y, { steps: 8 });
  await page.mouse.up();
  await saved(page);
  expect(await shown()).not.toBe(before);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await saved(page);
  expect(await shown()).toBe(before);
  // Picking is one step: undone, there is neither a layout nor an area.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await saved(page);
  const undone = await draftOf(studio, id);
  expect([undone.layout, undone.sources[0]!.preparation.areas.length]).toEqual([null, 0]);
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
  await expect(page.getByText(/Brought to the tone of the first: red × /).first()).toBeVisible();
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
  await expect(across.getByText(/^832.mm, 4 whole modules; seam/)).toBeVisible();
  await type(page, 'Stretch at most, to fill that with whole periods', '2');
  await expect(across.getByText(/^840.mm, 4 whole modules, stretched by 1(\.0)? %; seam/)).toBeVisible();
  await type(page, 'Stretch at most, to fill that with whole periods', '0.5');
  await expect(across.getByText(/^832.mm, 4 whole modules; seam/)).toBeVisible();
  // More than a tenth is refused where it is typed.
  await type(page, 'Stretch at most, to fill that with whole periods', '40');
  await expect(page.getByRole('alert').filter({ hasText: /must be between .* 40 % is not/ })).toBeVisible();
});
