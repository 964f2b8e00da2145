import { gzipSync } from 'node:zlib';
import { chromium, type Page } from 'playwright-core';
import { launchOptions } from '../e2e/browser';
import type { TestServer } from '../server/test/serve';

const median = (times: number[]) => `${times.sort((a, b) => a - b)[times.length >> 1]!.toFixed(0)} ms`;

/** What is felt in the page, with the demo studio loaded. */
export async function benchPage(
  server: TestServer,
  find: (words: string) => Promise<string>,
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  // In the browser: from the key to the frame in which the new picture stands.
  const browser = await chromium.launch(launchOptions);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // The code of the other places comes after the first view, and is not counted.
  await page.goto(`${server.url}/rack`);
  const loaded = await page.waitForFunction(() =>
    document.querySelector('h1')
      ? performance
          .getEntriesByType('resource')
          .map(({ name }) => name)
          .filter((name) => new URL(name).pathname.endsWith('.js'))
      : null,
  );
  const scripts = (await loaded.jsonValue())!;
  const sizes = await Promise.all(
    scripts.map(async (url) => gzipSync(await (await fetch(url)).arrayBuffer()).length),
  );
  print(
    'first view, gzipped script',
    `${(sizes.reduce((a, b) => a + b, 0) / 1024).toFixed(0)} kB`,
    '≤ 350 kB',
  );

  await page.goto(`${server.url}/bench/${await find('plaster, slate')}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await page.waitForTimeout(4000);
  for (const [section, label] of [
    ['Colour', 'Light reflectance value'],
    ['Relief', 'Depth'],
    ['Response', 'Gloss at 60°'],
  ] as const) {
    const head = page
      .getByRole('region', { name: 'Ledger' })
      .getByRole('button', { name: new RegExp(`^${section}`) });
    if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click();
    const field = page.getByRole('textbox', { name: label, exact: true });
    await field.focus();
    const times: number[] = [];
    for (let i = 0; i < 9; i++) {
      await page.waitForTimeout(3500);
      times.push(
        await field.evaluate(
          (input) =>
            new Promise<number>((resolve) => {
              const plate = document.querySelector('section[data-drawn]')!;
              const started = performance.now();
              const observer = new MutationObserver(() => {
                observer.disconnect();
                requestAnimationFrame(() =>
                  requestAnimationFrame(() => resolve(performance.now() - started)),
                );
              });
              observer.observe(plate, { attributes: true, attributeFilter: ['data-drawn'] });
              input.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));
            }),
        ),
      );
    }
    print(
      `draft 512 px, ${section.toLowerCase()} changed, key to screen in the browser`,
      median(times),
      '≤ 150 ms',
    );
  }
  await benchPlate(page, `${server.url}/bench/${await find('Glazed tile')}`, print);
  await benchProofTurned(page, `${server.url}/bench/${await find('Glazed tile')}`, print);
  // A slider of the corrections by hand: from the key to the frame in which the new picture stands.
  await page.goto(`${server.url}/bench/${await find('plaster, shell')}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await page.getByRole('button', { name: /^Colour/ }).click();
  await page.getByRole('radio', { name: 'hand', exact: true }).click();
  await page.getByRole('slider', { name: 'Contrast' }).focus();
  const slides: number[] = [];
  for (let i = 0; i < 11; i++) {
    await page.waitForTimeout(3500);
    await page.evaluate(() => {
      const plate = document.querySelector('section[data-drawn]')!;
      const box = window as unknown as { drawn: Promise<number> };
      box.drawn = new Promise((resolve) => {
        const observer = new MutationObserver(() => {
          observer.disconnect();
          requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now())));
        });
        observer.observe(plate, { attributes: true, attributeFilter: ['data-drawn'] });
      });
      document.addEventListener(
        'keydown',
        () => ((window as unknown as { pressed: number }).pressed = performance.now()),
        { capture: true, once: true },
      );
    });
    await page.keyboard.press('ArrowRight');
    slides.push(
      await page.evaluate(async () => {
        const box = window as unknown as { drawn: Promise<number>; pressed: number };
        return (await box.drawn) - box.pressed;
      }),
    );
  }
  print('a slider of colour by hand, 512 px, key to screen in the browser', median(slides), '≤ 100 ms');
  // A corner of the frame dragged: from the request for a draft to the picture on the page.
  await page.goto(`${server.url}/bench/${await find('Oak strips from')}`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await page.getByRole('button', { name: /^Sample/ }).click();
  await page.getByRole('radio', { name: 'straighten', exact: true }).click();
  await page.waitForTimeout(4000);
  const corner = (await page.getByRole('slider', { name: 'Frame, top left corner' }).boundingBox())!;
  await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
  await page.mouse.down();
  const drafts: number[] = [];
  for (let i = 1; i <= 15; i++) {
    await page.mouse.move(corner.x + corner.width / 2 + i, corner.y + corner.height / 2 - i / 2);
    await page.waitForTimeout(350);
    drafts.push(Number(await page.getByRole('region', { name: 'Straightened' }).getAttribute('data-ms')));
  }
  await page.mouse.up();
  print('straightening draft 512 px while dragging, in the browser', median(drafts.slice(3)), '≤ 150 ms');
  await browser.close();
}

