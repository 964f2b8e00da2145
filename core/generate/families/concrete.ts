import { gradientNoise, hashUnit, seededRandom, smoothstep } from '../../raster';
import { printMm } from '../../units';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Cast concrete: the formwork prints itself, air leaves blowholes, cement and sand part a little, water leaves its lines. */

const settings = {
  formwork: choice(
    'Formwork',
    { boards: 'rough-sawn boards', panel: 'smooth panels', steel: 'steel' },
    'what it was cast against',
  ),
  lab: colour('Concrete', [66, 0, 3], 'mean colour, dry'),
  boardMm: size('Board width', 'mm', [140, 40, 600], 'of board formwork'),
  grainMm: size('Depth of the board grain', 'mm', [0.7, 0, 4], 'from late to early wood of the boards'),
  stepMm: size('Steps between boards', 'mm', [1.2, 0, 8], 'how far boards stand off each other'),
  burrMm: size('Burr in the joints', 'mm', [1.5, 0, 8], 'what ran into the joints between boards'),
  holesPerM2: size('Blowholes', '1/m²', [260, 0, 20000], 'air voids open to the face'),
  holeMm: size('Widest blowhole', 'mm', [8, 0.5, 30], 'diameter of the widest; most are much smaller'),
  cloudPercent: size('Clouding', '%', [45, 0, 100], 'broad variation of tone'),
  tieMm: size('Tie holes apart', 'mm', [0, 0, 6000], 'spacing of tie holes; 0: none'),
} as const;
type Values = ValuesOf<typeof settings>;

export const CONCRETE = family({
  kind: 'concrete',
  name: 'Concrete',
  group: 'Mineral',
  category: 'concrete',
  repeatMm: { width: 2400, height: 1400 },
  settings,
  headline: ['formwork', 'lab', 'boardMm', 'grainMm', 'holesPerM2', 'holeMm'],
  unused: ({ formwork }) => (formwork === 'boards' ? [] : ['boardMm', 'grainMm', 'stepMm', 'burrMm']),
  response: { base: 'dielectric', glossGu: 4 },
  parts: () => [{ id: 'hole', name: 'Blowholes' }],
  closing: ({ formwork, boardMm }, { width, height }) => ({
    width,
    height: formwork === 'boards' ? boardMm.value * Math.max(1, Math.round(height / boardMm.value)) : height,
  }),
  courses: ({ formwork, boardMm }, { height }) => ({
    across: 1,
    up: formwork === 'boards' ? Math.max(1, Math.round(height / boardMm.value)) : 1,
  }),
  paint,
});

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const { px, sizeMm } = canvas;
  const base = rgbOf(values.lab.lab);
  const cloud = canvas.waves(1, 520, 5, 0.6);
  const tide = canvas.waves(2, { x: 700, y: 160 }, 4, 0.55);
  const rich = canvas.waves(3, 60, 4, 0.65);
  const sand = canvas.waves(4, 0.9, 2, 0.8);
  const streak = canvas.waves(5, { x: 18, y: 380 }, 3, 0.6);
  const boards = values.formwork === 'boards' ? boardsOf(canvas, values) : null;
  const clouding = values.cloudPercent.value / 100;
  await canvas.rows((y, first) => {
    const [clouds, tides, riches, sands, streaks] = [
      cloud.row(y),
      tide.row(y),
      rich.row(y),
      sand.row(y),
      streak.row(y),
    ];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      // A water line is the dried edge of a tide.
      const line = 1 - smoothstep(0, 0.05, Math.abs(tides[x]! - 0.35));
      const board = boards?.at(x, y);
      const tone =
        1 +
        clouding * (0.15 * clouds[x]! + 0.1 * riches[x]! + 0.03 * streaks[x]! - 0.08 * line) +
        0.035 * sands[x]! +
        (board ? clouding * board.tone : 0);
      canvas.put(i, base, tone);
      const warm = 0.02 * clouding * riches[x]!;
      canvas.colour.r[i]! *= 1 + warm;
      canvas.colour.b[i]! *= 1 - warm;
      canvas.height.data[i] =
        0.02 * sands[x]! +
        0.15 * clouds[x]! * (values.formwork === 'steel' ? 0.3 : 1) +
        (board ? board.heightMm : 0);
      canvas.gloss.data[i] =
        values.formwork === 'boards' ? 0.6 * riches[x]! : 2.5 * riches[x]! + 1.5 * clouds[x]!;
      if (board && board.sandy > 0) canvas.tone(i, 1 - 0.14 * board.sandy);
    }
  });
  await layHoles(canvas, values);
  if (values.tieMm.value > 0) layTies(canvas, values.tieMm.value, sizeMm);
}

