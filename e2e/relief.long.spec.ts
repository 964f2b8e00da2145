import { barriersOn, draftOf, idOf, reliefOf, tool } from './hands';
import { expect, field, openBench, openSection, saved, test, type } from './jossel';

test('relief is built up of contributions: added, shown alone, reordered, switched off, kept to a place', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Trowelled plaster, shell');
  await openSection(page, 'Relief');
  const rows = page.getByRole('grid', { name: /^Build-up of the relief/ }).getByRole('row');
  await expect(rows).toHaveCount(1);
  const before = (await reliefOf(page).textContent())!;

  await page.getByRole('button', { name: 'Add a contribution' }).click();
  await page.getByRole('menuitem', { name: 'Generated variation' }).click();
  await expect(rows).toHaveCount(2);
  await type(page, 'Depth', '2');
  await expect(reliefOf(page)).not.toHaveText(before);

  const panel = page.getByRole('region', { name: 'Contribution Variation' });
  await panel.getByRole('button', { name: 'alone' }).click();
  await expect(rows.first()).toContainText('shown alone');
  await expect(reliefOf(page)).toHaveText(/(1\.9\d?|2(\.0\d?)?)\s?mm/);
  await panel.getByRole('button', { name: 'alone' }).click();

  await panel.getByRole('button', { name: /^everywhere/ }).click();
  await page.getByRole('option', { name: 'in hollows' }).click();
  await expect(panel.getByRole('textbox', { name: 'Reach' })).toBeVisible();
  await panel.getByRole('button', { name: /^added to it/ }).click();
  await page.getByRole('option', { name: 'where lower' }).click();
  await panel.getByRole('button', { name: 'Rename Variation' }).click();
  await page.getByRole('textbox', { name: 'New name of Variation' }).fill('Trowel marks');
  await page.keyboard.press('Enter');

  // To the bottom, with the keyboard.
  await page.getByRole('button', { name: 'Move Trowel marks to another place' }).focus();
  await page.keyboard.press('Enter');
  const after = page.getByRole('button', { name: 'Insert after Picture' });
  await expect(after).toBeAttached();
  for (let i = 0; i < 4 && !(await after.evaluate((node) => node === document.activeElement)); i++)
    await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(rows.last()).toContainText('Trowel marks');
  await page
    .getByRole('region', { name: 'Contribution Trowel marks' })
    .getByRole('button', { name: 'on', exact: true })
    .click();
  await expect(rows.last()).toContainText('(off)');
  await saved(page);
  const [first, second] = (await draftOf(studio, idOf(page))).relief.contributions;
  expect(first).toMatchObject({
    name: 'Trowel marks',
    off: true,
    combine: 'lowest',
    mask: { place: 'hollows' },
  });
  expect(second).toMatchObject({ kind: 'picture' });
});

