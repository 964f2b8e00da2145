import type { Plane } from '../raster';
import type { Steps } from '../steps';
import type { FaceOrigin } from '../surface';
import { shownAt, type Continuation, type Shown } from './continued';
import type { Cover } from './cover';
import type { Face, FaceArea } from './faces';
import type { LayoutGeometry } from './lay';
import { quarterExact } from './polygon';

/** Reads what a piece shows from the surface its face is cut from. */

/** What laying reads from and where it lays. */
export interface Laying {
  geometry: LayoutGeometry;
  cover: Cover;
  faces: readonly Face[];
  areas: readonly FaceArea[];
  /** How areas are continued along one axis; none: beyond its edge an area is mirrored. */
  continuations: readonly (AreaContinuation | null)[];
  /** The surface that faces are cut from. */
  from: { sizeMm: { width: number; height: number }; px: { width: number; height: number } };
}

/** How an area is continued. */
export interface AreaContinuation {
  axis: 'x' | 'y';
  along: Continuation;
}

/** How places in a piece become places on the faces' surface: about its middle, turned, then to the middle of its face. */
interface Mapping {
  x: number;
  y: number;
  cos: number;
  sin: number;
  /** −1: mirrored. */
  hand: number;
  /** Turned by whole quarters. */
  square: boolean;
  toX: number;
  toY: number;
  area: FaceArea;
  continued: AreaContinuation | null;
}

export interface LayOver {
  into?: Float32Array[];
  /** @param distanceMm to the outline of the piece, above 0 within it */
  where?: (piece: number, distanceMm: number) => boolean;
}

/** Where the densities of both surfaces differ by less, a pixel of one is a pixel of the other. */
const ALIKE = 0.004;

/**
 * Lays planes of the faces' surface over the pieces, all by the same places. Pieces that lie square to their picture, at its
 * density, take whole pixels, so that they stay as sharp as it is; all others are read by cubic convolution. Pixels of joints
 * farther than a pixel from a piece stay 0.
 * @param planes data of the faces' surface
 * @param over lays them over others, at some places only; default: over nothing, wherever there are pieces
 * @returns steps; in the end as many planes of the cover's shape
 */
export function* laidPlanes(
  { geometry, cover, faces, areas, continuations, from }: Laying,
  planes: readonly Float32Array[],
  { into, where }: LayOver = {},
): Steps<Float32Array[]> {
  const { width: w, height: h } = cover.px;
  const { width, height } = geometry.repeatMm;
  const [mmX, mmY] = [width / w, height / h];
  const nearMm = -Math.max(mmX, mmY);
  const mappings = geometry.pieces.map((piece, k) =>
    mappingOf(piece.centre, faces[k]!, areas, continuations),
  );
  const out = into ?? planes.map(() => new Float32Array(w * h));
  const [perX, perY] = [from.px.width / from.sizeMm.width, from.px.height / from.sizeMm.height];
  const alike = Math.abs(perX * mmX - 1) < ALIKE && Math.abs(perY * mmY - 1) < ALIKE;
  const reader = new FaceReader(planes, out, from.px);
  const shown: Shown = { at: 0, other: 0, weight: 0 };
  const read = (xMm: number, yMm: number, map: Mapping, i: number) => {
    const sx = xMm * perX - 0.5;
    const sy = (from.sizeMm.height - yMm) * perY - 0.5;
    if (alike && map.square) reader.copy(Math.round(sx), Math.round(sy), map.area.closed, i);
    else reader.read(sx, sy, map.area.closed, i);
  };
  /** Where a face is continued: what is shown there, or a mix of two copies. */
  const readContinued = (
    xMm: number,
    yMm: number,
    { axis, along }: AreaContinuation,
    map: Mapping,
    i: number,
  ) => {
    const { area } = map;
    const [x, y] = [(xMm - area.left) / area.width, (yMm - area.bottom) / area.height];
    const level = axis === 'x';
    shownAt(along, Math.max(0, level ? x : y), level ? y : x, shown);
    const { at, other, weight } = shown;
    const readAt = (share: number) =>
      read(
        level ? area.left + share * area.width : place(xMm, area.left, area.width),
        level ? place(yMm, area.bottom, area.height) : area.bottom + share * area.height,
        map,
        i,
      );
    readAt(at);
    if (weight === 0) return;
    reader.keep(i);
    readAt(other);
    reader.mix(i, weight);
  };
  const { piece: pieceAt, distanceMm } = cover;
  for (let row = 0, i = 0; row < h; row++) {
    yield;
    const y = height - (row + 0.5) * mmY;
    for (let x = 0; x < w; x++, i++) {
      const id = pieceAt[i]!;
      if (id < 0 || !(where ? where(id, distanceMm[i]!) : distanceMm[i]! >= nearMm)) continue;
      const map = mappings[id]!;
      let dx = (x + 0.5) * mmX - map.x;
      let dy = y - map.y;
      // The copy of the piece round the repeat that is nearest.
      if (dx > width / 2 || dx < -width / 2) dx -= width * Math.round(dx / width);
      if (dy > height / 2 || dy < -height / 2) dy -= height * Math.round(dy / height);
      const xMm = map.toX + map.cos * dx + map.sin * dy;
      const yMm = map.toY + map.hand * (map.cos * dy - map.sin * dx);
      const { area, continued } = map;
      if (continued) readContinued(xMm, yMm, continued, map, i);
      else if (area.closed) read(xMm, yMm, map, i);
      else read(place(xMm, area.left, area.width), place(yMm, area.bottom, area.height), map, i);
    }
  }
  return out;
}

