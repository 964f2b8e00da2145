import fc from 'fast-check';
import { makeColourPicture, mapChannels, resample, seededRandom, type ColourPicture } from '../raster';
import {
  aspectOf,
  bowFactor,
  bowOfLines,
  compose,
  faultOfQuad,
  fitBow,
  frameOfQuad,
  framePx,
  frameBesideCard,
  CARD_MARKS_MM,
  invert,
  makeFrame,
  NO_BOW,
  project,
  solveHomography,
  toFrame,
  toPicture,
  turned,
  turnedAlong,
  UNIT_SQUARE,
  warp,
  warpLevel,
  withBow,
  withoutBow,
  type Point,
  type Quad,
} from './index';

const SHAPE = { widthPx: 1600, heightPx: 1200 };
const coordinate = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** Four corners that frame something: each strays within its own quarter. */
const anyQuad: fc.Arbitrary<Quad> = fc
  .tuple(
    fc.tuple(coordinate(0.02, 0.3), coordinate(0.02, 0.3)),
    fc.tuple(coordinate(0.7, 0.98), coordinate(0.02, 0.3)),
    fc.tuple(coordinate(0.7, 0.98), coordinate(0.7, 0.98)),
    fc.tuple(coordinate(0.02, 0.3), coordinate(0.7, 0.98)),
  )
  .map((q) => q as Quad);

describe('projective maps', () => {
  test('four pairs are met exactly, and the inverse leads back', () => {
    fc.assert(
      fc.property(anyQuad, coordinate(0, 1), coordinate(0, 1), (quad, u, v) => {
        const h = solveHomography(UNIT_SQUARE, quad);
        UNIT_SQUARE.forEach((p, i) => {
          const [x, y] = project(h, p);
          expect(Math.hypot(x - quad[i]![0], y - quad[i]![1])).toBeLessThan(1e-9);
        });
        const [bu, bv] = project(compose(invert(h), h), [u, v]);
        expect(Math.hypot(bu - u, bv - v)).toBeLessThan(1e-9);
      }),
    );
  });

  test('more than four pairs with noise are met on average: the error falls with their number', () => {
    const truth = solveHomography(UNIT_SQUARE, [
      [100, 80],
      [900, 140],
      [860, 700],
      [60, 640],
    ]);
    const errorWith = (n: number) => {
      const random = seededRandom(n);
      const from: Point[] = Array.from({ length: n }, () => [random.next(), random.next()]);
      const to = from.map((p): Point => {
        const [x, y] = project(truth, p);
        return [x + random.normal(), y + random.normal()];
      });
      const found = solveHomography(from, to);
      const [x, y] = project(found, [0.5, 0.5]);
      const [tx, ty] = project(truth, [0.5, 0.5]);
      return Math.hypot(x - tx, y - ty);
    };
    expect(errorWith(400)).toBeLessThan(0.25);
  });

  test('points on one line are refused', () => {
    expect(() =>
      solveHomography(UNIT_SQUARE, [
        [0, 0],
        [1, 1],
        [2, 2],
        [3, 3],
      ]),
    ).toThrow(/one line/);
  });
});

test.each([
  [
    'crossing edges',
    [
      [0.1, 0.1],
      [0.9, 0.1],
      [0.1, 0.9],
      [0.9, 0.9],
    ],
    /cross/,
  ],
  [
    'three on a line',
    [
      [0.1, 0.1],
      [0.5, 0.1],
      [0.9, 0.1],
      [0.1, 0.9],
    ],
    /one line/,
  ],
  [
    'two in one place',
    [
      [0.1, 0.1],
      [0.1, 0.1],
      [0.9, 0.9],
      [0.1, 0.9],
    ],
    /one place/,
  ],
  [
    'one inside the others',
    [
      [0.1, 0.1],
      [0.9, 0.1],
      [0.3, 0.3],
      [0.1, 0.9],
    ],
    /inside the other three/,
  ],
  [
    'the wrong way round',
    [
      [0.1, 0.1],
      [0.1, 0.9],
      [0.9, 0.9],
      [0.9, 0.1],
    ],
    /mirror/,
  ],
  [
    'far outside',
    [
      [0.1, 0.1],
      [5, 0.1],
      [0.9, 0.9],
      [0.1, 0.9],
    ],
    /outside/,
  ],
] as [string, Quad, RegExp][])('%s frame nothing, and it is said why', (_name, quad, sentence) => {
  expect(faultOfQuad(quad)).toMatch(sentence);
  expect(() => frameOfQuad(SHAPE, NO_BOW, quad)).toThrow(sentence);
});

