import { hashUnit, smoothstep } from '../../raster';
import { open, type Check } from '../../surface';
import { printNumber } from '../../units';
import { rgbOf, type Canvas } from '../canvas';
import { cellsAt } from '../noise';
import { family } from '../family';
import { colour, size, type ValuesOf } from '../setting';
import { meetsShares } from '../version';

/** Stone that split or crystallised: slate in ledges, marble with its veins, granite of minerals. */

const slateSettings = {
  lab: colour('Slate', [36, -1, -3], 'mean colour, riven and dry'),
  second: colour('Rust and bloom', [42, 7, 12], 'of stains'),
  stainPercent: size('Stains', '%', [15, 0, 100], 'how much of the face is stained'),
  rivenMm: size('Riven relief', 'mm', [1.6, 0, 15], 'from ledge to ledge of the split face'),
  ledgeMm: size('Ledges', 'mm', [160, 10, 1000], 'length of a ledge'),
} as const;

export const SLATE = family({
  kind: 'slate',
  name: 'Slate',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 900, height: 900 },
  settings: slateSettings,
  headline: ['lab', 'second', 'stainPercent', 'rivenMm', 'ledgeMm'],
  response: { base: 'dielectric', glossGu: 8 },
  paint: paintSlate,
});

/** A split face: flat ledges, each a lamina higher or lower than the next, with feathered edges, fine ripples along the grain. */
async function paintSlate(canvas: Canvas, values: ValuesOf<typeof slateSettings>): Promise<void> {
  const [base, stain] = [rgbOf(values.lab.lab), rgbOf(values.second.lab)];
  const ledge = values.ledgeMm.value;
  const field = canvas.waves(1, { x: 1.4 * ledge, y: 0.8 * ledge }, 4, 0.55);
  const ragged = canvas.waves(2, { x: 7, y: 3.5 }, 4, 0.65);
  const ripple = canvas.waves(3, { x: 0.35 * ledge, y: 0.09 * ledge }, 3, 0.6);
  const grain = canvas.waves(4, { x: 2.4, y: 0.5 }, 2, 0.8);
  const fine = canvas.waves(5, 0.35, 2, 0.8);
  const cloud = canvas.waves(6, 120, 4, 0.6);
  const steps = 7;
  const stained = values.stainPercent.value / 100;
  await canvas.rows((y, first) => {
    const [fields, rags, ripples, grains, fines, clouds] = [
      field.row(y),
      ragged.row(y),
      ripple.row(y),
      grain.row(y),
      fine.row(y),
      cloud.row(y),
    ];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const level = steps * (0.5 + 0.55 * fields[x]! + 0.03 * rags[x]!);
      const k = Math.floor(level);
      const t = level - k;
      // A ledge is flat and ends in a sharp, feathered step.
      const edge = smoothstep(0.9, 1, t);
      const terrace = (k + edge) / steps;
      const stepUp = t > 0.88 ? 1 - Math.abs(t - 0.95) / 0.07 : 0;
      canvas.height.data[i] =
        values.rivenMm.value * (terrace - 0.5 + 0.05 * ripples[x]! + 0.018 * grains[x]!);
      const id = hashUnit(k, 5, 0, canvas.seed) - 0.5;
      const tone =
        1 +
        0.1 * id +
        0.07 * clouds[x]! +
        0.07 * grains[x]! +
        0.05 * fines[x]! +
        0.05 * ripples[x]! +
        0.22 * Math.max(0, stepUp);
      canvas.put(i, base, tone);
      const rust = smoothstep(
        1.1 - 1.5 * stained,
        1.5 - 1.5 * stained,
        0.5 + 0.7 * clouds[x]! + 0.35 * ripples[x]! + 0.3 * id,
      );
      if (stained > 0 && rust > 0) canvas.over(i, stain, 0.75 * rust);
      canvas.gloss.data[i] = 1.5 * grains[x]! + 4 * id - 3 * rust;
    }
  });
}

const marbleSettings = {
  lab: colour('Ground', [88, 0, 1], 'colour between the veins, polished'),
  second: colour('Clouds', [80, 0, 2], 'broad variation of the ground'),
  vein: colour('Veins', [52, 0, 3], 'colour of the veins'),
  veinMm: size('Widest vein', 'mm', [9, 0.5, 120], 'width of the widest; most are much finer'),
  apartMm: size('Veins apart', 'mm', [260, 20, 3000], 'from one main vein to the next'),
  veinPercent: size('Strength of the veins', '%', [70, 0, 100], 'how clearly veins show'),
  brecciaPercent: size('Broken ground', '%', [10, 0, 100], 'how far veins close into a net'),
} as const;

