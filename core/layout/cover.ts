import { atOnce, type Steps } from '../steps';
import type { LaidPiece, LayoutGeometry } from './lay';
import type { Point } from './polygon';

/** Pieces on pixels: which one covers each, and how far its edge is. */

export interface Cover {
  px: { width: number; height: number };
  /** Number of the piece that covers the middle of a pixel; in a joint that of the nearest piece; −1: none is near. */
  piece: Int32Array;
  /** Distance to the nearest outline, mm: within a piece above 0, in a joint below; no farther than `reach`. */
  distanceMm: Float32Array;
  reach: { insideMm: number; outsideMm: number };
  /** The outline that is nearest: bit 0 a side along the piece, bit 1 it is the lower edge of the piece, bit 2 the upper. */
  side: Uint8Array;
}

export const ALONG = 1;
export const LOWER = 2;
export const UPPER = 4;

export interface CoverOptions {
  /** Distances are known this far within pieces and outside them, mm. */
  insideMm: number;
  outsideMm: number;
}

const NONE = -1;

/** Draws the pieces of a layout. */
export const coverOf = (...of: Parameters<typeof coverInSteps>): Cover => atOnce(coverInSteps(...of));

/** The same in steps. */
export function* coverInSteps(
  geometry: LayoutGeometry,
  px: { width: number; height: number },
  { insideMm, outsideMm }: CoverOptions,
): Steps<Cover> {
  const count = px.width * px.height;
  const mm = { x: geometry.repeatMm.width / px.width, y: geometry.repeatMm.height / px.height };
  const leastMm = 1.5 * Math.max(mm.x, mm.y);
  const reach = { insideMm: Math.max(insideMm, leastMm), outsideMm: Math.max(outsideMm, leastMm) };
  const cover: Cover = {
    px,
    piece: new Int32Array(count).fill(NONE),
    distanceMm: new Float32Array(count).fill(-reach.outsideMm),
    reach,
    side: new Uint8Array(count),
  };
  const copies = copiesOf(geometry);
  const covered = new Uint8Array(count);
  for (const copy of copies) {
    yield;
    fill(cover, covered, copy, mm);
  }
  for (const copy of copies) {
    yield;
    edges(cover, covered, copy, mm);
  }
  return cover;
}

/** A piece as it lies on the sheet, rows from the top. */
interface Copy {
  piece: LaidPiece;
  outline: Point[];
}

