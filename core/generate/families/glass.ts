import { gradientNoise } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Sheet glass by its making. What it lets through and reflects is set in Response; here are its faces. */

const settings = {
  making: choice(
    'Face',
    {
      roller: 'rolled, with roller wave',
      drawn: 'drawn',
      fluted: 'fluted',
      reeded: 'reeded',
      cathedral: 'cathedral',
      satin: 'satin',
    },
    'how the pane was made',
  ),
  pitchMm: size('Pitch', 'mm', [12, 1, 600], 'of flutes, reeds or dishes; the length of waves'),
  depthMm: size('Depth', 'mm', [1.2, 0, 20], 'from the deepest to the highest point'),
  seedsPerM2: size('Bubbles', '1/m²', [0, 0, 20000], 'small bubbles, drawn out along the pane'),
  lab: colour('Colour before white', [92, -3, 1], 'of the pane lying on a white sheet'),
} as const;
type Values = ValuesOf<typeof settings>;

/** Only faces with a true profile stand on a whole number of pitches. */
const isPitched = ({ making }: Values) => making === 'fluted' || making === 'reeded';

export const GLASS = family({
  kind: 'sheet-glass',
  name: 'Sheet glass',
  group: 'Glass',
  category: 'glass',
  repeatMm: { width: 600, height: 600 },
  settings,
  headline: ['making', 'pitchMm', 'depthMm', 'seedsPerM2', 'lab'],
  response: { base: 'glass', glossGu: 92 },
  closing: (values, { width, height }) => ({
    width: isPitched(values)
      ? values.pitchMm.value * Math.max(1, Math.round(width / values.pitchMm.value))
      : width,
    height,
  }),
  courses: (values, { width }) => ({
    across: isPitched(values) ? Math.max(1, Math.round(width / values.pitchMm.value)) : 1,
    up: 1,
  }),
  paint,
});

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const base = rgbOf(values.lab.lab);
  const profile = profileOf(canvas, values);
  const faint = canvas.waves(1, 220, 3, 0.5);
  await canvas.rows((y, first) => {
    const faints = faint.row(y);
    const heights = profile(y);
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      canvas.put(i, base, 1 + 0.003 * faints[x]!);
      canvas.height.data[i] = heights[x]!;
    }
  });
  if (values.making === 'cathedral') await hammer(canvas, values);
  await layBubbles(canvas, values);
}

/** Height of a row, mm. */
function profileOf(canvas: Canvas, values: Values): (y: number) => Float32Array {
  const { px, sizeMm } = canvas;
  const [pitch, depth] = [values.pitchMm.value, values.depthMm.value];
  const out = new Float32Array(px.width);
  if (isPitched(values)) {
    // Arcs of a circle through the edges of a pitch: hollow for flutes, round for reeds.
    const radius = (pitch * pitch) / (8 * Math.max(1e-3, depth)) + depth / 2;
    const wander = canvas.waves(2, { x: 40, y: 300 }, 2, 0.5);
    return (y) => {
      const bent = wander.row(y);
      for (let x = 0; x < px.width; x++) {
        const at = ((x + 0.5) * canvas.mm.x) / pitch;
        const t = (at - Math.floor(at) - 0.5) * pitch;
        const arc = radius - Math.sqrt(Math.max(0, radius * radius - t * t));
        out[x] = (values.making === 'fluted' ? arc : depth - arc) + 0.01 * depth * bent[x]!;
      }
      return out;
    };
  }
  if (values.making === 'satin' || values.making === 'cathedral') {
    const fine = canvas.waves(3, 0.25, 2, 0.8);
    const amount = values.making === 'satin' ? 0.004 : 0;
    return (y) => fine.row(y).map((v) => amount * v);
  }
  const lines = values.making === 'roller';
  const wave = canvas.waves(
    4,
    lines ? { x: 0.5 * pitch, y: 8 * pitch } : { x: 1.5 * pitch, y: 0.8 * pitch },
    2,
    0.45,
  );
  const turns = Math.max(1, Math.round(sizeMm.width / pitch));
  return (y) => {
    const w = wave.row(y);
    for (let x = 0; x < px.width; x++)
      out[x] =
        depth *
        (lines ? 0.35 * Math.sin((2 * Math.PI * turns * (x + 0.5)) / px.width) + 0.2 * w[x]! : 0.45 * w[x]!);
    return out;
  };
}

/** Overlapping dishes that a hammered roller pressed in. */
async function hammer(canvas: Canvas, values: Values): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const pitch = values.pitchMm.value;
  const count = Math.round((2.8 * width * height) / (pitch * pitch));
  await canvas.scatter(count, 'dishes', canvas.seed * 23 + 4, (random) => {
    const radius = 0.62 * pitch * random.between(0.65, 1.25);
    const deep = values.depthMm.value * random.between(0.4, 1);
    const seed = random.whole(1e6);
    canvas.around(random.next() * width, random.next() * height, 1.1 * radius, 1.1 * radius, (i, dx, dy) => {
      const bent =
        1 +
        0.2 *
          gradientNoise(
            dx / 900 + 0.5,
            dy / 900 + 0.5,
            Math.round(900 / pitch),
            Math.round(900 / pitch),
            seed,
          );
      const d = ((dx * dx + dy * dy) / (radius * radius)) * bent;
      if (d < 1) canvas.height.data[i] = Math.min(canvas.height.data[i]!, -deep * (1 - d) * (1 - d));
    });
  });
}

async function layBubbles(canvas: Canvas, { seedsPerM2 }: Values): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const count = Math.round((seedsPerM2.value * width * height) / 1e6);
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  await canvas.scatter(count, 'bubbles', canvas.seed * 29 + 1, (random) => {
    const radius = 0.15 + 0.5 * random.next() * random.next();
    const long = radius * random.between(1.4, 4);
    canvas.around(
      random.next() * width,
      random.next() * height,
      radius + pixel,
      long + pixel,
      (i, dx, dy) => {
        const d = Math.hypot(dx / radius, dy / long);
        const rim = Math.max(0, 1 - Math.abs(d - 0.82) / 0.35) * Math.min(1, radius / pixel);
        canvas.tone(i, 1 - 0.3 * rim);
      },
    );
  });
}
