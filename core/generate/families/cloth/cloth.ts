import { gradientNoise, hashUnit } from '../../../raster';
import { open, type Check } from '../../../surface';
import { printNumber } from '../../../units';
import { rgbOf, type Canvas, type Rgb } from '../../canvas';
import { family, type SizeMm } from '../../family';
import { choice, colour, lettered, list, size, text, type ValuesOf } from '../../setting';
import {
  drawdownOfRows,
  faultOfOrder,
  faultOfSequence,
  faultOfTieUp,
  herringbone,
  orderOf,
  readDraft,
  WEAVES,
  type Drawdown,
} from './draft';

/** Woven cloth: yarns are bodies that pass over and under each other by a draft, and leave openings. */

const weaveNames = Object.fromEntries(Object.entries(WEAVES).map(([key, { name }]) => [key, name])) as Record<
  keyof typeof WEAVES,
  string
>;

const settings = {
  weave: choice(
    'Weave',
    { ...weaveNames, herringbone: 'herringbone twill', own: 'own draft' },
    'how warp and weft cross',
  ),
  warpPerCm: size('Warp threads', '1/cm', [12, 0.5, 120], 'threads side by side across the cloth'),
  weftPerCm: size('Weft threads', '1/cm', [11, 0.5, 120], 'threads side by side along the cloth'),
  warpTex: size('Warp yarn', 'tex', [270, 1, 20000], 'linear density: grams per kilometre'),
  weftTex: size('Weft yarn', 'tex', [290, 1, 20000], 'linear density: grams per kilometre'),
  fibre: choice(
    'Fibre',
    { cotton: 'cotton', linen: 'linen', wool: 'wool', silk: 'silk', polyester: 'polyester', glass: 'glass' },
    'its density, with the linear density, gives the thickness of the yarns',
  ),
  crimpPercent: size('Warp crimp', '%', [6, 0, 40], 'how much longer the warp yarn is than the cloth'),
  flattening: size('Flattening', '1', [1.2, 1, 2.5], 'width of a yarn over the diameter of a round one'),
  yarns: lettered(
    list(
      'Yarns',
      'yarn',
      {
        lab: colour('Colour', [64, 2, 12], 'mean colour of the fibres'),
        second: colour('Second fibre', [52, 3, 14], 'of a melange; the same: none'),
        slubPercent: size('Slubs', '%', [8, 0, 80], 'how much the thickness changes along the yarn'),
        twistPerCm: size('Twist', '1/cm', [4, 0, 40], 'turns of the strands'),
      },
      [1, 6],
      [{}, { lab: [38, 1, 6], second: [30, 1, 4] }],
      'named A, B … in this order',
    ),
  ),
  warpOrder: text('Warp order', 'A', 'yarns of the warp as they follow each other', (t) =>
    faultOfOrder(t, 'Warp order'),
  ),
  weftOrder: text('Weft order', 'B', 'yarns of the weft as they follow each other', (t) =>
    faultOfOrder(t, 'Weft order'),
  ),
  ends: size('Ends of a herringbone', '1', [16, 4, 200], 'warp threads until the twill turns', true),
  threading: text('Threading', '1 2 3 4', 'shaft of each warp thread', (t) =>
    faultOfSequence(t, 'Threading'),
  ),
  tieUp: text('Tie-up', '1+2 2+3 3+4 1+4', 'shafts that each treadle lifts', faultOfTieUp),
  treadling: text('Treadling', '1 2 3 4', 'treadle of each weft thread', (t) =>
    faultOfSequence(t, 'Treadling'),
  ),
  hairsPerCm2: size('Loose fibres', '1', [6, 0, 400], 'fibres that lie above the yarns, per cm²'),
} as const;
type Values = ValuesOf<typeof settings>;

/** Density of fibres, g/cm³, and the share of a spun yarn that is fibre. */
const FIBRE_DENSITY = {
  cotton: 1.52,
  linen: 1.5,
  wool: 1.31,
  silk: 1.34,
  polyester: 1.38,
  glass: 2.55,
} as const;
const PACKING = 0.6;

/** Cloth that light passes straight through between its yarns is said to be open from this share. */
const OPEN = 0.002;

