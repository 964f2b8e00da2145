import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readColour } from '../colour';
import { generatedRecipe, openRecipe, renderFinish, sizeOfFinishMm, type Recipe } from '../finish';
import { NO_PICTURES, StageCache } from '../surface';
import { paintedFamily } from '../test-pictures';
import { figure } from '../units';
import {
  Canvas,
  familyOf,
  GENERATED_FAMILIES,
  initialGenerated,
  generateStage,
  type GeneratedSettings,
} from './index';

/** Laws that every family of generated finishes keeps. */

const KINDS = GENERATED_FAMILIES.map(({ kind }) => kind);

/** A family small enough to be drawn often. */
function small(kind: string): Recipe {
  const { repeatMm } = initialGenerated(kind);
  const scale = Math.min(1, 260 / Math.max(repeatMm.width, repeatMm.height));
  return generatedRecipe(kind, {
    repeatMm: { width: scale * repeatMm.width, height: scale * repeatMm.height },
  });
}

const painted = (kind: string, widthPx: number, seed = 1, version?: number) =>
  paintedFamily({ ...small(kind).generated!, seed }, widthPx, version);

function bytesOf({ colour: { r, g, b }, height, gloss }: Canvas): string {
  const hash = createHash('sha256');
  for (const { buffer, byteOffset, byteLength } of [r, g, b, height.data, gloss.data])
    hash.update(new Uint8Array(buffer, byteOffset, byteLength));
  return hash.digest('hex');
}

const render = async (recipe: Recipe, widthPx: number) =>
  renderFinish(recipe, NO_PICTURES, { widthPx, maps: ['colour', 'height', 'roughness'] });

test.each(KINDS)('%s is a valid recipe with its initial settings, and each is described', (kind) => {
  expect(() => openRecipe(JSON.parse(JSON.stringify(generatedRecipe(kind))))).not.toThrow();
  const { settings, headline } = familyOf(kind);
  for (const key of headline) expect(Object.keys(settings)).toContain(key);
  expect(headline.length).toBeGreaterThanOrEqual(3);
  expect(headline.length).toBeLessThanOrEqual(8);
  for (const setting of Object.values(settings)) expect(setting.about.length).toBeGreaterThan(5);
});

const goldenFile = (version: number) => join(__dirname, `golden-${version}.json`);
const VERSIONS = Array.from({ length: generateStage.version }, (_, k) => k + 1);

test.each(VERSIONS)(
  'what families paint in version %d of the stage is what was written down',
  async (version) => {
    const hashes: Record<string, string> = {};
    for (const kind of KINDS) hashes[kind] = bytesOf(await painted(kind, 96, 1, version)).slice(0, 16);
    if (process.env['WRITE_GOLDEN'] && version === generateStage.version)
      writeFileSync(goldenFile(version), `${JSON.stringify({ version, hashes }, null, 2)}\n`);
    // Other bytes of the same version: the version of the stage has to rise, and old ones to be kept through it.
    expect({ version, hashes }).toEqual(JSON.parse(readFileSync(goldenFile(version), 'utf8')));
  },
);

test.each(KINDS)(
  '%s comes to the same bytes for the same number, and to others for another one',
  async (kind) => {
    const one = bytesOf(await painted(kind, 64));
    expect(bytesOf(await painted(kind, 64))).toBe(one);
    expect(bytesOf(await painted(kind, 64, 2))).not.toBe(one);
  },
);

/** Mean step of lightness between rows or columns, at the edge over which the repeat closes against those inside. */
function stepAtEdge({ colour, px }: Canvas, axis: 'x' | 'y'): number {
  const { width: w, height: h } = px;
  const level = (i: number) =>
    Math.cbrt(0.2126 * colour.r[i]! + 0.7152 * colour.g[i]! + 0.0722 * colour.b[i]!);
  const lines = axis === 'x' ? w : h;
  const across = axis === 'x' ? h : w;
  const steps = Array.from({ length: lines }, (_, k) => {
    let sum = 0;
    for (let n = 0; n < across; n++) {
      const next = (k + 1) % lines;
      sum +=
        axis === 'x'
          ? Math.abs(level(n * w + next) - level(n * w + k))
          : Math.abs(level(next * w + n) - level(k * w + n));
    }
    return sum;
  });
  // Boards, yarns and leaves end in lines of their own: the edge is one of the strongest lines inside, not stronger than all.
  const inside = steps.slice(0, -1).sort((a, b) => a - b);
  return steps.at(-1)! / Math.max(1e-9, inside.at(-1)!);
}

