import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { idOf } from './hands';
import { expect, finishNamed, openBench, saved, test, type } from './jossel';

/** A day's work from the arrival of a sample to its handover, and what is in the way of it. */

/** Counts presses of the pointer on the page. */
async function countPresses(page: Page): Promise<() => Promise<number>> {
  await page.addInitScript(() => {
    const counted = window as unknown as { presses: number };
    counted.presses = Number(sessionStorage['presses'] ?? 0);
    window.addEventListener('pointerdown', () => (sessionStorage['presses'] = ++counted.presses), {
      capture: true,
    });
  });
  return () => page.evaluate(() => Number(sessionStorage['presses'] ?? 0));
}

test('a supplier’s sample is issued, laid on a surface and handed over in at most fourteen presses', async ({
  page,
  studio,
}) => {
  const presses = await countPresses(page);
  const { body: project } = await studio.call<{ id: string }>('POST', '/api/projects', {
    name: 'Ombrask pavilion',
  });
  const { body: room } = await studio.call<{ id: string }>('POST', `/api/projects/${project.id}/rooms`, {
    name: 'Hall',
  });
  await studio.call('POST', `/api/rooms/${room.id}/surfaces`, {
    name: 'Floor',
    widthMm: 5900,
    heightMm: 4350,
  });
  await page.goto(`${studio.url}/rack`);
  await page.getByRole('link', { name: 'Receiving' }).click();
  await page.getByRole('radio', { name: 'supplier' }).click();
  await page.getByRole('button', { name: 'Import Ash plank, smoked' }).click();
  const arrived = page
    .getByRole('region', { name: 'Samples' })
    .getByRole('listitem')
    .filter({ hasText: 'fetched from the supplier' });
  await arrived.getByRole('button', { name: 'Make a finish' }).click();
  await expect(page).toHaveURL(/\/bench\//);
  await page.locator('section[data-look]').waitFor();
  await page.getByRole('button', { name: /^Revision/ }).click();
  await expect(page.getByRole('region', { name: 'Readiness' })).toContainText(/open|wrong|ready/);
  await page.getByRole('button', { name: 'Issue revision A' }).click();
  await expect(page.getByText(/Revision A is the same as the draft/)).toBeVisible();
  await page.getByRole('link', { name: 'Projects' }).click();
  await page.getByRole('link', { name: 'Ombrask pavilion' }).click();
  await page.getByRole('button', { name: /Finish of Floor/ }).click();
  await page.getByRole('option', { name: /Ash plank, smoked/ }).click();
  await expect(page.getByRole('row', { name: 'Floor', exact: true })).toContainText(/\d × \d/);
  await page.getByRole('button', { name: 'Hand over this project' }).click();
  await expect(page.getByRole('link', { name: /ombrask-pavilion|ash-plank/ })).toBeVisible();
  const contents = page.getByRole('table', { name: 'What is in Ombrask pavilion' });
  await expect(contents.getByRole('row', { name: /Ash plank, smoked/ })).toContainText(/\d × \d+.mm/);
  expect(await presses()).toBeLessThanOrEqual(14);
});

test('several samples become finishes at once; the category is guessed from the name; the origin is kept', async ({
  page,
  empty,
}) => {
  const picture = async (tone: number) =>
    sharp(Buffer.from(Array.from({ length: 120 * 90 * 3 }, (_, i) => tone + ((i * 7919) % 41))), {
      raw: { width: 120, height: 90, channels: 3 },
    })
      .png()
      .toBuffer();
  await page.goto(`${empty.url}/receiving`);
  await page.getByRole('textbox', { name: 'Supplier' }).fill('Velthrask Timber');
  await page.getByRole('textbox', { name: 'Permission to use' }).fill('sample box');
  await page.locator('input[type=file]').setInputFiles([
    { name: 'oak-board.png', mimeType: 'image/png', buffer: await picture(90) },
    { name: 'red-brick.png', mimeType: 'image/png', buffer: await picture(120) },
  ]);
  // The list grows while they arrive: nothing is pressed before it stays where it is.
  const arrived = ['oak-board.png', 'red-brick.png'].map((name) => page.getByRole('listitem', { name }));
  for (const item of arrived) await item.waitFor();
  for (const item of arrived) await item.getByText('Choose with others').click();
  await page.getByRole('button', { name: 'Make 2 finishes' }).click();
  await expect(page).toHaveURL(/\/rack/);
  await expect(page.getByText('2 finishes')).toBeVisible();
  const { body } = await empty.call<{ items: { name: string; category: string; headline: object }[] }>(
    'GET',
    '/api/finishes',
  );
  expect(body.items.map((f) => [f.name, f.category])).toEqual([
    ['Oak board', 'timber'],
    ['Red brick', 'brick'],
  ]);
  expect(body.items[0]!.headline).toMatchObject({ supplier: 'Velthrask Timber' });
  await page.goto(`${empty.url}/receiving`);
  await expect(page.getByRole('textbox', { name: 'Supplier' })).toHaveValue('Velthrask Timber');
  await expect(page.getByRole('listitem', { name: 'oak-board.png' })).toContainText('used in Oak board');
});

test('a finish is renamed, copied, moved to the bin and restored on the rack; filters stand in the address', async ({
  page,
  studio,
}) => {
  await page.goto(`${studio.url}/rack?find=beech`);
  const act = async (name: string, action: string) => {
    await page.getByRole('button', { name: `Actions for ${name}` }).click();
    await page.getByRole('menuitem', { name: action }).click();
  };
  await act('Beech strip, natural', 'Duplicate');
  const copy = page.getByRole('link', { name: 'Beech strip, natural, copy' });
  await expect(copy).toBeVisible();
  await act('Beech strip, natural, copy', 'Rename');
  await page.getByRole('textbox', { name: /New name of/ }).fill('Beech strip, limed');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Beech strip, limed' })).toBeVisible();
  await act('Beech strip, limed', 'Move to the bin');
  await expect(page.getByRole('link', { name: 'Beech strip, limed' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Bin', exact: true }).click();
  await page.getByRole('button', { name: 'Restore Beech strip, limed' }).click();
  await expect(page.getByText('The bin is empty')).toBeVisible();
  await page.getByRole('link', { name: 'Back to the rack' }).click();
  await page.getByRole('button', { name: /Category/ }).click();
  await page.getByRole('option', { name: 'Timber' }).click();
  await expect(page).toHaveURL(/category=timber/);
  await expect(page.getByRole('link', { name: 'Beech strip, limed' })).toBeVisible();
  await expect(page.getByRole('link', { name: /Glazed tile/ })).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('link', { name: /Glazed tile/ })).toHaveCount(0);
  // One that lies on surfaces stays.
  await page.getByRole('button', { name: 'Show all' }).click();
  await act('Smoked ash, wide board', 'Move to the bin');
  await expect(page.getByText(/Smoked ash, wide board lies on surfaces in/)).toBeVisible();
});

test('a surface that was removed, a room that was copied, a finish that was laid: each is undone and redone', async ({
  page,
  studio,
}) => {
  const { body } = await studio.call<{ items: { id: string; name: string }[] }>('GET', '/api/projects');
  const id = body.items.find((p) => p.name.includes('library'))!.id;
  await page.goto(`${studio.url}/projects/${id}`);
  const wall = page.getByRole('row', { name: 'Long wall', exact: true });
  await page.getByRole('button', { name: 'Actions for Long wall' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect(wall).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(wall).toBeVisible();
  await page.keyboard.press('Control+y');
  await expect(wall).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo removing Long wall' }).click();
  await expect(wall).toBeVisible();

  await page.getByRole('button', { name: 'Actions for the room Reading room' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate with its surfaces' }).click();
  const copies = page.getByRole('textbox', { name: 'Name of the room Reading room, copy' });
  await expect(copies).toHaveCount(1);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(copies).toHaveCount(0);

  const floor = page.getByRole('row', { name: 'Floor', exact: true }).last();
  await floor.getByRole('button', { name: /Finish of Floor/ }).click();
  await page.getByRole('option', { name: 'Shell limestone, honed' }).click();
  await expect(floor).toContainText('44');
  await page.keyboard.press('Control+z');
  await expect(floor).not.toContainText('44');
});

test('the wheel zooms at the pointer, a double click shows all again, the space bar moves; keys do the same', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Glazed tile');
  const view = page.getByRole('group', { name: /^Flat view/ });
  const title = page.getByRole('heading', { name: /^Plate/ });
  const scale = async () => {
    const [, n, of] = /(\d+(?:\.\d+)?):(\d+(?:\.\d+)?)/.exec((await title.textContent())!)!;
    return Number(of) / Number(n);
  };
  const line = page.getByRole('slider', { name: 'Line A–A' });
  const box = (await view.boundingBox())!;
  const fitted = await scale();
  // Zoomed at line A–A, the line stays where it is.
  const at = (await line.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, at.y + at.height / 2);
  for (let i = 0; i < 4; i++) await page.mouse.wheel(0, -240);
  await expect.poll(scale).toBeLessThan(fitted / 2);
  const after = (await line.boundingBox())!;
  // Half a pixel off the line becomes some at the larger scale.
  expect(Math.abs(after.y - at.y)).toBeLessThan(6);
  await expect(page).toHaveURL(/scale=/);
  // Moved with the space bar.
  await page.keyboard.down('Space');
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, at.y + at.height / 2 + 60, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Space');
  expect(Math.abs((await line.boundingBox())!.y - after.y - 60)).toBeLessThan(2);
  // What was in view stays in view when the map changes.
  await page.keyboard.press('.');
  await expect(page).toHaveURL(/map=/);
  expect(Math.abs((await line.boundingBox())!.y - after.y - 60)).toBeLessThan(2);
  await page.keyboard.press(',');
  await page.mouse.dblclick(box.x + 60, box.y + 30);
  await expect.poll(scale).toBe(fitted);
  await page.keyboard.press('+');
  await expect.poll(scale).toBeLessThan(fitted);
  await page.keyboard.press('t');
  await expect.poll(scale).toBe(1);
  await page.keyboard.press('w');
  await expect.poll(scale).toBe(fitted);
});

test('keys open sections and their sheet, Escape leaves; section, tool and map stand in the address', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Herringbone');
  await expect(page).toHaveTitle('Herringbone cloth, harbour · Jossel');
  await page.keyboard.press('3');
  await page.getByRole('radio', { name: 'hand', exact: true }).click();
  await expect(page).toHaveURL(/section=colour&tool=hand/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Next larger scale');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page).toHaveURL(/section=colour/);
  await page.reload();
  await expect(page.getByRole('radio', { name: 'hand', exact: true })).toBeChecked();
  await page.getByRole('link', { name: 'Rack' }).first().click();
  await expect(page).toHaveTitle('Rack · Jossel');
  await page.goBack();
  await expect(page.getByRole('radio', { name: 'hand', exact: true })).toBeChecked();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('radio', { name: 'hand', exact: true })).toHaveCount(0);
  await expect(page).not.toHaveURL(/section=/);
});

test('the keyboard alone: a figure by its check, its basis by one key, undone after a reload', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'Trowelled plaster, slate');
  await expect(page.getByRole('region', { name: 'Checks' })).toContainText(/\d open/);
  await page.keyboard.press('7');
  const depth = page.getByRole('textbox', { name: 'Depth', exact: true });
  await depth.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('0.65');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Assumed, or')).toBeVisible();
  await page.keyboard.press('m');
  await expect(page.getByText('Assumed, or')).toHaveCount(0);
  await saved(page);
  const draft = async () =>
    (
      await studio.call<{
        draft: { recipe: { relief: { contributions: { depthMm: { value: number; basis: string } }[] } } };
      }>('GET', `/api/finishes/${id}`)
    ).body.draft.recipe.relief.contributions[0]!.depthMm;
  expect(await draft()).toMatchObject({ value: 0.65, basis: 'measured' });
  await page.waitForTimeout(600);
  await page.reload();
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await draft()).value).not.toBe(0.65);
  // A check leads to its field.
  await page.keyboard.press('c');
  await expect
    .poll(() => page.evaluate(() => document.activeElement?.closest('[aria-label="Ledger"]') !== null))
    .toBe(true);
});

test('without the server it is said once, and again nothing when it is back; one press makes one room', async ({
  page,
  empty,
}) => {
  const { body: project } = await empty.call<{ id: string }>('POST', '/api/projects', { name: 'Slow house' });
  await page.goto(`${empty.url}/projects/${project.id}`);
  // A slow server: pressed three times while the first press is under way.
  await page.route('**/rooms', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 800));
    await route.continue();
  });
  await page.getByRole('textbox', { name: 'Name of the new room' }).fill('Kitchen');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Adding …' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Name of the room Kitchen' })).toHaveCount(1);
  await page.waitForTimeout(1200);
  await expect(page.getByRole('textbox', { name: 'Name of the room Kitchen' })).toHaveCount(1);

  // By now the code of the other places has come.
  await page.waitForTimeout(5000);
  await empty.kill();
  const { href } = new URL('/projects', empty.url);
  await page.getByRole('link', { name: 'Projects' }).click();
  await expect(page.getByText(/server does not answer/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Name of the new project' }).fill('Kept words');
  await empty.restart();
  await expect(page.getByText(/server does not answer/)).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'Slow house' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Name of the new project' })).toHaveValue('Kept words');
  expect(page.url()).toBe(href);
  await page.goto(`${empty.url}/attic`);
  await expect(page.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible();
  await expect(page.getByRole('main').getByRole('link', { name: 'Receiving' })).toBeVisible();
});

test('lengths are read as a person would; what can be read in two ways is asked about at once', async ({
  page,
  studio,
}) => {
  const id = await finishNamed(studio, 'Trowelled plaster, shell');
  await page.goto(`${studio.url}/bench/${id}?section=size`);
  await page
    .getByRole('slider', { name: 'Line A–A' })
    .or(page.locator('section[data-look]'))
    .first()
    .waitFor();
  const width = page.getByRole('textbox', { name: 'Overall width', exact: true });
  await type(page, 'Overall width', '1,200');
  await expect(page.getByText(/can be read as 1200 or as 1\.200/)).toBeVisible();
  await width.press('Escape');
  await type(page, 'Overall width', '1e3');
  await expect(width).toHaveValue('1000');
  await page.getByRole('radio', { name: 'in', exact: true }).click();
  await expect(width).toHaveValue('3\' 3 3/8"');
  await page.getByRole('radio', { name: 'mm', exact: true }).click();
  await page.keyboard.press('Control+z');
  expect(idOf(page)).toBe(id);
});