export const CLOTH = family({
  kind: 'cloth',
  name: 'Woven cloth',
  group: 'Cloth',
  category: 'textile',
  repeatMm: { width: 40, height: 40 },
  settings,
  headline: ['weave', 'warpPerCm', 'weftPerCm', 'warpTex', 'weftTex', 'yarns', 'warpOrder', 'weftOrder'],
  unused: ({ weave }) => [
    ...(weave === 'own' ? [] : (['threading', 'tieUp', 'treadling'] as const)),
    ...(weave === 'herringbone' ? [] : (['ends'] as const)),
  ],
  response: { base: 'dielectric', glossGu: 1.5 },
  parts: () => [
    { id: 'warp', name: 'Warp' },
    { id: 'weft', name: 'Weft' },
  ],
  finestMm: (values) => Math.min(10 / values.warpPerCm.value, 10 / values.weftPerCm.value) / 5,
  courses: (values, sizeMm) => {
    const down = drawdownOf(values);
    const [warps, wefts] = threadsOf(values, sizeMm);
    return { across: warps / down[0]!.length, up: wefts / down.length };
  },
  closing: (values, asked) => {
    const [warps, wefts] = threadsOf(values, asked);
    return { width: (10 * warps) / values.warpPerCm.value, height: (10 * wefts) / values.weftPerCm.value };
  },
  opens: (values) => opennessOf(values) > OPEN,
  paint,
  checks: crowded,
  facts: (values) => {
    const { widthMm } = yarnsOf(values);
    return [
      `Yarns are ${printNumber(widthMm.warp, 2)} and ${printNumber(widthMm.weft, 2)}\u2009mm wide; ${printNumber(100 * opennessOf(values), 1)} % of the area is open.`,
    ];
  },
});

/** Thickness of a yarn from its linear density: a cylinder of fibre and air. @returns mm */
export const yarnMm = (tex: number, fibre: keyof typeof FIBRE_DENSITY): number =>
  Math.sqrt((4e-3 * tex) / (Math.PI * PACKING * FIBRE_DENSITY[fibre]));

/** The drawdown that settings name. @throws RangeError */
function drawdownOf({ weave, ends, threading, tieUp, treadling }: Values): Drawdown {
  if (weave === 'own') return readDraft(threading, tieUp, treadling);
  if (weave === 'herringbone') return herringbone(ends.value);
  return drawdownOfRows(WEAVES[weave].rows);
}

/** The drawdown of a cloth as a recipe keeps it. @throws RangeError with a sentence where its draft cannot be */
export const drawdownOfCloth = (cloth: object): Drawdown => drawdownOf(cloth as Values);

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
const lcm = (a: number, b: number): number => (a / gcd(a, b)) * b;

/** Whole numbers of threads over the repeat, in steps of draft and order. @throws RangeError */
function threadsOf(values: Values, asked: SizeMm): [number, number] {
  const down = drawdownOf(values);
  const count = (name: string, mm: number, perCm: number, inDraft: number, order: string) => {
    const yarns = orderOf(order);
    const missing = yarns.find((k) => k >= values.yarns.length);
    if (missing !== undefined)
      throw new RangeError(
        `The ${name} order names yarn ${String.fromCharCode(65 + missing)}, but there ${values.yarns.length === 1 ? 'is only yarn A' : `are only ${values.yarns.length} yarns`}. Add it, or change the order.`,
      );
    const step = lcm(inDraft, yarns.length);
    return Math.max(1, Math.round((mm * perCm) / 10 / step)) * step;
  };
  const [warps, wefts] = [
    count('warp', asked.width, values.warpPerCm.value, down[0]!.length, values.warpOrder),
    count('weft', asked.height, values.weftPerCm.value, down.length, values.weftOrder),
  ];
  if (warps * wefts > MOST_CROSSINGS)
    throw new RangeError(
      `The repeat would hold ${printNumber(warps, 0)} by ${printNumber(wefts, 0)} threads; at most 1 million crossings are woven. Make the repeat smaller.`,
    );
  return [warps, wefts];
}

/** Crossings of warp and weft that can be woven. */
const MOST_CROSSINGS = 1e6;

