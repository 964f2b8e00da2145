import { makeColourPicture, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import type { Cells, PlacedSource, Placement } from './placement';
import { cubicReader } from './sampling';
import { decodeSqrt, encodeSqrt } from './sqrt-coding';

/** Rows or columns of pixels, in their order; where none are told, all. */
export interface Lines {
  rows?: readonly number[];
  columns?: readonly number[];
}

/**
 * Places are rounded to so many parts of a pixel, which nobody sees. A copy seen one repeat further must be rounded the
 * same way: halves, which are common, are told from what computing adds.
 */
const PARTS_OF_PX = 64;
const rounded = (px: number, parts: number) => Math.round(px * parts - 1e-6) / parts;

/** Where the pixels of a placement come from: source px = first + x·step, + y·step of the other axis when swapped. */
function tracksOf(
  { placements }: Cells,
  repeatMm: { width: number; height: number },
  sources: readonly PlacedSource[],
  widthPx: number,
  heightPx: number,
  exact: boolean,
) {
  const mm = { x: repeatMm.width / widthPx, y: repeatMm.height / heightPx };
  return placements.map((p: Placement) => {
    const { picture, pxPerMm } = sources[p.sourceIndex]!;
    // The sample's axes as the repeat's axes run along them.
    const stepX = p.signX * (p.swapped ? mm.y : mm.x) * pxPerMm.x;
    const stepY = p.signY * (p.swapped ? mm.x : mm.y) * pxPerMm.y;
    let firstX = p.offsetXMm * pxPerMm.x + stepX / 2 - 0.5;
    let firstY = p.offsetYMm * pxPerMm.y + stepY / 2 - 0.5;
    const even = Math.abs(Math.abs(stepX) - 1) < 1e-7 && Math.abs(Math.abs(stepY) - 1) < 1e-7;
    if (even) {
      const parts = exact ? PARTS_OF_PX : 1;
      [firstX, firstY] = [rounded(firstX, parts), rounded(firstY, parts)];
    }
    // Pixel for pixel: copied as they are.
    const whole = even && Number.isInteger(firstX) && Number.isInteger(firstY);
    return {
      picture,
      swapped: p.swapped ?? false,
      firstX,
      firstY,
      stepX: even ? p.signX : stepX,
      stepY: even ? p.signY : stepY,
      whole,
    };
  });
}

/**
 * Applies a repeat that is cut from copies. Inside a copy its pixels are taken as they are; across an outline they pass
 * over within one cell.
 *
 * @param cells which copy lies where
 * @param repeatMm size of the repeat
 * @param sources samples at the density wanted
 * @param widthPx of the repeat
 * @param heightPx of the repeat
 * @param evened what is added, in the square root of linear light, of the shape of the cells; null: nothing
 * @param only what of it to draw
 * @param exact whether copies lie exactly where they were solved to, between pixels where need be, so that the repeat is
 * the same at every size; otherwise they are moved to the nearest whole pixel of this size, as before version 2
 */
export const applyCells = (...of: Parameters<typeof applyCellsInSteps>): ColourPicture =>
  atOnce(applyCellsInSteps(...of));

/** The same in steps. */
export function* applyCellsInSteps(
  cells: Cells,
  repeatMm: { width: number; height: number },
  sources: readonly PlacedSource[],
  widthPx: number,
  heightPx: number,
  evened: ColourPicture | null,
  only: Lines = {},
  exact = true,
): Steps<ColourPicture> {
  const { widthPx: W, heightPx: H, copy, closed } = cells;
  const all = (length: number) => Array.from({ length }, (_, i) => i);
  const { rows = all(heightPx), columns = all(widthPx) } = only;
  const out = makeColourPicture(columns.length, rows.length);
  const tracks = tracksOf(cells, repeatMm, sources, widthPx, heightPx, exact);
  const one = new Float64Array(3);
  const read = readerOf(tracks, one);
  if (cells.sharp === 'by-area') {
    yield* drawByArea({ cells, rows, columns, widthPx, heightPx }, read, one, out);
    return out;
  }
  const across = cornersOf(widthPx, W, closed.across, cells.sharp === true);
  const down = cornersOf(heightPx, H, closed.up, cells.sharp === true);
  let p = -1;
  for (const y of rows) {
    yield;
    const fy = down.share[y]!;
    const [top, bottom] = [down.before[y]! * W, down.after[y]! * W];
    const [aboveShift, belowShift] = [down.beforeShift[y]!, down.afterShift[y]!];
    for (const x of columns) {
      p++;
      const fx = across.share[x]!;
      const left = across.before[x]!;
      const right = across.after[x]!;
      const [c0, c1, c2, c3] = [top + left, top + right, bottom + left, bottom + right];
      const of = copy[c0]!;
      const atEdge =
        across.beforeShift[x]! !== 0 || across.afterShift[x]! !== 0 || aboveShift !== 0 || belowShift !== 0;
      if (!atEdge && copy[c1] === of && copy[c2] === of && copy[c3] === of) {
        read(of, x, y);
        if (evened) {
          out.r[p] = decodeSqrt(encodeSqrt(one[0]!) + bilinear(evened.r, c0, c1, c2, c3, fx, fy));
          out.g[p] = decodeSqrt(encodeSqrt(one[1]!) + bilinear(evened.g, c0, c1, c2, c3, fx, fy));
          out.b[p] = decodeSqrt(encodeSqrt(one[2]!) + bilinear(evened.b, c0, c1, c2, c3, fx, fy));
        } else {
          out.r[p] = one[0]!;
          out.g[p] = one[1]!;
          out.b[p] = one[2]!;
        }
        continue;
      }
      let [r, g, b] = [0, 0, 0];
      for (let k = 0; k < 4; k++) {
        const w = (k % 2 === 0 ? 1 - fx : fx) * (k < 2 ? 1 - fy : fy);
        if (w === 0) continue;
        const c = k === 0 ? c0 : k === 1 ? c1 : k === 2 ? c2 : c3;
        read(
          copy[c]!,
          x + (k % 2 === 0 ? across.beforeShift[x]! : across.afterShift[x]!),
          y + (k < 2 ? aboveShift : belowShift),
        );
        r += w * (encodeSqrt(one[0]!) + (evened ? evened.r[c]! : 0));
        g += w * (encodeSqrt(one[1]!) + (evened ? evened.g[c]! : 0));
        b += w * (encodeSqrt(one[2]!) + (evened ? evened.b[c]! : 0));
      }
      out.r[p] = decodeSqrt(r);
      out.g[p] = decodeSqrt(g);
      out.b[p] = decodeSqrt(b);
    }
  }
  return out;
}

type Read = (copy: number, x: number, y: number) => void;

/** Reads what a copy shows at a pixel of the repeat. @param into where its three channels are put */
function readerOf(tracks: ReturnType<typeof tracksOf>, into: Float64Array): Read {
  const readCubic = cubicReader();
  return (copy, x, y) => {
    const t = tracks[copy]!;
    const u = t.firstX + (t.swapped ? y : x) * t.stepX;
    const v = t.firstY + (t.swapped ? x : y) * t.stepY;
    const { picture } = t;
    if (!t.whole) return readCubic(picture, u, v, into);
    const { widthPx: w, heightPx: h } = picture;
    const i = (v < 0 ? 0 : v >= h ? h - 1 : v) * w + (u < 0 ? 0 : u >= w ? w - 1 : u);
    into[0] = picture.r[i]!;
    into[1] = picture.g[i]!;
    into[2] = picture.b[i]!;
  };
}

/** Copies that meet in joints of their own. A pixel over several cells shows of each copy as much as it has of them. */
function* drawByArea(
  {
    cells: { widthPx: W, heightPx: H, copy },
    rows,
    columns,
    widthPx,
    heightPx,
  }: { cells: Cells; rows: readonly number[]; columns: readonly number[]; widthPx: number; heightPx: number },
  read: Read,
  one: Float64Array,
  out: ColourPicture,
): Steps<void> {
  const [across, down] = [cellsOfPixels(widthPx, W), cellsOfPixels(heightPx, H)];
  const planes = [out.r, out.g, out.b] as const;
  let p = 0;
  for (const y of rows) {
    yield;
    for (const x of columns) {
      const seen = new Map<number, number>();
      for (const row of down[y]!)
        for (const column of across[x]!) {
          const of = copy[row * W + column]!;
          seen.set(of, (seen.get(of) ?? 0) + 1);
        }
      const count = down[y]!.length * across[x]!.length;
      for (const [of, cells] of seen) {
        read(of, x, y);
        for (const [c, plane] of planes.entries()) plane[p]! += (one[c]! * cells) / count;
      }
      p++;
    }
  }
}

/** The cells that lie in each pixel of a line: where pixels are smaller, the one that it lies in. */
function cellsOfPixels(lengthPx: number, cells: number): number[][] {
  const each = Math.max(1, Math.round(cells / lengthPx));
  return Array.from({ length: lengthPx }, (_, i) =>
    Array.from({ length: each }, (_, k) => Math.floor(((i + (k + 0.5) / each) * cells) / lengthPx)),
  );
}

/** Number of the board, or of the copy, that covers each pixel: that of the nearest cell. */
export function piecesOfCells(
  { widthPx: W, heightPx: H, copy, boardOf }: Cells,
  widthPx: number,
  heightPx: number,
): Int32Array {
  const out = new Int32Array(widthPx * heightPx);
  const nearest = (i: number, cells: number, px: number) =>
    Math.min(cells - 1, Math.floor(((i + 0.5) * cells) / px));
  for (let y = 0; y < heightPx; y++) {
    const row = nearest(y, H, heightPx) * W;
    for (let x = 0; x < widthPx; x++) {
      const of = copy[row + nearest(x, W, widthPx)]!;
      out[y * widthPx + x] = boardOf ? boardOf[of]! : of;
    }
  }
  return out;
}

const bilinear = (
  data: Float32Array,
  c0: number,
  c1: number,
  c2: number,
  c3: number,
  fx: number,
  fy: number,
): number =>
  (data[c0]! * (1 - fx) + data[c1]! * fx) * (1 - fy) + (data[c2]! * (1 - fx) + data[c3]! * fx) * fy;

/**
 * The two cells about each pixel of a line, and the share of the second. Beyond a closed edge lies the cell of the
 * opposite one, seen one repeat further. Where copies are not mixed, the nearer cell has all.
 */
function cornersOf(lengthPx: number, cells: number, closed: boolean, sharp: boolean) {
  const before = new Int32Array(lengthPx);
  const after = new Int32Array(lengthPx);
  const share = new Float64Array(lengthPx);
  const beforeShift = new Int32Array(lengthPx);
  const afterShift = new Int32Array(lengthPx);
  for (let i = 0; i < lengthPx; i++) {
    const at = ((i + 0.5) * cells) / lengthPx - 0.5;
    const k = Math.floor(at);
    share[i] = sharp ? Math.round(at - k) : at - k;
    before[i] = k >= 0 ? k : closed ? cells - 1 : 0;
    after[i] = k + 1 < cells ? k + 1 : closed ? 0 : cells - 1;
    if (closed && k < 0) beforeShift[i] = lengthPx;
    if (closed && k + 1 >= cells) afterShift[i] = -lengthPx;
  }
  return { before, after, share, beforeShift, afterShift };
}
