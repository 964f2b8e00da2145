import sharp from 'sharp';
import type { Recipe } from '@jossel/core/finish';
import { differingBytes, draftOf, openCopyOf, reliefOf, tool } from './hands';
import { expect, field, finishNamed, openBench, openSection, saved, test, type } from './jossel';

test('wrong things are said to be wrong where they were typed, and nothing is lost', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'cloth');
  await openSection(page, 'Size');
  const width = field(page, 'Overall width');
  for (const [text, sentence] of [
    ['abc', 'not a unit'],
    ['0', 'must be between'],
    ['-5', 'must be between'],
    ['1000000000000', 'must be between'],
    ['1,200', '1200 or as 1.200'],
    ['12 parsec', 'not a unit'],
    ['3 *', 'breaks off'],
    ['5 mm * 5 mm', 'area'],
  ] as const) {
    await width.fill(text);
    await width.press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: sentence })).toBeVisible();
    await width.press('Escape');
    await expect(width).toHaveValue('100');
  }
  await openSection(page, 'Colour');
  const lrv = field(page, 'Light reflectance value');
  await lrv.fill('130');
  await lrv.press('Enter');
  await expect(page.getByRole('alert')).toContainText('must be between 0.1 LRV and 100 LRV; 130 LRV is not');
  await lrv.press('Escape');
  expect((await draftOf(studio, id)).colour.lrv!.value).toBe(19);
});

test('lengths are typed with units and arithmetic, undone, redone, and there again after a reload', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'slate');
  await openSection(page, 'Size');
  const width = field(page, 'Overall width');
  await type(page, 'Overall width', '17*145+48');
  await expect(width).toHaveValue('2513');
  await type(page, 'Overall width', '4\' 2 1/2"');
  await expect(width).toHaveValue('1282.7');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(width).toHaveValue('2513');
  await page.keyboard.press('Control+z');
  await expect(width).toHaveValue('1200');
  await page.keyboard.press('Control+Shift+z');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(width).toHaveValue('1282.7');
  await saved(page);
  await page.reload();
  // The section that was open stands in the address.
  await expect(field(page, 'Overall width')).toHaveValue('1282.7');
  expect((await draftOf(studio, id)).sources[0]!.size).toMatchObject({
    ruling: { across: 'overall' },
    overall: { across: { value: 1282.7 } },
  });
});

test('two windows on one draft: the second is asked, and both versions can be had', async ({
  page,
  context,
  studio,
}) => {
  const id = await openBench(page, studio, 'Beech');
  const other = await context.newPage();
  await openBench(other, studio, 'Beech');
  await openSection(page, 'Response');
  await type(page, 'Gloss at 60°', '31');
  await saved(page);
  await openSection(other, 'Response');
  await type(other, 'Gloss at 60°', '44');
  const question = other.getByRole('alertdialog');
  await expect(question).toContainText('changed in another window');
  await question.getByRole('button', { name: 'Take the other one' }).click();
  await expect(field(other, 'Gloss at 60°')).toHaveValue('31');
  // Mine is one step back.
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect(field(other, 'Gloss at 60°')).toHaveValue('44');
  await saved(other);
  expect((await draftOf(studio, id)).response.glossGu.value).toBe(44);
});