/** Widths of the yarns and their spacing, mm. */
function yarnsOf({ warpPerCm, weftPerCm, warpTex, weftTex, fibre, flattening, crimpPercent }: Values) {
  const pitch = { warp: 10 / warpPerCm.value, weft: 10 / weftPerCm.value };
  const round = { warp: yarnMm(warpTex.value, fibre), weft: yarnMm(weftTex.value, fibre) };
  const flat = flattening.value;
  const widthMm = { warp: flat * round.warp, weft: flat * round.weft };
  const heightMm = { warp: round.warp / flat, weft: round.weft / flat };
  // Crimped yarns share the sum of their heights (Peirce 1937): amplitude of the warp by its crimp, the weft has the rest.
  const sum = heightMm.warp + heightMm.weft;
  const warpRise = Math.min(sum, (4 / 3) * pitch.weft * Math.sqrt(crimpPercent.value / 100));
  return { pitch, widthMm, heightMm, rise: { warp: warpRise, weft: sum - warpRise } };
}

/** Share of the area that is open: between yarns of both directions. */
export function opennessOf(values: Values): number {
  const { pitch, widthMm } = yarnsOf(values);
  const gap = (side: 'warp' | 'weft') => Math.max(0, 1 - widthMm[side] / pitch[side]);
  return gap('warp') * gap('weft');
}

/** Yarns of more than this share of their spacing press into each other. */
const CROWDED = 1.35;

function crowded(values: Values): Check[] {
  const { pitch, widthMm } = yarnsOf(values);
  return (['warp', 'weft'] as const).flatMap((side) =>
    widthMm[side] > CROWDED * pitch[side]
      ? [
          open(
            'sample',
            `cloth-crowded-${side}`,
            `The ${side} yarns are ${printNumber(widthMm[side], 2)}\u2009mm wide in ${printNumber(pitch[side], 2)}\u2009mm: they would not fit side by side. Use fewer threads per cm, or a finer yarn.`,
          ),
        ]
      : [],
  );
}

/** What of a yarn changes along it, in even steps. */
interface Profile {
  thick: Float32Array;
  aside: Float32Array;
  mix: Float32Array;
  turn: number;
  tone: number;
  yarn: number;
}

const STEPS_PER_PITCH = 6;

function profileOf(
  values: Values,
  yarn: number,
  lengthMm: number,
  crossings: number,
  pitchMm: number,
  seed: number,
): Profile {
  const { slubPercent } = values.yarns[yarn]!;
  const n = crossings * STEPS_PER_PITCH;
  const out: Profile = {
    thick: new Float32Array(n),
    aside: new Float32Array(n),
    mix: new Float32Array(n),
    turn: hashUnit(seed, 3, 1, 7),
    tone: 1 + 0.05 * (hashUnit(seed, 5, 1, 7) - 0.5),
    yarn,
  };
  const cells = (mm: number) => Math.max(2, Math.round(lengthMm / mm));
  const slub = slubPercent.value / 100;
  let sum = 0;
  for (let k = 0; k < n; k++) {
    const t = (k + 0.5) / n;
    const long = gradientNoise(t, 0.5, cells(26 * pitchMm), 1, seed);
    const short = gradientNoise(t, 0.5, cells(7 * pitchMm), 1, seed + 1);
    out.thick[k] = Math.max(0.35, 1 + slub * (1.1 * Math.max(0, long) * long * 3 + 0.6 * short));
    out.aside[k] = pitchMm * (0.05 + 0.12 * slub) * gradientNoise(t, 0.5, cells(9 * pitchMm), 1, seed + 2);
    out.mix[k] =
      0.5 +
      0.45 * gradientNoise(t, 0.5, cells(3 * pitchMm), 1, seed + 3) +
      0.3 * gradientNoise(t, 0.5, cells(0.9 * pitchMm), 1, seed + 4);
    sum += out.thick[k]!;
  }
  // Slubs thicken a yarn here and thin it there: on average it has the thickness of its linear density.
  for (let k = 0; k < n; k++) out.thick[k]! *= n / sum;
  return out;
}

