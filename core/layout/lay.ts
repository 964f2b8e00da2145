import { Clipper, EndType, JoinType } from 'clipper2-ts';
import { seededRandom, type Random } from '../raster';
import { atOnce, type Steps } from '../steps';
import { bondOf, moduleOf, type Bond, type Sizes } from './bonds';
import type { Cell, LaidCells } from './cell';
import { CELLS_BETWEEN_TURNS, neighbourSteps, splittingSteps, type Shared } from './net';
import { areaOf, centreOf, insetByEdges, turnedBy, type Outline, type Point } from './polygon';
import { printMm } from '../units';
import type { LayoutSettings } from './settings';
import { stretchedSizes, turningSteps } from './turned';

/** A layout as geometry: pieces as outlines in mm on a repeat that closes on itself; joints are what is left. */

export interface LaidPiece {
  /** From 0. */
  id: number;
  /** Corners in mm, anticlockwise, y up; a piece at the edge of the repeat runs on beyond it. */
  outline: Point[];
  areaMm2: number;
  centre: Point;
  course: number;
  /** Along the piece, anticlockwise from x. */
  directionDeg: number;
  nominalMm: { length: number; width: number };
  /** What its bond has more than one of: stretcher, header, dot … */
  kind: string;
  raisedMm: number;
  lap: { mm: number; directionDeg: number } | null;
}

export interface LayoutGeometry {
  repeatMm: { width: number; height: number };
  pieces: LaidPiece[];
  courses: number;
  /** Pieces that have a joint between them. */
  neighbours: Shared[];
  /** Sizes that were laid: those asked, or the nearest by which the bond closes. */
  laid: Sizes;
  /** All that close nearest to what was asked, the laid ones first; empty: it closes by any. */
  closing: Sizes[];
  /** Turns that were asked larger than the joints leave room for. */
  turnHeldDeg: number | null;
}

const LARGEST_COUNT = 20000;

/** Cells of a layout, and what they were laid with. */
export interface LaidBond extends LaidCells {
  asked: Sizes;
  laid: Sizes;
  closing: Sizes[];
  random: Random;
}

/** @throws RangeError with a sentence where it cannot be laid, and the nearest that can */
export const layCells = (settings: LayoutSettings): LaidBond => atOnce(cellSteps(settings));

/** The bond of a layout, and sizes by which it closes. @throws RangeError where sizes cannot be, or pieces would be too many */
function closingSizes({ bond: bondSettings, piece, joint, repeatMm, turnedDeg }: LayoutSettings) {
  const bond = bondOf(bondSettings.kind);
  const asked: Sizes = {
    lengthMm: piece.lengthMm.value,
    widthMm: piece.widthMm.value,
    joint: { alongMm: joint.alongMm.value, acrossMm: joint.acrossMm.value },
  };
  checkSizes(asked, repeatMm);
  const estimated = estimatedCount(asked, bond, repeatMm, turnedDeg);
  if (estimated > MOST_OVER_ESTIMATE * LARGEST_COUNT) refuseTooMany(estimated, 'about ');
  const closing = bond.closing?.(asked, bondSettings) ?? [];
  return { bond, asked, closing, sizes: closing[0] ?? asked };
}

/**
 * Size of the repeat of a layout, where that is known without laying a piece; null: only laying tells.
 * @throws RangeError where sizes cannot be, or pieces would be too many
 */
export function sizeWithoutLaying(settings: LayoutSettings): { width: number; height: number } | null {
  const { repeatMm, turnedDeg } = settings;
  const { bond, sizes } = closingSizes(settings);
  if (!bond.sizeMm || turnedDeg % 90 !== 0) return null;
  if (turnedDeg === 0) return bond.sizeMm({ ...sizes, repeatMm });
  const lying = bond.sizeMm({ ...sizes, repeatMm: { width: repeatMm.height, height: repeatMm.width } });
  return { width: lying.height, height: lying.width };
}

