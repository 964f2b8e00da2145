import { hashUnit, smoothstep } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family, type SizeMm } from '../family';
import { cellsAt } from '../noise';
import { choice, colour, size, type ValuesOf } from '../setting';
import { amountForShare, fieldOf, NOISE_RANGE } from '../share';
import { meetsShares } from '../version';

/** Sheet metal by its making: brushed, rolled, galvanised, with mill scale, or rusted. */

const brushedSettings = {
  lab: colour('Metal', [76, 0, 2], 'reflectance of the metal'),
  longestMm: size('Longest scratch', 'mm', [80, 5, 2000], 'of the grit'),
  shortestMm: size('Shortest scratch', 'mm', [5, 0.5, 500], 'of the grit'),
  perCm2: size('Scratches', '1', [260, 1, 3000], 'that begin in a square centimetre'),
  spreadDeg: size('Spread of direction', 'deg', [0.8, 0, 30], 'standard deviation of their angle'),
  deepestUm: size('Deepest', 'µm', [4, 0, 200], 'depth of the deepest scratch'),
} as const;

export const BRUSHED = family({
  kind: 'brushed-metal',
  name: 'Brushed metal',
  group: 'Metal',
  category: 'metal',
  repeatMm: { width: 240, height: 120 },
  settings: brushedSettings,
  headline: ['lab', 'longestMm', 'perCm2', 'spreadDeg', 'deepestUm'],
  response: { base: 'metal', glossGu: 220 },
  paint: paintBrushed,
  strokesPx: scratchedPx,
});

/** How many scratches there are, and their lengths. */
function scratchesOf(
  { perCm2, shortestMm, longestMm }: ValuesOf<typeof brushedSettings>,
  { width, height }: SizeMm,
) {
  return {
    count: Math.round((perCm2.value * width * height) / 100),
    shortest: shortestMm.value,
    longest: Math.max(shortestMm.value, longestMm.value),
  };
}

/** A scratch is so wide where it is as deep as most, mm, and at least so many pixels are changed across it. */
const USUAL_WIDTH_MM = 0.06;
const LEAST_WIDTH_PX = 1.5;

/** Pixels along all scratches, times their width. */
function scratchedPx(values: ValuesOf<typeof brushedSettings>, sizeMm: SizeMm, px: SizeMm): number {
  const { count, shortest, longest } = scratchesOf(values, sizeMm);
  // The mean of lengths that are even on a logarithmic scale.
  const meanMm = longest > shortest ? (longest - shortest) / Math.log(longest / shortest) : shortest;
  const lengthPx = Math.max(1, (meanMm * px.width) / sizeMm.width);
  return count * lengthPx * Math.max(LEAST_WIDTH_PX, (USUAL_WIDTH_MM * px.height) / sizeMm.height);
}

/** Scratches whose lengths are spread evenly on a logarithmic scale, shallow at their ends, over the soft bands of the sheet. */
async function paintBrushed(canvas: Canvas, values: ValuesOf<typeof brushedSettings>): Promise<void> {
  const { px, sizeMm, mm } = canvas;
  const base = rgbOf(values.lab.lab);
  const band = canvas.waves(1, { x: sizeMm.width, y: 14 }, 4, 0.6);
  const cloud = canvas.waves(2, 60, 3, 0.5);
  const hair = canvas.waves(3, { x: 12, y: 0.09 }, 2, 0.8);
  await canvas.rows((y, first) => {
    const [bands, clouds, hairs] = [band.row(y), cloud.row(y), hair.row(y)];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      canvas.put(i, base, 1 + 0.02 * bands[x]! + 0.015 * clouds[x]! + 0.07 * hairs[x]!);
      canvas.height.data[i] = (values.deepestUm.value / 1000) * 0.3 * hairs[x]!;
      canvas.gloss.data[i] = 25 * hairs[x]! + 8 * bands[x]!;
    }
  });
  const { count, shortest, longest } = scratchesOf(values, sizeMm);
  const deepest = values.deepestUm.value / 1000;
  const { r, g, b } = canvas.colour;
  const [height, gloss] = [canvas.height.data, canvas.gloss.data];
  await canvas.scatter(count, 'scratches', canvas.seed * 3 + 7, (random) => {
    const length = Math.max(
      1,
      Math.round((shortest * Math.exp(random.next() * Math.log(longest / shortest))) / mm.x),
    );
    const [x0, y0] = [random.next() * px.width, random.next() * px.height];
    const slope = (Math.tan((values.spreadDeg.value * random.normal() * Math.PI) / 180) * mm.x) / mm.y;
    const depth = 0.08 + 0.92 * random.next() * random.next() * random.next();
    const half = Math.max(0.75, (0.02 + 0.05 * depth) / mm.y);
    // A scratch finer than a pixel changes it less.
    const faint = Math.min(1, (0.02 + 0.05 * depth) / mm.y / 0.75);
    const shine = random.next() < 0.5 ? -1 : 0.9;
    canvas.hasVisited(length * (2 * half + 1));
    for (let k = 0; k < length; k++) {
      const along = (k + 0.5) / length;
      const here = faint * depth * Math.min(1, 6 * along, 6 * (1 - along));
      const x = Math.floor(x0 + k) % px.width;
      const y = y0 + k * slope;
      for (let row = Math.ceil(y - half); row <= y + half; row++) {
        const within = row >= 0 && row < px.height ? row : ((row % px.height) + px.height) % px.height;
        const i = within * px.width + x;
        const across = here * (1 - Math.abs(row - y) / half);
        const tone = 1 + 0.16 * shine * across;
        r[i]! *= tone;
        g[i]! *= tone;
        b[i]! *= tone;
        height[i]! -= deepest * across;
        gloss[i]! -= 40 * across;
      }
    }
  });
}

