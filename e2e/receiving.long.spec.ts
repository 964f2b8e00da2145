import { lead } from '@jossel/core/finish';
import { captureSchema, captureTruth } from '../standins/capture/capture';
import { photograph } from '../standins/camera/photograph';
import { layOut } from '../standins/camera/scene';
import { cameraOf, productOf } from '../standins/supplier/catalogue';
import {
  axisOf,
  barriersOn,
  drag,
  draftOf,
  idOf,
  know,
  knownBy,
  straighten,
  takePicture,
  tool,
} from './hands';
import { grainAs } from '../server/test/pictures';
import { expect, field, finishNamed, openBench, openSection, saved, test, type } from './jossel';

test('a plank from the supplier is fetched with its sheet, straightened, and keeps its published size', async ({
  page,
  studio,
}) => {
  await page.goto(`${studio.url}/receiving`);
  await tool(page, 'supplier');
  await page.getByLabel('Find in the catalogues').fill('ash plank natural');
  await page.getByRole('button', { name: 'Import Ash plank, natural' }).click();
  const arrived = page.getByRole('listitem', { name: 'vt-2145-nt.jpg' });
  await arrived.waitFor();
  await expect(arrived.getByText('1180 × 145 mm')).toBeVisible();
  await arrived.getByRole('radio', { name: 'evenness' }).click();
  await expect(arrived.getByRole('img', { name: /evenness/ })).toBeVisible();
  await arrived.getByRole('button', { name: 'Make a finish' }).click();
  await expect(page).toHaveURL(/\/bench\//);

  // The true corners, from the camera that took the swatch.
  const product = productOf('vt-2145-nt')!;
  const { truth } = photograph(layOut(await product.sample.make(0.2), {}), cameraOf(product, 120));
  await straighten(page, truth.sampleCorners);
  await expect(
    page.getByRole('region', { name: 'Straightened' }).getByText(/width to height 8\.\d/),
  ).toBeVisible();
  await openSection(page, 'Size');
  await know(axisOf(page, 'Width'), 'overall length');
  await type(page, 'Overall width', '1180');
  await expect(
    page
      .getByRole('region', { name: 'Height', exact: true })
      .getByText(/14\d(\.\d)?\smm/)
      .first(),
  ).toBeVisible();
  await saved(page);
  const recipe = await draftOf(studio, idOf(page));
  expect(recipe.colour.lrv).toMatchObject({ value: 44, basis: 'published' });
  expect(lead(recipe).preparation.frame).not.toBeNull();
});

test('a tile panel at an angle: card and structure give one size, two ways that agree with the truth', async ({
  page,
  studio,
}) => {
  await takePicture(
    page,
    studio,
    'Panel of glazed tiles, moss',
    { 'Tilt forwards': '20', 'Tilt sideways': '-12', 'Uneven light': '0.25', 'Width, px': '1600' },
    'tile-moss.jpg',
  );
  const truth = captureTruth(
    captureSchema.parse({ sampleId: 'tile-moss', tiltDeg: 20, panDeg: -12, widthPx: 200 }),
  )!;
  await straighten(page, truth.sampleCorners);

  await openSection(page, 'Size');
  const width = page.getByRole('region', { name: 'Width', exact: true });
  const height = page.getByRole('region', { name: 'Height', exact: true });
  const structure = page.getByRole('region', { name: 'Structure', exact: true });
  await expect(structure.getByText(/(2\.9\d|3(\.\d+)?) periods across/)).toBeVisible();
  // The target card was found when the finish was made, and is used.
  await expect(page.getByText('Its four ring marks are found')).toBeVisible();
  for (const [axis, pitch] of [
    [width, '100'],
    [height, '100'],
  ] as const) {
    await expect(knownBy(axis)).toContainText('target card');
    await know(axis, 'detected structure');
    await type(axis, 'Pitch of one period', pitch);
    await know(axis, 'target card');
    // The other way stands beside it, with its difference.
    await expect(
      axis.getByRole('row', { name: /structure found/ }).getByText(/[+−][01]\.\d+ %|[+−][01] %/),
    ).toBeVisible();
  }
  await saved(page);
  const recipe = await draftOf(studio, idOf(page));
  expect(lead(recipe).size!.ruling).toEqual({ across: 'card', up: 'card' });
  const { width: w, height: h } = truth.sampleMm;
  const { body } = await studio.call<{ id: string }>('POST', '/api/renders', {
    finishId: idOf(page),
    widthPx: 64,
    maps: ['colour'],
  });
  const report = await studio.until('rendered', async () => {
    const r = (
      await studio.call<{ state: string; report: { sampleMm: { width: number; height: number } } }>(
        'GET',
        `/api/renders/${body.id}`,
      )
    ).body;
    return r.state === 'done' && r.report;
  });
  expect(Math.abs(report.sampleMm.width / w - 1)).toBeLessThan(0.01);
  expect(Math.abs(report.sampleMm.height / h - 1)).toBeLessThan(0.01);
  // Ledger: size, basis and tolerance.
  await expect(width.getByText(/± \d/)).toBeVisible();
  await expect(width.getByRole('img', { name: 'measured' }).first()).toBeVisible();
  // The meter reads the same sample.
  await openSection(page, 'Response');
  await page.getByRole('button', { name: 'Read the gloss meter three times' }).click();
  await expect(page.getByText(/Read: /)).toBeVisible();
  await saved(page);
  expect((await draftOf(studio, idOf(page))).response.glossGu.basis).toBe('measured');
});

test('the boards of five strips are picked, one left out, one used; a label is kept out; each step is undone by itself', async ({
  page,
  studio,
}) => {
  await takePicture(
    page,
    studio,
    'Sample board, five oak strips',
    { 'Tilt forwards': '14', 'Width, px': '1600' },
    'boards-oak.jpg',
  );
  const id = idOf(page);
  const truth = captureTruth(captureSchema.parse({ sampleId: 'boards-oak', tiltDeg: 14, widthPx: 200 }))!;
  await straighten(page, truth.sampleCorners);
  await tool(page, 'pick');
  await page.getByRole('button', { name: 'Pick all pieces' }).click();
  await expect(page.getByText(/^\d+ boards picked\.$/)).toBeVisible();
  const list = page.getByRole('list', { name: 'Picked areas' });
  // Most of the five strips are of two boards, end to end.
  expect(await list.getByRole('listitem').count()).toBeGreaterThan(7);
  await list.getByRole('listitem').nth(4).getByRole('button', { name: 'left out' }).click();
  await list.getByRole('listitem').nth(1).getByRole('button', { name: 'used' }).click();
  await list.getByRole('listitem').nth(1).getByRole('textbox').fill('Best board');
  await list.getByRole('listitem').nth(1).getByRole('textbox').press('Enter');
  await list.getByRole('button', { name: 'Best board up' }).click();
  await expect(list.getByRole('listitem').first().getByRole('textbox')).toHaveValue('Best board');
  await saved(page);
  let recipe = await draftOf(studio, id);
  expect(
    lead(recipe)
      .preparation.areas.slice(0, 5)
      .map((a) => [a.name, a.leftOut]),
  ).toEqual([
    ['Best board', false],
    ['Board 1', false],
    ['Board 3', false],
    ['Board 4', false],
    ['Board 5', true],
  ]);
  expect(recipe.repeat.from[0]!.area).toBe(lead(recipe).preparation.areas[0]!.id);

  // Keep-outs: two strokes with the pointer, one with the keyboard; undo takes the last one.
  await tool(page, 'keep-outs');
  const ground = page.getByRole('application', { name: /Paint a keep-out/ });
  const box = (await ground.boundingBox())!;
  const [mx, my] = [box.x + box.width / 2, box.y + box.height / 2];
  for (const dy of [-20, 20]) {
    await page.mouse.move(mx - 60, my + dy);
    await page.mouse.down();
    await page.mouse.move(mx + 40, my + dy, { steps: 5 });
    await page.mouse.up();
  }
  await ground.focus();
  await page.keyboard.press('Space');
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await saved(page);
  expect((await draftOf(studio, id)).sources[0]!.preparation.keepOuts).toHaveLength(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  recipe = await draftOf(studio, id);
  expect(lead(recipe).preparation.keepOuts).toHaveLength(2);
  // An outline round everything is not taken over.
  await tool(page, 'outline');
  const frame = (await page.getByRole('img', { name: /straightened, at/ }).boundingBox())!;
  await page.mouse.move(frame.x + 3, frame.y + 3);
  await page.mouse.down();
  for (const [x, y] of [
    [frame.width - 3, 3],
    [frame.width - 3, frame.height - 3],
    [3, frame.height - 3],
    [3, 6],
  ] as const)
    await page.mouse.move(frame.x + x, frame.y + y, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('alert').filter({ hasText: 'keep out the whole sample' })).toBeVisible();
  expect((await draftOf(studio, id)).sources[0]!.preparation.keepOuts).toHaveLength(2);

  // A part by colour: the dark joints.
  await tool(page, 'parts');
  await page.getByRole('button', { name: 'click to add' }).click();
  await page.getByRole('application', { name: /Click a colour/ }).focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('Space');
  await expect(page.getByText(/Part 1 covers \d/)).toBeVisible();
  const before = await page.getByText(/Part 1 covers/).textContent();
  await type(page, 'Tolerance, ΔE', '3');
  await expect(page.getByText(/Part 1 covers/)).not.toHaveText(before!);
});

test('corners are moved by single pixels with the keyboard; crossed ones are refused and stay as they were', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'Oak strips from the capture bench');
  await openSection(page, 'Sample');
  await tool(page, 'straighten');
  const corner = page.getByRole('slider', { name: 'Frame, top left corner' });
  await corner.focus();
  const before = (await draftOf(studio, id)).sources[0]!.preparation.frame!;
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowDown');
  await saved(page);
  const after = (await draftOf(studio, id)).sources[0]!.preparation.frame!;
  expect((after[0][0] - before[0][0]) * 1800).toBeCloseTo(1, 6);
  expect((after[0][1] - before[0][1]) * 1350).toBeCloseTo(10, 6);
  // Dragged across the opposite side: the edges cross.
  const other = (await page.getByRole('slider', { name: 'Frame, bottom right corner' }).boundingBox())!;
  const third = (await page.getByRole('slider', { name: 'Frame, top right corner' }).boundingBox())!;
  await drag(page, 'Frame, top left corner', [third.x + 40, (third.y + other.y) / 2]);
  await expect(
    page
      .getByRole('alert')
      .filter({ hasText: /cross|inside|line/ })
      .first(),
  ).toBeVisible();
  expect((await draftOf(studio, id)).sources[0]!.preparation.frame).toEqual(after);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect((await draftOf(studio, id)).sources[0]!.preparation.frame).toEqual(before);
});

