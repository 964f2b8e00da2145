import { generatedSizeMm, initialGenerated } from '../generate';
import { fractalNoise, makeColourPicture, type ColourPicture } from '../raster';
import { findStructure, NO_STRUCTURE } from '../size';
import { boardFloor, paintedFamily, rgb } from '../test-pictures';
import { figure } from '../units';
import {
  adviseRepeat,
  plainRepeat,
  structureToKeep,
  wholeBonds,
  withCounted,
  type RepeatSettings,
} from './index';

const axis = { closing: 'blend', overlapMm: 10 } as const;
const NOW: RepeatSettings = { ...plainRepeat(), across: axis, up: axis };
const advised = (picture: ColourPicture, widthMm: number, heightMm: number) =>
  adviseRepeat(picture, findStructure(picture), { width: widthMm, height: heightMm }, NOW).settings;

/** The left upper part of a picture, so that its edges do not meet. */
function part({ widthPx, r, g, b }: ColourPicture, w: number, h: number): ColourPicture {
  const cut = (data: Float32Array) =>
    Float32Array.from({ length: w * h }, (_, i) => data[Math.floor(i / w) * widthPx + (i % w)]!);
  return { widthPx: w, heightPx: h, r: cut(r), g: cut(g), b: cut(b) };
}

const noise = (w: number, h: number, cells: number, over = 997) => {
  const p = makeColourPicture(w, h);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [i % w, Math.floor(i / w)];
    p.r[i] = p.g[i] = p.b[i] = 0.3 + 0.08 * fractalNoise(x / over, y / over, cells, cells, 2, 0.5, 4);
  }
  return p;
};

/** Twill of two yarns, ten pixels to a mm. */
async function twill(): Promise<ColourPicture> {
  const settings = {
    ...initialGenerated('cloth'),
    weave: 'twill22',
    warpPerCm: figure(8, '1/cm', 'measured'),
    weftPerCm: figure(8, '1/cm', 'measured'),
    warpTex: figure(420, 'tex', 'measured'),
    weftTex: figure(420, 'tex', 'measured'),
    repeatMm: { width: 40, height: 40 },
  };
  return (await paintedFamily(settings, Math.round(10 * generatedSizeMm(settings).width))).colour;
}

describe('which way suits', () => {
  test('cloth keeps to its structure, as it is', async () => {
    const { method, across, structure, why } = advised(part(await twill(), 372, 365), 37.2, 36.5);
    expect(method).toBe('edges');
    expect(across.closing).toBe('cut');
    expect(structure.across).not.toBeNull();
    expect(structure.up).not.toBeNull();
    expect(why[0]).toMatch(/periods across, seen in \d+ % of the picture/);
  });

  test('boards, regular one way, are composed in step with their rows', () => {
    const boards = boardFloor({
      widthMm: 900,
      heightMm: 600,
      pxPerMm: 0.7,
      seed: 4,
      boardMm: 97,
      jointMm: 3,
      shortestMm: 300,
      longestMm: 900,
      early: rgb('#b39671'),
      late: rgb('#6b4f36'),
      ringPorous: true,
      knotsPerM2: 1,
    }).colour;
    const { method, structure } = advised(part(boards, 600, 400), 857, 571);
    expect(method).toBe('composed');
    expect(structure.across).toBeNull();
    expect(structure.up!.period * 571).toBeCloseTo(100, 0);
  });

  test('what closes by itself is laid edge to edge', () => {
    const closed = makeColourPicture(300, 300);
    for (let i = 0; i < closed.r.length; i++)
      for (const c of ['r', 'g', 'b'] as const)
        closed[c][i] =
          0.3 + 0.06 * fractalNoise((i % 300) / 300, Math.floor(i / 300) / 300, 30, 30, 3, 0.6, 8);
    const { across, up, why } = advised(closed, 300, 300);
    expect([across.closing, up.closing]).toEqual(['abut', 'abut']);
    expect(why[0]).toMatch(/closes by itself/);
  });

  test('fine grain is blended, long features are composed, an oblong scan becomes a square', () => {
    expect(advised(noise(320, 300, 140), 320, 300).across.closing).toBe('blend');
    expect(advised(noise(320, 300, 30), 320, 300).method).toBe('composed');
    const { method, composed } = advised(noise(400, 120, 110), 300, 90);
    expect(method).toBe('composed');
    expect(composed).toMatchObject({ widthMm: 300, heightMm: 300 });
  });

  test('light that falls off is said', () => {
    const p = noise(320, 300, 140);
    for (let i = 0; i < p.r.length; i++)
      for (const c of ['r', 'g', 'b'] as const) p[c][i]! *= 1 - 0.3 * ((i % 320) / 320);
    expect(advised(p, 320, 300).why.at(-1)).toMatch(/Opposite edges differ by [\d.]+ L\*/);
  });
});