test.each(KINDS)('%s closes: its edges show no more than the strongest line inside', async (kind) => {
  const canvas = await painted(kind, 240);
  expect(stepAtEdge(canvas, 'x')).toBeLessThan(1.15);
  expect(stepAtEdge(canvas, 'y')).toBeLessThan(1.15);
});

/** Settings of a kind with one figure at either end of its range, or another choice. */
function* extremes(kind: string): Generator<{ what: string; settings: GeneratedSettings }> {
  const { settings: described } = familyOf(kind);
  const start = small(kind).generated!;
  for (const [key, setting] of Object.entries(described)) {
    const put = (what: string, value: unknown) => ({
      what: `${setting.label} ${what}`,
      settings: { ...start, [key]: value },
    });
    if (setting.kind === 'figure')
      for (const v of [setting.least, setting.most])
        yield put(`${v} ${setting.unit}`, figure(v, setting.unit, 'assumed'));
    if (setting.kind === 'choice') for (const { value } of setting.options) yield put(value, value);
    if (setting.kind !== 'list') continue;
    for (const [inner, of] of Object.entries(setting.of))
      if (of.kind === 'figure')
        for (const v of [of.least, of.most]) {
          const [one, ...others] = start[key] as object[];
          yield put(`${of.label} ${v}`, [{ ...one, [inner]: figure(v, of.unit, 'assumed') }, ...others]);
        }
  }
}

test.each(KINDS)(
  '%s is a picture of numbers at either end of every setting, or says why not',
  async (kind) => {
    for (const { what, settings } of extremes(kind)) {
      try {
        const canvas = await paintedFamily(settings, 40);
        const { r, g, b } = canvas.colour;
        for (const data of [r, g, b, canvas.height.data, canvas.gloss.data])
          if (!data.every(Number.isFinite)) throw new Error('Not all of it is a number.');
      } catch (error) {
        // What cannot be says so in a sentence.
        expect({ what, name: (error as Error).name, says: (error as Error).message }).toEqual({
          what,
          name: expect.stringMatching(/^(RangeError|Refusal)$/),
          says: expect.stringMatching(/^[A-Z].{20,}\.$/),
        });
      }
    }
  },
);

test.each(KINDS)('%s has one colour at every number of pixels', async (kind) => {
  const at = async (px: number) => readColour((await painted(kind, px)).colour).shown.meanLab;
  const [draft, finer] = [await at(128), await at(384)];
  expect(Math.abs(draft[0] - finer[0])).toBeLessThan(1.2);
  expect(Math.hypot(draft[1] - finer[1], draft[2] - finer[2])).toBeLessThan(1.2);
});

test.each(KINDS)('%s has the reflectance and the gloss that were asked for', async (kind) => {
  const recipe = small(kind);
  const { response } = recipe;
  const asked = {
    ...recipe,
    colour: { ...recipe.colour, ruling: 'lrv' as const, lrv: figure(38, 'LRV', 'measured') },
    response: {
      ...response,
      base: { kind: 'dielectric' as const, index: figure(1.5, '1', 'assumed') },
      glossGu: figure(31, 'GU', 'measured'),
      parts: [],
    },
  };
  const { report } = await render(asked, 128);
  expect(Math.abs(report.lrv - 38)).toBeLessThan(0.5);
  if (report.glossSpread) expect(Math.abs(report.glossSpread.meanGu - 31)).toBeLessThan(1);
  else expect(report.glossGu).toBe(31);
});

test('numbers that cannot be are refused with their range', () => {
  const refused = (kind: string, settings: object) => {
    try {
      openRecipe(JSON.parse(JSON.stringify(generatedRecipe(kind, settings))));
      return '';
    } catch (error) {
      return (error as { issues: { message: string }[] }).issues[0]!.message;
    }
  };
  expect(refused('timber', { ringsPerCm: figure(0, '1/cm', 'assumed') })).toMatch(
    /Annual rings: between 0\.5 and 25 1\/cm/,
  );
  expect(refused('cloth', { warpPerCm: figure(0, '1/cm', 'assumed') })).toMatch(/Warp threads: between/);
  expect(refused('cloth', { warpOrder: 'A?B' })).toMatch(/"\?" names no yarn/);
  expect(refused('terrazzo', { stones: [] })).toMatch(/Stones: at least 1/);
  expect(refused('marble', { repeatMm: { width: 2, height: 100 } })).toMatch(/at least 5 mm/);
  expect(() => generatedRecipe('velvet')).toThrow(/Nothing is generated as "velvet". There are terrazzo,/);
});