test('a ruler line is drawn on the plate, and a resolution is typed; what cannot be is said', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'plaster, slate');
  await openSection(page, 'Size');
  await page.locator('section[data-look="straight"]').waitFor();
  await page.getByRole('button', { name: 'Draw a ruler line' }).click();
  const ground = page.getByRole('application', { name: /Draw a ruler line/ });
  const box = (await ground.boundingBox())!;
  const [mx, my] = [box.x + box.width / 2, box.y + box.height / 2];
  // A click without a drag has no length.
  await page.mouse.click(mx, my);
  await expect(page.getByRole('alert').filter({ hasText: 'has no length' })).toBeVisible();
  await page.mouse.move(mx - 80, my);
  await page.mouse.down();
  await page.mouse.move(mx + 80, my, { steps: 4 });
  await page.mouse.up();
  await type(page, 'Length of line 1', '0');
  await expect(page.getByRole('alert').filter({ hasText: 'must be' })).toBeVisible();
  await field(page, 'Length of line 1').press('Escape');
  await type(page, 'Length of line 1', '50 cm');
  await page.keyboard.press('m');
  const width = page.getByRole('region', { name: 'Width', exact: true });
  await know(width, 'ruler line');
  await expect(width.getByText('one ruler line')).toBeVisible();
  const resolution = field(page, 'Resolution of the picture');
  await resolution.fill('300 furlong');
  await resolution.press('Enter');
  await expect(page.getByText(/is not a resolution/)).toBeVisible();
  await resolution.fill('12 px/cm');
  await resolution.press('Enter');
  await expect(width.getByRole('row', { name: /The resolution/ })).toBeVisible();
  await saved(page);
  const size = lead(await draftOf(studio, id)).size!;
  expect(size.lines[0]!.lengthMm).toMatchObject({ value: 500, basis: 'measured' });
  expect(size.resolution).toMatchObject({ value: 1.2 });
  // Undo brings back what was, step by step: the resolution, the ruling, the basis, the length, the line.
  for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect((await draftOf(studio, id)).sources[0]!.size!.lines).toHaveLength(0);
});

