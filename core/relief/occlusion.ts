import { KernelModule, makeRoom, MemoryLayout } from '../kernels/web-assembly';
import compiled from '../kernels/occlusion.wasm';
import { makePlane, type Plane } from '../raster';
import { shareRows, type RowTask } from '../shared-rows';
import { atOnce, type Steps } from '../steps';
import type { NormalField } from './normal';

/**
 * How much of the sky each point of a relief sees, cosine-weighted about its own normal: 1 in the open, 0 enclosed.
 *
 * Horizons are found step by step in 24 directions on the torus. Steps near by take every pixel, further ones grow by a
 * tenth, so the cost grows with the logarithm of the radius, and a wall is seen at most a tenth too far away. The
 * integral within each slice is analytic (Jimenez, Wu, Pesce, Jarabo 2016, eq. 7–10).
 */

/** Lattice steps of twelve lines; each is looked along both ways. They meet pixel centres; only between the first ones is interpolated. */
const LINES: readonly (readonly [number, number])[] = [
  [1, 0],
  [3, 1],
  [2, 1],
  [1, 1],
  [1, 2],
  [1, 3],
  [0, 1],
  [-1, 3],
  [-1, 2],
  [-1, 1],
  [-2, 1],
  [-3, 1],
];
/** So many steps take every pixel of a line. */
const NEAR_STEPS = 8;
/** So many first steps of a line are looked at between pixel centres too. */
const STEPS_BETWEEN = 3;
/** Beyond this share of the radius a rise fades out. */
const FADES_FROM = 0.75;

interface OcclusionKernel {
  /** Occlusion of row `y`; addresses in bytes. See core/kernels/assembly/occlusion.ts. */
  occludeRow(
    y: number,
    widthPx: number,
    heightPx: number,
    stride: number,
    border: number,
    plane: number,
    lines: number,
    lineCount: number,
    steps: number,
    pairs: number,
    nx: number,
    ny: number,
    nz: number,
    out: number,
  ): void;
}
const KERNEL = new KernelModule<OcclusionKernel>(compiled);

/**
 * @param height mm, repeating
 * @param normals of that height
 * @param mmPerPx size of a pixel
 * @param radiusMm how far away something may stand and still take light; beyond, it fades out
 */
export const occlusionOfHeight = (
  height: Plane,
  normals: NormalField,
  mmPerPx: { x: number; y: number },
  radiusMm: number,
): Plane => atOnce(occlusionInSteps(height, normals, mmPerPx, radiusMm));

/** The same in steps of some rows, which threads share out among them. */
export function* occlusionInSteps(
  { widthPx, heightPx, data }: Plane,
  { x, y, z }: NormalField,
  mmPerPx: { x: number; y: number },
  radiusMm: number,
): Steps<Plane> {
  const open = makePlane(widthPx, heightPx);
  yield* shareRows(OCCLUSION, {
    settings: { widthPx, heightPx, mmPerPx, radiusMm },
    whole: { height: data },
    byRow: { x, y, z },
    out: { open: open.data },
    rows: heightPx,
  });
  return open;
}

interface OcclusionSettings {
  widthPx: number;
  heightPx: number;
  mmPerPx: { x: number; y: number };
  radiusMm: number;
}

export const OCCLUSION: RowTask<
  OcclusionSettings,
  { height: Float32Array },
  { x: Float32Array; y: Float32Array; z: Float32Array },
  { open: Float32Array }
> = {
  name: 'occlusion',
  begin({ widthPx: w, heightPx: h, mmPerPx, radiusMm }, { height }) {
    const lines = linesAcross(mmPerPx, radiusMm, w, h);
    const border = Math.max(...lines.flatMap(({ steps }) => steps.map(({ along }) => Math.abs(along)))) + 16;
    const stride = w + 2 * border;
    const stepCount = lines.reduce((sum, { steps }) => sum + steps.length, 0);
    const at = new MemoryLayout();
    const plane = at.of(stride * h + 16);
    const [lineTable, stepTable] = [at.of(7 * lines.length), at.of(6 * stepCount)];
    const pairs = at.of(4 * stepCount);
    const [nx, ny, nz, row] = [at.of(w + 16), at.of(w + 16), at.of(w + 16), at.of(w + 16)];
    // Others may compute occlusion while this is left between two steps.
    const kernel = KERNEL.ofItsOwn();
    makeRoom(kernel, at.bytes);
    const floats = new Float32Array(kernel.memory.buffer);
    const integers = new Int32Array(kernel.memory.buffer);
    writeWithBorder({ widthPx: w, heightPx: h, data: height }, border, floats, plane / 4);
    writeLines(lines, integers, floats, lineTable / 4, stepTable / 4);
    return ({ x, y, z }, { open }, from, to) => {
      for (let line = from, i = 0; line < to; line++, i += w) {
        floats.set(x.subarray(i, i + w), nx / 4);
        floats.set(y.subarray(i, i + w), ny / 4);
        floats.set(z.subarray(i, i + w), nz / 4);
        kernel.occludeRow(
          ...[line, w, h, stride, border, plane, lineTable, lines.length, stepTable, pairs],
          ...[nx, ny, nz, row],
        );
        open.set(floats.subarray(row / 4, row / 4 + w), i);
      }
    };
  },
};

