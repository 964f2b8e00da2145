import { extent, seededRandom } from '../raster';
import { atOnce } from '../steps';
import { distinctNeighbours, wholeNumbers } from './blend';
import { BONDS } from './bonds';
import { pieceColours } from './colour';
import { coverOf, LOWER, UPPER } from './cover';
import { chooseFaces, type FaceArea } from './faces';
import { hatchOf } from './hatch';
import { jointHeightMm } from './joint-profile';
import { layPieces } from './lay';
import { boxOf, perimeterOf } from './polygon';
import { reachOf, reliefOfLayout } from './relief';
import { laidPlane } from './sampling';
import { initialLayout, type LayoutSettings } from './settings';
import { solveLayout } from './solved';
import { takeOffOf } from './take-off';

/** Layouts on pixels: sizes, joints, faces, blends, hatches. */

function wall(change: (s: LayoutSettings) => void = () => undefined): LayoutSettings {
  const settings = initialLayout('running');
  settings.repeatMm = { width: 900, height: 450 };
  change(settings);
  return settings;
}
const at = (value: number) => ({ value, unit: 'mm', basis: 'measured' }) as const;

test('pieces and joints on pixels are as wide as they were asked, within half a pixel', () => {
  const settings = wall();
  const geometry = layPieces(settings);
  for (const width of [300, 517, 900, 1803]) {
    const px = { width, height: Math.round(width / 2) };
    const { piece, distanceMm } = coverOf(geometry, px, reachOf(settings));
    // A row through the middle of a course, and a column through the middle of a brick.
    const runs = (count: number, index: (k: number) => number) => {
      const inside = Array.from({ length: count }, (_, k) =>
        distanceMm[index(k)]! >= 0 ? piece[index(k)]! : -1,
      );
      const lengths = new Map<number, number>();
      for (const id of inside) lengths.set(id, (lengths.get(id) ?? 0) + 1);
      return lengths;
    };
    const perMm = width / 900;
    const row = px.height - 1 - Math.floor((75 / 2) * perMm);
    const along = runs(px.width, (k) => row * px.width + k);
    expect(along.size).toBe(5);
    for (const [id, length] of along)
      // Half a pixel at each edge: of a brick two, of its four joints eight.
      expect(Math.abs(length - (id < 0 ? 4 * 10 : 215) * perMm)).toBeLessThanOrEqual(id < 0 ? 4 : 1);
  }
});

test('distances are those to the outline, and the side that is nearest is known', () => {
  const settings = wall();
  const geometry = layPieces(settings);
  const px = { width: 900, height: 450 };
  const { piece, distanceMm, side } = coverOf(geometry, px, { insideMm: 40, outsideMm: 8 });
  const { outline } = geometry.pieces[0]!;
  // First brick: 5 to 220 mm across, 5 to 70 mm up. Row and column of a place 12 mm in from its lower edge.
  expect(outline.map((p) => p.map(Math.round))).toEqual([
    [5, 5],
    [220, 5],
    [220, 70],
    [5, 70],
  ]);
  const index = (x: number, y: number) => (449 - y) * 900 + x;
  expect(piece[index(100, 17)]).toBe(0);
  expect(distanceMm[index(100, 17)]).toBeCloseTo(12.5, 5);
  expect(side[index(100, 17)]! & LOWER).toBe(LOWER);
  expect(side[index(100, 60)]! & UPPER).toBe(UPPER);
  // In the bed joint below it.
  expect(distanceMm[index(100, 2)]).toBeCloseTo(-2.5, 5);
});

test('joints have their profile: depth in the middle, nothing at the edge, weather-struck falls to the lower course', () => {
  for (const [profile, edge, middle] of [
    ['flush', 0, 0],
    ['recessed', -6, -6],
    ['v', 0, -6],
    ['bucket-handle', 0, -6],
  ] as const) {
    expect(jointHeightMm(profile, 0, UPPER, 6)).toBeCloseTo(edge);
    expect(jointHeightMm(profile, 1, UPPER, 6)).toBeCloseTo(middle);
  }
  // Below the upper course it is deepest, over the lower one it is level with the face.
  expect(jointHeightMm('weather-struck', 0, LOWER, 6)).toBeCloseTo(-6);
  expect(jointHeightMm('weather-struck', 0, UPPER, 6)).toBeCloseTo(0);

  const settings = wall((s) => {
    s.joint = { ...s.joint, profile: 'v', depthMm: at(4), grainMm: 0 };
  });
  const geometry = layPieces(settings);
  const cover = coverOf(geometry, { width: 1800, height: 900 }, reachOf(settings));
  const { data } = reliefOfLayout(geometry, cover, settings);
  const { min, max } = extent(data);
  expect(min).toBeCloseTo(-4, 0);
  expect(max).toBe(0);
});