test('while the supplier is slow or failing, the rest goes on, and asking again helps', async ({
  page,
  studio,
  standins,
}) => {
  const mood = (body: object) =>
    fetch(`${standins.url}/supplier/mood`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  await mood({ failing: true });
  await page.goto(`${studio.url}/receiving`);
  await tool(page, 'supplier');
  await expect(page.getByRole('alert').filter({ hasText: 'being worked on' })).toBeVisible();
  await mood({ delayMs: 3000 });
  await page.getByRole('button', { name: 'Ask again' }).click();
  await tool(page, 'files');
  await page.getByLabel('Supplier').fill('Velthrask Timber');
  await mood({});
  await tool(page, 'supplier');
  // Finishes that other walks made of it are named the same.
  await expect(page.getByText('Ash plank, smoked').first()).toBeVisible();
  expect(await finishNamed(studio, 'Smoked ash')).toBeTruthy();
});

test('a picture that nothing uses is moved to the bin and comes back; one in use cannot be', async ({
  page,
  studio,
}) => {
  const { body: sample } = await studio.upload('offcut.png', await grainAs('png', 90, 70));
  await page.goto(`${studio.url}/receiving`);
  const offcut = page.getByRole('listitem', { name: 'offcut.png' });
  await expect(offcut).toBeVisible();
  const used = page.getByRole('listitem').filter({ hasText: 'used in' }).first();
  await expect(used.getByRole('button', { name: /to the bin$/ })).toHaveCount(0);
  await offcut.getByRole('button', { name: 'Move offcut.png to the bin' }).press('Enter');
  await expect(offcut).toHaveCount(0);
  await page.getByRole('link', { name: 'Bin' }).press('Enter');
  await expect(page).toHaveURL(/\/receiving\?bin/);
  await expect(offcut).toBeVisible();
  expect(await barriersOn(page)).toEqual([]);
  await offcut.getByRole('button', { name: 'Restore offcut.png' }).press('Enter');
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  await page.getByRole('link', { name: 'Back to Receiving' }).press('Enter');
  await expect(offcut).toBeVisible();
  await studio.call('DELETE', `/api/samples/${sample.id}`);
});
