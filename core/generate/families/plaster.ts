import { squared } from '../../exact';
import { gradientNoise, smoothstep } from '../../raster';
import type { Steps } from '../../steps';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Plaster: what the tool leaves. Trowels lay arcs over one another; floats raise grain; limewash lies in thin brushed coats. */

const settings = {
  finish: choice(
    'Finish',
    { trowelled: 'trowelled', floated: 'floated', scraped: 'scraped' },
    'the last tool',
  ),
  lab: colour('Plaster', [84, 1, 6], 'colour of the plaster, dry'),
  trowelMm: size('Trowel', 'mm', [130, 20, 600], 'width of the blade or float'),
  reliefMm: size('Relief', 'mm', [0.35, 0, 5], 'from trough to ridge of the strokes'),
  grainMm: size('Largest grain', 'mm', [0.6, 0.05, 6], 'of the sand'),
  burnishPercent: size('Burnish', '%', [35, 0, 100], 'how strongly the blade polishes'),
  cloudPercent: size('Clouding', '%', [30, 0, 100], 'blotches from uneven drying'),
  limewashPercent: size('Limewash', '%', [0, 0, 100], 'how strongly brushed coats of wash show'),
  wash: colour('Limewash colour', [92, 0, 4], 'of the wash'),
  brushMm: size('Brush', 'mm', [110, 20, 300], 'width of the brush'),
} as const;
type Values = ValuesOf<typeof settings>;

export const PLASTER = family({
  kind: 'plaster',
  name: 'Plaster and limewash',
  group: 'Mineral',
  category: 'plaster',
  repeatMm: { width: 1500, height: 1500 },
  settings,
  headline: ['finish', 'lab', 'trowelMm', 'reliefMm', 'grainMm', 'limewashPercent'],
  response: { base: 'dielectric', glossGu: 3 },
  paint,
});

/** One stroke of a blade: an arc with its width. */
interface Stroke {
  x: number;
  y: number;
  radius: number;
  from: number;
  span: number;
  width: number;
  press: number;
  lift: number;
  seed: number;
}

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const n = canvas.height.data.length;
  const [streak, worn] = [new Float32Array(n), new Float32Array(n)];
  const heightOf = canvas.height.data;
  if (values.finish === 'trowelled') await layStrokes(canvas, values, streak, worn);
  const base = rgbOf(values.lab.lab);
  const wash = rgbOf(values.wash.lab);
  const cloud = canvas.waves(1, 420, 5, 0.62);
  const damp = canvas.waves(2, 130, 4, 0.6);
  const grain = canvas.waves(3, values.grainMm.value, 3, 0.75);
  const scrape = canvas.waves(4, { x: 40, y: values.grainMm.value }, 3, 0.7);
  const swirl = canvas.waves(5, 0.8 * values.trowelMm.value, 3, 0.6);
  const undulation = canvas.waves(6, 260, 2, 0.5);
  const coats = await coatsOf(canvas, values);
  const sandy = values.finish === 'trowelled' ? 0.25 : 1;
  await canvas.rows((y, first) => {
    const [clouds, damps, grains, scrapes, swirls, broad] = [
      cloud.row(y),
      damp.row(y),
      grain.row(y),
      scrape.row(y),
      swirl.row(y),
      undulation.row(y),
    ];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const rough = values.finish === 'scraped' ? 0.6 * grains[x]! + 0.9 * scrapes[x]! : grains[x]!;
      const open = values.finish === 'scraped' ? smoothstep(0.5, 0.9, grains[x]! + 0.3 * swirls[x]!) : 0;
      heightOf[i]! +=
        values.grainMm.value * sandy * (0.22 * rough - 0.5 * open) +
        0.3 * values.reliefMm.value * broad[x]! +
        (values.finish === 'floated' ? 0.2 * values.reliefMm.value * swirls[x]! : 0);
      const dry = (values.cloudPercent.value / 100) * (0.22 * clouds[x]! + 0.1 * damps[x]!);
      const burnt = (values.burnishPercent.value / 100) * worn[i]!;
      canvas.put(i, base, 1 + dry + 0.05 * streak[i]! + 0.035 * sandy * rough - 0.13 * burnt - 0.25 * open);
      const covered = (values.limewashPercent.value / 100) * coats[i]!;
      if (covered > 0) {
        canvas.over(i, wash, covered);
        heightOf[i]! += 0.04 * covered;
      }
      canvas.gloss.data[i] = 9 * burnt * (1 - covered) - 1.2 * covered;
    }
  });
}

/**
 * How much brushed coats of wash cover, 0–1: short strokes that cross at all angles, each of many bristles, and thin where the
 * brush ran dry.
 */