const sheetSettings = {
  surface: choice(
    'Surface',
    {
      rolled: 'rolled, weathered',
      galvanised: 'galvanised',
      scale: 'blackened with mill scale',
      rusted: 'rusted',
      peened: 'cast or peened',
    },
    'what covers the metal',
  ),
  lab: colour('Metal', [62, -1, -2], 'bare metal'),
  cover: colour('Covering', [44, -1, -5], 'oxide, scale or rust, where it is thick'),
  coverPercent: size('Covered', '%', [55, 0, 100], 'how much of the metal it hides'),
  grainMm: size('Elements', 'mm', [14, 0.5, 300], 'spangles, flakes, blisters or dents'),
  depthMm: size('Relief', 'mm', [0.03, 0, 5], 'from lowest to highest'),
} as const;

export const SHEET_METAL = family({
  kind: 'sheet-metal',
  name: 'Rolled, galvanised, blackened and rusted metal',
  group: 'Metal',
  category: 'metal',
  repeatMm: { width: 1000, height: 1000 },
  settings: sheetSettings,
  headline: ['surface', 'lab', 'cover', 'coverPercent', 'grainMm', 'depthMm'],
  response: { base: 'dielectric', glossGu: 18 },
  parts: () => [{ id: 'cover', name: 'Covering' }],
  paint: paintSheet,
});

async function paintSheet(canvas: Canvas, values: ValuesOf<typeof sheetSettings>): Promise<void> {
  const painters = { rolled, galvanised, scale, rusted, peened };
  await painters[values.surface](canvas, values);
}

type SheetValues = ValuesOf<typeof sheetSettings>;

/** What every sheet has: its metal, its covering, and the part that tells them apart. */
function ground(canvas: Canvas, values: SheetValues) {
  const [metal, cover] = [rgbOf(values.lab.lab), rgbOf(values.cover.lab)];
  return {
    metal,
    cover,
    part: canvas.part('cover'),
    covered: values.coverPercent.value / 100,
    depth: values.depthMm.value,
  };
}

const MOST_TIMES = 60;

/** What a veil is taken times, so that it covers its share though it covers no place more than once. */
const veilTimes = ({ version }: Canvas, field: Float64Array, covered: number): number =>
  meetsShares(version)
    ? amountForShare(field, covered, (v, times) => Math.min(1, Math.max(0, covered * times * v)), [
        0,
        MOST_TIMES,
      ])
    : 1;

/** Rolled sheet: fine grain along the rolling direction, soft mill bands, an oxide that lies in clouds. */
async function rolled(canvas: Canvas, values: SheetValues): Promise<void> {
  const { metal, cover, part, covered, depth } = ground(canvas, values);
  const cloudy = await fieldOf(
    canvas,
    [canvas.waves(4, 180, 6, 0.6), canvas.waves(6, 9, 4, 0.7)],
    (c, f) => 1 + 0.4 * c + 0.18 * f,
  );
  const times = veilTimes(canvas, cloudy, covered);
  const grain = canvas.waves(1, { x: 45, y: 0.5 }, 2, 0.8);
  const line = canvas.waves(2, { x: 160, y: 2.4 }, 2, 0.7);
  const band = canvas.waves(3, { x: canvas.sizeMm.width, y: 70 }, 3, 0.6);
  const drop = canvas.waves(5, 210, 3, 0.5);
  await canvas.rows((y, first) => {
    const [g, l, b, d] = [grain.row(y), line.row(y), band.row(y), drop.row(y)];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const veil = Math.min(1, Math.max(0, covered * times * cloudy[i]!));
      // Water that dried left a pale rim.
      const rim = 1 - smoothstep(0, 0.03, Math.abs(d[x]! - 0.42));
      canvas.mix(i, metal, cover, veil, 1 + 0.05 * g[x]! + 0.045 * l[x]! + 0.04 * b[x]! + 0.05 * rim);
      part[i] = veil;
      canvas.height.data[i] = depth * (0.12 * g[x]! + 0.1 * l[x]! + 0.3 * b[x]!);
      canvas.gloss.data[i] = -16 * (veil - covered) + 4 * g[x]! + 3 * l[x]!;
    }
  });
}

