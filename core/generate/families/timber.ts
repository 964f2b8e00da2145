import { power, squared } from '../../exact';
import { gradientNoise, hashUnit, seededRandom, smoothstep, type Random } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family, type SizeMm } from '../family';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Timber from the log: a leaf is a plane through it, and its figure is the rings that the plane meets. */

const settings = {
  cut: choice(
    'Cut',
    { crown: 'crown cut', rift: 'rift cut', quarter: 'quarter cut', end: 'end grain' },
    'how the leaf lies in the log',
  ),
  leafMm: size(
    'Leaf width',
    'mm',
    [140, 15, 2000],
    'of one board or veneer leaf; of end grain the side of a block',
  ),
  leaves: choice(
    'Leaves',
    { random: 'each of its own log', slip: 'slip-matched', book: 'book-matched' },
    'how leaves follow each other',
  ),
  ringsPerCm: size('Annual rings', '1/cm', [4, 0.5, 25], 'rings along a radius'),
  early: colour('Early wood', [75, 6, 21], 'the pale part of a ring'),
  late: colour('Late wood', [60, 9, 25], 'the dark part of a ring'),
  pores: choice(
    'Pores',
    { ring: 'ring-porous', diffuse: 'diffuse-porous', none: 'none (softwood)' },
    'where vessels lie',
  ),
  poreMm: size('Length of pores', 'mm', [5, 0.5, 30], 'of the longest vessel lines along the grain'),
  raysPercent: size('Ray flecks', '%', [20, 0, 100], 'how strongly rays show on the quarter'),
  knotsPerM2: size('Knots', '1/m²', [0.6, 0, 60], 'knots in a square metre'),
  spread: size('Spread of L*', '1', [2.5, 0, 15], 'how much leaves differ in lightness, standard deviation'),
  brushedMm: size('Brushed depth', 'mm', [0, 0, 1.5], 'how deep soft early wood is brushed out'),
} as const;
type Values = ValuesOf<typeof settings>;

export const TIMBER = family({
  kind: 'timber',
  name: 'Timber',
  group: 'Timber',
  category: 'timber',
  repeatMm: { width: 2400, height: 840 },
  settings,
  headline: ['cut', 'leafMm', 'ringsPerCm', 'early', 'late', 'pores'],
  unused: ({ cut, pores }) => [
    ...(cut === 'end' ? (['leaves', 'knotsPerM2'] as const) : []),
    ...(pores === 'none' || cut === 'end' ? (['poreMm'] as const) : []),
    ...(cut === 'crown' ? (['raysPercent'] as const) : []),
  ],
  response: { base: 'dielectric', glossGu: 12 },
  parts: () => [
    { id: 'late', name: 'Late wood' },
    { id: 'pore', name: 'Pores' },
  ],
  closing: (values, asked) => {
    refuseTooMany(values, asked);
    const { leafMm, cut } = values;
    return {
      width: cut === 'end' ? leafMm.value * countOf(asked.width, leafMm.value) : asked.width,
      height: leafMm.value * countOf(asked.height, leafMm.value),
    };
  },
  courses: ({ leafMm, cut }, { width, height }) => ({
    across: cut === 'end' ? countOf(width, leafMm.value) : 1,
    up: countOf(height, leafMm.value),
  }),
  faces: ({ leafMm, cut }, sizeMm) => {
    const [columns, rows] = [
      cut === 'end' ? countOf(sizeMm.width, leafMm.value) : 1,
      countOf(sizeMm.height, leafMm.value),
    ];
    const [width, height] = [sizeMm.width / columns, sizeMm.height / rows];
    return Array.from({ length: columns * rows }, (_, k) => ({
      left: (k % columns) * width,
      bottom: Math.floor(k / columns) * height,
      width,
      height,
    }));
  },
  paint,
});

/** Leaves and blocks that one repeat can hold. */
const MOST_LEAVES = 4000;

function refuseTooMany({ leafMm, cut }: Values, asked: SizeMm): void {
  const count =
    countOf(asked.height, leafMm.value) * (cut === 'end' ? countOf(asked.width, leafMm.value) : 1);
  if (count > MOST_LEAVES)
    throw new RangeError(
      `The repeat would hold ${count} ${cut === 'end' ? 'blocks' : 'leaves'}, each of its own log; at most ${MOST_LEAVES} can be sawn. Make it smaller, or the ${cut === 'end' ? 'blocks' : 'leaves'} larger.`,
    );
}