/** How high the middle of a yarn rides between two crossings, −1 under to 1 over: level on floats. */
const eased = (t: number) => t * t * (3 - 2 * t);

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const { sizeMm, px } = canvas;
  const down = drawdownOf(values);
  const geometry = yarnsOf(values);
  const [warps, wefts] = threadsOf(values, sizeMm);
  const [warpOrder, weftOrder] = [orderOf(values.warpOrder), orderOf(values.weftOrder)];
  const colours = values.yarns.map((y) => [rgbOf(y.lab.lab), rgbOf(y.second.lab)] as const);
  const warp = await canvas.list(warps, (k) =>
    profileOf(
      values,
      warpOrder[k % warpOrder.length]!,
      sizeMm.height,
      wefts,
      geometry.pitch.weft,
      canvas.seed * 7907 + k * 31,
    ),
  );
  const weft = await canvas.list(wefts, (k) =>
    profileOf(
      values,
      weftOrder[k % weftOrder.length]!,
      sizeMm.width,
      warps,
      geometry.pitch.warp,
      canvas.seed * 6151 + k * 37 + 500000,
    ),
  );
  const up = (i: number, j: number) =>
    down[((j % down.length) + down.length) % down.length]![
      ((i % down[0]!.length) + down[0]!.length) % down[0]!.length
    ]!;
  const [warpPart, weftPart] = [canvas.part('warp'), canvas.part('weft')];
  const whole = new Float32Array(px.width * px.height).fill(1);
  const opens = opennessOf(values) > OPEN;
  const pull = canvas.waves(1, 22, 2, 0.5);
  const pullUp = canvas.waves(2, 19, 2, 0.5);
  // Fibres run along their yarn.
  const acrossMm = 0.09 * Math.min(geometry.widthMm.warp, geometry.widthMm.weft);
  const along = canvas.waves(3, { x: acrossMm, y: 9 * acrossMm }, 2, 0.8);
  const cross = canvas.waves(4, { x: 9 * acrossMm, y: acrossMm }, 2, 0.8);
  const top = { z: 0, share: 0, r: 0, g: 0, b: 0, warp: false };
  const lowest = -0.5 * (geometry.heightMm.warp + geometry.heightMm.weft);
  const pixelMm = Math.max(canvas.mm.x, canvas.mm.y);
  const twist = values.yarns.map((y) => y.twistPerCm.value / 10);

  const lay = (
    p: Profile,
    crossings: number,
    acrossMm: number,
    along: number,
    side: 'warp' | 'weft',
    ridesAt: number,
    fibres: number,
  ) => {
    const n = p.thick.length;
    const step = Math.floor((((along % crossings) + crossings) % crossings) * STEPS_PER_PITCH) % n;
    const half = 0.5 * geometry.widthMm[side] * p.thick[step]!;
    const q = (acrossMm + p.aside[step]!) / half;
    const edge = (1 - Math.abs(q)) * half;
    const share = Math.min(1, 0.5 + edge / pixelMm);
    if (share <= 0) return;
    const held = Math.min(0.999, Math.abs(q));
    const section = Math.sqrt(1 - held * held);
    const turns = twist[p.yarn]! * along * (side === 'warp' ? geometry.pitch.weft : geometry.pitch.warp);
    const strand = twist[p.yarn]! > 0 ? Math.cos(2 * Math.PI * (turns + p.turn + 0.55 * q)) : 0;
    const z =
      0.5 * geometry.rise[side] * ridesAt +
      0.5 * geometry.heightMm[side] * p.thick[step]! * (section + 0.16 * strand * section + 0.08 * fibres);
    if (share < 0.5 && top.share > share) return;
    if (z <= top.z && top.share >= 0.5) return;
    top.z = z;
    top.share = Math.max(top.share, share);
    const [a, b] = colours[p.yarn]!;
    const t = Math.min(1, Math.max(0, p.mix[step]! + 0.35 * fibres + 0.12 * strand));
    const tone = p.tone * (0.62 + 0.38 * section) * (0.86 + 0.14 * strand) * (1 + 0.22 * fibres);
    top.r = (a[0] + (b[0] - a[0]) * t) * tone;
    top.g = (a[1] + (b[1] - a[1]) * t) * tone;
    top.b = (a[2] + (b[2] - a[2]) * t) * tone;
    top.warp = side === 'warp';
  };

  await canvas.rows((y, first, yMm) => {
    const [pulls, lifts] = [pull.row(y), pullUp.row(y)];
    const [ofWarp, ofWefts] = [along.row(y), cross.row(y)];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = ((x + 0.5) * canvas.mm.x) / geometry.pitch.warp + 0.12 * pulls[x]!;
      const v = yMm / geometry.pitch.weft + 0.14 * lifts[x]!;
      top.z = -Infinity;
      top.share = 0;
      const [iu, iv] = [Math.floor(u), Math.floor(v)];
      // Neighbours reach in where yarns are wider than their spacing.
      const near = u - iu < 0.5 ? -1 : 1;
      const nearUp = v - iv < 0.5 ? -1 : 1;
      for (const k of [iu, iu + near]) {
        const j = Math.floor(v - 0.5);
        const t = eased(v - 0.5 - j);
        const rides = (up(k, j) ? 1 : -1) * (1 - t) + (up(k, j + 1) ? 1 : -1) * t;
        lay(
          warp[((k % warps) + warps) % warps]!,
          wefts,
          (u - k - 0.5) * geometry.pitch.warp,
          v,
          'warp',
          rides,
          ofWarp[x]!,
        );
      }
      for (const k of [iv, iv + nearUp]) {
        const j = Math.floor(u - 0.5);
        const t = eased(u - 0.5 - j);
        const rides = (up(j, k) ? -1 : 1) * (1 - t) + (up(j + 1, k) ? -1 : 1) * t;
        lay(
          weft[((k % wefts) + wefts) % wefts]!,
          warps,
          (v - k - 0.5) * geometry.pitch.weft,
          u,
          'weft',
          rides,
          ofWefts[x]!,
        );
      }
      const share = top.share;
      // Between yarns there is no surface; a level one keeps the slopes those of the yarns.
      const z = share > 0 ? Math.max(lowest, top.z) : 0.3 * lowest;
      // Light that falls between yarns comes out darker.
      const depth = Math.min(1, Math.max(0, (-z / Math.abs(lowest)) * 0.6 + 0.35));
      const dark = 1 - 0.35 * depth * depth;
      if (share > 0) canvas.put(i, [top.r, top.g, top.b], dark);
      else canvas.put(i, colours[0]![0], 0.35);
      canvas.height.data[i] = z;
      (top.warp ? warpPart : weftPart)[i] = share;
      whole[i] = share;
    }
  });
  await layHairs(
    canvas,
    values,
    colours.map(([a]) => a),
    whole,
  );
  if (opens) canvas.opacity = { widthPx: px.width, heightPx: px.height, data: whole };
}