async function coatsOf(canvas: Canvas, { brushMm, limewashPercent }: Values): Promise<Float32Array> {
  const cover = new Float32Array(canvas.height.data.length);
  if (limewashPercent.value === 0) return cover;
  const { width, height } = canvas.sizeMm;
  const wide = brushMm.value;
  const count = Math.round((3.4 * width * height) / (wide * 2.6 * wide));
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  const seen = smoothstep(0.5, 1.6, 1.4 / pixel);
  await canvas.scatter(count, 'brush strokes', canvas.seed * 19 + 11, function* (random) {
    const [x, y] = [random.next() * width, random.next() * height];
    // Strokes cross: most run within 40° of two directions at right angles.
    const angle = (random.whole(2) * Math.PI) / 2 + 0.7 * (random.next() - 0.5) + 0.3;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const half = 0.5 * wide * random.between(1.8, 3.4);
    const load = random.between(0.3, 0.85);
    const bow = 0.12 * random.normal();
    const seed = random.whole(1e8);
    const reach = half + wide;
    yield* canvas.aroundSteps(x, y, reach, reach, (i, dx, dy) => {
      const along = (c * dx + s * dy) / half;
      if (along > 1.05 || along < -1.05) return;
      const across = (c * dy - s * dx + bow * half * along * along) / (0.5 * wide);
      if (across > 1.05 || across < -1.05) return;
      const bristle =
        0.55 * gradientNoise(0.5 + along * 0.2, 0.5 + across * 0.5, 3, 46, seed) +
        (seen > 0 ? seen * 0.6 * gradientNoise(0.5 + along * 0.2, 0.5 + across * 0.5, 5, 150, seed + 1) : 0);
      const ends = smoothstep(1.02, 0.72, Math.abs(along) + 0.22 * bristle);
      const sides = smoothstep(1.02, 0.86, Math.abs(across) + 0.1 * bristle);
      const wet = load * (1 - 0.35 * (along + 1) * 0.5) * (0.75 + 0.55 * bristle);
      const laid = Math.min(1, Math.max(0, ends * sides * wet));
      cover[i] = 1 - (1 - cover[i]!) * (1 - laid);
    });
  });
  return cover;
}

async function layStrokes(
  canvas: Canvas,
  values: Values,
  streak: Float32Array,
  worn: Float32Array,
): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const blade = values.trowelMm.value;
  const count = Math.round((2.6 * width * height) / (blade * 3.2 * blade));
  await canvas.scatter(count, 'trowel strokes', canvas.seed * 17 + 3, (random) => {
    const radius = blade * random.between(2.2, 6);
    return layStroke(canvas, values, streak, worn, {
      x: random.next() * width,
      y: random.next() * height,
      radius,
      from: random.next() * 2 * Math.PI,
      span: (blade * random.between(1.6, 4.2)) / radius,
      width: blade * random.between(0.75, 1.05),
      press: random.between(0.45, 1),
      lift: 0.28 * random.normal(),
      seed: random.whole(1e8),
    });
  });
}

/** Lays one stroke: it levels what it passes, scratches it along its arc, burnishes its middle and pushes a ridge out at its edge. */
function* layStroke(
  canvas: Canvas,
  values: Values,
  streak: Float32Array,
  worn: Float32Array,
  stroke: Stroke,
): Steps<void> {
  const height = canvas.height.data;
  const relief = values.reliefMm.value;
  const [cx, cy] = [
    stroke.x - stroke.radius * Math.cos(stroke.from),
    stroke.y - stroke.radius * Math.sin(stroke.from),
  ];
  const reach = (stroke.radius * stroke.span) / 2 + stroke.width;
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  const fine = smoothstep(0.5, 1.5, 1.2 / pixel);
  yield* canvas.aroundSteps(stroke.x, stroke.y, reach, reach, (i, dx, dy) => {
    const [px, py] = [stroke.x + dx - cx, stroke.y + dy - cy];
    const off = (Math.sqrt(px * px + py * py) - stroke.radius) / (stroke.width / 2);
    if (off > 1.08 || off < -1.08) return;
    let angle = Math.atan2(py, px) - stroke.from;
    angle -= 2 * Math.PI * Math.round(angle / (2 * Math.PI));
    const along = angle / (stroke.span / 2);
    if (along > 1.1 || along < -1.1) return;
    const s = stroke.seed;
    const ragged = 0.05 * gradientNoise(along * 0.4 + 0.5, off * 0.1 + 0.5, 30, 4, s);
    const end = 1 - smoothstep(0.7, 1, Math.abs(along) + 2 * ragged);
    const mask = (1 - smoothstep(0.88, 1, Math.abs(off) + ragged)) * end * stroke.press;
    if (mask > 0.002) {
      const scratch =
        0.5 * gradientNoise(along * 0.25 + 0.5, off * 0.5 + 0.5, 4, 40, s + 1) +
        // Where pixels do not show it, it is not worked out.
        (fine > 0 ? fine * 0.55 * gradientNoise(along * 0.25 + 0.5, off * 0.5 + 0.5, 9, 170, s + 2) : 0);
      height[i]! +=
        mask * 0.75 * (relief * (0.5 * stroke.lift + 0.12 * scratch) + 0.35 * height[i]! - height[i]!);
      streak[i] = streak[i]! * (1 - 0.8 * mask) + mask * (0.7 * scratch + 0.8 * stroke.lift);
      worn[i] = worn[i]! * (1 - mask) + mask * (1 - smoothstep(0, 0.85, Math.abs(off)));
    }
    const rim =
      Math.exp(-squared((Math.abs(off) - 0.97 + ragged) / Math.max(0.022, pixel / stroke.width))) *
      end *
      stroke.press;
    if (rim > 0.01)
      height[i]! +=
        0.5 * relief * rim * Math.max(0, 0.45 + gradientNoise(along * 0.4 + 0.5, 0.5, 24, 1, s + 3));
  });
}
