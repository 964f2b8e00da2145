import { brickwork, rgb } from '../../test-pictures';
import { fractalNoise, makeColourPicture, type ColourPicture } from '../../raster';
import { contrastSensitivity, findTelltales, hull, repetitionSeen, wavesOf } from './index';

/** A grainy surface that closes on both edges. */
function grainy(w: number, h: number, seed = 1): ColourPicture {
  const p = makeColourPicture(w, h);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [i % w, Math.floor(i / w)];
    const v = 0.3 + 0.04 * fractalNoise(x / w, y / h, 32, 32, 3, 0.6, seed);
    p.r[i] = v * 1.05;
    p.g[i] = v;
    p.b[i] = v * 0.9;
  }
  return p;
}
/** Something that does not belong there, round, over the edge as well. */
function blot(
  p: ColourPicture,
  x: number,
  y: number,
  radius: number,
  factor: readonly [number, number, number],
) {
  const { widthPx: w, heightPx: h } = p;
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      if (Math.hypot(u, v) > radius) continue;
      const i = ((y + v + h) % h) * w + ((x + u + w) % w);
      for (const [c, name] of (['r', 'g', 'b'] as const).entries()) p[name][i]! *= factor[c]!;
    }
}

describe('telltales', () => {
  test('three blots are found where they are, of the right size, the most conspicuous first', () => {
    const p = grainy(400, 300);
    blot(p, 90, 80, 16, [0.7, 0.7, 0.7]);
    blot(p, 300, 210, 11, [0.8, 0.8, 0.8]);
    // A stain of the same lightness, over the edge.
    blot(p, 398, 150, 12, [1.3, 0.93, 0.75]);
    const found = findTelltales(p);
    const at = ([x, y]: readonly [number, number]) =>
      found.findIndex((g) => Math.hypot(g.at[0] * 400 - x, g.at[1] * 300 - y) < 5);
    expect(at([90, 80])).toBe(0);
    expect(at([300, 210])).toBeGreaterThan(0);
    expect(at([398, 150])).toBeGreaterThan(0);
    expect(found).toHaveLength(3);
    const first = found[0]!;
    expect(first.share * 400 * 300).toBeGreaterThan(0.6 * Math.PI * 16 * 16);
    expect(first.share * 400 * 300).toBeLessThan(1.7 * Math.PI * 16 * 16);
    expect(first.differs[0]).toBeLessThan(-6);
    const stain = found[at([398, 150])]!;
    expect(Math.hypot(stain.differs[1], stain.differs[2])).toBeGreaterThan(Math.abs(stain.differs[0]));
  });

  test('a surface without any has none, whatever its chance', () => {
    for (const seed of [1, 2, 3, 4]) expect(findTelltales(grainy(300, 260, seed)).length).toBeLessThan(2);
  });

  test('where chips lie everywhere no chip is out; one much larger is', () => {
    const p = grainy(400, 300);
    for (let k = 0; k < 90; k++) blot(p, (k * 137) % 400, (k * 89) % 300, 5, [0.6, 0.6, 0.6]);
    expect(findTelltales(p).filter((g) => g.contrast > 8)).toEqual([]);
    blot(p, 200, 150, 15, [0.6, 0.6, 0.6]);
    const [first] = findTelltales(p);
    expect(Math.hypot(first!.at[0] * 400 - 200, first!.at[1] * 300 - 150)).toBeLessThan(8);
  });

  test('joints of a wall are none; a bloom on one brick is', () => {
    const { colour } = brickwork({
      widthMm: 900,
      heightMm: 600,
      pxPerMm: 0.5,
      seed: 3,
      brickWidthMm: 215,
      brickHeightMm: 65,
      jointMm: 10,
      shift: 0.5,
      strayMm: 0,
      clay: rgb('#a4553a'),
      burnt: rgb('#a4553a'),
      mortar: rgb('#b9b1a2'),
    });
    blot(colour, 220, 130, 10, [1.6, 1.9, 2.1]);
    const found = findTelltales(colour, { across: 4, up: 8, stagger: 0.5 });
    expect(found.some((g) => Math.hypot(g.at[0] * 450 - 220, g.at[1] * 300 - 130) < 8)).toBe(true);
    expect(found.length).toBeLessThan(10);
    for (const g of found) expect(g.share).toBeLessThan(0.05);
  });
});

test('the hull of points is their convex outline', () => {
  expect(
    hull([
      [0, 0],
      [4, 0],
      [2, 1],
      [4, 3],
      [0, 3],
      [1, 2],
    ]),
  ).toHaveLength(4);
});

describe('from how far it is seen', () => {
  const wave = (contrast: number, periods: number, n = 128) => {
    const p = makeColourPicture(n, n);
    for (let i = 0; i < p.r.length; i++)
      p.r[i] =
        p.g[i] =
        p.b[i] =
          0.4 * (1 + contrast * Math.sin((2 * Math.PI * periods * ((i % n) + 0.5)) / n));
    return p;
  };
  const repeatMm = { width: 1200, height: 1200 };

  test('sensitivity is that of the formula, worked out by hand', () => {
    expect(contrastSensitivity(5, 100, 10)).toBeCloseTo(586, -1);
    // Highest at a few cycles per degree, next to nothing at fifty.
    const peak = contrastSensitivity(3, 100, 10);
    expect(peak).toBeGreaterThan(contrastSensitivity(0.5, 100, 10));
    expect(peak).toBeGreaterThan(50 * contrastSensitivity(50, 100, 10));
    expect(contrastSensitivity(5, 1, 10)).toBeLessThan(contrastSensitivity(5, 100, 10));
  });

  test('a wave is found with its contrast and length', () => {
    const waves = wavesOf(wave(0.06, 3), repeatMm).filter((w) => w.contrast > 0.001);
    expect(waves).toHaveLength(1);
    expect(waves[0]).toMatchObject({ across: 3, up: 0, lengthMm: 400 });
    expect(waves[0]!.contrast).toBeCloseTo(0.06, 4);
  });

  test('the farthest distance is where its contrast is just the threshold', () => {
    const seen = repetitionSeen(wave(0.004, 4), repeatMm, { fieldMm: 6000, luminance: 60 });
    const d = seen.farthestMm!;
    const deg = (mm: number) => (2 * Math.atan(mm / d / 2) * 180) / Math.PI;
    expect(0.004 * contrastSensitivity(1 / deg(300), 60, deg(6000))).toBeCloseTo(1, 1);
    const weaker = repetitionSeen(wave(0.002, 4), repeatMm, { fieldMm: 6000, luminance: 60 });
    expect(weaker.farthestMm!).toBeLessThan(d);
  });

  test('an even surface is not seen to repeat, nor is a structure by its own waves', () => {
    expect(repetitionSeen(wave(0, 1), repeatMm, { fieldMm: 6000, luminance: 60 }).farthestMm).toBeNull();
    const own = { fieldMm: 6000, luminance: 60, courses: { across: 4, up: 1 } };
    expect(repetitionSeen(wave(0.05, 4), repeatMm, own).farthestMm).toBeNull();
    expect(repetitionSeen(wave(0.05, 3), repeatMm, own).farthestMm).toBeGreaterThan(1000);
  });
});
