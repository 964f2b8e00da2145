import { readFileSync, statSync } from 'node:fs';
import sharp, { type Sharp } from 'sharp';
import { linearToSrgb, srgbToLinear } from '@jossel/core/colour';
import { readLightList } from '@jossel/core/formats';
import { faultOfLights } from '@jossel/core/photometric';
import { leadGeometry, looksLike, recipeSchema } from '@jossel/core/finish';
import { capture } from '../standins/capture/capture';
import { benchSample } from '../standins/capture/samples';
import { CAREFUL_RIG, captureUnderLights } from '../standins/light-rig/rig';
import { surfaceOf } from '../standins/physical/surface';
import { DEMO_CAPTURES } from './captures';
import { DEMO_LIGHT_SETS } from './light-sets';
import { photograph } from './photograph';
import { DEMO_SAMPLES } from './samples';
import { recipeOfDemo } from './finish';
import { DEMO_FINISHES, DEMO_GENERATED, DEMO_PROJECTS } from './studio';

test.each(DEMO_SAMPLES.map((s) => [s.file, s] as const))(
  '%s is what the script makes',
  async (file, sample) => {
    // Drawn at a fifth of the size and compared with the committed picture scaled down: the same picture, area by area.
    const again = photograph(await sample.sample.make(sample.pxPerMm / 5), sample.camera);
    const grid = 12;
    const shrink = async (input: Sharp) =>
      (await input.resize(grid, grid, { fit: 'fill', kernel: 'cubic' }).removeAlpha().raw().toBuffer()).map(
        Number,
      );
    const committed = await shrink(sharp(`demo/samples/${file}`));
    const made = await shrink(
      sharp(again.pixels, { raw: { width: again.widthPx, height: again.heightPx, channels: 3 } }),
    );
    const difference = committed.reduce((sum, v, i) => sum + Math.abs(v - made[i]!), 0) / committed.length;
    expect(difference).toBeLessThan(12);
  },
);

test('all pictures together stay below 12 MB', () => {
  expect(DEMO_SAMPLES.reduce((sum, s) => sum + statSync(`demo/samples/${s.file}`).size, 0)).toBeLessThan(
    12 * 1024 * 1024,
  );
});

test('every demo finish is a valid recipe of a picture that is there', () => {
  for (const finish of DEMO_FINISHES) {
    expect([...DEMO_SAMPLES, ...DEMO_CAPTURES].map((s) => s.file)).toContain(finish.file);
    expect(() =>
      recipeSchema.parse(recipeOfDemo(finish, { id: 'x', widthPx: 1000, heightPx: 800 })),
    ).not.toThrow();
  }
});

test.each(DEMO_LIGHT_SETS.map((set) => [set.name, set] as const))(
  '%s: its pictures are those of its list, and its frame is where the sample lies',
  async (_, { files, rig, frame, overallMm }) => {
    const lights = readLightList(readFileSync(`demo/samples/${files}.json`, 'utf8'));
    expect(faultOfLights(lights.map(({ light }) => light))).toBeNull();
    for (const { file } of lights) expect(statSync(`demo/samples/${file}`).size).toBeLessThan(300_000);
    const { sampleId, ...settings } = rig;
    const surface = await surfaceOf(sampleId, benchSample(sampleId)!, 0.2);
    const { truth } = captureUnderLights(surface, { ...CAREFUL_RIG, ...settings, widthPx: 200 });
    const { width, height } = truth.sampleMm;
    expect(width - overallMm.width).toBeLessThan(3);
    expect(height - overallMm.height).toBeLessThan(3);
    frame.forEach((corner, k) => {
      const [x, y] = truth.sampleCorners[k]!;
      // Marked within 1.5 mm of the corner of the sample.
      expect(Math.abs(corner[0] - x)).toBeLessThan(1.5 / width);
      expect(Math.abs(corner[1] - y)).toBeLessThan(1.5 / height);
    });
  },
);

test('every generated demo finish is a valid recipe', () => {
  for (const { name, recipe } of DEMO_GENERATED)
    expect({ name, faults: recipeSchema.safeParse(recipe()).error?.issues ?? [] }).toEqual({
      name,
      faults: [],
    });
});

test('the finish from the capture bench has the size that the bench knows, by card and by count alike', async () => {
  const finish = DEMO_FINISHES.find((f) => f.file === DEMO_CAPTURES[0]!.file)!;
  const { truth } = (await capture({ ...DEMO_CAPTURES[0]!.settings, widthPx: 200 }))!;
  const shape = { widthPx: 1800, heightPx: 1350, focalPx: truth.focalPx * 9 };
  const { size } = leadGeometry(recipeOfDemo(finish, { id: 'x', ...shape }), shape);
  expect(Math.abs(size.width.mm / truth.sampleMm.width - 1)).toBeLessThan(0.005);
  for (const claim of size.height.claims)
    expect(Math.abs(claim.mm / truth.sampleMm.height - 1)).toBeLessThan(0.006);
});

test('projects use finishes that exist, and two of them appear in both', () => {
  const used = DEMO_PROJECTS.map(
    (p) => new Set(p.rooms.flatMap((r) => r.surfaces.flatMap((s) => (s.finish ? [s.finish] : [])))),
  );
  for (const name of used.flatMap((u) => [...u])) expect(DEMO_FINISHES.map((f) => f.name)).toContain(name);
  expect([...used[0]!].filter((name) => used[1]!.has(name)).length).toBeGreaterThanOrEqual(2);
  expect(new Set(DEMO_FINISHES.map((f) => f.category)).size).toBeGreaterThanOrEqual(6);
});

test('a photograph of a flat grey shows that grey', () => {
  const n = 64 * 64;
  const grey = new Float32Array(n).fill(srgbToLinear(0.5));
  const plane = (v: number) => ({ widthPx: 64, heightPx: 64, data: new Float32Array(n).fill(v) });
  const shot = photograph(
    {
      widthMm: 64,
      heightMm: 64,
      colour: { widthPx: 64, heightPx: 64, r: grey, g: grey, b: grey },
      heightMmPlane: plane(0),
      glossGu: plane(5),
    },
    { lampDeg: 40, lampFromDeg: 90, ambient: 0.5, fallOff: 0, exposure: 1, noise: 0, seed: 1 },
  );
  expect(Math.abs(shot.pixels[3 * 2000]! / 255 - linearToSrgb(srgbToLinear(0.5)))).toBeLessThan(0.01);
});

test('what a picture shows is guessed from its pixels alone: most are right, few are wrong', async () => {
  const pictures = new Map(DEMO_FINISHES.map((f) => [f.file, f.category]));
  const guesses: string[] = [];
  for (const [file, category] of pictures) {
    if (!DEMO_SAMPLES.some((s) => s.file === file)) continue;
    const { data, info } = await sharp(`demo/samples/${file}`)
      .resize(900)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const channel = (k: number) =>
      Float32Array.from({ length: info.width * info.height }, (_, i) => srgbToLinear(data[3 * i + k]! / 255));
    const picture = {
      widthPx: info.width,
      heightPx: info.height,
      r: channel(0),
      g: channel(1),
      b: channel(2),
    };
    const guess = looksLike(picture);
    guesses.push(
      guess === null ? 'none' : guess.category === category ? 'right' : `${file}: ${guess.category}`,
    );
  }
  expect(guesses.filter((g) => g !== 'right').length).toBeLessThanOrEqual(1);
});