describe('bow of the lens', () => {
  const k1 = coordinate(-0.12, 0.12);
  test('taking bow out and putting it in again leads back', () => {
    fc.assert(
      fc.property(k1, coordinate(-0.8, 0.8), coordinate(-0.6, 0.6), (k, x, y) => {
        const bow = { k1: k, k2: k / 5 };
        const [bx, by] = withBow(bow, withoutBow(bow, [x, y]));
        expect(Math.hypot(bx - x, by - y)).toBeLessThan(1e-9);
        expect(bowFactor(bow, 0)).toBe(1);
      }),
    );
  });

  test('edges that are straight in reality give it back', () => {
    fc.assert(
      fc.property(k1, (k) => {
        const truth = { k1: k, k2: 0 };
        // Three straight edges, seen through the lens.
        const edge = (a: Point, b: Point) =>
          Array.from({ length: 9 }, (_, i): Point => {
            const t = i / 8;
            return withBow(truth, [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t]);
          });
        const { bow, after } = fitBow([
          edge([-0.75, -0.5], [0.75, -0.52]),
          edge([-0.7, 0.5], [0.72, 0.48]),
          edge([-0.72, -0.5], [-0.7, 0.5]),
        ]);
        expect(bow.k1).toBeCloseTo(k, 3);
        expect(after).toBeLessThan(1e-5);
      }),
    );
  });

  test.each([
    [
      'two points',
      [
        [
          [0.1, 0.1],
          [0.9, 0.1],
        ],
      ],
      /three points/,
    ],
    [
      'a line of no extent',
      [
        [
          [0.5, 0.5],
          [0.501, 0.5],
          [0.502, 0.5],
        ],
      ],
      /too short/,
    ],
    [
      'points all over the place',
      [
        [
          [0.05, 0.05],
          [0.5, 0.9],
          [0.95, 0.05],
        ],
      ],
      /No lens bows this much/,
    ],
  ] as [string, Point[][], RegExp][])('%s is refused', (_name, lines, sentence) => {
    expect(() => bowOfLines(SHAPE, lines)).toThrow(sentence);
  });
});