/** A line through every point: its unit vector, half of the wedge it stands for, and the steps along it. */
interface Line {
  ux: number;
  uy: number;
  half: number;
  /** How many steps lie between pixels; they come first. */
  between: number;
  /** How many steps lie before the height fades out. */
  near: number;
  steps: Step[];
}
interface Step {
  /** Columns along and rows down; on the torus, columns by the shorter way. */
  along: number;
  down: number;
  /** One over its length in mm, faded towards the radius. */
  inverse: number;
  /** For a step between pixels: columns and rows to the other one, and its share. */
  other?: { along: number; down: number; share: number };
}

function linesAcross(mmPerPx: { x: number; y: number }, radiusMm: number, w: number, h: number): Line[] {
  const directions = LINES.map(([a, b]) => {
    const dx = a * mmPerPx.x;
    const dy = -b * mmPerPx.y; // b counts rows downwards
    const stepMm = Math.sqrt(dx * dx + dy * dy);
    const angle = ((Math.atan2(dy, dx) % Math.PI) + Math.PI) % Math.PI;
    return { a, b, stepMm, angle, ux: dx / stepMm, uy: dy / stepMm };
  });
  const angles = directions.map(({ angle }) => angle).sort((i, j) => i - j);
  return directions.map(({ a, b, stepMm, angle, ux, uy }) => {
    // Each line stands for the wedge up to halfway to its neighbours.
    const i = angles.indexOf(angle);
    const before = i > 0 ? angles[i - 1]! : angles.at(-1)! - Math.PI;
    const after = i < angles.length - 1 ? angles[i + 1]! : angles[0]! + Math.PI;
    const between = stepsBetween(a, b, stepMm, radiusMm, h);
    const taken = stepsWithin(radiusMm / stepMm);
    return {
      ...{ ux, uy, half: (after - before) / (4 * Math.PI) },
      between: between.length,
      near: between.length + taken.filter((k) => k === 1 || k * stepMm <= FADES_FROM * radiusMm).length,
      steps: [
        ...between,
        ...taken.map((k) => ({
          along: shorterWay(k * a, w),
          down: (k * b) % h,
          inverse: faded(k * stepMm, radiusMm),
        })),
      ],
    };
  });
}

/** Steps of one pixel along the longer axis, which meet the shorter one between two pixels: linear, so planes stay planes. */
function stepsBetween(a: number, b: number, stepMm: number, radiusMm: number, heightPx: number): Step[] {
  const pixels = Math.max(Math.abs(a), Math.abs(b));
  const out: Step[] = [];
  for (let i = 1; i < STEPS_BETWEEN * pixels; i++) {
    const run = (i / pixels) * stepMm;
    if (i % pixels === 0 || run > FADES_FROM * radiusMm) continue;
    const [along, down] = [(i * a) / pixels, (i * b) / pixels];
    const [floorAlong, floorDown] = [Math.floor(along), Math.floor(down)];
    const other =
      along > floorAlong
        ? { along: 1, down: 0, share: along - floorAlong }
        : { along: 0, down: 1, share: down - floorDown };
    out.push({ along: floorAlong, down: floorDown % heightPx, inverse: 1 / run, other });
  }
  return out;
}

/** Numbers of steps up to a reach: every one near by, then each a seventh further than the one before. */
function stepsWithin(reach: number): number[] {
  const taken: number[] = [];
  for (
    let k = 1;
    k <= Math.max(1, Math.ceil(reach));
    k = k < NEAR_STEPS ? k + 1 : Math.max(k + 1, Math.round(1.1 * k))
  )
    taken.push(k);
  return taken;
}

/** A shift on a circle of `around`, from minus one half of it to one half. */
function shorterWay(shift: number, around: number): number {
  const rest = ((shift % around) + around) % around;
  return 2 * rest > around ? rest - around : rest;
}

/** One over a run, fading out towards the radius. */
function faded(run: number, radiusMm: number): number {
  const from = FADES_FROM * radiusMm;
  return run <= from ? 1 / run : Math.max(0, radiusMm - run) / (radiusMm - from) / run;
}

/** Writes rows with a border of their own other end on both sides, so that steps across the edge need no wrapping. */
function writeWithBorder(
  { widthPx: w, heightPx: h, data }: Plane,
  border: number,
  to: Float32Array,
  at: number,
) {
  for (let y = 0; y < h; y++) {
    const row = at + y * (w + 2 * border);
    to.set(data.subarray(y * w, (y + 1) * w), row + border);
    for (let x = 0; x < border; x++) {
      to[row + border - 1 - x] = data[y * w + w - 1 - (x % w)]!;
      to[row + border + w + x] = data[y * w + (x % w)]!;
    }
  }
}

function writeLines(lines: Line[], integers: Int32Array, floats: Float32Array, at: number, stepsAt: number) {
  let step = 0;
  lines.forEach(({ ux, uy, half, between, near, steps }, l) => {
    integers.set([step, step + between, step + near, step + steps.length], at + 7 * l);
    floats.set([ux, uy, half], at + 7 * l + 4);
    for (const { along, down, inverse, other } of steps) {
      integers.set([along, down], stepsAt + 6 * step);
      floats[stepsAt + 6 * step + 2] = inverse;
      integers.set([other?.along ?? 0, other?.down ?? 0], stepsAt + 6 * step + 3);
      floats[stepsAt + 6 * step + 5] = other?.share ?? 0;
      step++;
    }
  });
}