test('more than can be made is refused with the setting that would help', async () => {
  const said = async (kind: string, settings: object) => {
    const recipe = generatedRecipe(kind, { repeatMm: { width: 20000, height: 20000 }, ...settings });
    return render(recipe, 16).then(
      () => '',
      (error: Error) => `${error.name}: ${error.message}`,
    );
  };
  expect(await said('cloth', {})).toMatch(
    /Refusal: .*at most 1 million crossings are woven. Make the repeat smaller/,
  );
  expect(await said('hide', { grainMm: figure(0.3, 'mm', 'assumed') })).toMatch(/Refusal: .*million cells/);
  expect(await said('concrete', { holesPerM2: figure(20000, '1/m²', 'assumed') })).toMatch(
    /8\.\d+ million blowholes/,
  );
  expect(await said('timber', { cut: 'end', leafMm: figure(15, 'mm', 'assumed') })).toMatch(
    /each of its own log/,
  );
  expect(await said('concrete', { tieMm: figure(0.1, 'mm', 'assumed') })).toMatch(
    /Tie holes are 22 mm wide and cannot be 0\.1 mm apart\. Give at least 50 mm/,
  );
  expect(await said('terrazzo', {})).toMatch(/at most 120 000 can be packed/);
});

test('the size of a layout of leaves is that of its pieces, and every piece is one leaf', async () => {
  const recipe = generatedRecipe('timber', {
    cut: 'end',
    leafMm: figure(60, 'mm', 'published'),
    repeatMm: { width: 240, height: 240 },
  });
  expect(await sizeOfFinishMm(recipe, NO_PICTURES)).toEqual({ width: 240, height: 240 });
});

test('what is packed follows every figure of a stone, and no colour', async () => {
  const recipe = small('terrazzo');
  const cache = new StageCache();
  const drawn = async (change: object) => {
    const generated = JSON.parse(JSON.stringify(recipe.generated)) as { stones: object[] };
    Object.assign(generated.stones[0]!, change);
    const { maps } = await renderFinish({ ...recipe, generated: generated as never }, NO_PICTURES, {
      widthPx: 96,
      maps: ['part'],
      cache,
    });
    return Uint8Array.from(maps.part as Uint8Array);
  };
  const before = await drawn({});
  expect(await drawn({ lab: { lab: [20, 0, 0], basis: 'measured' } })).toEqual(before);
  expect(await drawn({ sharePercent: figure(10, '%', 'measured') })).not.toEqual(before);
  expect(await drawn({ mostMm: figure(10, 'mm', 'measured') })).not.toEqual(before);
});

/** Mean weight of a part of a family of some settings, in percent. */
async function shareOf(kind: string, part: string, change: object, widthPx = 400): Promise<number> {
  const canvas = await paintedFamily({ ...initialGenerated(kind), ...change }, widthPx);
  const { data } = canvas.parts.get(part)!;
  return (100 * data.reduce((sum, v) => sum + v, 0)) / data.length;
}

describe('a share of the face that is asked for is covered', () => {
  const percent = (value: number) => figure(value, '%', 'published');
  test.each(['rolled', 'galvanised', 'scale', 'rusted', 'peened'])('%s metal', async (surface) => {
    for (const asked of [0, 12, 55, 93, 100])
      expect(
        Math.abs((await shareOf('sheet-metal', 'cover', { surface, coverPercent: percent(asked) })) - asked),
      ).toBeLessThan(0.5);
  });

  test.each([
    ['limestone', 'pore', 'porePercent', [1.5, 5, 15], 1],
    ['linoleum', 'second', 'secondPercent', [10, 30, 60], 2],
    ['granite', 'dark', 'darkPercent', [5, 14, 40], 2],
  ] as const)('%s, its part %s', async (kind, part, setting, shares, within) => {
    const repeatMm = { width: 300, height: 200 };
    for (const asked of shares)
      expect(
        Math.abs((await shareOf(kind, part, { repeatMm, [setting]: percent(asked) })) - asked),
      ).toBeLessThan(within);
  });
});

test('minerals of a granite that are asked for on more than its face are pointed out', () => {
  const { checks } = familyOf('granite');
  const percent = (value: number) => figure(value, '%', 'published');
  const said = (second: number, dark: number) =>
    checks!(
      { ...initialGenerated('granite'), secondPercent: percent(second), darkPercent: percent(dark) } as never,
      { width: 300, height: 300 },
      undefined,
    ).map(({ code }) => code);
  expect(said(60, 40)).toEqual([]);
  expect(said(60, 55)).toEqual(['minerals-over-face']);
});