/** Print of sawn boards: grain, their steps, the burr that ran into their joints, ends now and then. */
function boardsOf(canvas: Canvas, values: Values) {
  const { sizeMm, px, mm } = canvas;
  const pitch = values.boardMm.value;
  const rows = Math.max(1, Math.round(sizeMm.height / pitch));
  const grain = canvas.waves(31, { x: 420, y: 2.6 }, 3, 0.75);
  const saw = canvas.waves(32, { x: 5, y: 34 }, 2, 0.6);
  const wander = canvas.waves(33, { x: 260, y: 40 }, 2, 0.5);
  const random = seededRandom(canvas.seed * 13 + 1);
  const boards = Array.from({ length: rows }, () => ({
    step: values.stepMm.value * (random.next() - 0.5),
    tone: 0.16 * random.normal(),
    tilt: 0.5 * values.stepMm.value * (random.next() - 0.5),
    knots: Array.from({ length: random.whole(4) }, () => ({
      x: random.next() * sizeMm.width,
      y: 0.2 + 0.6 * random.next(),
      r: 5 + 9 * random.next(),
    })),
    shift: random.whole(px.width),
    figure: random.between(0.4, 1),
    centre: random.between(-0.3, 1.3),
  }));
  const rowOf = () => ({ grains: grain.row(0), saws: saw.row(0), wanders: wander.row(0) });
  let last = -1;
  let { grains, saws, wanders } = rowOf();
  const out = { heightMm: 0, tone: 0, sandy: 0 };
  return {
    at(x: number, y: number) {
      if (y !== last) [last, grains, saws, wanders] = [y, grain.row(y), saw.row(y), wander.row(y)];
      const xMm = (x + 0.5) * mm.x;
      const yMm = (y + 0.5) * mm.y + 0.35 * wanders[x]!;
      const up = yMm / pitch;
      const k = ((Math.floor(up) % rows) + rows) % rows;
      const board = boards[k]!;
      const v = up - Math.floor(up);
      const shifted = (x + board.shift) % px.width;
      // Cathedral figure: rings around a middle line that wanders.
      let d = Math.abs(v - board.centre - 0.12 * wanders[shifted]!) * pitch;
      for (const knot of board.knots) {
        let dx = xMm - knot.x;
        dx -= sizeMm.width * Math.round(dx / sizeMm.width);
        const dy = (v - knot.y) * pitch;
        const far = Math.sqrt((dx * dx) / 2.2 + dy * dy);
        d += 1.6 * knot.r * Math.exp(-((far / (1.7 * knot.r)) * (far / (1.7 * knot.r))));
      }
      const rings = Math.sin((2 * Math.PI * (d + 3 * grains[shifted]!)) / (6.5 + 3 * board.figure));
      const ring = smoothstep(-0.2, 0.9, rings);
      const edge = Math.min(v, 1 - v) * pitch;
      const joint = Math.exp(-((edge / 1.1) * (edge / 1.1)));
      const burr =
        joint *
        Math.max(
          0,
          0.55 +
            0.8 *
              gradientNoise(
                xMm / sizeMm.width,
                (k + 0.5) / 64,
                Math.round(sizeMm.width / 45),
                64,
                canvas.seed + 9,
              ),
        );
      out.heightMm =
        board.step +
        board.tilt * (v - 0.5) -
        values.grainMm.value *
          (0.55 * ring * board.figure + 0.3 * (0.5 + grains[shifted]!) + 0.05 * saws[shifted]!) +
        values.burrMm.value * burr;
      out.tone = board.tone + 0.06 * (0.5 - ring) + 0.05 * grains[shifted]!;
      out.sandy = joint * 0.8 + 0.5 * smoothstep(0.5, 1, grains[shifted]!);
      return out;
    },
  };
}

/** Air voids: many small, few wide; round, flat above where a bubble clung. */
async function layHoles(canvas: Canvas, { holesPerM2, holeMm }: Values): Promise<void> {
  const part = canvas.part('hole');
  const { width, height } = canvas.sizeMm;
  const count = Math.round((holesPerM2.value * width * height) / 1e6);
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  await canvas.scatter(count, 'blowholes', canvas.seed * 7 + 2, (random) => {
    const t = random.next();
    const radius = 0.5 * holeMm.value * (0.1 + 0.9 * t * t * t * t * t);
    const long = 1 + 0.5 * random.next() * random.next();
    const [x, y] = [random.next() * width, random.next() * height];
    const seed = random.whole(1e6);
    canvas.around(x, y, radius * long + pixel, radius * long + pixel, (i, dx, dy) => {
      const rough =
        1 +
        0.14 *
          gradientNoise(
            dx / 64 + 0.5,
            dy / 64 + 0.5,
            Math.max(4, Math.round(90 / radius)),
            Math.max(4, Math.round(90 / radius)),
            seed,
          );
      const d = Math.hypot(dx / long, dy) * rough;
      const share = Math.min(1, Math.max(0, 0.5 + (radius - d) / pixel));
      if (share === 0) return;
      part[i] = Math.max(part[i]!, share);
      const deep = Math.sqrt(Math.max(0, 1 - (d * d) / (radius * radius)));
      canvas.tone(i, 1 - share * (0.12 + 0.3 * deep));
      canvas.height.data[i]! -= share * radius * (0.25 + 0.75 * deep);
      canvas.gloss.data[i]! -= 2 * share;
    });
  });
}

const LEAST_TIES_APART_MM = 50;

/** Cone holes of formwork ties, in a square grid. @throws RangeError where they would run into each other */
function layTies(
  canvas: Canvas,
  apartMm: number,
  { width, height }: { width: number; height: number },
): void {
  const [radius, deepMm] = [11, 14];
  if (apartMm < LEAST_TIES_APART_MM)
    throw new RangeError(
      `Tie holes are ${printMm(2 * radius)} mm wide and cannot be ${printMm(apartMm)} mm apart. Give at least ${LEAST_TIES_APART_MM} mm, or 0 for none.`,
    );
  const [nx, ny] = [Math.max(1, Math.round(width / apartMm)), Math.max(1, Math.round(height / apartMm))];
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  for (let j = 0; j < ny; j++)
    for (let k = 0; k < nx; k++)
      canvas.around(
        ((k + 0.5) * width) / nx,
        ((j + 0.5) * height) / ny,
        radius + 4,
        radius + 4,
        (i, dx, dy) => {
          const d = Math.hypot(dx, dy) * (1 + 0.02 * hashUnit(k, j, 0, canvas.seed));
          const share = Math.min(1, Math.max(0, 0.5 + (radius - d) / pixel));
          canvas.tone(i, 1 - 0.4 * share);
          canvas.height.data[i]! -= share * deepMm * Math.min(1, (radius - d) / 4 + 0.2);
        },
      );
}