const countOf = (mm: number, leafMm: number) => Math.max(1, Math.round(mm / leafMm));

const STEP_MM = 0.04;

/**
 * Rings of one log by distance from the pith: how far through its year each distance is, and the sum of its late wood up to
 * there, from which the mean over a pixel follows.
 */
function ringsOf(meanMm: number, outMm: number, seed: number) {
  const random = seededRandom(seed);
  const n = Math.ceil(outMm / STEP_MM) + 2;
  const share = new Float32Array(n);
  const lateTo = new Float64Array(n + 1);
  let at = 0;
  for (const { width, year } of yearsOf(meanMm, outMm, random)) {
    const to = Math.min(n, Math.ceil((at + width) / STEP_MM));
    for (let i = Math.ceil(at / STEP_MM); i < to; i++) {
      share[i] = (i * STEP_MM - at) / width;
      // Late wood: a slow rise, then a sharp step back at the end of the year.
      lateTo[i + 1] = power(smoothstep(0.2, 0.98, share[i]!), 1.5) * year;
    }
    at += width;
  }
  for (let i = 0; i < n; i++) lateTo[i + 1]! += lateTo[i]!;
  return { share, lateTo, outMm };
}

/** So many rings in a row have the mean width that was asked for. */
const RINGS_IN_RUN = 12;

/** Rings from the pith outwards: good and bad years follow each other in runs. */
function yearsOf(meanMm: number, outMm: number, random: Random): { width: number; year: number }[] {
  const out: { width: number; year: number }[] = [];
  let width = 1;
  for (let at = 0; at < outMm; at += RINGS_IN_RUN * meanMm) {
    const run = Array.from({ length: RINGS_IN_RUN }, () => {
      width = Math.min(2.4, Math.max(0.35, width + 0.22 * random.normal() + 0.15 * (1 - width)));
      return { width, year: 0.55 + 0.45 * random.next() };
    });
    const scale = (RINGS_IN_RUN * meanMm) / run.reduce((sum, ring) => sum + ring.width, 0);
    out.push(...run.map((ring) => ({ ...ring, width: scale * ring.width })));
  }
  return out;
}

interface Leaf {
  seed: number;
  rings: ReturnType<typeof ringsOf>;
  /** Of the plane from the pith, and the pith across the leaf, mm. */
  offMm: number;
  pithMm: number;
  mirrored: boolean;
  tone: number;
  warm: number;
  shift: number;
  knots: readonly { x: number; y: number; radiusMm: number; dark: number }[];
}

function leavesOf(values: Values, { width, height }: SizeMm, seed: number): Leaf[] {
  const leafMm = values.leafMm.value;
  const end = values.cut === 'end';
  const count = countOf(height, leafMm) * (end ? countOf(width, leafMm) : 1);
  const random = seededRandom(seed * 31 + 5);
  const out: Leaf[] = [];
  for (let k = 0; k < count; k++) {
    const same = values.leaves !== 'random' && !end && k > 0;
    const own = same ? out[0]!.seed : Math.floor(random.next() * 1e8);
    const logMm = end ? 1.2 * leafMm : leafMm;
    const [offMm, pithMm] = same
      ? [out[0]!.offMm + 0.7 * k, out[0]!.pithMm]
      : placeInLog(values.cut, logMm, random);
    const expected = end ? 0 : (values.knotsPerM2.value * width * leafMm) / 1e6;
    const knots = same
      ? out[0]!.knots
      : Array.from({ length: Math.floor(expected + random.next()) }, () => ({
          x: random.next() * width,
          y: (0.15 + 0.7 * random.next()) * leafMm,
          radiusMm: 2.5 + 7 * random.next() * random.next() + 2 * random.next(),
          dark: 0.6 + 0.4 * random.next(),
        }));
    out.push({
      seed: own,
      rings: same
        ? out[0]!.rings
        : ringsOf(10 / values.ringsPerCm.value, Math.abs(pithMm) + Math.abs(offMm) + 2 * logMm + 60, own),
      offMm,
      pithMm,
      mirrored: values.leaves === 'book' && k % 2 === 1,
      tone: Math.exp(0.024 * values.spread.value * (same ? 0 : random.normal())),
      warm: same ? 0 : 0.02 * random.normal(),
      shift: same ? 0 : random.next(),
      knots,
    });
  }
  return out;
}