/** A place beyond an area that does not close is that mirrored at its edge. */
function place(at: number, from: number, length: number): number {
  const rest = at - from;
  if (rest >= 0 && rest <= length) return at;
  const folded = Math.abs(rest) % (2 * length);
  return from + (folded <= length ? folded : 2 * length - folded);
}

function mappingOf(
  [x, y]: readonly [number, number],
  face: Face,
  areas: readonly FaceArea[],
  continuations: readonly (AreaContinuation | null)[],
): Mapping {
  const [cos, sin] = quarterExact(face.turnDeg);
  const { x: toX, y: toY } = face.centre;
  return {
    x,
    y,
    cos,
    sin,
    hand: face.mirrored ? -1 : 1,
    square: Number.isInteger(face.turnDeg / 90),
    toX,
    toY,
    area: areas[face.area]!,
    continued: continuations[face.area] ?? null,
  };
}

/** Reads planes and writes what it read into others. */
class FaceReader {
  private readonly columns = new Int32Array(4);
  private readonly rows = new Int32Array(4);
  private readonly kept: Float32Array;

  constructor(
    private readonly planes: readonly Float32Array[],
    private readonly out: readonly Float32Array[],
    private readonly px: { width: number; height: number },
  ) {
    this.kept = new Float32Array(planes.length);
  }

  /** Keeps what was read last, so that it can be mixed with what is read next. */
  keep(i: number): void {
    for (let p = 0; p < this.out.length; p++) this.kept[p] = this.out[p]![i]!;
  }

  /** Mixes what was kept with what was read since. @param weight of the latter, 0–1 */
  mix(i: number, weight: number): void {
    for (let p = 0; p < this.out.length; p++)
      this.out[p]![i] = (1 - weight) * this.kept[p]! + weight * this.out[p]![i]!;
  }

  /** One pixel as it is. */
  copy(x: number, y: number, closed: boolean, i: number): void {
    const k = indexAt(y, this.px.height, closed) * this.px.width + indexAt(x, this.px.width, closed);
    for (let p = 0; p < this.planes.length; p++) this.out[p]![i] = this.planes[p]![k]!;
  }