/** Every piece, and again where it runs over the edge of the repeat. */
function copiesOf({ pieces, repeatMm: { width, height } }: LayoutGeometry): Copy[] {
  return pieces.flatMap((piece) => {
    const xs = piece.outline.map(([x]) => x);
    const ys = piece.outline.map(([, y]) => y);
    const [left, right, bottom, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    const copies: Copy[] = [];
    // A margin, since joints reach over the edge too.
    const margin = 0.5 * Math.min(width, height, right - left, top - bottom);
    for (let i = Math.ceil((-right - margin) / width); i * width + left < width + margin; i++)
      for (let j = Math.ceil((-top - margin) / height); j * height + bottom < height + margin; j++)
        copies.push({
          piece,
          outline: piece.outline.map(([x, y]): Point => [x + i * width, height - (y + j * height)]),
        });
    return copies;
  });
}

interface PerPx {
  x: number;
  y: number;
}

/** Pixels whose middle lies within the outline, row by row (even-odd). */
function fill(cover: Cover, covered: Uint8Array, { piece, outline }: Copy, mm: PerPx): void {
  const { width: w, height: h } = cover.px;
  const ys = outline.map(([, y]) => y / mm.y);
  const first = Math.max(0, Math.ceil(Math.min(...ys) - 0.5));
  const last = Math.min(h - 1, Math.floor(Math.max(...ys) - 0.5));
  const crossings: number[] = [];
  for (let row = first; row <= last; row++) {
    const y = (row + 0.5) * mm.y;
    crossings.length = 0;
    for (let k = 0; k < outline.length; k++) {
      const [ax, ay] = outline[k]!;
      const [bx, by] = outline[k + 1 === outline.length ? 0 : k + 1]!;
      if (ay <= y === by <= y) continue;
      crossings.push((ax + ((y - ay) * (bx - ax)) / (by - ay)) / mm.x);
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const to = Math.min(w - 1, Math.ceil(crossings[k + 1]! - 0.5) - 1);
      for (let x = from, i = row * w + from; x <= to; x++, i++) {
        cover.piece[i] = piece.id;
        cover.distanceMm[i] = cover.reach.insideMm;
        covered[i] = 1;
      }
    }
  }
}

/** Distances near the outline. */
function edges(cover: Cover, covered: Uint8Array, { piece, outline }: Copy, mm: PerPx): void {
  const direction = (piece.directionDeg * Math.PI) / 180;
  const about = surroundingsOf(outline, cover.reach);
  // Rows count downwards.
  const [ux, uy] = [Math.cos(direction), -Math.sin(direction)];
  for (let k = 0; k < outline.length; k++) {
    const a = outline[k]!;
    const b = outline[k + 1 === outline.length ? 0 : k + 1]!;
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const length = Math.hypot(dx, dy);
    if (length === 0) continue;
    const along = Math.abs(dx * ux + dy * uy) > 0.7 * length ? ALONG : 0;
    // Corners run anticlockwise: an edge that runs to the right is a lower one.
    const level = dx > 0.5 * length ? LOWER : dx < -0.5 * length ? UPPER : 0;
    edge(cover, covered, piece.id, a, b, along | level, mm, about);
  }
}

/** What an outline can be nearest to: places within it, and those about it as far as distances are known outside. */
interface Surroundings {
  /** mm from the top left corner of the sheet. */
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** No place that an edge is nearest to lies farther from it, mm. */
  bandMm: number;
}

function surroundingsOf(outline: readonly Point[], { insideMm, outsideMm }: Cover['reach']): Surroundings {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [x, y] of outline) {
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  const deepest = 0.5 * Math.min(right - left, bottom - top);
  return {
    left: left - outsideMm,
    right: right + outsideMm,
    top: top - outsideMm,
    bottom: bottom + outsideMm,
    bandMm: Math.max(outsideMm, Math.min(insideMm, deepest)),
  };
}

/** How many pixels are visited for the distances to all edges. */
export function pixelsNearEdges(
  { pieces, repeatMm }: LayoutGeometry,
  px: { width: number; height: number },
  reach: Cover['reach'],
): number {
  let areaMm2 = 0;
  for (const { outline } of pieces) {
    const { left, right, top, bottom, bandMm } = surroundingsOf(outline, reach);
    for (let k = 0; k < outline.length; k++) {
      const [ax, ay] = outline[k]!;
      const [bx, by] = outline[k + 1 === outline.length ? 0 : k + 1]!;
      areaMm2 +=
        Math.min(right - left, Math.abs(bx - ax) + 2 * bandMm) *
        Math.min(bottom - top, Math.abs(by - ay) + 2 * bandMm);
    }
  }
  return (areaMm2 * px.width * px.height) / (repeatMm.width * repeatMm.height);
}

/** Pixels about one edge that are nearer to it than to any before. */
function edge(
  { px, piece, distanceMm, side }: Cover,
  covered: Uint8Array,
  id: number,
  a: Point,
  b: Point,
  flags: number,
  mm: PerPx,
  about: Surroundings,
): void {
  const band = about.bandMm;
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const length2 = dx * dx + dy * dy;
  const first = Math.max(0, Math.ceil(Math.max(about.top, Math.min(a[1], b[1]) - band) / mm.y - 0.5));
  const last = Math.min(
    px.height - 1,
    Math.floor(Math.min(about.bottom, Math.max(a[1], b[1]) + band) / mm.y - 0.5),
  );
  const boxLeft = Math.max(about.left, Math.min(a[0], b[0]) - band);
  const boxRight = Math.min(about.right, Math.max(a[0], b[0]) + band);
  // Half of what a row cuts out of the strip about the edge.
  const half = Math.abs(dy) > 1e-9 ? (band * Math.sqrt(length2)) / Math.abs(dy) : Infinity;
  for (let row = first; row <= last; row++) {
    const y = (row + 0.5) * mm.y;
    const on = Number.isFinite(half) ? a[0] + ((y - a[1]) * dx) / dy : 0;
    const left = Math.max(boxLeft, Number.isFinite(half) ? on - half : boxLeft);
    const right = Math.min(boxRight, Number.isFinite(half) ? on + half : boxRight);
    const from = Math.max(0, Math.ceil(left / mm.x - 0.5));
    const to = Math.min(px.width - 1, Math.floor(right / mm.x - 0.5));
    for (let x = from, i = row * px.width + from; x <= to; x++, i++) {
      const inside = covered[i] === 1;
      if (inside && piece[i] !== id) continue;
      const [rx, ry] = [(x + 0.5) * mm.x - a[0], y - a[1]];
      let t = (rx * dx + ry * dy) / length2;
      t = t < 0 ? 0 : t > 1 ? 1 : t;
      const distance = Math.hypot(rx - t * dx, ry - t * dy);
      if (inside) {
        if (distance < distanceMm[i]!) {
          distanceMm[i] = distance;
          side[i] = flags;
        }
      } else if (distance < -distanceMm[i]!) {
        distanceMm[i] = -distance;
        piece[i] = id;
        side[i] = flags;
      }
    }
  }
}