/** Where a leaf lies: distance of its plane from the pith, and the pith across it. */
function placeInLog(
  cut: Values['cut'],
  leafMm: number,
  random: ReturnType<typeof seededRandom>,
): [number, number] {
  if (cut === 'crown') return [random.between(14, 55), leafMm * random.between(0.25, 0.75)];
  if (cut === 'rift') return [random.between(70, 120), leafMm * random.between(-1.4, -0.7)];
  if (cut === 'quarter') return [random.between(0, 9), -random.between(70, 170)];
  return [0, 0];
}

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const { sizeMm, px, mm } = canvas;
  const leafMm = values.leafMm.value;
  const end = values.cut === 'end';
  const leaves = leavesOf(values, sizeMm, canvas.seed);
  const columns = end ? countOf(sizeMm.width, leafMm) : 1;
  const [early, late] = [rgbOf(values.early.lab), rgbOf(values.late.lab)];
  const [latePart, porePart] = [canvas.part('late'), canvas.part('pore')];
  // Fibres run with the leaf; across end grain there are none.
  const long = end ? 1 : 60;
  const fibre = [
    canvas.waves(1, { x: 1.6 * long, y: 1.5 }, 2, 0.7),
    canvas.waves(2, { x: 0.5 * long, y: 0.32 }, 2, 0.8),
    canvas.waves(3, { x: 5 * long, y: 7 }, 2, 0.6),
  ] as const;
  const cloud = canvas.waves(4, { x: end ? 60 : 500, y: 60 }, 3, 0.6);
  const wobble = canvas.waves(5, { x: end ? 30 : 55, y: end ? 30 : 9 }, 2, 0.5);
  const pixelMm = Math.max(mm.x, mm.y);
  const poreSeen = smoothstep(0.12, 0.5, 0.3 / pixelMm);
  const rowPx = px.height / countOf(sizeMm.height, leafMm);
  await canvas.rows((y, first) => {
    const [wide, fine, broad, clouds, wobbles] = [
      fibre[0].row(y),
      fibre[1].row(y),
      fibre[2].row(y),
      cloud.row(y),
      wobble.row(y),
    ];
    const row = Math.min(countOf(sizeMm.height, leafMm) - 1, Math.floor((y + 0.5) / rowPx));
    const inRow = (y + 0.5) * mm.y - row * leafMm;
    for (let x = 0; x < px.width; x++) {
      const xMm = (x + 0.5) * mm.x;
      const column = Math.min(columns - 1, Math.floor(xMm / leafMm));
      const leaf = leaves[row * columns + (end ? column : 0)]!;
      const across = leaf.mirrored ? leafMm - inRow : inRow;
      const k = (x + Math.floor(leaf.shift * px.width)) % px.width;
      const i = first + x;
      const at = end
        ? endGrain(leaf, xMm - column * leafMm, across, leafMm)
        : longGrain(leaf, xMm, across, sizeMm.width, wobbles[k]!);
      const { rings } = leaf;
      const r = Math.min(rings.outMm, at.r * (1 + 0.003 * wobbles[k]!)) / STEP_MM;
      const t = rings.share[Math.floor(r)]!;
      const lateHere = lateOver(rings.lateTo, r, (0.5 * pixelMm * Math.max(0.05, at.steep)) / STEP_MM);
      const pore = poreSeen * poreAt(values, leaf.seed, xMm, across, t, end, pixelMm);
      const ray = end
        ? rayOfEnd(at, leaf.seed, pixelMm)
        : values.cut === 'quarter' || values.cut === 'rift'
          ? rayFleck(leaf.seed, xMm, across, sizeMm.width, values.cut === 'quarter')
          : 0;
      const fibres = 0.6 * wide[k]! + 0.9 * fine[k]! + 0.45 * broad[k]!;
      const mixed = Math.min(1, Math.max(0, 0.85 * lateHere + 0.24 * fibres + 0.06));
      const tone = leaf.tone * (1 + 0.04 * clouds[k]! + 0.07 * fibres) * (1 - 0.42 * pore) * (end ? 0.78 : 1);
      canvas.mix(i, early, late, mixed, tone);
      canvas.colour.r[i]! *= 1 + leaf.warm;
      canvas.colour.b[i]! *= 1 - leaf.warm;
      const flecked = (values.raysPercent.value / 100) * ray;
      if (flecked > 0)
        canvas.over(
          i,
          [Math.min(1, 1.12 * early[0]), Math.min(1, 1.1 * early[1]), Math.min(1, 1.04 * early[2])],
          0.6 * flecked,
        );
      if (at.knot > 0) paintKnot(canvas, i, at.knot, at.knotRing);
      latePart[i] = lateHere;
      porePart[i] = pore;
      canvas.height.data[i] =
        -0.07 * pore +
        0.012 * fibres -
        values.brushedMm.value * (1 - Math.min(1, lateHere * 1.6)) * (1 - at.knot);
      canvas.gloss.data[i] = 2.5 * lateHere - 6 * pore + 3 * flecked;
    }
  });
}

