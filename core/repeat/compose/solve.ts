import { wholePower } from '../../exact';
import { makingAtlas, type ComposeSource, type Turn } from './atlas';
import { Composer, whileAt, type Lattice, type Steps } from './composer';
import { doubled, recuttingSteps, refiningSteps } from './copies';
import { GridCut } from './min-cut';
import { halved, halvings, latticeAt } from './pyramid';
import {
  makeToroidalCanvas,
  proposing,
  type Joints,
  type ToroidalCanvas,
  type Window,
} from './toroidal-canvas';

/** What is asked of a repeat, at the working resolution. */
export interface RepeatTask {
  sources: readonly ComposeSource[];
  /** Of the repeat. */
  widthPx: number;
  heightPx: number;
  /** Which edges are to meet. */
  closed: { across: boolean; up: boolean };
  /** Joints of a regular structure, in which copies are cut. */
  joints?: Joints | undefined;
}

export interface ComposeTask extends RepeatTask {
  /** What copies may be turned by; the first is how the sample lies, and with a lattice the only one. */
  turns: readonly Turn[];
  /** Same seed, same repeat. */
  seed: number;
  /** Sides of the copies, px; what is laid is cut to the best outline within. */
  patchPx: { w: number; h: number };
  lattice?: Lattice | undefined;
}

const NOTHING_LEFT =
  'Nothing is left to compose from: keep-outs cover the sample. Take some of them away, or undo the last one.';

/** Passes steps on as a stretch of the whole. */
function* within<T>(steps: Steps<T>, from: number, to: number): Steps<T> {
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    yield { share: from + (to - from) * next.value.share };
  }
}

/**
 * Composes a repeat anew from one or several samples: copies are laid where they fit, cut to the outline that shows least,
 * and what shows most is laid again until it does not get better; then the same outlines at twice the resolution, and again.
 *
 * Sources: Kwatra et al. 2003 (see `toroidal-canvas.ts`, `search.ts`); coarse to fine, and the cost of using a place again, after
 * Kaspar, Neubert, Lischinski, Pauly, Kopf, "Self Tuning Texture Optimization", 2015.
 *
 * @param task what is asked
 * @returns steps; in the end the repeat at the working resolution
 * @throws RangeError when nothing can be laid
 */
export function* compose(task: ComposeTask): Steps<ToroidalCanvas> {
  const levels = halvings(task);
  const pyramid: (readonly ComposeSource[])[] = [task.sources];
  for (let k = 0; k < levels; k++) {
    yield { share: 0 };
    pyramid.push(pyramid[k]!.map(halved));
  }
  const sizeAt = (level: number) =>
    [
      Math.ceil(task.widthPx / wholePower(2, level)),
      Math.ceil(task.heightPx / wholePower(2, level)),
    ] as const;
  const scale = 1 / wholePower(2, levels);
  let torus = makeToroidalCanvas(
    yield* whileAt(0, makingAtlas(pyramid[levels]!, task.turns)),
    ...sizeAt(levels),
    task.closed,
    task.joints,
  );
  yield { share: 0 };
  const composer = new Composer(torus, task.seed, latticeAt(task.lattice, scale));
  const side = (px: number) => Math.max(4, Math.round(px * scale));
  const patch = { w: side(task.patchPx.w), h: side(task.patchPx.h) };
  yield* within(composer.fill(patch), 0, 0.3);
  if (torus.place.includes(-1)) throw new RangeError(NOTHING_LEFT);
  yield { share: 0.3, soFar: torus };
  const copies = torus.place.length / (patch.w * patch.h);
  yield* within(composer.improve(patch, Math.round(Math.min(160, 24 + 6 * copies))), 0.3, 0.7);
  yield* whileAt(0.7, recuttingSteps(torus, 3));
  if (torus.atlas.throughPiece) yield* recutToJoints(torus, latticeAt(task.lattice, scale));
  for (let level = levels - 1; level >= 0; level--) {
    const share = 0.7 + (0.3 * (levels - 1 - level)) / levels;
    yield { share, soFar: torus };
    const atlas = yield* whileAt(share, makingAtlas(pyramid[level]!, task.turns));
    yield { share };
    torus = doubled(torus, atlas, ...sizeAt(level), task.joints);
    yield { share };
    yield* whileAt(share, refiningSteps(torus, 1, latticeAt(task.lattice, 1 / wholePower(2, level))));
    yield* whileAt(share, recuttingSteps(torus, 2));
  }
  return torus;
}

