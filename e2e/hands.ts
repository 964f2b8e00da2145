import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import type { Locator, Page } from '@playwright/test';
import sharp from 'sharp';
import type { Recipe } from '@jossel/core/finish';
import type { TestServer } from '../server/test/serve';
import { expect, finishNamed, openSection, type } from './jossel';

/** What a person does on the Bench and at the capture bench, as walks need it. */

export const draftOf = async (server: TestServer, id: string) =>
  (await server.call<{ draft: { recipe: Recipe } }>('GET', `/api/finishes/${id}`)).body.draft.recipe;
/** What axe finds on the page as it is: the rule, and the elements that break it. */
export async function barriersOn(page: Page): Promise<string[]> {
  // Elements that pass are not listed: naming every one of them takes longer than looking for barriers.
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ['violations'], preload: false })
    .analyze();
  return violations.map(
    (v) => `${v.id}: ${v.nodes.map((n) => `${n.html.slice(0, 160)} (${n.any[0]?.message})`).join(' | ')}`,
  );
}
export const idOf = (page: Page) => /bench\/([0-9a-f-]+)/.exec(page.url())![1]!;
/** The depth of the relief in the title block, as it was computed. */
export const reliefOf = (page: Page) =>
  page
    .getByRole('region', { name: 'Title block' })
    .locator('div')
    .filter({ has: page.locator('small', { hasText: /^Relief$/ }) })
    .last();
export const tool = (page: Page | Locator, name: string) =>
  page.getByRole('radio', { name, exact: true }).click();
/** The axis of the size, and how it is known. */
export const axisOf = (page: Page, name: 'Width' | 'Height') =>
  page.getByRole('region', { name, exact: true });
export const knownBy = (axis: Locator) => axis.getByRole('button', { name: /Source$/ });
export async function know(axis: Locator, by: string): Promise<void> {
  await knownBy(axis).click();
  await axis.page().getByRole('option', { name: by, exact: true }).click();
}
export const CORNERS = ['top left', 'top right', 'bottom right', 'bottom left'] as const;
export type Places = readonly (readonly [number, number])[];

/** Where places of the picture lie on the screen, told by two opposite corners of an untouched frame. */
export async function screenOf(page: Page): Promise<(p: readonly [number, number]) => [number, number]> {
  const middle = async (name: string) => {
    const box = (await page.getByRole('slider', { name: `Frame, ${name} corner` }).boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2] as const;
  };
  const [a, b] = [await middle('top left'), await middle('bottom right')];
  return ([x, y]) => [a[0] + x * (b[0] - a[0]), a[1] + y * (b[1] - a[1])];
}

/** Drags a handle to a place on the screen. */
export async function drag(page: Page, name: string, to: readonly [number, number]): Promise<void> {
  const box = (await page.getByRole('slider', { name, exact: true }).boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(to[0], to[1], { steps: 4 });
  await page.mouse.up();
}

export async function straighten(page: Page, corners: Places): Promise<void> {
  await openSection(page, 'Sample');
  await tool(page, 'straighten');
  await page.locator('section[data-look="received"]').waitFor();
  const screen = await screenOf(page);
  for (const [i, corner] of CORNERS.entries())
    await drag(page, `Frame, ${corner} corner`, screen(corners[i]!));
  await expect(page.getByRole('region', { name: 'Straightened' }).getByRole('alert')).toHaveCount(0);
}

/** Takes a picture on the capture bench through the interface, and makes a finish of it. */
export async function takePicture(
  page: Page,
  server: TestServer,
  sample: string,
  numbers: Record<string, string>,
  file: string,
) {
  await page.goto(`${server.url}/receiving`);
  await tool(page, 'capture bench');
  await page.getByRole('button', { name: /Sample on the bench/ }).click();
  await page.getByRole('option', { name: sample }).click();
  for (const [label, value] of Object.entries(numbers)) await type(page, label, value);
  await page.getByRole('button', { name: 'Take the picture' }).click();
  const arrived = page.getByRole('listitem', { name: file }).first();
  await arrived.waitFor();
  await arrived.getByRole('button', { name: 'Make a finish' }).click();
  await expect(page).toHaveURL(/\/bench\//);
}

/** How many bytes of the picture on the plate differ from the server's own map of the same finish. */
export async function differingBytes(
  page: Page,
  server: TestServer,
  id: string,
  name: string,
): Promise<number> {
  // The finer picture, with occlusion, follows when nothing changes any more.
  await expect(page.locator('[data-complete]')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save picture' }).click(),
  ]);
  const mine = await sharp(readFileSync((await download.path())!))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const done = await server.render(id, { widthPx: mine.info.width, maps: [name] });
  const theirs = await sharp(
    Buffer.from(await (await fetch(`${server.url}/api/renders/${done.id}/maps/${name}.png`)).arrayBuffer()),
  )
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([theirs.info.width, theirs.info.height]).toEqual([mine.info.width, mine.info.height]);
  const step = theirs.info.channels === 1 ? 3 : 1;
  let differing = 0;
  for (let i = 0; i < theirs.data.length; i++) if (theirs.data[i] !== mine.data[i * step]) differing++;
  return differing;
}

/** A copy of a finish of the demo studio. @returns its id */
export async function copyOf(studio: TestServer, words: string): Promise<string> {
  const of = await finishNamed(studio, words);
  return (await studio.call<{ id: string }>('POST', `/api/finishes/${of}/duplicate`)).body.id;
}

/** A finish of its own from the sample of another one. */
export async function openCopyOf(
  page: Page,
  studio: TestServer,
  words: string,
  name: string,
): Promise<string> {
  const of = await studio.call<{ samples: { id: string }[]; category: string }>(
    'GET',
    `/api/finishes/${await finishNamed(studio, words)}`,
  );
  const recipe = await draftOf(studio, await finishNamed(studio, words));
  const { body } = await studio.call<{ id: string }>('POST', '/api/finishes', {
    name,
    category: of.body.category,
    sampleIds: of.body.samples.map((s) => s.id),
    recipe,
  });
  await page.goto(`${studio.url}/bench/${body.id}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await openSection(page, 'Repeat');
  return body.id;
}
/** A repeat that is composed of copies is drawn. */
export const composed = (page: Page) =>
  page.getByText(/Cut from \d+ copies of the sample|Laid of \d+ boards/);
