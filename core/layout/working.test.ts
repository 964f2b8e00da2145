import { mean } from '../raster';
import { atOnce } from '../steps';
import { colouringSteps, pieceColours } from './colour';
import { coverOf } from './cover';
import { reachOf, reliefOfLayout } from './relief';
import { initialLayout, WORKINGS, type LayoutSettings, type Working } from './settings';
import { solveLayout } from './solved';

/** Faces as tools leave them, arrises worn to the body, and drift along a run. */

const PX = { width: 900, height: 600 };

function wall(change: (s: LayoutSettings) => void): LayoutSettings {
  const settings = initialLayout('running');
  settings.repeatMm = { width: 450, height: 300 };
  settings.joint = { ...settings.joint, grainMm: 0 };
  change(settings);
  return settings;
}

/** Heights of the faces of a wall, without its joints. */
function faces(kind: Working, depthMm: number, px = PX): Float32Array {
  const settings = wall((s) => (s.working = { kind, depthMm }));
  const { geometry } = solveLayout(settings);
  const cover = coverOf(geometry, px, reachOf(settings));
  const { data } = reliefOfLayout(geometry, cover, settings);
  return data.filter((_, i) => cover.distanceMm[i]! >= cover.reach.insideMm);
}
const spread = (values: Float32Array) => {
  const sorted = values.slice().sort();
  return sorted[Math.floor(0.995 * sorted.length)]! - sorted[Math.floor(0.005 * sorted.length)]!;
};
const TOOLS = WORKINGS.filter((kind) => kind !== 'as-sampled' && kind !== 'honed');

test.each(TOOLS)('what is %s is about as deep as it is set, and in proportion', (kind) => {
  const [one, three] = [faces(kind, 1), faces(kind, 3)];
  expect(spread(one)).toBeGreaterThan(0.5);
  expect(spread(one)).toBeLessThan(2.4);
  expect(spread(three) / spread(one)).toBeCloseTo(3, 4);
  expect(Math.abs(mean(one))).toBeLessThan(0.45);
});

test.each(['as-sampled', 'honed'] as const)('what is %s adds nothing', (kind) => {
  expect(spread(faces(kind, 3))).toBe(0);
});

test('a wave that the pixels cannot hold fades out, instead of turning into another one', () => {
  // 3.2 mm from line to line, on pixels of 0.5, 1.5 and 3 mm.
  const [fine, coarse, none] = [900, 300, 150].map((width) =>
    spread(faces('sawn', 1, { width, height: (width * 2) / 3 })),
  );
  expect(coarse!).toBeLessThan(0.7 * fine!);
  expect(none).toBe(0);
});

test('no two pieces are worked alike', () => {
  const settings = wall((s) => (s.working = { kind: 'riven', depthMm: 4 }));
  const { geometry } = solveLayout(settings);
  const { data } = reliefOfLayout(geometry, coverOf(geometry, PX, reachOf(settings)), settings);
  const perMm = PX.width / 450;
  const patch = (k: number) => {
    const [x, y] = geometry.pieces[k]!.centre;
    return Array.from({ length: 40 }, (_, n) => {
      const column = Math.round(x * perMm) + n - 20;
      return data[(PX.height - Math.round(y * perMm)) * PX.width + ((column + PX.width) % PX.width)]!;
    });
  };
  const [a, b] = [patch(0), patch(1)];
  expect(a.some((v, n) => Math.abs(v - b[n]!) > 0.3)).toBe(true);
});

test('where an arris is worn the body shows, and the face keeps its colour', () => {
  const settings = wall((s) => {
    s.arris = { ...s.arris, form: 'bevel', bodyLab: [90, 0, 0] };
    s.arris.sizeMm = { value: 6, unit: 'mm', basis: 'measured' };
    s.joint.lab = [10, 0, 0];
  });
  const { geometry, kindOf } = solveLayout(settings);
  const cover = coverOf(geometry, PX, reachOf(settings));
  const even = () => new Float32Array(PX.width * PX.height).fill(0.1);
  const laid = { widthPx: PX.width, heightPx: PX.height, r: even(), g: even(), b: even() };
  const colours = pieceColours(geometry, settings, kindOf, [[0.1, 0.1, 0.1]]);
  const { g } = atOnce(colouringSteps(laid, geometry, cover, settings, colours));
  const at = (from: number, to: number) =>
    mean(g.filter((_, i) => cover.distanceMm[i]! > from && cover.distanceMm[i]! < to));
  expect(at(1, 5)).toBeGreaterThan(0.7);
  expect(at(7, 60)).toBeCloseTo(0.1, 4);
});

test('a drift runs up the repeat and back, by as much L* as is set', () => {
  const settings = wall((s) => {
    s.repeatMm = { width: 450, height: 3000 };
    s.shade = { ...s.shade, drift: 6 };
  });
  const { geometry, kindOf } = solveLayout(settings);
  const colours = pieceColours(geometry, settings, kindOf, [[0.3, 0.3, 0.3]]);
  const lightness = colours.map(({ gain }) => 116 * Math.cbrt(0.3 * gain[1]) - 16);
  expect(Math.max(...lightness) - Math.min(...lightness)).toBeCloseTo(6, 1);
  // Courses that follow each other hardly differ, the last and the first neither.
  const byCourse = new Map(geometry.pieces.map((p, k) => [p.course, lightness[k]!]));
  const courses = [...byCourse.keys()].sort((a, b) => a - b);
  courses.forEach((course, k) => {
    const next = courses[(k + 1) % courses.length]!;
    expect(Math.abs(byCourse.get(course)! - byCourse.get(next)!)).toBeLessThan(0.6);
  });
});