test('the section runs along any line; a depth drawn across a joint is put to what it is known to be', async ({
  page,
  studio,
}) => {
  await openBench(page, studio, 'Glazed tile, lagoon');
  await openSection(page, 'Relief');
  await expect(page.getByText(/^Joints lie 1\.\d+\smm below the faces\.$/)).toBeVisible();
  const end = page.getByRole('slider', { name: 'Right end of the section' });
  const box = (await end.boundingBox())!;
  await page.mouse.move(box.x + 7, box.y + 7);
  await page.mouse.down();
  await page.mouse.move(box.x - 200, box.y + 90, { steps: 4 });
  await page.mouse.up();
  await expect(end).toHaveAttribute('aria-valuetext', /^from 0 mm|^from /);
  await page.getByRole('button', { name: 'Level line' }).click();

  const profile = page.getByRole('application', { name: /^Profile of the relief/ });
  const view = (await profile.boundingBox())!;
  await page.mouse.move(view.x + 100, view.y + 30);
  await expect(page.getByText(/^at \d+(\.\d)?\smm: .+; slope/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep to compare' }).click();
  await page.mouse.move(view.x + 10, view.y + 30);
  await page.mouse.down();
  await page.mouse.move(view.x + view.width - 20, view.y + 30, { steps: 4 });
  await page.mouse.up();
  const known = page.getByRole('group', { name: 'Known depth' });
  await expect(known).toContainText(/Lies 1\.\d+\s?mm deep/);
  await type(page, 'Known depth', '2.5');
  await saved(page);
  const joints = (await draftOf(studio, idOf(page))).relief.contributions.find((c) => c.kind === 'joints')!;
  expect(joints.depthMm).toMatchObject({ basis: 'measured' });
  expect(joints.depthMm.value).toBeGreaterThan(2.2);
  expect(joints.depthMm.value).toBeLessThan(2.8);
});

test('a sample under the light rig becomes a finish of measured relief', async ({ page, studio }) => {
  await page.goto(`${studio.url}/receiving`);
  await tool(page, 'light set');
  await page.getByRole('button', { name: /Sample under the lights/ }).click();
  await page.getByRole('option', { name: 'Panel of glazed tiles, moss' }).click();
  await tool(page, '6');
  await type(page, 'Width, px', '240');
  await page.getByRole('button', { name: 'Take 6 pictures' }).click();
  await expect(page.getByText('6 pictures have arrived')).toBeVisible();
  await type(
    page.getByRole('region', { name: 'Light set that has arrived' }),
    'Name of the finish',
    'Tile under lights',
  );
  await page.getByRole('button', { name: 'Measure the relief' }).click();
  await expect(page).toHaveURL(/\/bench\//);
  const lights = page.getByRole('table', { name: 'Lights of the set' });
  await expect(lights.getByRole('row')).toHaveCount(7);
  await expect(page.getByRole('img', { name: 'Map of confidence' })).toBeVisible();
  const recipe = await draftOf(studio, idOf(page));
  expect(recipe.relief.contributions).toMatchObject([{ kind: 'measured', depthMm: { basis: 'measured' } }]);
  await expect(reliefOf(page)).toHaveText(/[1-9](\.\d+)?\s?mm/);
});

test('a mesh is planned for a camera, seen as the camera sees it, and ordered with the relief shared so', async ({
  page,
  studio,
}) => {
  const id = await openBench(page, studio, 'plaster, shell');
  await openSection(page, 'Relief');
  await page.getByText('Mesh for a camera').click();
  const { items } = (
    await studio.call<{ items: { name: string; widthMm: number }[] }>('GET', `/api/finishes/${id}/surfaces`)
  ).body;
  const laidOn = items.find((s) => s.widthMm !== 4000)!;
  await page.getByRole('button', { name: /Size of a surface/ }).click();
  await page
    .getByRole('option', { name: new RegExp(`, ${laidOn.name}: `) })
    .first()
    .click();
  await expect(field(page, 'Surface width')).toHaveValue(String(laidOn.widthMm));
  await type(page, 'Camera distance', '900');
  const plan = page.getByRole('region', { name: 'Plan of the relief' });
  await expect(plan).toContainText('A displaced mesh');
  const seen = plan.getByRole('img', { name: /The mesh from the camera: edges of [\d.]+ px/ });
  await expect(seen).toBeVisible();
  const drawn = () => seen.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const mesh = await drawn();
  await plan.getByText('All heights instead of the mesh').click();
  await expect.poll(drawn).not.toBe(mesh);
  expect(await barriersOn(page)).toEqual([]);

  const proof = page.getByRole('region', { name: 'Proof' });
  const overProof = plan.getByText('Its edges over the proof, from this camera');
  await overProof.click();
  await expect(proof.getByRole('status')).toHaveText(
    /^mesh of [\d.]+\u2009mm edges, from 0.9\u2009m at 30°$/,
  );
  // On another form there is no panel that it could lie in.
  await proof.getByRole('button', { name: /Form/ }).click();
  await page.getByRole('option', { name: 'sphere' }).click();
  await expect(proof.getByRole('status')).toHaveText(/draft|refined/);
  await overProof.click();

  await plan.getByRole('link', { name: 'Hand over with relief for this mesh' }).click();
  await expect(page).toHaveURL(new RegExp(`/handovers\\?finish=${id}&split=`));
  const longer = field(page, 'The mesh takes waves longer than');
  await expect(longer).not.toHaveValue('');
  await type(page, 'The mesh takes waves longer than', '-3');
  await expect(page.getByText(/between 0.01/)).toBeVisible();
  await type(page, 'The mesh takes waves longer than', '6');
  await page.getByRole('button', { name: /Profile/ }).click();
  await page.getByRole('option', { name: /1024/ }).click();
  await page.getByRole('button', { name: 'Make the package' }).click();
  const made = page.getByRole('listitem', { name: /Package of Trowelled plaster, shell/ }).first();
  await expect(made).toContainText('split at 6 mm');
});