function* cellSteps(settings: LayoutSettings): Steps<LaidBond> {
  const { bond: bondSettings, repeatMm, turnedDeg, seed } = settings;
  const { bond, asked, closing, sizes } = closingSizes(settings);
  const random = seededRandom(seed);
  const { stretched, ...cells } = yield* turningSteps(
    (wanted) => bond.lay({ ...sizes, settings: bondSettings, repeatMm: wanted, random }),
    turnedDeg,
    repeatMm,
    bond.random,
  );
  const laid = stretchedSizes(sizes, stretched);
  refuseTooMany(cells.cells.length);
  return { ...cells, asked, laid, closing, random };
}

/**
 * Lays the pieces of a layout.
 * @throws RangeError with a sentence where it cannot be laid, and the nearest that can
 */
export const layPieces = (settings: LayoutSettings): LayoutGeometry => atOnce(layingSteps(settings));

/** The same in steps. */
export function* layingSteps(settings: LayoutSettings): Steps<LayoutGeometry> {
  return yield* pieceSteps(yield* cellSteps(settings), settings);
}

/** The pieces in the cells of a layout. @throws RangeError when nothing is left of one */
export const piecesIn = (cells: LaidBond, settings: LayoutSettings): LayoutGeometry =>
  atOnce(pieceSteps(cells, settings));

/** Pieces that are cut out of their cells before others may have their turn. */
const CUT_BETWEEN_TURNS = 50;

function* pieceSteps(cells: LaidBond, settings: LayoutSettings): Steps<LayoutGeometry> {
  const { asked, laid, closing, random } = cells;
  const split = yield* splittingSteps(cells.cells, cells.repeatMm);
  const outlines: Point[][] = [];
  for (const [k, cell] of cells.cells.entries()) {
    if (k % CUT_BETWEEN_TURNS === 0) yield;
    outlines.push(pieceOf(cell, asked));
  }
  const { settled, heldDeg } = yield* toleranceSteps(outlines, cells.cells, settings, random);
  const neighbours = yield* neighbourSteps(split.cells, cells.repeatMm);
  yield;
  return {
    repeatMm: cells.repeatMm,
    courses: cells.courses,
    pieces: cells.cells.map((cell, id) => ({
      id,
      outline: settled[id]!,
      areaMm2: areaOf(settled[id]!),
      centre: centreOf(settled[id]!),
      course: cell.course,
      directionDeg: cell.directionDeg,
      nominalMm: cell.nominalMm,
      kind: cell.kind,
      raisedMm: cell.raisedMm ?? 0,
      lap: cell.lap ?? null,
    })),
    neighbours,
    laid,
    closing,
    turnHeldDeg: heldDeg,
  };
}

/** Before anything is laid it is only known by its area; bonds of several sizes have fewer pieces than this says. */
const MOST_OVER_ESTIMATE = 4;

/** Pieces of the nominal size that have room in a repeat. */
function estimatedCount(
  asked: Sizes,
  { sized }: Pick<Bond, 'sized'>,
  { width, height }: { width: number; height: number },
  turnedDeg: number,
): number {
  const { l, w } = moduleOf(asked);
  // At an angle it closes on a square.
  const area = turnedDeg % 90 === 0 ? width * height : ((width + height) / 2) * ((width + height) / 2);
  return area / (w * (sized === 'both' ? l : w));
}

function refuseTooMany(count: number, about = ''): void {
  if (count > LARGEST_COUNT)
    throw new RangeError(
      `That would be ${about}${Math.round(count)} pieces; at most ${LARGEST_COUNT} can be laid. Ask for a smaller repeat, or larger pieces.`,
    );
}

