import type { Plane } from '../raster';
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
  /** The surface that faces are cut from. */
  from: { sizeMm: { width: number; height: number }; px: { width: number; height: number } };
}

/** How places in a piece become places on the faces' surface. */
interface Mapping {
  centre: readonly [number, number];
  cos: number;
  sin: number;
  mirrored: boolean;
  to: { x: number; y: number };
  area: FaceArea;
}

/** Keys' cubic weights for the four pixels around a place `t` behind the second of them. */
function weights(t: number, to: Float64Array): void {
  to[0] = ((-0.5 * t + 1) * t - 0.5) * t;
  to[1] = (1.5 * t - 2.5) * t * t + 1;
  to[2] = ((-1.5 * t + 2) * t + 0.5) * t;
  to[3] = (0.5 * t - 0.5) * t * t;
}

/**
 * Lays planes of the faces' surface over the pieces, all by the same places, by cubic convolution. Pixels of joints farther
 * than a pixel from a piece stay 0.
 * @param planes data of the faces' surface
 * @returns as many planes of the cover's shape
 */
export function laidPlanes(
  { geometry, cover, faces, areas, from }: Laying,
  planes: readonly Float32Array[],
): Float32Array[] {
  const { width: w, height: h } = cover.px;
  const { width, height } = geometry.repeatMm;
  const [mmX, mmY] = [width / w, height / h];
  const nearMm = -Math.max(mmX, mmY);
  const mappings = geometry.pieces.map((piece, k) => mappingOf(piece.centre, faces[k]!, areas));
  const out = planes.map(() => new Float32Array(w * h));
  const reader = cubicInto(planes, out, from);
  for (let row = 0, i = 0; row < h; row++) {
    const y = height - (row + 0.5) * mmY;
    for (let x = 0; x < w; x++, i++) {
      const id = cover.piece[i]!;
      if (id < 0 || cover.distanceMm[i]! < nearMm) continue;
      const map = mappings[id]!;
      let dx = (x + 0.5) * mmX - map.centre[0];
      let dy = y - map.centre[1];
      // The copy of the piece round the repeat that is nearest.
      dx -= width * Math.round(dx / width);
      dy -= height * Math.round(dy / height);
      const along = map.cos * dx + map.sin * dy;
      const across = (map.mirrored ? -1 : 1) * (map.cos * dy - map.sin * dx);
      reader(
        place(map.to.x + along, map.area.left, map.area.width, map.area.closed),
        place(map.to.y + across, map.area.bottom, map.area.height, map.area.closed),
        map.area.closed,
        i,
      );
    }
  }
  return out;
}

/** A place beyond an area that does not close is that mirrored at its edge. */
function place(at: number, from: number, length: number, closed: boolean): number {
  if (closed) return at;
  const rest = at - from;
  if (rest >= 0 && rest <= length) return at;
  const folded = Math.abs(rest) % (2 * length);
  return from + (folded <= length ? folded : 2 * length - folded);
}

function mappingOf(centre: readonly [number, number], face: Face, areas: readonly FaceArea[]): Mapping {
  const [cos, sin] = quarterExact(face.turnDeg);
  return { centre, cos, sin, mirrored: face.mirrored, to: face.centre, area: areas[face.area]! };
}

/** Reads at a place in mm, y up, and writes into all planes at a pixel. */
function cubicInto(
  planes: readonly Float32Array[],
  out: readonly Float32Array[],
  { sizeMm, px: { width: w, height: h } }: Laying['from'],
) {
  const [perX, perY] = [w / sizeMm.width, h / sizeMm.height];
  const [wx, wy] = [new Float64Array(4), new Float64Array(4)];
  const [columns, rows] = [new Int32Array(4), new Int32Array(4)];
  return (xMm: number, yMm: number, closed: boolean, i: number): void => {
    const [sx, sy] = [xMm * perX - 0.5, (sizeMm.height - yMm) * perY - 0.5];
    const [x0, y0] = [Math.floor(sx), Math.floor(sy)];
    weights(sx - x0, wx);
    weights(sy - y0, wy);
    for (let k = 0; k < 4; k++) {
      columns[k] = indexAt(x0 - 1 + k, w, closed);
      rows[k] = indexAt(y0 - 1 + k, h, closed) * w;
    }
    for (let p = 0; p < planes.length; p++) {
      const data = planes[p]!;
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const row = rows[k]!;
        sum +=
          wy[k]! *
          (wx[0]! * data[row + columns[0]!]! +
            wx[1]! * data[row + columns[1]!]! +
            wx[2]! * data[row + columns[2]!]! +
            wx[3]! * data[row + columns[3]!]!);
      }
      out[p]![i] = sum;
    }
  };
}

function indexAt(k: number, count: number, closed: boolean): number {
  if (k >= 0 && k < count) return k;
  if (!closed) return k < 0 ? 0 : count - 1;
  const rest = k % count;
  return rest < 0 ? rest + count : rest;
}

/** One plane laid over the pieces. */
export function laidPlane(laying: Laying, plane: Plane): Plane {
  const { width: widthPx, height: heightPx } = laying.cover.px;
  return { widthPx, heightPx, data: laidPlanes(laying, [plane.data])[0]! };
}

/** Share of a pixel that a piece covers, 0–1, from the distance of its edge. */
export const coverage = (distanceMm: number, mmPerPx: number): number => {
  const share = 0.5 + distanceMm / mmPerPx;
  return share <= 0 ? 0 : share >= 1 ? 1 : share;
};