/** Galvanised sheet: zinc crystals, each with its own direction; feathered inside, with fine borders. */
async function galvanised(canvas: Canvas, values: SheetValues): Promise<void> {
  const { metal, cover, part, covered, depth } = ground(canvas, values);
  const { px, sizeMm } = canvas;
  const mm = values.grainMm.value;
  const [nx, ny] = [Math.max(3, Math.round(sizeMm.width / mm)), Math.max(3, Math.round(sizeMm.height / mm))];
  const cells = cellsAt(nx, ny, 1, canvas.seed);
  const bend = canvas.waves(1, 0.35 * mm, 4, 0.6);
  const bendY = canvas.waves(2, 0.35 * mm, 4, 0.6);
  const frost = canvas.waves(3, 0.09 * mm, 3, 0.75);
  const cloud = canvas.waves(4, 160, 5, 0.6);
  const feathers = Array.from({ length: 6 }, (_, k) => {
    const lean = k % 2 === 0 ? { x: 0.9 * mm, y: 0.07 * mm } : { x: 0.07 * mm, y: 0.9 * mm };
    return canvas.waves(10 + k, lean, 2, 0.7);
  });
  const [dull, tones] = [new Float64Array(px.width * px.height), new Float64Array(px.width * px.height)];
  await canvas.rows((y, first) => {
    const [bx, by, fr, c] = [bend.row(y), bendY.row(y), frost.row(y), cloud.row(y)];
    const grown = feathers.map((f) => f.row(y));
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const cell = cells(
        (x + 0.5) / px.width + (0.13 * mm * bx[x]!) / sizeMm.width,
        (y + 0.5) / px.height + (0.13 * mm * by[x]!) / sizeMm.height,
      );
      const facet = hashUnit(cell.id, 0, 0, canvas.seed) - 0.5;
      const feather = grown[Math.floor(hashUnit(cell.id, 1, 0, canvas.seed) * 6)]![x]!;
      const rim = 1 - smoothstep(0, 0.05, cell.edge);
      dull[i] = 1 + 0.5 * c[x]! + 0.5 * facet + 0.3 * feather;
      tones[i] = 1 + 0.42 * facet + 0.16 * feather + 0.05 * fr[x]! - 0.06 * rim;
      canvas.height.data[i] = depth * (0.25 * facet + 0.12 * feather - 0.35 * rim);
      canvas.gloss.data[i] = 14 * facet + 6 * feather - 4 * rim;
    }
  });
  const times = veilTimes(canvas, dull, covered);
  for (let i = 0; i < dull.length; i++) {
    const veil = Math.min(1, Math.max(0, covered * times * dull[i]!));
    canvas.mix(i, metal, cover, veil, tones[i]!);
    part[i] = veil;
  }
}

/** Hot-rolled sheet: blue-brown scale that flakes off in sharp-edged patches. */
async function scale(canvas: Canvas, values: SheetValues): Promise<void> {
  const { metal, cover, part, covered, depth } = ground(canvas, values);
  const patch = canvas.waves(1, { x: 5 * values.grainMm.value, y: 3 * values.grainMm.value }, 5, 0.62);
  const chip = canvas.waves(2, 0.5 * values.grainMm.value, 3, 0.65);
  const patches = await fieldOf(canvas, [patch, chip], (p, q) => p + 0.22 * q);
  const hue = canvas.waves(3, 120, 4, 0.6);
  const streak = canvas.waves(4, { x: 220, y: 4 }, 3, 0.65);
  const fine = canvas.waves(5, 0.5, 2, 0.8);
  const level = meetsShares(canvas.version)
    ? -amountForShare(patches, covered, (v, up) => smoothstep(0, 0.05, v + up + 0.42), NOISE_RANGE)
    : 0.95 - 1.5 * covered + 0.28;
  await canvas.rows((y, first) => {
    const [h, s, f] = [hue.row(y), streak.row(y), fine.row(y)];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const field = patches[i]! - level + 0.42;
      const lies = smoothstep(0, 0.05, field);
      const rim = lies * (1 - smoothstep(0.05, 0.14, field));
      canvas.mix(
        i,
        metal,
        cover,
        lies * (0.86 + 0.14 * s[x]!),
        1 + 0.07 * s[x]! + 0.05 * f[x]! + 0.06 * h[x]! - 0.14 * rim,
      );
      // Thin oxide goes from brown to blue.
      canvas.colour.r[i]! *= 1 + 0.11 * lies * h[x]!;
      canvas.colour.b[i]! *= 1 - 0.13 * lies * h[x]!;
      part[i] = lies;
      canvas.height.data[i] = depth * (lies - 0.5 + 0.08 * f[x]! + 0.05 * s[x]!);
      canvas.gloss.data[i] = 9 * (lies - covered) + 3 * s[x]! + 2 * h[x]!;
    }
  });
}