describe('frames', () => {
  test('places go to the picture and back, whatever bow and corners', () => {
    fc.assert(
      fc.property(anyQuad, coordinate(-0.1, 0.1), coordinate(0, 1), coordinate(0, 1), (quad, k1, u, v) => {
        const frame = frameOfQuad(SHAPE, { k1, k2: 0 }, quad);
        const [bu, bv] = toFrame(frame, toPicture(frame, [u, v]));
        expect(Math.hypot(bu - u, bv - v)).toBeLessThan(1e-7);
      }),
    );
  });

  /** Corners of a rectangle of known proportions on a tilted plane, seen by a camera of known focal length. */
  function seen(ratio: number, tiltDeg: number, panDeg: number, focalPx: number): Quad {
    const [t, p] = [tiltDeg, panDeg].map((d) => (d * Math.PI) / 180) as [number, number];
    return UNIT_SQUARE.map(([u, v]) => {
      const [x, y] = [(u - 0.5) * ratio, v - 0.5];
      const [x1, z1] = [x * Math.cos(p), x * Math.sin(p)];
      const [y2, z2] = [y * Math.cos(t) - z1 * Math.sin(t), y * Math.sin(t) + z1 * Math.cos(t)];
      const depth = 3 + z2;
      return [0.5 + (focalPx * x1) / depth / SHAPE.widthPx, 0.5 + (focalPx * y2) / depth / SHAPE.heightPx];
    }) as unknown as Quad;
  }

  test('with the focal length the true proportions come out, at any tilt', () => {
    fc.assert(
      fc.property(
        coordinate(0.4, 2),
        coordinate(-40, 40),
        coordinate(-40, 40),
        coordinate(1200, 3000),
        (ratio, tilt, pan, focalPx) => {
          const frame = frameOfQuad({ ...SHAPE, focalPx }, NO_BOW, seen(ratio, tilt, pan, focalPx));
          expect(frame.aspect.ratio / ratio).toBeCloseTo(1, 4);
        },
      ),
    );
  });

  test('without it they come from the perspective where that is strong on both axes', () => {
    const frame = frameOfQuad(SHAPE, NO_BOW, seen(1.5, 32, 28, 1700));
    expect(frame.aspect.by).toBe('perspective');
    expect(frame.aspect.ratio / 1.5).toBeCloseTo(1, 3);
    const weak = frameOfQuad(SHAPE, NO_BOW, seen(1.5, 24, 0, 1700));
    expect(weak.aspect.by).toBe('ordinary lens');
    expect(Math.abs(weak.aspect.ratio / 1.5 - 1)).toBeLessThan(0.05);
    expect(aspectOf(solveHomography(UNIT_SQUARE, UNIT_SQUARE), 2).by).toBe('parallel');
  });

  test('four quarter turns lead back, one brings the bottom left corner to the top left', () => {
    const quad: Quad = [
      [0.1, 0.2],
      [0.8, 0.15],
      [0.9, 0.9],
      [0.12, 0.85],
    ];
    expect(turned(turned(quad, 1), 3)).toEqual(quad);
    expect(turned(quad, 1)[0]).toEqual(quad[3]);
    expect(faultOfQuad(turned(quad, 2))).toBeNull();
  });

  test('turned along a line, the line runs level in the frame', () => {
    const frame = makeFrame(SHAPE, {
      bowLines: [],
      frame: turnedAlong(SHAPE, UNIT_SQUARE, [0.2, 0.5], [0.8, 0.56]),
    });
    const [a, b] = [toFrame(frame, [0.2, 0.5]), toFrame(frame, [0.8, 0.56])];
    expect(b[1]).toBeCloseTo(a[1], 6);
    expect(() => turnedAlong(SHAPE, UNIT_SQUARE, [0.5, 0.5], [0.5, 0.5])).toThrow(/too short/);
  });

  test('the frame that a card gives stands straight with the card and leaves it out', () => {
    // A card seen a little turned, at the right of the picture.
    const at = (u: number, v: number): Point => [
      0.74 + (u * 0.16) / 120 + v * 0.0004,
      0.4 + (v * 0.15) / 80 - u * 0.0003,
    ];
    const marks = CARD_MARKS_MM.map(([u, v]) => at(u, v));
    const quad = frameBesideCard(SHAPE, NO_BOW, marks, CARD_MARKS_MM);
    expect(faultOfQuad(quad)).toBeNull();
    const frame = frameOfQuad(SHAPE, NO_BOW, quad);
    const [a, b] = [toFrame(frame, at(9, 9)), toFrame(frame, at(111, 9))];
    expect(Math.abs(a[1] - b[1])).toBeLessThan(0.01);
    const [x] = toFrame(frame, at(60, 40));
    expect(x > 1 || x < 0).toBe(true);
  });
});

/** A soft pattern whose value at any place is known. */
const pattern = (x: number, y: number) => 0.5 + 0.2 * Math.sin(x * 21) + 0.2 * Math.cos(y * 17 + x * 5);
function patterned(w: number, h: number): ColourPicture {
  const p = makeColourPicture(w, h);
  for (let i = 0; i < p.r.length; i++)
    p.r[i] = p.g[i] = p.b[i] = pattern(((i % w) + 0.5) / w, (Math.floor(i / w) + 0.5) / h);
  return p;
}