/** Frames per second while forms of the proof are turned by keys, once they have drawn for some seconds. */
async function benchProofTurned(
  page: Page,
  address: string,
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  await page.goto(address);
  const form = page.getByRole('application', { name: /^The finish on a form/ });
  for (const name of ['panel', 'wall of a room']) {
    await form.waitFor();
    await page.getByRole('region', { name: 'Proof' }).getByRole('button', { name: /Form$/ }).click();
    await page.getByRole('option', { name, exact: true }).click();
    await page.waitForTimeout(20000);
    const rate = await form.evaluate(
      (view) =>
        new Promise<number>((resolve) => {
          let [frames, from] = [0, 0];
          const started = performance.now();
          const step = (now: number) => {
            // The first frames find out how many pixels can be drawn in time.
            if (now - started < 2000) from = now;
            else frames++;
            view.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
            if (now - started < 8000) return requestAnimationFrame(step);
            return resolve((1000 * frames) / (now - from));
          };
          requestAnimationFrame(step);
        }),
    );
    print(`proof turned, ${name}, frames per second with software rendering`, rate.toFixed(0), '≥ 30');
  }
}

/** Frames per second while the plate is moved and zoomed, three repeats each way, with a view that is filled. */
async function benchPlate(
  page: Page,
  address: string,
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  await page.goto(`${address}?repeats=3&scale=4`);
  await page.getByRole('slider', { name: 'Line A–A' }).waitFor();
  await page.waitForTimeout(12000);
  for (const how of ['moved', 'zoomed'] as const) {
    const rates: number[] = [];
    for (let run = 0; run < 3; run++)
      rates.push(
        await page.getByRole('group', { name: /^Flat view/ }).evaluate(
          (view, zooms) =>
            new Promise<number>((resolve) => {
              const { left, top } = view.getBoundingClientRect();
              const at = (k: number) => ({ clientX: left + 150 + (k % 100), clientY: top + 150 });
              const pointer = (type: string, k: number) =>
                view.dispatchEvent(
                  new PointerEvent(type, { bubbles: true, pointerId: 1, button: 0, ...at(k) }),
                );
              if (!zooms) pointer('pointerdown', 0);
              let frames = 0;
              const started = performance.now();
              const step = () => {
                frames++;
                const deltaY = frames % 60 < 30 ? -12 : 12;
                if (zooms)
                  view.dispatchEvent(
                    new WheelEvent('wheel', { bubbles: true, cancelable: true, deltaY, ...at(0) }),
                  );
                else pointer('pointermove', frames);
                if (performance.now() - started < 3000) return requestAnimationFrame(step);
                if (!zooms) pointer('pointerup', frames);
                return resolve((1000 * frames) / (performance.now() - started));
              };
              requestAnimationFrame(step);
            }),
          how === 'zoomed',
        ),
      );
    const middle = rates.sort((a, b) => a - b)[1]!;
    print(`plate ${how}, frames per second with software rendering`, middle.toFixed(0), '≥ 30');
  }
}
