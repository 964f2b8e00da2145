import { gradientNoise, hashUnit, smoothstep } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { colour, size, type ValuesOf } from '../setting';
import { amountForShare, fieldOf, NOISE_RANGE } from '../share';
import { meetsShares } from '../version';

/** Stone that was laid down in beds, sawn: limestone with its shells and pores, sandstone with its laminae. */

const bedded = {
  lab: colour('Stone', [78, 2, 13], 'mean colour, honed and dry'),
  second: colour('Darker beds', [66, 4, 17], 'of beds and clouds'),
  bedMm: size('Beds', 'mm', [70, 2, 1000], 'from one bed to the next'),
  bedPercent: size('Contrast of the beds', '%', [40, 0, 100], 'how clearly beds show'),
} as const;

const limestoneSettings = {
  ...bedded,
  shellsPerM2: size('Shell fragments', '1/m²', [2200, 0, 100000], 'of all sizes up to the largest'),
  shellMm: size('Largest shell', 'mm', [28, 1, 200], 'length of the largest fragment'),
  porePercent: size('Open pores', '%', [1.5, 0, 20], 'share of the face that is open pore'),
  stylolites: size('Stylolites', '1', [2, 0, 20], 'jagged pressure seams in the height of the repeat', true),
} as const;

export const LIMESTONE = family({
  kind: 'limestone',
  name: 'Limestone',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 1200, height: 800 },
  settings: limestoneSettings,
  headline: ['lab', 'second', 'bedMm', 'shellsPerM2', 'shellMm', 'porePercent'],
  response: { base: 'dielectric', glossGu: 10 },
  parts: () => [{ id: 'pore', name: 'Pores' }],
  paint: paintLimestone,
});

async function paintLimestone(canvas: Canvas, values: ValuesOf<typeof limestoneSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [pale, dark] = [rgbOf(values.lab.lab), rgbOf(values.second.lab)];
  const bed = values.bedMm.value;
  const beds = canvas.wavesAt(1, { x: 14 * bed, y: 0.5 * bed }, 4, 0.6);
  const lamina = canvas.wavesAt(2, { x: 4 * bed, y: 0.09 * bed }, 3, 0.65);
  const bend = canvas.waves(3, { x: 6 * bed, y: 4 * bed }, 2, 0.5);
  const cloud = canvas.waves(4, 55, 4, 0.62);
  const mud = canvas.waves(5, 6, 4, 0.72);
  const ooid = canvas.waves(6, 0.9, 2, 0.8);
  const grain = canvas.waves(7, 0.28, 2, 0.8);
  const pores = await poresOf(canvas, values.porePercent.value);
  const part = canvas.part('pore');
  const contrast = values.bedPercent.value / 100;
  const jag = canvas.wavesAt(8, { x: 24, y: sizeMm.height }, 6, 0.7);
  // A stylolite has one outline over the width.
  const seams = Array.from({ length: values.stylolites.value }, (_, k) => ({
    jag: Float32Array.from({ length: px.width }, (__, x) => jag((x + 0.5) / px.width, 0.37 + 0.11 * k)),
    wide: Float32Array.from({ length: px.width }, (__, x) =>
      Math.max(
        0,
        gradientNoise(
          (x + 0.5) / px.width,
          0.3,
          Math.max(2, Math.round(sizeMm.width / 70)),
          1,
          canvas.seed + k,
        ),
      ),
    ),
  }));
  await canvas.rows((y, first, yMm) => {
    const [bends, clouds, muds, ooids, grains, poreRow] = [
      bend.row(y),
      cloud.row(y),
      mud.row(y),
      ooid.row(y),
      grain.row(y),
      pores.row(y),
    ];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = (x + 0.5) / px.width;
      const v = (y + 0.5) / px.height + (0.25 * bed * bends[x]!) / sizeMm.height;
      const b = beds(u, v);
      const t = 0.42 + contrast * (0.4 * b + 0.22 * lamina(u, v)) + 0.12 * clouds[x]! + 0.16 * muds[x]!;
      const tone = 1 + 0.055 * ooids[x]! + 0.05 * grains[x]!;
      canvas.mix(i, pale, dark, Math.min(1, Math.max(0, t)), tone);
      let seam = 0;
      for (let k = 0; k < values.stylolites.value; k++) {
        const at =
          ((k + 0.5 + 0.3 * (hashUnit(k, 1, 0, canvas.seed) - 0.5)) / values.stylolites.value) *
          sizeMm.height;
        const d = yMm - at - 9 * seams[k]!.jag[x]! - 0.2 * bed * bends[x]!;
        const wide = 0.35 + 0.5 * seams[k]!.wide[x]!;
        seam = Math.max(seam, Math.exp(-(d * d) / (wide * wide)));
      }
      canvas.tone(i, 1 - 0.4 * seam);
      const pore = poreRow[x]!;
      part[i] = pore;
      canvas.tone(i, 1 - 0.5 * pore);
      canvas.height.data[i] = 0.006 * ooids[x]! + 0.005 * grains[x]! - 0.35 * pore - 0.05 * seam;
      canvas.gloss.data[i] = -8 * pore - 2 * seam + 1.2 * muds[x]!;
    }
  });
  await layShells(canvas, values);
}