/** Mean of the late wood from so many steps before a distance to as many after it. */
function lateOver(lateTo: Float64Array, r: number, half: number): number {
  const sumTo = (x: number) => {
    const held = Math.min(lateTo.length - 1.001, Math.max(0, x));
    const k = Math.floor(held);
    return lateTo[k]! + (lateTo[k + 1]! - lateTo[k]!) * (held - k);
  };
  const reach = Math.max(0.5, half);
  const from = Math.max(0, r - reach);
  return (sumTo(r + reach) - sumTo(from)) / (r + reach - from);
}

/** What is known of a place on a leaf; one object, reused for every pixel. */
const at = { r: 0, steep: 1, knot: 0, knotRing: 0, x: 0, y: 0 };

/** Distance from the pith of a place on a leaf along the grain. The pith wanders; rings bend around knots. */
function longGrain(leaf: Leaf, xMm: number, yMm: number, lengthMm: number, wobble: number): typeof at {
  const u = xMm / lengthMm;
  const s = leaf.seed;
  const waves = (mm: number) => Math.max(1, Math.round(lengthMm / mm));
  const lift =
    13 * gradientNoise(u, 0.31, waves(900), 1, s) + 3.5 * gradientNoise(u, 0.7, waves(240), 1, s + 1);
  const sway =
    12 * gradientNoise(u, 0.13, waves(700), 1, s + 2) + 2.5 * gradientNoise(u, 0.9, waves(160), 1, s + 3);
  let dy = yMm - leaf.pithMm - sway;
  let dz = leaf.offMm + lift + 0.5 * wobble;
  let [knot, knotRing] = [0, 0];
  for (const k of leaf.knots) {
    let dx = xMm - k.x;
    dx -= lengthMm * Math.round(dx / lengthMm);
    const [kx, ky] = [dx / 1.6, yMm - k.y];
    const d = Math.sqrt(kx * kx + ky * ky) / k.radiusMm;
    if (d > 7) continue;
    const bend = Math.exp(-0.5 * squared(d / 1.9));
    dz += 1.5 * k.radiusMm * bend;
    dy += 0.3 * ky * bend;
    const rough = 1 + 0.1 * gradientNoise(kx / 60 + 0.5, ky / 60 + 0.5, 9, 9, s + 7);
    const inside = 1 - smoothstep(0.8, 1.15, d * rough);
    if (inside > knot) {
      knot = inside * k.dark;
      knotRing = 0.5 + 0.5 * Math.sin(d * k.radiusMm * 2.3 * rough);
    }
  }
  at.r = Math.sqrt(dy * dy + dz * dz);
  // How many mm of radius one mm across the leaf is.
  at.steep = Math.abs(dy) / Math.max(1, at.r);
  at.knot = knot;
  at.knotRing = knotRing;
  return at;
}

/** Distance from the pith of a place on a block that is cut across the grain. */
function endGrain(leaf: Leaf, xMm: number, yMm: number, blockMm: number): typeof at {
  const s = leaf.seed;
  const away = blockMm * (0.15 + 1.1 * hashUnit(s, 1, 0, 3));
  const turn = 2 * Math.PI * hashUnit(s, 2, 0, 3);
  const dx = xMm - blockMm / 2 - away * Math.cos(turn);
  const dy = yMm - blockMm / 2 - away * Math.sin(turn);
  const bumps =
    gradientNoise(dx / 400 + 0.5, dy / 400 + 0.5, 9, 9, s) +
    0.4 * gradientNoise(dx / 400 + 0.5, dy / 400 + 0.5, 27, 27, s + 1);
  at.r = Math.sqrt(dx * dx + dy * dy) * (1 + 0.03 * bumps);
  at.steep = 1;
  at.knot = 0;
  at.x = dx;
  at.y = dy;
  return at;
}

