import { gradientNoise, hashUnit, seededRandom, smoothstep } from '../../../raster';
import { wrong } from '../../../surface';
import type { Steps } from '../../../steps';
import { printNumber } from '../../../units';
import { rgbOf, type Canvas } from '../../canvas';
import { family, type SizeMm } from '../../family';
import { choice, colour, list, size, type ValuesOf } from '../../setting';
import { edgesOf, insideBy, packingSteps, type Chip, type Packing } from './packing';

/** Terrazzo and other floors of chips in a binder, ground flat: random sections through angular stones. */

const settings = {
  stones: list(
    'Stones',
    'stone',
    {
      lab: colour('Colour', [62, 2, 8], 'mean colour of the polished stone'),
      second: colour('Second colour', [48, 2, 8], 'of its grain, veins or spots'),
      figure: choice(
        'Figure',
        { plain: 'plain', veined: 'veined', spotted: 'spotted', banded: 'banded' },
        'what is seen inside of a chip',
      ),
      leastMm: size('From sieve', 'mm', [3, 0.5, 200], 'the smallest chips pass no finer sieve'),
      mostMm: size('To sieve', 'mm', [9, 1, 400], 'the largest chips pass this sieve'),
      sharePercent: size('Share', '%', [20, 0.5, 80], 'of the whole surface'),
      spread: size('Spread of L*', '1', [3, 0, 20], 'how much chips differ in lightness, standard deviation'),
    },
    [1, 8],
    [
      { lab: [83, 0, 4], second: [72, 0, 3], figure: 'veined', leastMm: 6, mostMm: 16, sharePercent: 32 },
      { lab: [38, 2, 6], second: [52, 3, 10], figure: 'spotted', leastMm: 3, mostMm: 9, sharePercent: 16 },
      { lab: [55, 16, 20], second: [66, 8, 14], figure: 'banded', leastMm: 2, mostMm: 6, sharePercent: 8 },
    ],
    'kinds of chip, each with its sieves and its share of the surface',
  ),
  binder: colour('Binder', [74, 0, 5], 'colour of the binder between the chips'),
  finesPercent: size('Fines in the binder', '%', [25, 0, 80], 'share of the binder that is grit below 1 mm'),
  proudMm: size('Chips proud', 'mm', [0, -1, 3], 'how far chips stand above the binder; below 0: sunk'),
  pinholesPerM2: size('Pinholes', '1/m²', [150, 0, 20000], 'open pores in the binder'),
  pinholeMm: size('Widest pinhole', 'mm', [1.2, 0.1, 10], 'diameter of the widest'),
  gapMm: size('Least gap', 'mm', [0.15, 0, 10], 'binder between two chips, at least'),
} as const;
type Values = ValuesOf<typeof settings>;

/** Shares that add up to more leave no place for the binder. */
const MOST_PERCENT = 82;
/** Shares that are missed by more are pointed out, percent of the surface. */
const MISSED_PERCENT = 2;

export const TERRAZZO = family({
  kind: 'terrazzo',
  name: 'Terrazzo',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 400, height: 400 },
  settings,
  headline: ['stones', 'binder', 'finesPercent'],
  response: {
    base: 'dielectric',
    glossGu: 42,
    parts: [{ part: 'chip', glossGu: 55 }],
  },
  parts: ({ stones }) => [
    { id: 'chip', name: 'Chips' },
    { id: 'binder', name: 'Binder' },
    ...stones.map((_, k) => ({ id: `stone-${k + 1}`, name: `Stone ${k + 1}` })),
  ],
  solvedBy: ['stones', 'gapMm'],
  solve: solvePacking,
  paint,
  checks: ({ stones }, _sizeMm, { covered }) =>
    stones.flatMap(({ sharePercent }, k) => {
      const made = 100 * covered[k]!;
      return Math.abs(made - sharePercent.value) <= MISSED_PERCENT
        ? []
        : [
            wrong(
              'sample',
              `terrazzo-share-${k + 1}`,
              `Stone ${k + 1} covers ${printNumber(made, 1)} % of the surface instead of ${printNumber(sharePercent.value, 1)} %: no more of it fits. Lower the shares, or widen its sieves towards small chips.`,
            ),
          ];
    }),
});

function* solvePacking({ stones, gapMm }: Values, sizeMm: SizeMm, seed: number): Steps<Packing> {
  const all = stones.reduce((sum, s) => sum + s.sharePercent.value, 0);
  if (all > MOST_PERCENT)
    throw new RangeError(
      `The shares of the stones add up to ${printNumber(all, 1)} %; chips cover at most ${MOST_PERCENT} % of a floor, the rest is binder. Lower some of them.`,
    );
  for (const [k, { leastMm, mostMm }] of stones.entries())
    if (leastMm.value >= mostMm.value)
      throw new RangeError(
        `Stone ${k + 1}: the lower sieve (${printNumber(leastMm.value, 1)} mm) must be finer than the upper one (${printNumber(mostMm.value, 1)} mm).`,
      );
  return yield* packingSteps(
    stones.map((s) => ({
      leastMm: s.leastMm.value,
      mostMm: s.mostMm.value,
      share: s.sharePercent.value / 100,
    })),
    sizeMm,
    gapMm.value,
    seed,
  );
}