function checkSizes({ lengthMm, widthMm, joint }: Sizes, repeatMm: { width: number; height: number }): void {
  const widest = Math.max(joint.alongMm, joint.acrossMm);
  const least = Math.min(lengthMm, widthMm);
  if (widest >= least)
    throw new RangeError(
      `A joint of ${printMm(widest)} mm is as wide as a piece of ${printMm(lengthMm)} × ${printMm(widthMm)} mm. Make it less than ${printMm(least)} mm.`,
    );
  if (Math.max(repeatMm.width, repeatMm.height) < least)
    throw new RangeError(
      `A repeat of ${printMm(repeatMm.width)} × ${printMm(repeatMm.height)} mm is smaller than one piece of ${printMm(lengthMm)} × ${printMm(widthMm)} mm. Make it at least as large as a piece.`,
    );
}

const ROUND_CORNERS = 72;

/** What is left of a cell without its half of the joints. @throws RangeError when nothing is */
function pieceOf(cell: Cell, asked: Sizes): Point[] {
  const { disc, jointMm, outline } = cell;
  if (disc) return disk(disc.centre, disc.diameterMm / 2);
  const piece =
    cell.roundMm === undefined
      ? insetByEdges(
          outline,
          jointMm.map((mm) => mm / 2),
        )
      : stoneOf(outline, jointMm, cell.roundMm);
  if (piece && areaOf(piece) > 0) return piece;
  const { lengthMm, widthMm, joint } = asked;
  throw new RangeError(
    `With joints of ${joint.alongMm} and ${joint.acrossMm} mm nothing is left of some of the pieces of ${lengthMm} × ${widthMm} mm. Make the joints narrower, or the pieces larger.`,
  );
}

function disk([x, y]: Point, radius: number): Point[] {
  // Its area is that of the circle.
  const step = (2 * Math.PI) / ROUND_CORNERS;
  const r = radius * Math.sqrt(step / Math.sin(step));
  return Array.from({ length: ROUND_CORNERS }, (_, k) => [
    x + r * Math.cos(k * step),
    y + r * Math.sin(k * step),
  ]);
}

/** A piece that is not convex, or rough: set in by half of its joints, its corners rounded. */
function stoneOf(outline: Outline, jointMm: readonly number[], roundMm: number): Point[] | null {
  const halves = jointMm.map((mm) => mm / 2);
  const set = (roundMm > 0 && insetPlain(outline, halves)) || insetByClipping(outline, halves);
  if (!set || roundMm === 0) return set;
  return thinned(worn(worn(set, roundMm), roundMm));
}

/** An edge shorter than this share of what is taken off would turn round. */
const SHORT_EDGE = 0.6;
/** What is left may differ from the area less its margin by this share of the margin. */
const MARGIN_OFF = 0.4;

/** Moves edges inwards where none turns round by it; null: one does. */
function insetPlain(outline: Outline, inMm: readonly number[]): Point[] | null {
  const kept = outline.flatMap((p, k) => {
    const next = outline[(k + 1) % outline.length]!;
    return Math.hypot(next[0] - p[0], next[1] - p[1]) > SHORT_EDGE * inMm[k]! ? [k] : [];
  });
  if (kept.length < 3) return null;
  const plain = kept.map((k) => outline[k]!);
  const off = kept.map((k) => inMm[k]!);
  const set = insetByEdges(plain, off);
  if (!set) return null;
  const margin = plain.reduce((sum, p, k) => {
    const next = plain[(k + 1) % plain.length]!;
    return sum + off[k]! * Math.hypot(next[0] - p[0], next[1] - p[1]);
  }, 0);
  return Math.abs(areaOf(set) - (areaOf(plain) - margin)) <= MARGIN_OFF * margin ? set : null;
}

const PRECISION = 5;

/** Moves all edges inwards alike; what falls apart leaves its largest part. */
function insetByClipping(outline: Outline, inMm: readonly number[]): Point[] | null {
  const mean = inMm.reduce((sum, mm) => sum + mm, 0) / inMm.length;
  if (mean === 0) return [...outline];
  const path = [outline.map(([x, y]) => ({ x, y }))];
  const inset = Clipper.inflatePathsD(path, -mean, JoinType.Miter, EndType.Polygon, 2, PRECISION);
  return inset
    .map((p) => p.map(({ x, y }): Point => [x, y]))
    .reduce<Point[] | null>((best, o) => (!best || areaOf(o) > areaOf(best) ? o : best), null);
}