/** Outlines are moved to the next joint so often at most. */
const ROUNDS_TO_JOINTS = 3;

/** Cuts copies anew as far away as the next joint may lie, until none gets better: a period off, since pieces are no longer. */
function* recutToJoints(torus: ToroidalCanvas, { acrossPx, upPx }: Lattice): Steps<void> {
  const farPx = Math.ceil(Math.max(acrossPx ?? 0, upPx ?? 0));
  for (let round = 0; round < ROUNDS_TO_JOINTS; round++) {
    const before = torus.place.slice();
    yield* whileAt(0.7, recuttingSteps(torus, farPx, null, 'window'));
    if (before.every((from, p) => from === torus.place[p])) return;
  }
}

/** Cuts the outline between what reaches beyond an edge and what lies at the opposite one. @param beyond by how many pixels */
function* cutBeyond(torus: ToroidalCanvas, beyond: { x: number; y: number }): Steps<void> {
  const { widthPx: W, heightPx: H } = torus;
  const cutter = new GridCut();
  function* move(share: number, window: Window, from: { x: number; y: number }): Steps<void> {
    const found = yield* whileAt(share, proposing(cutter, torus, window, 0, from, null));
    if (found && (found.after < found.before || found.filled > 0)) found.apply();
  }
  for (let round = 0; round < 2; round++) {
    // In two halves that overlap: a window never reaches all the way round.
    for (const start of [0, 0.5] as const) {
      const share = (round + start) / 3;
      const [x, y] = [Math.floor(start * W), Math.floor(start * H)];
      const [widthPx, heightPx] = [W - x - (start ? 0 : 1), H - y - (start ? 0 : 1)];
      if (beyond.x > 0) yield* move(share, { x: 0, y, widthPx: beyond.x, heightPx }, { x: W, y });
      if (beyond.y > 0) yield* move(share + 0.1, { x, y: 0, widthPx, heightPx: beyond.y }, { x, y: H });
    }
    if (beyond.x > 0 && beyond.y > 0)
      yield* move((round + 0.9) / 3, { x: 0, y: 0, widthPx: beyond.x, heightPx: beyond.y }, { x: W, y: H });
  }
}

/**
 * Closes a sample that is larger than its repeat by the cut that shows least: the sample lies once over the repeat, what
 * reaches beyond an edge lies over the opposite one, and the outline between them is cut. What keep-outs leave empty
 * is filled from elsewhere in the sample.
 *
 * @param task with one source
 * @returns steps; in the end the repeat at the working resolution
 * @throws RangeError when nothing can be laid
 */
export function* closeByCut(task: RepeatTask): Steps<ToroidalCanvas> {
  const { widthPx: W, heightPx: H, closed } = task;
  const torus = makeToroidalCanvas(
    yield* whileAt(0, makingAtlas(task.sources, [{ quarters: 0, flipped: false }])),
    W,
    H,
    closed,
    task.joints,
  );
  const { atlas, place } = torus;
  const part = atlas.parts[0]!;
  yield { share: 0 };
  for (let y = 0; y < Math.min(H, part.heightPx); y++)
    for (let x = 0; x < Math.min(W, part.widthPx); x++) {
      const from = part.first + y * atlas.stride + x;
      if (atlas.usable[from] === 1) place[y * W + x] = from;
    }
  yield* cutBeyond(torus, {
    x: closed.across ? part.widthPx - W : 0,
    y: closed.up ? part.heightPx - H : 0,
  });
  if (place.includes(-1)) {
    yield { share: 0.7 };
    const composer = new Composer(torus, 1, { acrossPx: null, upPx: null, stagger: 0 });
    yield* within(composer.fillHoles(Math.max(8, Math.round(Math.min(W, H) / 8))), 0.7, 1);
    if (place.includes(-1)) throw new RangeError(NOTHING_LEFT);
    yield* whileAt(1, recuttingSteps(torus, 3));
  }
  return torus;
}