async function paint(canvas: Canvas, values: Values, { chips }: Packing): Promise<void> {
  await paintBinder(canvas, values);
  const stones = values.stones.map((stone, k) => ({
    ...stone,
    rgb: rgbOf(stone.lab.lab),
    secondRgb: rgbOf(stone.second.lab),
    weight: canvas.part(`stone-${k + 1}`),
  }));
  const whole = canvas.part('chip');
  await canvas.lay(chips, (chip) =>
    paintChip(canvas, chip, stones[chip.stone]!, whole, values.proudMm.value),
  );
  const binder = canvas.part('binder');
  await canvas.rows((_, first) => {
    for (let i = first; i < first + canvas.px.width; i++) binder[i] = 1 - whole[i]!;
  });
  await paintPinholes(canvas, values, binder);
}

/** Cement or resin with grit: broad clouds, fine grains lighter and darker than it. */
async function paintBinder(canvas: Canvas, { binder, finesPercent, stones }: Values): Promise<void> {
  const base = rgbOf(binder.lab);
  const gritColours = stones.map((s) => rgbOf(s.lab.lab));
  const cloud = canvas.waves(1, 60, 4, 0.6);
  const grain = canvas.waves(2, 0.45, 2, 0.8);
  const fines = finesPercent.value / 100;
  const gritMm = 0.8;
  const [nx, ny] = [
    Math.max(1, Math.round(canvas.sizeMm.width / gritMm)),
    Math.max(1, Math.round(canvas.sizeMm.height / gritMm)),
  ];
  const pixelCells = (nx / canvas.px.width + ny / canvas.px.height) / 2;
  // Grains finer than a pixel are seen as their mean.
  const seen = smoothstep(0.8, 1.8, gritMm / Math.max(canvas.mm.x, canvas.mm.y));
  await canvas.rows((y, first) => {
    const [clouds, grains] = [cloud.row(y), grain.row(y)];
    const v = ((y + 0.5) / canvas.px.height) * ny;
    const gy = Math.floor(v);
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      canvas.put(i, base, 1 + 0.025 * clouds[x]! + 0.05 * grains[x]!);
      const u = ((x + 0.5) / canvas.px.width) * nx;
      const gx = Math.floor(u);
      const grit = gritColours[Math.floor(hashUnit(gx, gy, 1, canvas.seed) * gritColours.length)]!;
      const share = seen > 0 ? seen * grainAt(u - gx, v - gy, gx, gy, fines, pixelCells, canvas.seed) : 0;
      canvas.over(i, grit, 0.8 * (share + (1 - seen) * fines * 0.5));
      canvas.height.data[i] = 0.004 * grains[x]!;
    }
  });
}

/** Share of a pixel that a grain of grit covers: one grain to a cell, anywhere in it. @param dx, dy place in the cell, 0–1 */
function grainAt(
  dx: number,
  dy: number,
  gx: number,
  gy: number,
  fines: number,
  pixelCells: number,
  seed: number,
): number {
  const pick = hashUnit(gx, gy, 0, seed);
  if (pick > 1.6 * fines) return 0;
  const radius = 0.12 + 0.3 * hashUnit(gx, gy, 2, seed);
  const [cx, cy] = [
    radius + (1 - 2 * radius) * hashUnit(gx, gy, 3, seed),
    radius + (1 - 2 * radius) * hashUnit(gx, gy, 4, seed),
  ];
  // Four straight sides at odd angles make it angular.
  const [x, y] = [dx - cx, dy - cy];
  const turn = pick * 40;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [p, q] = [Math.abs(c * x + s * y), Math.abs(c * y - s * x)];
  const inside = radius - Math.max(p, 0.8 * q, 0.62 * (p + q));
  return Math.min(1, Math.max(0, 0.5 + inside / pixelCells));
}

interface PaintedStone {
  figure: string;
  spread: { value: number };
  rgb: readonly [number, number, number];
  secondRgb: readonly [number, number, number];
  weight: Float32Array;
}

