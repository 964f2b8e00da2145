import fc from 'fast-check';
import {
  ciede2000,
  labToXyz,
  linearToLab,
  linearToOklab,
  lrvOf,
  oklabToLinear,
  readColour,
  xyzToLinear,
  type Triple,
} from '../colour';
import {
  fractalNoise,
  makeColourPicture,
  makePlane,
  mean,
  seededRandom,
  type ColourPicture,
} from '../raster';
import { CARD_PATCHES, frameOfQuad, NO_BOW, type Quad } from '../straighten';
import {
  applyFills,
  calibrate,
  CARD_REFERENCE,
  cellsOf,
  correctByHand,
  factorForLrv,
  factorsForColour,
  findGlare,
  fineLight,
  fitGrey,
  fitLight,
  fitTarget,
  keepingMean,
  lightOver,
  matchReference,
  NO_HAND,
  NO_MATRIX,
  oklabSpread,
  paletteOf,
  surroundOf,
  timesChannels,
  withoutShading,
  type HandCorrection,
  type LightField,
  type SeenPatch,
} from './index';

const picture = (w: number, h: number, of: (u: number, v: number) => Triple): ColourPicture => {
  const p = makeColourPicture(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      [p.r[y * w + x], p.g[y * w + x], p.b[y * w + x]] = of((x + 0.5) / w, (y + 0.5) / h);
  return p;
};
const grain = (u: number, v: number) => 0.3 * (1 + 0.15 * fractalNoise(u, v, 40, 40, 2, 0.6, 5));
const FRAME_QUAD: Quad = [
  [0.15, 0.15],
  [0.85, 0.15],
  [0.85, 0.85],
  [0.15, 0.85],
];
const SHAPE = { widthPx: 400, heightPx: 400 };
const FRAME = frameOfQuad(SHAPE, NO_BOW, FRAME_QUAD);
/** A fall of 40 % over the picture, bent. */
const fall = (x: number, y: number) => 1 - 0.4 * (0.7 * x + 0.3 * y * y);
/** A finish within the frame, on a grey table, in that light. */
function photograph(finish: (u: number, v: number) => number): { whole: ColourPicture; part: ColourPicture } {
  const lit = (x: number, y: number): Triple => {
    const [u, v] = [(x - 0.15) / 0.7, (y - 0.15) / 0.7];
    const value = (u > 0 && u < 1 && v > 0 && v < 1 ? finish(u, v) : 0.2) * fall(x, y);
    return [value, value, value];
  };
  return {
    whole: picture(400, 400, lit),
    part: picture(240, 240, (u, v) => lit(0.15 + 0.7 * u, 0.15 + 0.7 * v)),
  };
}
/** How far the found light is from the true one over the frame, in percent, at its worst. */
function lightError(field: LightField): number {
  const over = lightOver(field, FRAME, 24, 24);
  const ratio = over.data.map((v, i) => {
    const [u, w] = [((i % 24) + 0.5) / 24, (Math.floor(i / 24) + 0.5) / 24];
    return v / fall(0.15 + 0.7 * u, 0.15 + 0.7 * w);
  });
  const middle = mean(ratio);
  return 100 * Math.max(...ratio.map((r) => Math.abs(r / middle - 1)));
}
const field = (coefficients: number[]): LightField => ({ coefficients, order: 3, offset: 0, fine: null });

describe('levelling', () => {
  test('a fall of 40 % over an even finish is found within 1 %, by the finish alone', () => {
    const { part } = photograph(grain);
    expect(
      lightError(field(fitLight({ surfaces: [cellsOf(part, FRAME, undefined)], known: [] }))),
    ).toBeLessThan(1);
  });

  test('boards that grow paler across are not taken for light when the table round them tells', () => {
    const boards = (u: number, v: number) => grain(u, v) * (0.6 + 0.15 * Math.floor(5 * v));
    const { part, whole } = photograph(boards);
    const cells = cellsOf(part, FRAME, undefined);
    const alone = fitLight({ surfaces: [cells], known: [] });
    const told = fitLight({ surfaces: [cells, surroundOf(whole, FRAME, [])], known: [] });
    expect(lightError(field(alone))).toBeGreaterThan(10);
    expect(lightError(field(told))).toBeLessThan(1.5);
  });

  test('keep-outs and clipped places are not judged by', () => {
    const { part } = photograph((u, v) => (u > 0.7 && v > 0.6 ? 3 : grain(u, v)));
    const dark = picture(240, 240, (u, v) => {
      const i = Math.floor(v * 240) * 240 + Math.floor(u * 240);
      const value = u < 0.25 ? 0.01 : Math.min(1, part.r[i]!);
      return [value, value, value];
    });
    const mask = makePlane(240, 240);
    for (let i = 0; i < mask.data.length; i++) if (i % 240 < 62) mask.data[i] = 1;
    const found = fitLight({ surfaces: [cellsOf(dark, FRAME, mask)], known: [] });
    // A third of the frame has to be guessed from the rest.
    expect(lightError(field(found))).toBeLessThan(6);
  });

  test('levelling keeps the mean and the finish’s own contrast', () => {
    const { part } = photograph(grain);
    const light = field(fitLight({ surfaces: [cellsOf(part, FRAME, undefined)], known: [] }));
    light.offset = keepingMean(part, lightOver(light, FRAME, 240, 240), undefined);
    const levelled = calibrate(
      part,
      { light, matrix: NO_MATRIX, report: { light: null, target: null, grey: null } },
      { levelling: null, fills: [] },
      FRAME,
      { x: 1, y: 1 },
    );
    expect(mean(levelled.g)).toBeCloseTo(mean(part.g), 4);
    // Local contrast: how the steps between pixels four apart scatter; a slope of light alone does not count.
    const contrast = ({ g }: ColourPicture) => {
      const steps: number[] = [];
      for (let y = 0; y < 240; y++)
        for (let x = 0; x < 236; x++) steps.push(Math.log(g[y * 240 + x + 4]! / g[y * 240 + x]!));
      const middle = steps.reduce((s, v) => s + v, 0) / steps.length;
      return Math.sqrt(steps.reduce((s, v) => s + (v - middle) ** 2, 0) / steps.length);
    };
    expect(Math.abs(contrast(levelled) / contrast(part) - 1)).toBeLessThan(0.03);
  });

  test('a radius evens out what the smooth surface cannot', () => {
    const band = picture(200, 200, (u, v) => {
      const y = grain(u, v) * (1 + 0.3 * Math.exp(-(((u - 0.3) / 0.06) ** 2)));
      return [y, y, y];
    });
    const flat = makePlane(200, 200, 1);
    const fine = fineLight(band, flat, undefined, 10);
    const column = (p: { data: Float32Array }, x: number) =>
      mean(Float32Array.from({ length: 200 }, (_, y) => p.data[y * 200 + x]!));
    expect(column(fine, 60) - column(fine, 150)).toBeGreaterThan(0.12);
  });

  test('too little to judge by is said', () => {
    expect(() => fitLight({ surfaces: [[]], known: [] })).toThrow(/Too little of the sample/);
  });

  test('shading is taken out where brightness changes alone, not where the colour changes too', () => {
    const shaded = picture(128, 128, (u) => {
      const k = 1 + 0.2 * Math.sin(2 * Math.PI * 16 * u);
      return [0.4 * k, 0.3 * k, 0.2 * k];
    });
    const grained = picture(128, 128, (u) => {
      const k = 0.2 * Math.sin(2 * Math.PI * 16 * u);
      return [0.4 * (1 + k), 0.3 * (1 - 0.3 * k), 0.2 * (1 - k)];
    });
    const spread = (p: ColourPicture) => {
      const m = mean(p.r);
      return Math.sqrt(mean(p.r.map((v) => (v / m - 1) ** 2)));
    };
    const less = (p: ColourPicture) =>
      spread(withoutShading(p, { shading: 0.7, shadingMm: 12 }, { x: 1, y: 1 })) / spread(p);
    expect(less(shaded)).toBeLessThan(0.5);
    expect(less(grained)).toBeGreaterThan(0.9);
  });
});

describe('the target card', () => {
  const random = seededRandom(3);
  /** The card through a camera: channels that mix, a yellow cast, half a stop too dark. */
  const seenBy = (mix: readonly Triple[], off = 0): SeenPatch[] =>
    CARD_PATCHES.map(({ name, lab }) => {
      const [r, g, b] = xyzToLinear(labToXyz(lab));
      return {
        name,
        at: [0.5, 0.5],
        clipped: 0,
        linear: mix.map(
          (m) => (m[0] * r + m[1] * g + m[2] * b) * (1 + 0.002 * random.normal()) + off,
        ) as never,
      };
    });
  const MIX: Triple[] = [
    [0.74, 0.1, 0.02],
    [0.04, 0.6, 0.06],
    [0.0, 0.08, 0.44],
  ];

  test('a camera that mixes its channels is undone, on patches that took no part as well', () => {
    const fit = fitTarget(seenBy(MIX), CARD_REFERENCE);
    expect(fit.meanError).toBeLessThan(0.6);
    expect(fit.expected.mean).toBeLessThan(0.8);
    expect(fit.expected.worst).toBeLessThan(3);
    expect(Math.max(...fit.patches.map((p) => p.before))).toBeGreaterThan(10);
    const others = fitTarget(seenBy(MIX), CARD_REFERENCE, ['A1', 'B3', 'C2', 'C5', 'Grey 3']);
    expect(others.patches.filter((p) => p.leftOut === 'by hand')).toHaveLength(5);
    for (const p of others.patches.filter((q) => q.leftOut)) expect(p.after).toBeLessThan(4);
  });

  test('an offset takes out stray light that a matrix alone cannot', () => {
    const seen = seenBy(MIX, 0.015);
    expect(fitTarget(seen, CARD_REFERENCE, [], true).meanError).toBeLessThan(
      0.5 * fitTarget(seen, CARD_REFERENCE).meanError,
    );
  });

  test('a patch with a reflex on it hardly moves the others, and is named the worst', () => {
    const seen = seenBy(MIX).map((p) =>
      p.name === 'B4' ? { ...p, linear: p.linear.map((v) => v + 0.3) as never } : p,
    );
    const fit = fitTarget(seen, CARD_REFERENCE);
    expect(fit.worst.name).toBe('B4');
    const rest = fit.patches.filter((p) => p.name !== 'B4');
    expect(rest.reduce((s, p) => s + p.after, 0) / rest.length).toBeLessThan(1.2);
  });

  test('too few patches are refused, with what is wrong', () => {
    expect(() => fitTarget(seenBy(MIX), CARD_REFERENCE.slice(0, 4))).toThrow(/Only 4 of the card/);
    expect(() =>
      fitTarget(
        seenBy(MIX).map((p) => ({ ...p, clipped: 1 })),
        CARD_REFERENCE,
      ),
    ).toThrow(/28 are clipped/);
  });

  test('a grey patch gives gains; on glare, on black and on a colour it is refused', () => {
    const { rows } = fitGrey([0.2, 0.16, 0.1], 0, 18);
    expect(rows[0][0] * 0.2).toBeCloseTo(0.18, 9);
    expect(rows[2][2] * 0.1).toBeCloseTo(0.18, 9);
    expect(() => fitGrey([1, 1, 1], 0.4, 18)).toThrow(/40 % of this patch is clipped/);
    expect(() => fitGrey([0.001, 0.001, 0.001], 0, 18)).toThrow(/black/);
    expect(() => fitGrey([0.6, 0.05, 0.05], 0, 18)).toThrow(/strong colour/);
  });
});

const positive = fc.double({ min: 0.02, max: 0.9, noNaN: true });
const anyPicture = fc
  .array(fc.tuple(positive, positive, positive), { minLength: 16, maxLength: 48 })
  .map((v): ColourPicture => ({
    widthPx: v.length,
    heightPx: 1,
    r: Float32Array.from(v, (p) => p[0]),
    g: Float32Array.from(v, (p) => p[1]),
    b: Float32Array.from(v, (p) => p[2]),
  }));

describe('matching', () => {
  test('Oklab goes there and back; white is L 1 without colour', () => {
    fc.assert(
      fc.property(positive, positive, positive, (r, g, b) => {
        const back = oklabToLinear(linearToOklab([r, g, b]));
        [r, g, b].forEach((v, k) => expect(back[k]).toBeCloseTo(v, 6));
      }),
    );
    const [L, a, b] = linearToOklab([1, 1, 1]);
    expect(L).toBeCloseTo(1, 6);
    expect(Math.hypot(a, b)).toBeLessThan(1e-5);
  });

  test('one factor brings the mean to a reflectance, and clipping is told', () => {
    fc.assert(
      fc.property(anyPicture, fc.double({ min: 1, max: 95, noNaN: true }), (p, lrv) => {
        const k = factorForLrv(readColour(p), lrv);
        const reading = readColour(timesChannels(p, [k, k, k]));
        expect(reading.lrv).toBeCloseTo(lrv, 3);
        expect(reading.clippedHigh * p.r.length).toBeCloseTo(
          p.r.filter((_, i) => Math.max(p.r[i]!, p.g[i]!, p.b[i]!) * k > 1.002).length,
          6,
        );
      }),
    );
  });

  test('factors per channel bring the mean in linear light to a colour', () => {
    fc.assert(
      fc.property(anyPicture, (p) => {
        const lab: Triple = [62, 8, 22];
        const matched = readColour(timesChannels(p, factorsForColour(readColour(p).meanLinear, lab)));
        expect(ciede2000(matched.meanLab, lab)).toBeLessThan(0.01);
      }),
    );
  });

  test('a colour outside the gamut is refused with a sentence that names the channel', () => {
    expect(() => factorsForColour([0.2, 0.2, 0.2], [60, -90, 20])).toThrow(/outside the sRGB gamut \(red/);
  });

  test('mean and spread of another picture are taken over, amplified no more than allowed', () => {
    fc.assert(
      fc.property(anyPicture, anyPicture, (p, other) => {
        const theirs = oklabSpread(other);
        const meanLinear = readColour(other).meanLinear;
        const matched = matchReference(p, {
          name: 'x',
          from: { kind: 'sample', id: 's' },
          meanLinear: [...meanLinear],
          spread: [...theirs.spread],
          takeSpread: 1,
          limit: 8,
        });
        readColour(matched).meanLinear.forEach((v, k) => expect(v).toBeCloseTo(meanLinear[k]!, 4));
        const still = matchReference(p, {
          name: 'x',
          from: { kind: 'sample', id: 's' },
          meanLinear: [...readColour(p).meanLinear],
          spread: [0.5, 0.5, 0.5],
          takeSpread: 1,
          limit: 1,
        });
        oklabSpread(still).spread.forEach((s, k) => expect(s).toBeCloseTo(oklabSpread(p).spread[k]!, 3));
      }),
      { numRuns: 40 },
    );
  });
});

describe('corrections by hand', () => {
  const hand = (change: Partial<HandCorrection>): HandCorrection => ({ ...NO_HAND, ...change });
  const one = { x: 1, y: 1 };
  test('with “keep reflectance” the reflectance stays, whatever else changes', () => {
    fc.assert(
      fc.property(
        anyPicture,
        fc.record({
          contrast: fc.double({ min: 0.3, max: 2, noNaN: true }),
          hueDeg: fc.double({ min: -60, max: 60, noNaN: true }),
          saturation: fc.double({ min: 0, max: 2, noNaN: true }),
        }),
        (p, change) => {
          const after = readColour(correctByHand(p, hand(change), one));
          expect(after.lrv).toBeCloseTo(readColour(p).lrv, 2);
        },
      ),
    );
  });

  test('each does its own: contrast the spread, saturation the chroma, hue the angle, tint a shift', () => {
    const p = picture(64, 64, (u, v) => {
      const k = 0.2 + 0.2 * u;
      return [k * 1.2, k, k * (0.6 + 0.2 * v)];
    });
    const free = (change: Partial<HandCorrection>) =>
      oklabSpread(correctByHand(p, hand({ ...change, keepReflectance: false }), one));
    const was = oklabSpread(p);
    expect(free({ contrast: 1.5 }).spread[0] / was.spread[0]).toBeCloseTo(1.5, 3);
    expect(free({ lightness: 5 }).mean[0] - was.mean[0]).toBeCloseTo(0.05, 4);
    expect(free({ saturation: 0 }).mean[2]).toBeCloseTo(0, 4);
    expect(free({ tint: [0, 3] }).mean[2] - was.mean[2]).toBeCloseTo(0.03, 4);
    const turned = free({ hueDeg: 90 }).mean;
    expect(turned[1]).toBeCloseTo(-was.mean[2], 4);
    expect(turned[2]).toBeCloseTo(was.mean[1], 4);
  });

  test('sharpness lifts fine detail and leaves the mean', () => {
    const p = picture(96, 96, (u) => {
      const k = 0.3 + 0.05 * Math.sin(2 * Math.PI * 24 * u);
      return [k, k, k];
    });
    const after = correctByHand(p, hand({ sharpness: 1, sharpMm: 6 }), one);
    expect(oklabSpread(after).spread[0]).toBeGreaterThan(1.5 * oklabSpread(p).spread[0]);
    expect(lrvOf(readColour(after).meanLinear)).toBeCloseTo(readColour(p).lrv, 2);
  });
});

describe('palette', () => {
  test('three colours come back with their shares', () => {
    const colours: Triple[] = [
      [0.5, 0.1, 0.08],
      [0.1, 0.2, 0.4],
      [0.7, 0.68, 0.6],
    ];
    const random = seededRandom(9);
    const p = picture(120, 100, (u) => {
      const c = colours[u < 0.5 ? 0 : u < 0.8 ? 1 : 2]!;
      return c.map((v) => v * (1 + 0.04 * random.normal())) as unknown as Triple;
    });
    const palette = paletteOf(p, 6);
    expect(palette).toHaveLength(3);
    palette.forEach((c, k) => {
      expect(c.share).toBeCloseTo([0.5, 0.3, 0.2][k]!, 2);
      expect(ciede2000(c.lab, linearToLab(colours[k]!))).toBeLessThan(1);
    });
  });
  test('a picture of one colour has one, however many are asked for', () => {
    expect(
      paletteOf(
        picture(30, 30, () => [0.3, 0.2, 0.1]),
        8,
      ),
    ).toHaveLength(1);
  });
});

describe('glare', () => {
  const warm = (u: number, v: number): Triple => {
    const k = grain(u, v);
    return [1.3 * k, k, 0.5 * k];
  };
  const withLamp = (radius: number, level = 1) =>
    picture(300, 300, (u, v) => {
      const d = Math.hypot(u - 0.6, v - 0.4) / radius;
      const w = level * Math.exp(-d * d);
      return warm(u, v).map((c) => Math.min(1, c + w)) as unknown as Triple;
    });
  const whole = frameOfQuad({ widthPx: 300, heightPx: 300 }, NO_BOW, [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ]);

  test('a mirrored lamp is found where it is, and a pale chip of the same brightness is not', () => {
    const [place, ...more] = findGlare(withLamp(0.04), whole);
    expect(more).toHaveLength(0);
    const xs = place!.points.map((p) => p[0]);
    const ys = place!.points.map((p) => p[1]);
    expect((Math.min(...xs) + Math.max(...xs)) / 2).toBeCloseTo(0.6, 1);
    expect((Math.min(...ys) + Math.max(...ys)) / 2).toBeCloseTo(0.4, 1);
    expect(place!.times).toBeGreaterThan(1.5);
    const chip = picture(300, 300, (u, v) =>
      Math.hypot(u - 0.6, v - 0.4) < 0.03
        ? (warm(u, v).map((c) => Math.min(0.95, 2.2 * c)) as unknown as Triple)
        : warm(u, v),
    );
    expect(findGlare(chip, whole)).toHaveLength(0);
    expect(findGlare(picture(300, 300, warm), whole)).toHaveLength(0);
  });

  test('a small place is filled from around: its mean and its grain become those of the finish', () => {
    const lit = withLamp(0.03);
    const [place] = findGlare(lit, whole);
    expect(place!.from).not.toBeNull();
    const filled = applyFills(lit, whole, [{ id: 'a', points: place!.points, from: place!.from! }]);
    const spot = (p: ColourPicture) => {
      const values: number[] = [];
      for (let y = 108; y < 132; y++) for (let x = 168; x < 192; x++) values.push(p.g[y * 300 + x]!);
      const m = values.reduce((a, b) => a + b, 0) / values.length;
      return { m, sd: Math.sqrt(values.reduce((a, v) => a + (v - m) ** 2, 0) / values.length) };
    };
    const truth = spot(picture(300, 300, warm));
    expect(spot(lit).m).toBeGreaterThan(1.3 * truth.m);
    expect(Math.abs(spot(filled).m / truth.m - 1)).toBeLessThan(0.08);
    expect(spot(filled).sd / truth.sd).toBeGreaterThan(0.6);
    expect(spot(filled).sd / truth.sd).toBeLessThan(1.6);
    // What lies elsewhere is untouched.
    expect(filled.g[10 * 300 + 10]).toBe(lit.g[10 * 300 + 10]);
  });
});