test('a bevel of 3 mm falls by 3 mm to its edge; long sides alone leave the ends square', () => {
  const settings = wall((s) => {
    s.joint = { ...s.joint, alongMm: at(0), acrossMm: at(0), grainMm: 0 };
    s.arris = { ...s.arris, form: 'bevel', sizeMm: at(3), sides: 'long' };
  });
  const geometry = layPieces(settings);
  const px = { width: 2150, height: 1040 };
  const { repeatMm } = geometry;
  const cover = coverOf(geometry, px, reachOf(settings));
  const { data } = reliefOfLayout(geometry, cover, settings);
  const height = (xMm: number, yMm: number) =>
    data[
      Math.round(px.height - 0.5 - (yMm * px.height) / repeatMm.height) * px.width +
        Math.round((xMm * px.width) / repeatMm.width)
    ]!;
  expect(height(107, 1)).toBeCloseTo(-2, 0);
  expect(height(107, 2)).toBeCloseTo(-1, 0);
  expect(height(107, 32)).toBe(0);
  expect(height(1, 32)).toBe(0);
});

test('a blend has its shares to a piece, and no clumps', () => {
  const settings = wall((s) => {
    s.repeatMm = { width: 2250, height: 1500 };
    s.blend.others = [
      { id: 'a', name: 'A', share: 20, kind: null, lab: null, finish: null, shift: [-10, 0, 0] },
      { id: 'b', name: 'B', share: 2, kind: null, lab: null, finish: null, shift: [10, 0, 0] },
    ];
  });
  const { geometry, kindOf } = solveLayout(settings);
  const count = (k: number) => kindOf.filter((v) => v === k).length;
  expect(Math.abs(count(1) - 0.2 * kindOf.length)).toBeLessThanOrEqual(1);
  expect(Math.abs(count(2) - 0.02 * kindOf.length)).toBeLessThanOrEqual(1);
  // By chance alone, of 20 % more than a tenth of all pairs of that kind would touch.
  const touching = geometry.neighbours.filter(({ a, b }) => kindOf[a] === 1 && kindOf[b] === 1).length;
  expect(touching / count(1)).toBeLessThan(0.35);
  const { shares } = takeOffOf(geometry, kindOf, 3);
  expect(shares.reduce((sum, v) => sum + v, 0)).toBeCloseTo(1);
  expect(wholeNumbers([33.3, 33.3], 9)).toEqual([3, 3]);
  expect(wholeNumbers([50, 25], 6)).toEqual([3, 2]);
});

test('bands take whole courses; a border runs along the edges; kinds of the bond can have their own', () => {
  const others = (share: number, kind: string | null = null) => [
    {
      id: 'o',
      name: 'Other',
      share,
      kind,
      lab: null,
      finish: null,
      shift: [-9, 0, 0] as [number, number, number],
    },
  ];
  const bands = solveLayout(wall((s) => (s.blend = { rule: 'courses', others: others(33) })));
  for (const { id, course } of bands.geometry.pieces) {
    const first = bands.geometry.pieces.find((p) => p.course === course)!;
    expect(bands.kindOf[id]).toBe(bands.kindOf[first.id]);
  }
  const every = solveLayout(
    wall((s) => {
      s.repeatMm = { width: 1800, height: 450 };
      s.blend = { rule: 'intervals', others: others(25) };
    }),
  );
  // Two of eight in every course, four apart; over the next course they stand in between.
  const places = (course: number) =>
    every.geometry.pieces
      .filter((p) => p.course === course && every.kindOf[p.id] === 1)
      .map((p) => p.centre[0])
      .sort((a, b) => a - b);
  expect(places(0)[1]! - places(0)[0]!).toBeCloseTo(900, 6);
  expect(Math.abs(places(1)[0]! - places(0)[0]!)).toBeGreaterThan(300);
  const hexagons = { ...initialLayout('hexagon'), blend: { rule: 'border' as const, others: others(0) } };
  const border = solveLayout(hexagons);
  for (const { id, centre } of border.geometry.pieces) {
    const inside = centre[0] > 300 && centre[0] < border.geometry.repeatMm.width - 300;
    if (inside && centre[1] > 300 && centre[1] < border.geometry.repeatMm.height - 300)
      expect(border.kindOf[id]).toBe(0);
  }
  expect(border.kindOf.some((v) => v === 1)).toBe(true);
  const dots = solveLayout({
    ...initialLayout('octagon'),
    blend: { rule: 'scattered', others: others(0, 'dot') },
  });
  for (const { id, kind } of dots.geometry.pieces) expect(dots.kindOf[id]).toBe(kind === 'dot' ? 1 : 0);
});

test('with four pictures or more no two neighbours show the same, in any bond', () => {
  const areas: FaceArea[] = Array.from({ length: 5 }, (_, k) => ({
    left: 0,
    bottom: 500 * k,
    width: 3000,
    height: 500,
    closed: false,
  }));
  for (const { kind } of BONDS) {
    const settings = initialLayout(kind);
    const geometry = layPieces(settings);
    const { faces, equal } = chooseFaces(geometry, areas, settings.faces, seededRandom(3));
    const alike = geometry.neighbours.filter((n) => !n.itself && faces[n.a]!.area === faces[n.b]!.area);
    expect([kind, equal, alike.length]).toEqual([kind, 0, 0]);
  }
  // Two pieces that meet each other on all sides need two; with one they are equal, and that is reported.
  const pair = [{ a: 0, b: 1, itself: false }];
  expect(distinctNeighbours(2, pair, 2, seededRandom(1)).equal).toBe(0);
  expect(distinctNeighbours(2, pair, 1, seededRandom(1)).equal).toBe(1);
});