test('while the server is away work goes on, and is saved when it is back', async ({ page, empty }) => {
  const sample = await empty.upload(
    'grain.png',
    await sharp(Buffer.from(Array.from({ length: 200 * 200 * 3 }, (_, i) => 100 + ((i * 7919) % 61))), {
      raw: { width: 200, height: 200, channels: 3 },
    })
      .png()
      .toBuffer(),
  );
  const made = await empty.call<{ id: string }>('POST', '/api/finishes', {
    name: 'Away',
    category: 'stone',
    sampleIds: [sample.body.id],
  });
  await page.goto(`${empty.url}/bench/${made.body.id}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await expect(reliefOf(page)).toHaveText(/mm/);
  const shown = (await reliefOf(page).textContent())!;
  await empty.kill();
  await openSection(page, 'Relief');
  await type(page, 'Depth', '0.9');
  await expect(page.getByRole('status').filter({ hasText: 'not saved yet' })).toBeVisible();
  await expect(reliefOf(page)).not.toHaveText(shown);
  await empty.restart();
  await saved(page);
  expect((await draftOf(empty, made.body.id)).relief.contributions[0]!.depthMm.value).toBe(0.9);
});

test('the page and the server compute the same bytes', async ({ page, studio }) => {
  for (const [words, map] of [
    ['plaster, shell', 'colour'],
    ['Smoked ash', 'normals'],
    ['limestone', 'occlusion'],
  ] as const) {
    const id = await openBench(page, studio, words);
    // Threads of the page share memory, and with it the rows of large pictures.
    expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
    if (map !== 'colour') {
      await page.getByRole('button', { name: /Map on the plate/ }).click();
      await page.getByRole('option', { name: map }).click();
    }
    const name = { colour: 'colour', normals: 'normal', occlusion: 'occlusion' }[map];
    expect(await differingBytes(page, studio, id, name), `${words}, ${map}`).toBe(0);
  }
});

test('the bench is worked with the keyboard alone', async ({ page, studio }) => {
  await page.goto(`${studio.url}/rack`);
  const link = page.getByRole('link', { name: /Herringbone cloth/ });
  await link.focus();
  await page.keyboard.press('Enter');
  const line = page.getByRole('slider', { name: 'Line A–A' });
  await line.waitFor();
  const tabTo = async (name: RegExp | string, role: 'button' | 'textbox' | 'radio') => {
    const target = page.getByRole(role, { name }).first();
    for (let i = 0; i < 80; i++) {
      if (await target.evaluate((node) => node === document.activeElement)) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`Tab does not reach ${String(name)}`);
  };
  await tabTo(/^Relief/, 'button');
  await page.keyboard.press('Enter');
  await tabTo('Depth', 'textbox');
  await page.keyboard.type('0.75');
  await page.keyboard.press('Enter');
  const depth = page.getByRole('textbox', { name: 'Depth', exact: true });
  await expect(depth).toHaveValue('0.75');
  await expect(reliefOf(page)).toHaveText(/0\.[67]\d?\s?mm/);
  await line.focus();
  const before = await line.getAttribute('aria-valuenow');
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowDown');
  expect(await line.getAttribute('aria-valuenow')).not.toBe(before);
  await page.keyboard.press('Control+z');
  await expect(depth).toHaveValue('0.9');
});

test('the section line is dragged with the pointer and the profile follows', async ({ page, studio }) => {
  await openBench(page, studio, 'Glazed');
  const profile = page.getByRole('application', { name: 'Profile of the relief' });
  const drawn = () => profile.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const before = await drawn();
  const box = (await page.getByRole('slider', { name: 'Line A–A' }).boundingBox())!;
  await page.mouse.move(box.x + 200, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 200, box.y + box.height / 2 + 61, { steps: 4 });
  await page.mouse.up();
  await expect.poll(drawn).not.toBe(before);
});

test('a check leads to its place in the ledger', async ({ page, studio }) => {
  await openBench(page, studio, 'limestone');
  await page.getByRole('button', { name: /relief depth of 0.15 mm is assumed/ }).click();
  await expect(
    page.getByRole('region', { name: 'Ledger' }).getByRole('button', { name: /^Relief/ }),
  ).toHaveAttribute('aria-expanded', 'true');
});

test('an issued revision stays when the draft changes', async ({ page, studio }) => {
  const id = await finishNamed(studio, 'plaster, shell');
  const frozen = (await studio.call<{ recipe: Recipe }>('GET', `/api/finishes/${id}/revisions/A`)).body
    .recipe;
  await openBench(page, studio, 'plaster, shell');
  await openSection(page, 'Colour');
  await type(page, 'Light reflectance value', '58');
  await expect(page.getByRole('region', { name: 'Title block' }).getByText('LRV 58')).toBeVisible();
  await saved(page);
  expect(
    (await studio.call<{ recipe: Recipe }>('GET', `/api/finishes/${id}/revisions/A`)).body.recipe,
  ).toEqual(frozen);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

test.describe('the proof on view', () => {
  test.use({ proofFolded: false });

  test('that fails leaves all else to be worked with, and is there again when it is asked for', async ({
    page,
    studio,
  }) => {
    const itsCode = /assets\/Proof-[^/]*\.js$/;
    await page.route(itsCode, (route) => route.abort());
    await openCopyOf(page, studio, 'Glazed tile', 'Tile whose proof fails');
    const failed = page.getByRole('region', { name: 'The proof failed' });
    await expect(failed).toContainText('Jossel’s server does not answer.');
    await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
    await openSection(page, 'Relief');
    await type(page, 'Occlusion within', '7');
    await saved(page);
    await page.unroute(itsCode);
    await failed.getByRole('button', { name: 'Try again' }).click();
    await page.getByRole('region', { name: 'Proof' }).locator('canvas').first().waitFor();
    await expect(field(page, 'Occlusion within')).toHaveValue('7');
  });

  test('folds away and stays so, and a view has the sheet and gives it back, by keyboard', async ({
    page,
    studio,
  }) => {
    await openBench(page, studio, 'Glazed tile');
    const proof = page.getByRole('region', { name: 'Proof' });
    const ledger = page.getByRole('region', { name: 'Ledger' });
    await proof.locator('canvas').first().waitFor();
    const wide = async () => (await proof.boundingBox())!.width;
    const before = await wide();

    await page.getByRole('button', { name: 'Fill the sheet with the proof' }).focus();
    await page.keyboard.press('Enter');
    await expect(ledger).toBeHidden();
    expect(await wide()).toBeGreaterThan(1200);
    await page.keyboard.press('Enter');
    await expect(ledger).toBeVisible();
    expect(await wide()).toBe(before);

    await page.getByRole('button', { name: 'Fold the proof away' }).focus();
    await page.keyboard.press('Enter');
    await expect(proof.locator('canvas')).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'Unfold the proof' })).toBeFocused();
    await page.reload();
    await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
    await expect(proof).toContainText('folded away');
    await page.getByRole('button', { name: 'Unfold the proof' }).focus();
    await page.keyboard.press('Enter');
    await proof.locator('canvas').first().waitFor();
    await expect(page.getByRole('button', { name: 'Fold the proof away' })).toBeFocused();

    // Another row of tools below makes the plate smaller; what is under it stays in sight.
    await openSection(page, 'Colour');
    await tool(page, 'match');
    await page.setViewportSize({ width: 1280, height: 640 });
    const under = async () => {
      const view = (await page.getByRole('group', { name: /^Flat view/ }).boundingBox())!;
      const title = (await page.getByRole('heading', { name: /^Section/ }).boundingBox())!;
      return title.y - (view.y + view.height);
    };
    await expect.poll(under).toBeGreaterThanOrEqual(0);
    await page.setViewportSize({ width: 1280, height: 800 });
    await openSection(page, 'Relief');

    // On the plate alone what is drawn on it still works.
    await page.getByRole('button', { name: 'Fill the sheet with the plate' }).click();
    await expect(proof).toBeHidden();
    const line = page.getByRole('slider', { name: 'Line A–A' });
    const at = await line.getAttribute('aria-valuetext');
    await line.focus();
    await page.keyboard.press('ArrowDown');
    await expect(line).not.toHaveAttribute('aria-valuetext', at!);
    await page.getByRole('button', { name: 'Back to the sheet' }).click();
    await expect(proof).toBeVisible();
  });
});
