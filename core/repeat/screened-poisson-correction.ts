import { makeColourPicture, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import type { Cells, PlacedSource } from './placement';
import { cubicReader } from './sampling';
import { piecesIn, pieceToneSteps } from './piece-tones';
import { gridOf } from './grids';
import { screenedSteps } from './screened';
import { encodeSqrt } from './sqrt-coding';

const CHANNELS = ['r', 'g', 'b'] as const;

/**
 * Evens out copies that meet along an outline: what is added to each copy so that the steps across outlines become what the
 * copies themselves have there, and everything else stays as it is as far as that goes.
 *
 * Least squares over all neighbours p, q of the repeat: the sum of (c_p − c_q − d_pq)² plus λ·c², where d is 0 inside a
 * copy, and across an outline what takes the step out.
 * Source: Pérez, Gangnet, Blake, "Poisson Image Editing", 2003, with mixed gradients along the outline; the last term
 * (screening) keeps broad differences, which belong to the finish, from being carried far.
 *
 * @param cells which copy lies where
 * @param repeatMm size of the repeat
 * @param sources samples at about the density of the cells
 * @param reachPx how far from an outline differences are spread, cells
 * @param kept where it was evened out before, and is to stay so but for `free`
 * @param tonesOnly only differences of tone are spread, not steps that are far larger than most, as where a joint meets a face
 * @returns what is to be added, in the square root of linear light; of the shape of the cells
 */
export const screenedPoissonCorrection = (...of: Parameters<typeof correctionSteps>): ColourPicture =>
  atOnce(correctionSteps(...of));

/** The same in steps. */
export function* correctionSteps(
  cells: Cells,
  repeatMm: { width: number; height: number },
  sources: readonly PlacedSource[],
  reachPx: number,
  kept?: { free: Uint8Array; evened: ColourPicture },
  tonesOnly = true,
): Steps<ColourPicture> {
  const { widthPx: W, heightPx: H, inPiece } = cells;
  const n = W * H;
  const show = copyReader(cells, repeatMm, sources);
  // What brings pieces to one tone goes before; what is left is evened out.
  const pieces = inPiece ? piecesIn({ ...cells, inPiece }) : null;
  yield;
  const tones =
    inPiece && pieces
      ? yield* pieceToneSteps({ ...cells, inPiece }, pieces, repeatMm, yield* shownBy(show, cells), kept)
      : null;
  yield;
  const steps = yield* stepsAtOutlines(cells, show, { pieces, tones, free: kept?.free });
  const out = tones ?? makeColourPicture(W, H);
  if (steps.length === 0 && !kept) return out;
  const limit = tonesOnly ? largestOfTone(steps.map(({ most }) => most)) : Infinity;
  // Right-hand side: the divergence of d, per channel.
  const wanted = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  for (const { p, q, d, most } of steps) {
    if (most > limit) continue;
    for (let c = 0; c < 3; c++) {
      wanted[c]![p]! += d[c]!;
      wanted[c]![q]! -= d[c]!;
    }
  }
  const level = gridOf(cells, 1 / (reachPx * reachPx), kept?.free);
  for (const [c, channel] of CHANNELS.entries()) {
    const before = kept?.evened[channel];
    const values = before?.map((v, p) => v - (tones?.[channel][p] ?? 0));
    yield;
    const solved = yield* screenedSteps(wanted[c]!, level, values);
    for (let p = 0; p < n; p++)
      out[channel][p] = before && kept!.free[p] === 0 ? before[p]! : out[channel][p]! + solved[p]!;
  }
  return out;
}

/** Reads what a copy shows at a cell, also outside its outline, in the square root of light; x and y may lie beyond the edge. */
type CopyReader = (of: number, x: number, y: number, to: Float64Array, at: number) => void;

function copyReader(
  { widthPx: W, heightPx: H, placements }: Cells,
  repeatMm: { width: number; height: number },
  sources: readonly PlacedSource[],
): CopyReader {
  const mm = { x: repeatMm.width / W, y: repeatMm.height / H };
  const readCubic = cubicReader();
  const value = new Float64Array(3);
  return (of, x, y, to, at) => {
    const p = placements[of]!;
    const { picture, pxPerMm } = sources[p.sourceIndex]!;
    const [rx, ry] = [(x + 0.5) * mm.x, (y + 0.5) * mm.y];
    readCubic(
      picture,
      (p.offsetXMm + p.signX * (p.swapped ? ry : rx)) * pxPerMm.x - 0.5,
      (p.offsetYMm + p.signY * (p.swapped ? rx : ry)) * pxPerMm.y - 0.5,
      value,
    );
    for (let c = 0; c < 3; c++) to[at + c] = encodeSqrt(value[c]!);
  };
}

/** Two cells beside each other of different copies, and by how much the step between them is off what the copies do there. */
interface OutlineStep {
  p: number;
  q: number;
  d: readonly [number, number, number];
  most: number;
}

/**
 * Steps at the outlines of copies.
 * @param pieces steps at the edge of one are those of joints, and left out
 * @param tones what cells are changed by already
 * @param free where anything is solved; undefined: everywhere
 */
function* stepsAtOutlines(
  { widthPx: W, heightPx: H, copy, closed, parted }: Cells,
  show: CopyReader,
  {
    pieces,
    tones,
    free,
  }: {
    pieces: ReturnType<typeof piecesIn> | null;
    tones: ColourPicture | null;
    free: Uint8Array | undefined;
  },
): Steps<OutlineStep[]> {
  const toned = (c: number, p: number, q: number) =>
    tones ? tones[CHANNELS[c]!][p]! - tones[CHANNELS[c]!][q]! : 0;
  const s = new Float64Array(12);
  const out: OutlineStep[] = [];
  const pair = (p: number, q: number, x: number, y: number, dx: number, dy: number) => {
    if (free && free[p] === 0 && free[q] === 0) return;
    // At the edge of a piece a step is that of the joint, not of tones.
    if (pieces && !(pieces.isInner(p) && pieces.isInner(q))) return;
    const [a, b] = [copy[p]!, copy[q]!];
    // Copies that run on over the closed edge are other placements of one copy: their step is none.
    if (a === b && x + dx < W && y + dy < H) return;
    const [qx, qy] = [(x + dx) % W, (y + dy) % H];
    show(a, x, y, s, 0);
    show(a, x + dx, y + dy, s, 3);
    // The other copy where it lies, and one step back.
    show(b, qx, qy, s, 6);
    show(b, qx - dx, qy - dy, s, 9);
    const d = [0, 0, 0] as [number, number, number];
    for (let c = 0; c < 3; c++) {
      const step = s[c]! - s[6 + c]!;
      const own = (s[c]! - s[3 + c]! + (s[9 + c]! - s[6 + c]!)) / 2;
      d[c] = own - step - toned(c, p, q);
    }
    const most = Math.max(...d.map(Math.abs));
    if (most > 0) out.push({ p, q, d, most });
  };
  for (let y = 0; y < H; y++) {
    yield;
    for (let x = 0; x < W; x++) {
      const p = y * W + x;
      if ((x + 1 < W || closed.across) && parted.columns[x] === 0) pair(p, y * W + ((x + 1) % W), x, y, 1, 0);
      if ((y + 1 < H || closed.up) && parted.rows[y] === 0) pair(p, ((y + 1) % H) * W + x, x, y, 0, 1);
    }
  }
  return out;
}

/** What lies at each cell, in the square root of linear light. */
function* shownBy(show: CopyReader, { widthPx: W, heightPx: H, copy }: Cells): Steps<ColourPicture> {
  const out = makeColourPicture(W, H);
  const value = new Float64Array(3);
  for (let p = 0; p < W * H; p++) {
    if (p % W === 0) yield;
    show(copy[p]!, p % W, Math.floor(p / W), value, 0);
    [out.r[p], out.g[p], out.b[p]] = [value[0]!, value[1]!, value[2]!];
  }
  return out;
}

/** Steps up to so many times the median are differences of tone, and smaller ones in any case, in the square root of linear light. */
const TIMES_MEDIAN = 4;
const TONE_AT_LEAST = 0.16;

function largestOfTone(steps: number[]): number {
  steps.sort((a, b) => a - b);
  return Math.max(TONE_AT_LEAST, TIMES_MEDIAN * (steps[steps.length >> 1] ?? 0));
}