/** Fibres that have come loose lie over the yarns in bends. */
async function layHairs(
  canvas: Canvas,
  values: Values,
  colours: readonly Rgb[],
  whole: Float32Array,
): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const count = Math.round((values.hairsPerCm2.value * width * height) / 100);
  const thickMm = 0.02;
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  const strength = Math.min(0.8, thickMm / pixel + 0.08);
  await canvas.scatter(count, 'loose fibres', canvas.seed + 991, (random) => {
    let [x, y, angle] = [random.next() * width, random.next() * height, random.next() * 2 * Math.PI];
    const bend = 0.35 * random.normal();
    const lengthMm = 0.8 + 3 * random.next();
    const c = colours[random.whole(colours.length)]!;
    const light: Rgb = [
      Math.min(1, 1.25 * c[0] + 0.02),
      Math.min(1, 1.25 * c[1] + 0.02),
      Math.min(1, 1.25 * c[2] + 0.02),
    ];
    for (let s = 0; s < lengthMm; s += pixel) {
      const px = ((Math.floor(x / canvas.mm.x) % canvas.px.width) + canvas.px.width) % canvas.px.width;
      const py = ((Math.floor(y / canvas.mm.y) % canvas.px.height) + canvas.px.height) % canvas.px.height;
      const i = py * canvas.px.width + px;
      if (whole[i]! > 0.5) {
        canvas.over(i, light, strength);
        canvas.height.data[i]! += 0.3 * thickMm;
      }
      x += Math.cos(angle) * pixel;
      y += Math.sin(angle) * pixel;
      angle += bend * pixel + 0.15 * pixel * random.normal();
    }
  });
}