export const MARBLE = family({
  kind: 'marble',
  name: 'Marble',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 1600, height: 1600 },
  settings: marbleSettings,
  headline: ['lab', 'second', 'vein', 'veinMm', 'apartMm', 'veinPercent'],
  response: { base: 'dielectric', glossGu: 75 },
  parts: () => [{ id: 'vein', name: 'Veins' }],
  paint: paintMarble,
});

/** Veins are warped sheets that branch: along the zero crossings of several warped fields. Each has a halo that bleeds to one side. */
async function paintMarble(canvas: Canvas, values: ValuesOf<typeof marbleSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [ground, cloudy, vein] = [rgbOf(values.lab.lab), rgbOf(values.second.lab), rgbOf(values.vein.lab)];
  const apart = values.apartMm.value;
  const main = canvas.wavesAt(1, { x: 1.5 * apart, y: 0.8 * apart }, 2, 0.5);
  const branch = canvas.wavesAt(2, { x: 0.6 * apart, y: 0.42 * apart }, 2, 0.5);
  const hair = canvas.wavesAt(3, { x: 0.28 * apart, y: 0.2 * apart }, 2, 0.5);
  const warpX = canvas.waves(4, 0.55 * apart, 5, 0.55);
  const warpY = canvas.waves(5, 0.55 * apart, 5, 0.55);
  const width = canvas.waves(6, 0.5 * apart, 3, 0.6);
  const cloud = canvas.waves(7, 0.9 * apart, 6, 0.6);
  const crystal = canvas.waves(8, 0.7, 2, 0.85);
  const here = canvas.waves(9, 0.8 * apart, 3, 0.5);
  const part = canvas.part('vein');
  const strength = values.veinPercent.value / 100;
  const net = values.brecciaPercent.value / 100;
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  const widest = values.veinMm.value;
  await canvas.rows((y, first) => {
    const [wx, wy, widths, clouds, crystals, heres] = [
      warpX.row(y),
      warpY.row(y),
      width.row(y),
      cloud.row(y),
      crystal.row(y),
      here.row(y),
    ];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = (x + 0.5) / px.width + (0.16 * apart * wx[x]!) / sizeMm.width;
      const v = (y + 0.5) / px.height + (0.16 * apart * wy[x]!) / sizeMm.height;
      let [line, halo] = [0, 0];
      const sheet = (field: number, slopeMm: number, wide: number, amount: number) => {
        const d = Math.abs(field) * slopeMm;
        const seen = amount * (1 - smoothstep(0.35 * wide, wide + pixel, d));
        line = Math.max(line, seen);
        halo = Math.max(halo, amount * Math.exp(-d / (4 * wide + 6)));
      };
      const swell = Math.max(0.08, 0.42 + 1.1 * widths[x]!);
      sheet(main(u, v), 0.9 * apart, 0.5 * widest * swell, Math.min(1, 0.75 + 0.5 * heres[x]!));
      sheet(
        branch(u, v) - 0.1,
        0.42 * apart,
        0.16 * widest * swell,
        smoothstep(-0.05 - net, 0.55 - net, heres[x]! + 0.4 * widths[x]!) * 0.75,
      );
      sheet(
        hair(u, v) + 0.05,
        0.2 * apart,
        0.05 * widest + 0.12,
        smoothstep(0.05 - net, 0.7 - net, clouds[x]! - 0.4 * heres[x]!) * 0.5,
      );
      const t = Math.min(1, Math.max(0, 0.4 + 0.5 * clouds[x]! + 0.45 * halo * strength));
      canvas.mix(i, ground, cloudy, t, 1 + 0.02 * crystals[x]! + 0.015 * clouds[x]!);
      const laid = strength * line * (0.8 + 0.25 * crystals[x]! + 0.2 * widths[x]!);
      if (laid > 0) canvas.over(i, vein, Math.min(1, laid));
      part[i] = Math.min(1, line);
      canvas.height.data[i] = 0.002 * crystals[x]! - 0.004 * line;
      canvas.gloss.data[i] = -7 * line + 1.5 * crystals[x]!;
    }
  });
}

