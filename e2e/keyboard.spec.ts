import type { Locator, Page } from '@playwright/test';
import { expect, test } from './jossel';

/** A day's work with the keyboard alone: no pointer is used after the first page is opened. */

/** Tab presses that are enough to go round any place. */
const ROUND = 160;

/** Presses Tab until something has the focus, and says how often. */
async function tabTo(page: Page, target: Locator): Promise<number> {
  await target.first().waitFor();
  for (let presses = 0; presses < ROUND; presses++) {
    const there = await target.first().evaluate((node) => node.contains(document.activeElement));
    if (there) return presses;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Tab does not reach ${String(target)}`);
}

async function press(page: Page, target: Locator): Promise<void> {
  await tabTo(page, target);
  await page.keyboard.press('Enter');
}

/** Types into a text field. */
async function enter(page: Page, name: string, text: string): Promise<void> {
  await tabTo(page, page.getByRole('textbox', { name, exact: true }));
  await page.keyboard.press('Control+a');
  await page.keyboard.type(text);
}

/** Goes to one of several, and with the arrow keys to the one that is wanted. */
async function choose(page: Page, group: Locator, name: string): Promise<void> {
  await tabTo(page, group);
  const wanted = group.getByRole('radio', { name, exact: true });
  for (let k = 0; k < 12 && !(await wanted.evaluate((node) => node === document.activeElement)); k++)
    await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await expect(wanted).toBeChecked();
}

test('from a supplier’s sample to its handover with the keyboard alone', async ({ page, studio }) => {
  await page.goto(`${studio.url}/rack`);
  await press(page, page.getByRole('link', { name: 'Receiving' }));
  await choose(page, page.getByRole('radiogroup', { name: 'Where pictures come from' }), 'supplier');
  await press(page, page.getByRole('button', { name: 'Import Ash plank, smoked' }));
  const arrived = page
    .getByRole('region', { name: 'Samples' })
    .getByRole('listitem')
    .filter({ hasText: 'fetched from the supplier' });
  await press(page, arrived.getByRole('button', { name: 'Make a finish' }));
  await expect(page).toHaveURL(/\/bench\//);
  await page.locator('section[data-look]').waitFor();

  // Figures: the repeat by its suggestion, the depth typed, a mistake undone.
  await press(page, page.getByRole('button', { name: /^Relief/ }));
  await tabTo(page, page.getByRole('textbox', { name: 'Depth', exact: true }));
  await page.keyboard.type('0.4');
  await page.keyboard.press('Enter');
  await page.keyboard.type('40');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('textbox', { name: 'Depth', exact: true })).toHaveValue('0.4');
  await press(page, page.getByRole('button', { name: /^Revision/ }));
  await press(page, page.getByRole('button', { name: 'Issue revision A' }));
  await expect(page.getByText(/Revision A is the same as the draft/)).toBeVisible();

  await press(page, page.getByRole('link', { name: 'Projects' }));
  await enter(page, 'Name of the new project', 'Velthrask arcade');
  await press(page, page.getByRole('button', { name: 'Add project' }));
  await enter(page, 'Name of the new room', 'Loggia');
  await press(page, page.getByRole('button', { name: 'Add room' }));
  await enter(page, 'New surface in Loggia', 'Floor');
  await press(page, page.getByRole('button', { name: 'Add surface' }));
  await press(page, page.getByRole('button', { name: /Finish of Floor/ }));
  // Other walks may have issued the same product.
  const option = page.getByRole('option', { name: /Ash plank, smoked/ }).first();
  await option.waitFor();
  for (let k = 0; k < 40 && !(await option.evaluate((node) => node === document.activeElement)); k++)
    await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: 'Floor', exact: true })).toContainText(/\d × \d/);
  await press(page, page.getByRole('button', { name: 'Hand over this project' }));
  await expect(page.getByRole('link', { name: /velthrask-arcade|ash-plank/ })).toBeVisible();
  await tabTo(page, page.getByRole('link', { name: /velthrask-arcade|ash-plank/ }));
});