/** A chip is a stone by itself: its own tone, its grain and veins at its own angle, edges slightly ragged. */
function* paintChip(
  canvas: Canvas,
  chip: Chip,
  stone: PaintedStone,
  whole: Float32Array,
  proudMm: number,
): Steps<void> {
  const random = seededRandom(chip.seed);
  const edges = edgesOf(chip);
  const tone = Math.exp(0.026 * stone.spread.value * random.normal());
  const warm = 0.015 * random.normal();
  const angle = random.next() * 2 * Math.PI;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const pixel = 0.5 * (canvas.mm.x + canvas.mm.y);
  const rim = Math.min(0.08 * chip.reachMm, 0.6);
  const seed = chip.seed & 0xffff;
  const own = { phase: random.next(), apart: 2.5 * Math.exp(2 * random.next()), strength: random.next() };
  const at = (x: number, y: number, cellMm: number, salt: number) =>
    cellMm < 1.2 * pixel
      ? 0
      : gradientNoise(
          0.5 + x / 1024,
          0.5 + y / 1024,
          Math.round(1024 / cellMm),
          Math.round(1024 / cellMm),
          seed + salt,
        );
  yield* canvas.aroundSteps(chip.xMm, chip.yMm, chip.reachMm, chip.reachMm, (i, dx, dy) => {
    const straight = insideBy(edges, dx, dy);
    if (straight < -pixel) return;
    // Edges break inwards only, so that no chip reaches into another.
    const ragged = rim * Math.max(0, 0.5 * at(dx, dy, 1.3, 1) + 0.35 * at(dx, dy, 0.5, 2));
    const inside = straight - ragged;
    const share = Math.min(1, Math.max(0, 0.5 + inside / pixel));
    if (share === 0) return;
    const [along, across] = [c * dx + s * dy, c * dy - s * dx];
    const figure = figureAt(stone.figure, own, along, across, at);
    const grain = 1 + 0.05 * at(along, across, 0.7, 5) + 0.04 * at(along, across, 2.4, 6);
    const before = whole[i]!;
    const gain = Math.max(0, share - before);
    whole[i] = before + gain;
    stone.weight[i]! += gain;
    const colour: [number, number, number] = [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const here = stone.rgb[k]! + (stone.secondRgb[k]! - stone.rgb[k]!) * figure;
      colour[k] = here * tone * grain * (1 + warm * (1 - k));
    }
    canvas.over(i, colour, share);
    // A proud chip is rounded over its edge.
    const round = Math.min(1, inside / Math.max(0.05, Math.abs(proudMm)));
    canvas.height.data[i]! += share * proudMm * round * (2 - round);
  });
}

/** How much of its second colour a chip shows at a place, 0–1. */
function figureAt(
  figure: string,
  own: { phase: number; apart: number; strength: number },
  along: number,
  across: number,
  at: (x: number, y: number, cellMm: number, salt: number) => number,
): number {
  if (figure === 'veined') {
    const bent =
      across / own.apart + own.phase + 0.5 * at(along, across, 6, 7) + 0.14 * at(along, across, 1.8, 8);
    const d = own.apart * Math.abs(bent - Math.round(bent));
    const width = 0.12 + 0.35 * (0.5 + at(along, 0.3 * across, 3, 9));
    const vein = 1 - smoothstep(0.3 * width, width + 0.1, d);
    return 0.3 * (0.5 + at(along, across, 4, 10)) + smoothstep(0.25, 0.9, own.strength) * 0.7 * vein;
  }
  if (figure === 'spotted')
    return smoothstep(0.1, 0.4, at(along, across, 1.1, 7) + 0.4 * at(along, across, 0.5, 8));
  if (figure === 'banded') {
    const bent = across + 1.5 * at(along, across, 7, 7);
    const bands = at(0, bent + 50 * own.phase, 1.6, 8) + 0.5 * at(0.3 * along, bent, 0.6, 9);
    return own.strength * smoothstep(-0.35, 0.45, bands);
  }
  return 0.3 + 0.5 * at(along, across, 3, 7);
}

/** Pores that are open to the surface: many small, few wide. */
async function paintPinholes(
  canvas: Canvas,
  { pinholesPerM2, pinholeMm }: Values,
  binder: Float32Array,
): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const count = Math.round((pinholesPerM2.value * width * height) / 1e6);
  const pixel = 0.5 * (canvas.mm.x + canvas.mm.y);
  await canvas.scatter(count, 'pinholes', canvas.seed + 77, (random) => {
    const t = random.next();
    const radius = 0.5 * pinholeMm.value * (0.18 + 0.82 * t * t * t);
    const [x, y] = [random.next() * width, random.next() * height];
    canvas.around(x, y, radius + pixel, radius + pixel, (i, dx, dy) => {
      const d = Math.hypot(dx, dy);
      const share = binder[i]! * Math.min(1, Math.max(0, 0.5 + (radius - d) / pixel));
      if (share === 0) return;
      canvas.tone(i, 1 - 0.62 * share);
      const deep = Math.max(0, 1 - (d * d) / (radius * radius));
      canvas.height.data[i]! -= share * radius * (0.4 + 0.8 * deep);
      canvas.gloss.data[i]! -= 30 * share;
    });
  });
}