const graniteSettings = {
  first: colour('First mineral', [72, 2, 4], 'the commonest, feldspar as a rule'),
  second: colour('Second mineral', [62, 0, 1], 'glassy quartz as a rule'),
  third: colour('Dark mineral', [22, 0, 1], 'mica or hornblende'),
  crystalMm: size('Crystals', 'mm', [5, 0.3, 60], 'mean diameter of the first mineral'),
  secondPercent: size('Share of the second', '%', [28, 0, 60], 'of the face'),
  darkPercent: size('Share of the dark', '%', [14, 0, 60], 'of the face'),
} as const;

export const GRANITE = family({
  kind: 'granite',
  name: 'Granite',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 500, height: 500 },
  settings: graniteSettings,
  headline: ['first', 'second', 'third', 'crystalMm', 'secondPercent', 'darkPercent'],
  response: { base: 'dielectric', glossGu: 80 },
  parts: () => [{ id: 'dark', name: 'Dark mineral' }],
  checks: moreThanTheFace,
  paint: paintGranite,
});

function moreThanTheFace({ secondPercent, darkPercent }: ValuesOf<typeof graniteSettings>): Check[] {
  const all = secondPercent.value + darkPercent.value;
  if (all <= 100) return [];
  return [
    open(
      'sample',
      'minerals-over-face',
      `The second and the dark mineral are asked for on ${printNumber(all, 0)} % of the face: nothing is left for the first, and the second gets ${printNumber(100 - darkPercent.value, 0)} %.`,
    ),
  ];
}

/** Crystals grown against each other: cells with straight and bent borders, each with its own tone and cleavage. */
async function paintGranite(canvas: Canvas, values: ValuesOf<typeof graniteSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const minerals = [rgbOf(values.first.lab), rgbOf(values.second.lab), rgbOf(values.third.lab)] as const;
  const mm = values.crystalMm.value;
  const counts = (cell: number) =>
    [Math.max(3, Math.round(sizeMm.width / cell)), Math.max(3, Math.round(sizeMm.height / cell))] as const;
  const [nx, ny] = counts(mm);
  const [mx, my] = counts(0.42 * mm);
  const large = cellsAt(nx, ny, 0.95, canvas.seed);
  const little = cellsAt(mx, my, 0.95, canvas.seed + 5);
  const bend = canvas.waves(1, 0.5 * mm, 3, 0.6);
  const bendY = canvas.waves(2, 0.5 * mm, 3, 0.6);
  const inner = canvas.waves(3, 0.16 * mm, 3, 0.7);
  const fine = canvas.waves(4, 0.3, 2, 0.8);
  const part = canvas.part('dark');
  const dark = values.darkPercent.value / 100;
  // Of the face, not of what the dark mineral leaves of it.
  const left = meetsShares(canvas.version) ? Math.max(0.01, 1 - dark) : 1;
  const quartz = values.secondPercent.value / 100 / left;
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  await canvas.rows((y, first) => {
    const [bx, by, inners, fines] = [bend.row(y), bendY.row(y), inner.row(y), fine.row(y)];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = (x + 0.5) / px.width + (0.16 * mm * bx[x]!) / sizeMm.width;
      const v = (y + 0.5) / px.height + (0.16 * mm * by[x]!) / sizeMm.height;
      const big = large(u, v);
      const small = little(u, v);
      const pick = hashUnit(big.id, 1, 0, canvas.seed);
      // Small dark flakes lie between the large crystals as well as in clusters.
      const flake =
        hashUnit(small.id, 2, 0, canvas.seed) <
        dark * (1 + 0.6 * (hashUnit(big.id, 4, 0, canvas.seed) - 0.5));
      const which = flake ? 2 : pick < quartz ? 1 : 0;
      const cell = flake ? small : big;
      const own = hashUnit(cell.id, 3, 0, canvas.seed) - 0.5;
      const border = (flake ? 0.42 : 1) * mm * cell.edge;
      const rim = 1 - smoothstep(0, Math.max(0.12, pixel), border);
      const zoned = which === 0 ? 0.05 * Math.sin(14 * big.f1 + 6 * own) : 0;
      const tone =
        1 + (which === 1 ? 0.22 : 0.16) * own + 0.09 * inners[x]! + 0.05 * fines[x]! + zoned - 0.12 * rim;
      canvas.put(i, minerals[which]!, tone);
      part[i] = flake ? 1 : 0;
      canvas.height.data[i] = 0.003 * fines[x]! - 0.01 * rim;
      canvas.gloss.data[i] = (which === 2 ? -10 : which === 1 ? 4 : 0) - 6 * rim;
    }
  });
}