/** Cuts corners that stand out, by a quarter of the edges beside them and at most by a length (after Chaikin 1974). */
function worn(outline: Outline, mostMm: number): Point[] {
  const n = outline.length;
  return outline.flatMap((p, k): Point[] => {
    const [a, b] = [outline[(k + n - 1) % n]!, outline[(k + 1) % n]!];
    const [ux, uy, vx, vy] = [p[0] - a[0], p[1] - a[1], b[0] - p[0], b[1] - p[1]];
    const [before, after] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
    if (ux * vy - uy * vx <= 0.02 * before * after) return [p];
    const s = Math.min(0.25, mostMm / before);
    const t = Math.min(0.25, mostMm / after);
    return [
      [p[0] - s * ux, p[1] - s * uy],
      [p[0] + t * vx, p[1] + t * vy],
    ];
  });
}

/** A corner nearer than this to the line between its neighbours is not seen, mm. */
const UNSEEN_MM = 0.05;

function thinned(outline: Outline): Point[] {
  const out: Point[] = [];
  const n = outline.length;
  outline.forEach((p, k) => {
    const [a, b] = [out[out.length - 1] ?? outline[n - 1]!, outline[(k + 1) % n]!];
    const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
    const off = Math.abs((p[0] - a[0]) * uy - (p[1] - a[1]) * ux) / (Math.hypot(ux, uy) || 1);
    if (off > UNSEEN_MM) out.push(p);
  });
  return out.length > 2 ? out : [...outline];
}

/** Of the joint, what turned and oversized pieces may take on either side, so that none touch. */
const OF_JOINT = 0.45;

/** Pieces as they are laid by hand: a little turned, a little larger or smaller. */
function* toleranceSteps(
  outlines: readonly Point[][],
  cells: readonly Cell[],
  { tolerance }: LayoutSettings,
  random: Random,
): Steps<{ settled: readonly Point[][]; heldDeg: number | null }> {
  if (tolerance.turnDeg === 0 && tolerance.sizeMm === 0) return { settled: outlines, heldDeg: null };
  let heldDeg: number | null = null;
  const settled: Point[][] = [];
  for (const [k, outline] of outlines.entries()) {
    if (k % CELLS_BETWEEN_TURNS === 0) yield;
    const [turn, size] = [within3(random), within3(random)];
    const { length, width } = cells[k]!.nominalMm;
    const room = OF_JOINT * Math.min(...cells[k]!.jointMm);
    const radius = Math.hypot(length, width) / 2;
    const growMm = Math.max(-tolerance.sizeMm, Math.min(room, (size * tolerance.sizeMm) / 3));
    const mostDeg = (Math.max(0, room - Math.max(0, growMm)) / radius) * (180 / Math.PI);
    if (mostDeg < tolerance.turnDeg) heldDeg = Math.min(heldDeg ?? Infinity, mostDeg);
    const deg = Math.max(-mostDeg, Math.min(mostDeg, (turn * tolerance.turnDeg) / 3));
    const about = centreOf(outline);
    const scale = { x: 1 + growMm / length, y: 1 + growMm / width };
    const along = cells[k]!.directionDeg;
    const scaled = turnedBy(outline, -along, about).map(([x, y]): Point => [
      about[0] + (x - about[0]) * scale.x,
      about[1] + (y - about[1]) * scale.y,
    ]);
    settled.push(turnedBy(scaled, along + deg, about));
  }
  return { settled, heldDeg };
}

/** A normal number that stays within three deviations. */
const within3 = (random: Random) => Math.max(-3, Math.min(3, random.normal()));
