import sharp from 'sharp';
import { barriersOn, copyOf, type Places } from './hands';
import { expect, test } from './jossel';

test.use({ proofFolded: false });

test('the proof: forms, lights, exposure, refined when still, compared with another finish, saved with what it shows', async ({
  page,
  studio,
}) => {
  const id = await copyOf(studio, 'Glazed tile');
  await page.goto(`${studio.url}/bench/${id}?section=response`);
  const proof = page.getByRole('region', { name: 'Proof' });
  const choose = async (list: RegExp, option: string) => {
    await proof.getByRole('button', { name: list }).press('Enter');
    await page.getByRole('option', { name: option, exact: true }).press('Enter');
  };
  await expect(proof.getByRole('status')).toHaveText(/refined/);

  await choose(/Form$/, 'wall of a room');
  await expect(proof.getByText(/door 0\.9 × 2\.1 m/)).toBeVisible();
  await choose(/Light$/, 'window');
  await expect(proof.getByText('window 28° × 36° of 3 000 cd/m²')).toBeVisible();
  await expect(proof.getByRole('status')).toHaveText(/refined/);

  // Turned by keys, it is a draft again, and refined once it is still.
  const view = proof.getByRole('application');
  await view.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(proof.getByRole('status')).toHaveText(/draft/);
  await expect(proof.getByRole('status')).toHaveText(/refined/);
  // Dragging with Shift turns the light and not the view.
  const box = (await view.boundingBox())!;
  const azimuth = proof.getByRole('textbox', { name: 'Light azimuth, number' });
  await page.keyboard.down('Shift');
  await page.mouse.move(box.x + 100, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 100, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await expect(azimuth).toHaveValue('80');

  const alone = proof.getByRole('checkbox', { name: 'colour only, unlit' });
  await alone.press('Space');
  await expect(proof.getByRole('status')).toHaveText('colour, unlit');
  await alone.press('Space');

  await choose(/Compared with$/, 'Shell limestone, honed');
  await expect(proof.getByText(/ΔE₀₀ \d+/)).toBeVisible();
  const divider = proof.getByRole('slider', { name: 'Divider' });
  await divider.focus();
  for (let k = 0; k < 5; k++) await page.keyboard.press('ArrowLeft');
  await expect(divider).toHaveValue('0.45');
  expect(await barriersOn(page)).toEqual([]);

  await expect(proof.getByRole('button', { name: 'Save picture' })).toBeEnabled();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    proof.getByRole('button', { name: 'Save picture' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/room-wall-window\.png$/);
  await sidesDiffer(await download.path());
});

/** On the left of the divider the wall is of green tiles, on its right of pale stone. */
async function sidesDiffer(path: string): Promise<void> {
  const { data, info } = await sharp(path).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const at = ([u, v]: Places[number]) => {
    const k = 3 * (Math.floor(v * info.height) * info.width + Math.floor(u * info.width));
    return [data[k]!, data[k + 1]!, data[k + 2]!] as const;
  };
  const [tile, stone] = [at([0.36, 0.3]), at([0.6, 0.25])];
  expect(tile[1]).toBeGreaterThan(tile[0] + 15);
  expect(stone[0]).toBeGreaterThan(tile[0] + 40);
}

test('without WebGL the refined picture is made all the same, and turned by keys', async ({
  page,
  studio,
}) => {
  await page.addInitScript(() => {
    const real = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (
      this: HTMLCanvasElement,
      kind: string,
      ...rest: never[]
    ) {
      return kind.startsWith('webgl') ? null : real.call(this, kind as '2d', ...rest);
    } as typeof real;
  });
  const id = await copyOf(studio, 'Grey pane');
  await page.goto(`${studio.url}/bench/${id}?section=response`);
  const proof = page.getByRole('region', { name: 'Proof' });
  // Until the refined picture is there, what is missing is said.
  await expect(proof.getByRole('status')).toHaveText(/WebGL is not there/);
  await expect(proof.getByRole('status')).toHaveText(/refined/);
  const picture = proof.locator('canvas');
  const seen = () =>
    picture.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL()).catch(() => 'none yet');
  const before = await seen();
  await proof.getByRole('application').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => ![before, 'none yet'].includes(await seen())).toBe(true);
});