const HIGHER_THAN_NOISE = 100;
const PORE_EDGE = 0.14;

/** Open pores in rows: where noise stands above the level that gives their share. */
async function poresOf(canvas: Canvas, percent: number): Promise<{ row: (y: number) => Float32Array }> {
  const holes = canvas.waves(11, { x: 2.2, y: 1.5 }, 2, 0.6);
  const where = canvas.waves(12, { x: 40, y: 18 }, 3, 0.6);
  const field = await fieldOf(canvas, [holes, where], (hole, place) => hole + 0.45 * place);
  const level =
    percent <= 0
      ? HIGHER_THAN_NOISE
      : meetsShares(canvas.version)
        ? -amountForShare(field, percent / 100, (v, up) => smoothstep(0, PORE_EDGE, v + up), NOISE_RANGE)
        : 1.02 - 0.2 * Math.log(1 + 2 * percent);
  const { width } = canvas.px;
  const out = new Float32Array(width);
  return {
    row(y) {
      for (let x = 0; x < width; x++) out[x] = smoothstep(level, level + PORE_EDGE, field[y * width + x]!);
      return out;
    },
  };
}

/** Fragments of shells: thin arcs that lie along the bed, thickest in their middle. */
async function layShells(
  canvas: Canvas,
  { shellsPerM2, shellMm }: ValuesOf<typeof limestoneSettings>,
): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const count = Math.round((shellsPerM2.value * width * height) / 1e6);
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  await canvas.scatter(count, 'shell fragments', canvas.seed * 3 + 1, (random) => {
    const t = random.next();
    const radius = 0.5 * shellMm.value * (0.06 + 0.94 * t * t * t * t);
    const [x, y] = [random.next() * width, random.next() * height];
    const from = -Math.PI / 2 + 0.45 * random.normal() + (random.next() < 0.2 ? Math.PI : 0);
    const span = random.between(0.6, 2.4);
    const thick = Math.max(0.18, radius * random.between(0.06, 0.2));
    const light = random.next() < 0.68 ? random.between(0.1, 0.34) : -random.between(0.08, 0.24);
    const seed = random.whole(1e8);
    const reach = radius + thick + pixel;
    canvas.around(x, y, reach, reach, (i, dx, dy) => {
      const sy = 1.4 * dy;
      const r = Math.sqrt(dx * dx + sy * sy);
      let angle = Math.atan2(sy, dx) - from;
      angle -= 2 * Math.PI * Math.round(angle / (2 * Math.PI));
      const along = Math.abs(angle) / (span / 2);
      if (along > 1) return;
      const own =
        thick * Math.sqrt(1 - along * along) * (1 + 0.4 * gradientNoise(angle / 7 + 0.5, 0.5, 30, 1, seed));
      const share = Math.min(
        1,
        Math.max(0, 0.5 + (0.5 * own - Math.abs(r - radius)) / Math.max(pixel, 0.12)),
      );
      if (share <= 0) return;
      canvas.tone(i, 1 + light * share);
      canvas.gloss.data[i]! += 3 * share * (light > 0 ? 1 : -1);
    });
  });
}