/** Vessels: short dark lines along the grain, round holes across it, in the early wood where the timber is ring-porous. */
function poreAt(
  values: Values,
  seed: number,
  xMm: number,
  yMm: number,
  t: number,
  end: boolean,
  pixelMm: number,
): number {
  if (values.pores === 'none') return 0;
  const band = values.pores === 'ring' ? 1 - smoothstep(0.08, 0.36, t) : 0.5;
  if (band <= 0) return 0;
  const acrossMm = values.pores === 'ring' ? 0.3 : 0.2;
  const longMm = end ? acrossMm : values.poreMm.value;
  const row = Math.floor(yMm / acrossMm);
  const shifted = xMm + hashUnit(row, 3, 1, seed) * 9 * longMm;
  const cell = Math.floor(shifted / longMm);
  if (hashUnit(cell, row, 2, seed) > 0.62 * band) return 0;
  const within = shifted / longMm - cell;
  const off = Math.abs(yMm / acrossMm - row - 0.5);
  const soft = Math.max(0.12, pixelMm / acrossMm / 2);
  const wide = 1 - smoothstep(0.38 - soft, 0.38 + soft, off);
  const from = 0.15 + 0.3 * hashUnit(cell, row, 5, seed);
  const long = end
    ? 1 - smoothstep(0.3, 0.3 + soft, Math.abs(within - 0.5))
    : smoothstep(0, 0.12, within - from) * (1 - smoothstep(0.8, 0.98, within));
  return wide * long * (0.5 + 0.5 * hashUnit(cell, row, 4, seed));
}

/** Rays on the quarter: lens-shaped flecks that cross the grain. */
function rayFleck(seed: number, xMm: number, yMm: number, lengthMm: number, wide: boolean): number {
  const [w, h] = wide ? [17, 9] : [11, 2.6];
  const row = Math.floor(yMm / h);
  const columns = Math.max(1, Math.round(lengthMm / w));
  const cellMm = lengthMm / columns;
  let most = 0;
  for (let j = row - 1; j <= row + 1; j++) {
    const shift = hashUnit(j, 1, 0, seed) * cellMm;
    const c = Math.floor((xMm + shift) / cellMm);
    for (const k of [c - 1, c, c + 1]) {
      const id = ((k % columns) + columns) % columns;
      if (hashUnit(id, j, 2, seed) > 0.55) continue;
      const cx = (k + 0.2 + 0.6 * hashUnit(id, j, 3, seed)) * cellMm - shift;
      const cy = (j + 0.2 + 0.6 * hashUnit(id, j, 4, seed)) * h;
      const size = 0.35 + 0.65 * hashUnit(id, j, 5, seed);
      const [dx, dy] = [xMm - cx, yMm - cy];
      // A fleck leans: it runs across the grain at a flat angle.
      const lean = 0.35 * dx + dy;
      const across = Math.abs(lean) / (wide ? 0.75 : 0.3);
      const along = Math.abs(dx) / (0.48 * w * size);
      const inside = 1 - Math.max(along, along * along + across);
      if (inside > 0) most = Math.max(most, Math.min(1, 2.5 * inside));
    }
  }
  return most;
}

/** Rays across the grain: fine pale lines out from the pith. */
function rayOfEnd({ x, y, r }: typeof at, seed: number, pixelMm: number): number {
  const turn = Math.atan2(y, x) / (2 * Math.PI) + 0.5;
  const lines = 2 * Math.PI * 60;
  const k = Math.floor(turn * lines);
  const seen = smoothstep(0.5, 1.5, 0.16 / pixelMm);
  if (hashUnit(k, 0, 1, seed) > 0.5) return 0;
  const off = Math.abs(turn * lines - k - 0.5) * ((2 * Math.PI * r) / lines);
  return seen * (1 - smoothstep(0.03, 0.12, off));
}

function paintKnot(canvas: Canvas, i: number, knot: number, ring: number): void {
  const dark = knot * (0.5 + 0.3 * ring);
  canvas.colour.r[i]! *= 1 - 0.78 * dark;
  canvas.colour.g[i]! *= 1 - 0.86 * dark;
  canvas.colour.b[i]! *= 1 - 0.9 * dark;
}