  /**
   * By cubic convolution (Keys 1981).
   * @param x,y place in pixels, centres at whole numbers, rows from the top
   * @param closed what runs over an edge comes in at the other one; else the edge is repeated
   * @param i pixel to write to
   */
  read(x: number, y: number, closed: boolean, i: number): void {
    const { width: w, height: h } = this.px;
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const t = x - x0;
    const u = y - y0;
    const a0 = ((-0.5 * t + 1) * t - 0.5) * t;
    const a1 = (1.5 * t - 2.5) * t * t + 1;
    const a2 = ((-1.5 * t + 2) * t + 0.5) * t;
    const a3 = (0.5 * t - 0.5) * t * t;
    const b0 = ((-0.5 * u + 1) * u - 0.5) * u;
    const b1 = (1.5 * u - 2.5) * u * u + 1;
    const b2 = ((-1.5 * u + 2) * u + 0.5) * u;
    const b3 = (0.5 * u - 0.5) * u * u;
    const { planes, out } = this;
    if (x0 >= 1 && y0 >= 1 && x0 < w - 2 && y0 < h - 2) {
      const k0 = (y0 - 1) * w + x0 - 1;
      const k1 = k0 + w;
      const k2 = k1 + w;
      const k3 = k2 + w;
      for (let p = 0; p < planes.length; p++) {
        const d = planes[p]!;
        out[p]![i] =
          b0 * (a0 * d[k0]! + a1 * d[k0 + 1]! + a2 * d[k0 + 2]! + a3 * d[k0 + 3]!) +
          b1 * (a0 * d[k1]! + a1 * d[k1 + 1]! + a2 * d[k1 + 2]! + a3 * d[k1 + 3]!) +
          b2 * (a0 * d[k2]! + a1 * d[k2 + 1]! + a2 * d[k2 + 2]! + a3 * d[k2 + 3]!) +
          b3 * (a0 * d[k3]! + a1 * d[k3 + 1]! + a2 * d[k3 + 2]! + a3 * d[k3 + 3]!);
      }
      return;
    }
    const { columns: c, rows } = this;
    for (let k = 0; k < 4; k++) {
      c[k] = indexAt(x0 - 1 + k, w, closed);
      rows[k] = indexAt(y0 - 1 + k, h, closed) * w;
    }
    for (let p = 0; p < planes.length; p++) {
      const d = planes[p]!;
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const r = rows[k]!;
        const line = a0 * d[r + c[0]!]! + a1 * d[r + c[1]!]! + a2 * d[r + c[2]!]! + a3 * d[r + c[3]!]!;
        sum += (k === 0 ? b0 : k === 1 ? b1 : k === 2 ? b2 : b3) * line;
      }
      out[p]![i] = sum;
    }
  }
}

function indexAt(k: number, count: number, closed: boolean): number {
  if (k >= 0 && k < count) return k;
  if (!closed) return k < 0 ? 0 : count - 1;
  const rest = k % count;
  return rest < 0 ? rest + count : rest;
}

/** Where what a place of a laid surface shows was taken from. */
export function originOf({
  geometry: { pieces, repeatMm },
  cover: { px, piece, distanceMm },
  faces,
  areas,
  continuations,
  from,
}: Laying): FaceOrigin {
  const { width, height } = repeatMm;
  const nearest = (d: number, side: number) => d - side * Math.round(d / side);
  return (xMm, downMm) => {
    const column = Math.floor((xMm / width) * px.width);
    const row = Math.floor((downMm / height) * px.height);
    const i =
      Math.min(px.height - 1, Math.max(0, row)) * px.width + Math.min(px.width - 1, Math.max(0, column));
    const id = piece[i]!;
    if (id < 0 || distanceMm[i]! < 0) return null;
    const map = mappingOf(pieces[id]!.centre, faces[id]!, areas, continuations);
    const { area } = map;
    const at = placeOnFaces(map, nearest(xMm - map.x, width), nearest(height - downMm - map.y, height));
    const within = (v: number, begin: number, side: number) =>
      area.closed ? v - side * Math.floor(v / side) : place(v, begin, side);
    const x = within(at.xMm, area.left, area.width);
    const y = within(at.yMm, area.bottom, area.height);
    return { xMm: x, yMm: from.sizeMm.height - y, area: faces[id]!.area };
  };
}

/** A place about the middle of a piece, on the faces' surface; where the face is continued, as its copy lies in the picture. */
function placeOnFaces(
  { toX, toY, cos, sin, hand, area, continued }: Mapping,
  dx: number,
  dy: number,
): { xMm: number; yMm: number } {
  const xMm = toX + cos * dx + sin * dy;
  const yMm = toY + hand * (cos * dy - sin * dx);
  if (!continued) return { xMm, yMm };
  const [x, y] = [(xMm - area.left) / area.width, (yMm - area.bottom) / area.height];
  const level = continued.axis === 'x';
  const { at } = shownAt(continued.along, Math.max(0, level ? x : y), level ? y : x, {
    at: 0,
    other: 0,
    weight: 0,
  });
  return level ? { xMm: area.left + at * area.width, yMm } : { xMm, yMm: area.bottom + at * area.height };
}

/** One plane laid over the pieces. */
export function* laidPlane(laying: Laying, plane: Plane): Steps<Plane> {
  const { width: widthPx, height: heightPx } = laying.cover.px;
  const [data] = yield* laidPlanes(laying, [plane.data]);
  return { widthPx, heightPx, data: data! };
}

/** Share of a pixel that a piece covers, 0–1, from the distance of its edge. */
export const coverage = (distanceMm: number, mmPerPx: number): number => {
  const share = 0.5 + distanceMm / mmPerPx;
  return share <= 0 ? 0 : share >= 1 ? 1 : share;
};