const sandstoneSettings = {
  ...bedded,
  lab: colour('Stone', [70, 6, 20], 'mean colour, sawn and dry'),
  second: colour('Iron bands', [54, 14, 27], 'of bands that iron has stained'),
  bedMm: size('Beds', 'mm', [45, 1, 1000], 'from one bed to the next'),
  crossDeg: size('Cross-bedding', 'deg', [8, 0, 35], 'how steeply laminae lie across their bed'),
  grainMm: size('Grain', 'mm', [0.4, 0.06, 2], 'diameter of the sand'),
  workedMm: size('Roughness of the face', 'mm', [0.12, 0, 4], 'from the sawn to the tooled face'),
} as const;

export const SANDSTONE = family({
  kind: 'sandstone',
  name: 'Sandstone',
  group: 'Floors and stone',
  category: 'stone',
  repeatMm: { width: 1000, height: 600 },
  settings: sandstoneSettings,
  headline: ['lab', 'second', 'bedMm', 'bedPercent', 'crossDeg', 'grainMm'],
  response: { base: 'dielectric', glossGu: 3 },
  paint: paintSandstone,
});

async function paintSandstone(canvas: Canvas, values: ValuesOf<typeof sandstoneSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [pale, dark] = [rgbOf(values.lab.lab), rgbOf(values.second.lab)];
  const bed = values.bedMm.value;
  const rows = Math.max(1, Math.round(sizeMm.height / bed));
  const bend = canvas.waves(1, { x: 5 * bed, y: 5 * bed }, 3, 0.5);
  // Laminae that lie across their bed climb by a whole period over the width, so that they close.
  const slope = Math.tan((values.crossDeg.value * Math.PI) / 180);
  const climbMm = Math.max(slope * sizeMm.width, 0);
  const crossed = climbMm > 0.2 * bed;
  const periodMm = crossed ? climbMm : sizeMm.height;
  const line = canvas.wavesAt(2, { x: sizeMm.width, y: (0.1 * bed * sizeMm.height) / periodMm }, 3, 0.7);
  const iron = canvas.wavesAt(3, { x: 12 * bed, y: 0.7 * bed }, 4, 0.6);
  const sand = canvas.waves(4, values.grainMm.value, 2, 0.8);
  const coarse = canvas.waves(5, 3 * values.grainMm.value, 2, 0.7);
  const cloud = canvas.waves(6, 80, 4, 0.6);
  const contrast = values.bedPercent.value / 100;
  await canvas.rows((y, first) => {
    const [bends, sands, coarses, clouds] = [bend.row(y), sand.row(y), coarse.row(y), cloud.row(y)];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = (x + 0.5) / px.width;
      const v = (y + 0.5) / px.height + (0.3 * bed * bends[x]!) / sizeMm.height;
      const k = Math.floor(v * rows);
      const id = ((k % rows) + rows) % rows;
      // Each bed was laid by its own current: laminae slope one way in it, the other way in the next.
      const climbs = crossed ? (hashUnit(id, 7, 0, canvas.seed) < 0.5 ? -1 : 1) : 0;
      const lam = line(0.5, (v * sizeMm.height) / periodMm + climbs * u + hashUnit(id, 9, 0, canvas.seed));
      const ironed = smoothstep(0.05, 0.75, iron(u, v) + 0.25 * clouds[x]!);
      const t = 0.18 + contrast * (0.32 * lam + 0.75 * ironed);
      const tone =
        1 +
        0.1 * sands[x]! +
        0.06 * coarses[x]! +
        0.04 * clouds[x]! +
        0.05 * contrast * (hashUnit(id, 3, 0, canvas.seed) - 0.5);
      canvas.mix(i, pale, dark, Math.min(1, Math.max(0, t)), tone);
      canvas.height.data[i] =
        values.workedMm.value * (0.5 * sands[x]! + 0.35 * coarses[x]! - 0.25 * lam * contrast);
      canvas.gloss.data[i] = 0.8 * sands[x]!;
    }
  });
}
