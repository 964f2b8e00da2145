import { checkStructureKept, planRepeat } from '../repeat';
import { NO_STRUCTURE, sizeKnownBy } from '../size';
import { figure } from '../units';
import { defaultRecipe, keptToCount, lead, leadGeometry, renderFinish, type Recipe } from './index';
import { makeColourPicture } from '../raster';
import type { Pictures } from '../surface';

const SAMPLE = { widthPx: 320, heightPx: 330 };

/** Eleven boards of 117 mm with joints of 3 mm, counted from joint to joint. */
function boards(change: (r: Recipe) => void = () => undefined): Recipe {
  const r = defaultRecipe(['s'], 'timber', SAMPLE);
  lead(r).size = sizeKnownBy({ overall: figure(1320, 'mm', 'measured', 1) }, 'follows');
  lead(r).size!.count.up = {
    modules: 11,
    moduleMm: figure(117, 'mm', 'published'),
    jointMm: 3,
    ends: 'joint',
    before: 0,
    after: 0,
  };
  lead(r).size!.ruling = { across: 'follows', up: 'count' };
  change(r);
  return r;
}
const found = (mm: number) => ({ period: mm / 1320, first: 100 / 1320 });
const PICTURES: Pictures = {
  data: async () => {
    throw new Error('No map is asked for here.');
  },
  info: async () => ({ ...SAMPLE, sha256: 'boards' }),
  level: async () => {
    const p = makeColourPicture(SAMPLE.widthPx, SAMPLE.heightPx);
    for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = 0.3 + 0.1 * ((i * 7919) % 17) * 0.06;
    return p;
  },
};

test('a count that is typed after a structure was taken over replaces its period', () => {
  const before = boards((r) => {
    lead(r).size!.count.up!.modules = 5;
    r.repeat.structure = { across: null, up: found(239.5), stagger: 0 };
  });
  const after = structuredClone(before);
  lead(after).size!.count.up!.modules = 11;
  const kept = keptToCount(before, after, SAMPLE);
  expect(kept.repeat.structure.up!.period).toBeCloseTo(1 / 11, 9);
  expect(planRepeat(kept.repeat, leadGeometry(kept, SAMPLE)).pitchMm.up).toBeCloseTo(120, 6);
  // What was not typed stays: a period that was doubled by hand is not taken back by another change.
  expect(keptToCount(after, structuredClone(after), SAMPLE).repeat).toEqual(after.repeat);
});

test('a structure against the count is said; whole modules are none', async () => {
  const codes = async (mm: number) =>
    (
      await renderFinish(
        boards((r) => {
          r.repeat.structure = { across: null, up: found(mm), stagger: 0 };
          r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 20 };
        }),
        PICTURES,
        { widthPx: 64 },
      )
    ).report.checks.map((c) => c.code);
  expect(await codes(170)).toContain('against-count-up');
  expect(await codes(240)).not.toContain('against-count-up');
});

test('a composed size that does not close is said with what closes', async () => {
  const r = boards((b) => {
    b.repeat.method = 'composed';
    b.repeat.structure = { across: null, up: found(120), stagger: 0 };
    b.repeat.composed = { ...b.repeat.composed, widthMm: 800, heightMm: 700 };
  });
  const { checks } = (await renderFinish(r, PICTURES, { widthPx: 64 })).report;
  const asked = checks.filter((c) => c.code.startsWith('asked-'));
  expect(asked.map((c) => c.text)).toEqual([
    'The repeat is 720\u2009mm high, not 700\u2009mm as asked: 6 whole periods.',
  ]);
});

test('a detected structure that the repeat cuts is pointed out, one that is kept or mirrored is not', () => {
  const structure = (mm: number) => ({
    ...NO_STRUCTURE,
    across: { period: mm / 1280, count: 1280 / mm, confidence: 0.8, first: 0 },
  });
  const cut = (mm: number, change: (r: Recipe) => void = () => undefined) => {
    const r = boards((b) => {
      b.repeat.across = b.repeat.up = { closing: 'abut', overlapMm: 0 };
      change(b);
    });
    const geometry = leadGeometry(r, SAMPLE);
    const frameMm = { width: geometry.size.width.mm, height: geometry.size.height.mm };
    return checkStructureKept(r.repeat, planRepeat(r.repeat, geometry), structure(mm), frameMm);
  };
  expect(cut(300)[0]).toMatchObject({ code: 'structure-cut-across', section: 'repeat', weight: 'open' });
  expect(cut(320)).toEqual([]);
  expect(cut(300, (r) => (r.repeat.across = { closing: 'mirror', overlapMm: 0 }))).toEqual([]);
});