describe('warping', () => {
  test('every pixel of a frame has the value of its place in the picture', () => {
    const frame = frameOfQuad(SHAPE, { k1: 0.05, k2: 0 }, [
      [0.15, 0.1],
      [0.85, 0.18],
      [0.92, 0.9],
      [0.1, 0.82],
    ]);
    const [w, h] = [700, 500];
    const source = patterned(SHAPE.widthPx, SHAPE.heightPx);
    const out = warp(source, warpLevel(frame, w, h), frame, w, h);
    let worst = 0;
    for (let y = 5; y < h; y += 37)
      for (let x = 5; x < w; x += 41) {
        const [px, py] = toPicture(frame, [(x + 0.5) / w, (y + 0.5) / h]);
        worst = Math.max(worst, Math.abs(out.g[y * w + x]! - pattern(px, py)));
      }
    expect(worst).toBeLessThan(0.002);
    expect(framePx(frame).across).toBeGreaterThan(1000);
  });

  test('shrinking leaves no alias of a pattern finer than the result can hold', () => {
    const fine = makeColourPicture(800, 600);
    for (let i = 0; i < fine.r.length; i++)
      fine.r[i] = fine.g[i] = fine.b[i] = 0.5 + 0.4 * (((i % 800) + Math.floor(i / 800)) % 2 ? 1 : -1);
    const frame = frameOfQuad({ widthPx: 800, heightPx: 600 }, NO_BOW, [
      [0.05, 0.05],
      [0.95, 0.06],
      [0.94, 0.95],
      [0.06, 0.93],
    ]);
    const out = warp(fine, 0, frame, 260, 190);
    expect(out.g.reduce((most, v) => Math.max(most, Math.abs(v - 0.5)), 0)).toBeLessThan(0.02);
  });

  test('what lies inside comes out the same, whether the edge of the picture is near or far', () => {
    const [inner, margin] = [200, 40];
    const outer = inner + 2 * margin;
    const random = seededRandom(8);
    const large = mapChannels(makeColourPicture(outer, outer), (p) => ({
      ...p,
      data: p.data.map(() => random.next()),
    }));
    const cut = { leftPx: margin, topPx: margin, stepX: 1, stepY: 1 };
    const small = mapChannels(large, (p) => resample(p, cut, inner, inner));
    // The frame reaches to the very edge of the small picture at its left, and nearly so on top.
    const corners: Quad = [
      [0, 0.01],
      [0.9, 0.1],
      [0.8, 0.95],
      [0.05, 0.8],
    ];
    const inLarge = corners.map(([x, y]) => [(x * inner + margin) / outer, (y * inner + margin) / outer]);
    const [w, h] = [180, 150];
    const ofSmall = warp(small, 0, frameOfQuad(small, NO_BOW, corners), w, h);
    const ofLarge = warp(large, 0, frameOfQuad(large, NO_BOW, inLarge as unknown as Quad), w, h);
    const beyond = [...ofSmall.b].filter((v, i) => Math.abs(v - ofLarge.b[i]!) > 1e-6);
    // Beside the edge the repeated pixels count; elsewhere places in the two differ by the rounding of a phase at most.
    expect(beyond.length).toBeGreaterThan(0);
    expect(beyond.length).toBeLessThan(0.03 * w * h);
  });

  test('rows made apart are the rows made together', () => {
    const frame = frameOfQuad(SHAPE, NO_BOW, [
      [0.1, 0.1],
      [0.9, 0.15],
      [0.85, 0.9],
      [0.12, 0.88],
    ]);
    const half = mapChannels(patterned(SHAPE.widthPx, SHAPE.heightPx), (p) =>
      resample(p, { leftPx: 0, topPx: 0, stepX: 1, stepY: 1 }, p.widthPx, p.heightPx),
    );
    const whole = warp(half, 0, frame, 300, 224);
    const lower = warp(half, 0, frame, 300, 224, { from: 96, to: 224 });
    expect(lower.g).toEqual(whole.g.subarray(96 * 300));
  });
});