test('a face lies along its piece: what runs across the picture runs up a standing piece', () => {
  const settings = initialLayout('basket');
  settings.joint = { ...settings.joint, alongMm: at(0), acrossMm: at(0) };
  const geometry = layPieces(settings);
  const px = { width: 480, height: 480 };
  const cover = coverOf(geometry, px, reachOf(settings));
  const areas = [{ left: 0, bottom: 0, width: 960, height: 960, closed: true }];
  const turned = { ...settings.faces, halfTurn: false };
  const { faces } = chooseFaces(geometry, areas, turned, seededRandom(2));
  // Brightness rises along x of the picture only.
  const from = { sizeMm: { width: 960, height: 960 }, px: { width: 480, height: 480 } };
  const ramp = Float32Array.from({ length: 480 * 480 }, (_, i) => Math.sin((2 * Math.PI * (i % 480)) / 480));
  const { data } = atOnce(
    laidPlane(
      { geometry, cover, faces, areas, continuations: [], from },
      { widthPx: 480, heightPx: 480, data: ramp },
    ),
  );
  for (const { id, centre, directionDeg } of geometry.pieces.slice(0, 12)) {
    const x = Math.round(centre[0] / 2);
    const y = Math.round(479 - centre[1] / 2);
    if (x < 8 || y < 8 || x > 471 || y > 471) continue;
    const i = y * 480 + x;
    expect(cover.piece[i]).toBe(id);
    const alongX = Math.abs(data[i + 4]! - data[i - 4]!);
    const alongY = Math.abs(data[i + 4 * 480]! - data[i - 4 * 480]!);
    expect(directionDeg === 0 ? alongY : alongX).toBeLessThan(1e-6);
  }
});

test('shade variation has the asked spread, about the tone of the faces', () => {
  const settings = wall((s) => {
    s.repeatMm = { width: 4500, height: 3000 };
    s.shade = { lightness: 3, chroma: 0, hueDeg: 0, drift: 0 };
  });
  const { geometry, kindOf } = solveLayout(settings);
  const gains = pieceColours(geometry, settings, kindOf, [[0.3, 0.3, 0.3]]).map(({ gain }) => gain[1]);
  // L* of 0.3 is 61.7; three more is a factor of 1.117.
  const lightness = gains.map((gain) => 116 * Math.cbrt(0.3 * gain) - 16);
  const mean = lightness.reduce((sum, v) => sum + v, 0) / lightness.length;
  const spread = Math.sqrt(lightness.reduce((sum, v) => sum + (v - mean) * (v - mean), 0) / lightness.length);
  expect(mean).toBeCloseTo(61.65, 0);
  expect(spread).toBeGreaterThan(2.6);
  expect(spread).toBeLessThan(3.4);
});

test('the hatch is the outlines, each line once, and closes when it is tiled', () => {
  const settings = wall((s) => {
    s.joint = { ...s.joint, alongMm: at(0), acrossMm: at(0) };
    s.piece = { lengthMm: at(225), widthMm: at(75) };
  });
  const { geometry, kindOf } = solveLayout(settings);
  const length = (lines: ReturnType<typeof hatchOf>) =>
    lines.reduce(
      (sum, { points, closed }) =>
        sum +
        points.reduce((s, p, k) => {
          const q = points[k + 1] ?? (closed ? points[0]! : p);
          return s + Math.hypot(q[0] - p[0], q[1] - p[1]);
        }, 0),
      0,
    );
  // Six beds of 900 mm, and four perpends of 75 mm in each of six courses: none is there twice.
  expect(length(hatchOf(geometry, kindOf, 'full'))).toBeCloseTo(6 * 900 + 24 * 75, 1);
  expect(length(hatchOf(geometry, kindOf, 'simple'))).toBeCloseTo(6 * 900, 1);
  for (const { kind } of BONDS) {
    const one = solveLayout(initialLayout(kind));
    const lines = hatchOf(one.geometry, one.kindOf, 'full');
    const { width, height } = one.geometry.repeatMm;
    const box = boxOf(lines.flatMap((l) => l.points));
    expect(Math.min(box.left, box.bottom)).toBeGreaterThanOrEqual(-1e-3);
    expect(box.right).toBeLessThanOrEqual(width + 1e-3);
    expect(box.top).toBeLessThanOrEqual(height + 1e-3);
    // Outlines of pieces with joints are all drawn; where pieces touch, each line is that of two.
    const { alongMm, acrossMm } = initialLayout(kind).joint;
    if (kind === 'cladding') continue;
    const outlines = one.geometry.pieces.reduce((sum, p) => sum + perimeterOf(p.outline), 0);
    const touching = alongMm.value + acrossMm.value === 0;
    expect([kind, length(lines) / outlines]).toEqual([kind, expect.closeTo(touching ? 0.5 : 1, 4)]);
  }
});