/** Rust: blisters and grains in several tones, dark where it is dense, bright orange where it is young, over pitted metal. */
async function rusted(canvas: Canvas, values: SheetValues): Promise<void> {
  const { metal, cover, part, covered, depth } = ground(canvas, values);
  const mm = values.grainMm.value;
  const cloud = canvas.waves(1, 9 * mm, 6, 0.62);
  const tone = canvas.waves(2, 3 * mm, 5, 0.65);
  const grit = canvas.waves(3, 0.12 * mm, 3, 0.75);
  const pit = canvas.ridges(4, 0.4 * mm, 3, 0.55);
  const fine = canvas.waves(5, 0.4, 2, 0.8);
  const run = canvas.waves(6, { x: 1.2 * mm, y: 22 * mm }, 4, 0.6);
  const spread = await fieldOf(
    canvas,
    [cloud, tone, grit, run],
    (c, t, g, r) => 0.5 + 0.62 * c + 0.2 * t + 0.12 * g + 0.12 * r,
  );
  const thickOf = (v: number, more: number) =>
    smoothstep(0.75 - 1.5 * covered - more, 1.25 - 1.5 * covered - more, v);
  const more = meetsShares(canvas.version) ? amountForShare(spread, covered, thickOf, NOISE_RANGE) : 0;
  await canvas.rows((y, first) => {
    const [c, t, g, p, f, r] = [cloud.row(y), tone.row(y), grit.row(y), pit.row(y), fine.row(y), run.row(y)];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const thick = thickOf(spread[i]!, more);
      const young = smoothstep(0, 0.7, t[x]! + 0.3 * g[x]!);
      const old = smoothstep(0.05, 0.75, -t[x]! + 0.35 * c[x]!);
      canvas.mix(
        i,
        metal,
        cover,
        thick,
        1 + 0.13 * g[x]! + 0.07 * f[x]! + thick * (0.38 * young - 0.45 * old + 0.1 * r[x]!),
      );
      canvas.colour.r[i]! *= 1 + 0.14 * thick * young;
      canvas.colour.b[i]! *= 1 - 0.3 * thick * young + 0.12 * thick * old;
      const deep = smoothstep(0.7, 0.95, p[x]!) * thick;
      part[i] = thick;
      canvas.height.data[i] = depth * (0.5 * thick + 0.22 * g[x]! * thick + 0.1 * f[x]! - 0.5 * deep);
      canvas.gloss.data[i] = -14 * (thick - covered) - 2 * g[x]!;
    }
  });
}

/** Cast or peened: overlapping round dents, bright on what stands between them. */
async function peened(canvas: Canvas, values: SheetValues): Promise<void> {
  const { metal, cover, part, covered, depth } = ground(canvas, values);
  const { width, height } = canvas.sizeMm;
  const mm = values.grainMm.value;
  const count = Math.round((2.4 * width * height) / (mm * mm));
  await canvas.scatter(count, 'dents', canvas.seed * 11 + 2, (random) => {
    const radius = 0.5 * mm * random.between(0.7, 1.25);
    const strike = depth * random.between(0.5, 1);
    canvas.around(random.next() * width, random.next() * height, radius, radius, (i, dx, dy) => {
      const d = (dx * dx + dy * dy) / (radius * radius);
      if (d < 1) canvas.height.data[i] = Math.min(canvas.height.data[i]!, -strike * (1 - d));
    });
  });
  const fine = canvas.waves(1, 0.6, 3, 0.75);
  const cloud = canvas.waves(2, 90, 5, 0.6);
  const lowAt = (i: number) => (depth > 0 ? Math.min(1, -canvas.height.data[i]! / depth) : 0);
  const settles = await fieldOf(canvas, [cloud], (c, _f, _g, _r, i) => 0.55 + 0.7 * lowAt(i) + 0.3 * c);
  const times = veilTimes(canvas, settles, covered);
  await canvas.rows((y, first) => {
    const [f, c] = [fine.row(y), cloud.row(y)];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const low = lowAt(i);
      const veil = Math.min(1, Math.max(0, covered * times * settles[i]!));
      canvas.mix(i, metal, cover, veil, 1 + 0.04 * f[x]! + 0.04 * c[x]!);
      part[i] = veil;
      canvas.height.data[i]! += 0.03 * depth * f[x]!;
      canvas.gloss.data[i] = 10 * (0.4 - low) + 2 * f[x]!;
    }
  });
}