test('a found shift is the usual one of a bond that it is near to', () => {
  const period = (p: number) => ({ period: p, count: 1 / p, confidence: 0.9, first: 0 });
  const kept = (stagger: number) =>
    structureToKeep({ ...NO_STRUCTURE, across: period(0.25), up: period(0.1), stagger });
  expect(kept(0.498)).toMatchObject({ up: { period: 0.1 }, stagger: 0.5 });
  expect(kept(0.251).stagger).toBe(0.25);
  expect(kept(0.985).stagger).toBe(0);
  expect(kept(0.44).stagger).toBe(0.44);
});

test('a twill is kept by the period of its draft, each yarn shifted by one against the last', async () => {
  const kept = structureToKeep(findStructure(await twill()));
  // A twill of four yarns, 1.25 mm each, over 40 mm.
  const yarns = (period: number) => (period * 40) / 1.25;
  expect(yarns(kept.across!.period)).toBeCloseTo(4, 1);
  expect(yarns(kept.up!.period)).toBeCloseTo(1, 1);
  expect([0.25, 0.75]).toContain(kept.stagger);
  // At edges the whole draft comes back.
  expect(yarns(wholeBonds(kept).up!.period)).toBeCloseTo(4, 1);
});

describe('what was counted is better known than what was found', () => {
  const period = (p: number, first = 0) => ({ period: p, count: 1 / p, confidence: 0.8, first });
  // Boards of 120 mm over 1320 mm, of which every second one looks alike.
  const BOARDS = {
    ...NO_STRUCTURE,
    up: period(239.5 / 1320, 0.15),
  };

  test('the count leads, and the conflict is said', () => {
    const { structure, differs } = withCounted(BOARDS, { across: null, up: 120 / 1320 });
    expect(structure.up!.count).toBeCloseTo(11, 9);
    expect(structure.up!.first).toBeCloseTo(0.15 - 120 / 1320, 9);
    expect(structure.across).toBeNull();
    expect(differs).toEqual([
      'Counted: 11 periods up. Detected: 5.5, each 2 times as long. The count is used.',
    ]);
  });

  test('a count that agrees is used without a word; a count alone makes a structure', () => {
    const agrees = withCounted(BOARDS, { across: null, up: 240 / 1320 });
    expect(agrees.differs).toEqual([]);
    expect(agrees.structure.up!.count).toBeCloseTo(5.5, 9);
    const alone = withCounted({ ...BOARDS, up: null }, { across: null, up: 120 / 1320 });
    expect(alone.structure.up).toMatchObject({ confidence: 1, first: 0 });
  });

  test('a shift goes along with the periods it is counted in', () => {
    const bond = { ...BOARDS, across: period(0.25), up: period(0.1), stagger: 0.25 };
    expect(withCounted(bond, { across: 0.125, up: null }).structure.stagger).toBeCloseTo(0.5, 9);
    expect(withCounted(bond, { across: null, up: 0.2 }).structure.stagger).toBeCloseTo(0.5, 9);
  });

  test('a method is suggested by the count', () => {
    const rows = noise(300, 330, 40);
    const { settings } = adviseRepeat(rows, BOARDS, { width: 1200, height: 1320 }, NOW, {
      across: null,
      up: 120 / 1320,
    });
    expect(settings.method).toBe('composed');
    expect(settings.structure.up!.period).toBeCloseTo(120 / 1320, 9);
    expect(settings.why[0]).toMatch(/The count is used/);
    expect(settings.why[1]).toMatch(/^Its periods were counted: 11 periods up/);
  });
});
