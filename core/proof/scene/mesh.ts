import { cross, dot, plus, unit, type Vector } from '../../vector';

/** Triangles of one matter. Metres; y up, z towards the viewer, the ground at y = 0. */
export interface Mesh {
  of: Matter;
  /** x, y, z of each vertex. */
  positions: Float32Array;
  normals: Float32Array;
  /** Place on the finish, mm to the right and up, at true scale. */
  uvMm: Float32Array;
  index: Uint32Array;
}

/** What a thing in the scene is made of: the finish, or a neutral matt matter of known reflectance. */
export const NEUTRALS = {
  /** Grey reference card. */
  card: 0.18,
  ground: 0.3,
  wall: 0.75,
  door: 0.55,
  seat: 0.4,
  dark: 0.04,
  light: 0.85,
} as const;
export type Neutral = keyof typeof NEUTRALS;
export type Matter = 'finish' | Neutral;

/** A place on a sheet, and where it lies on the finish. */
export interface SheetPoint {
  at: Vector;
  uvMm: readonly [number, number];
}

/**
 * A sheet of nu × nv cells over parameters 0–1, u to the right and v up as it is seen from its front.
 * Its normals are those of the sheet itself, by differences.
 */
export function sheet(
  of: Matter,
  nu: number,
  nv: number,
  pointAt: (u: number, v: number) => SheetPoint,
): Mesh {
  const across = nu + 1;
  const count = across * (nv + 1);
  const mesh: Mesh = {
    of,
    positions: new Float32Array(3 * count),
    normals: new Float32Array(3 * count),
    uvMm: new Float32Array(2 * count),
    index: new Uint32Array(6 * nu * nv),
  };
  const E = 1e-4;
  for (let j = 0, n = 0; j <= nv; j++)
    for (let i = 0; i <= nu; i++, n++) {
      const [u, v] = [i / nu, j / nv];
      const { at, uvMm } = pointAt(u, v);
      const alongU = plus(pointAt(u + E, v).at, pointAt(u - E, v).at, -1);
      const alongV = plus(pointAt(u, v + E).at, pointAt(u, v - E).at, -1);
      const normal = cross(alongU, alongV);
      mesh.positions.set(at, 3 * n);
      mesh.normals.set(dot(normal, normal) > 0 ? unit(normal) : [0, v > 0.5 ? 1 : -1, 0], 3 * n);
      mesh.uvMm.set(uvMm, 2 * n);
    }
  for (let j = 0, k = 0; j < nv; j++)
    for (let i = 0; i < nu; i++, k += 6) {
      const a = j * across + i;
      mesh.index.set([a, a + 1, a + across + 1, a, a + across + 1, a + across], k);
    }
  return mesh;
}

/** A flat rectangle: its lower left corner, its two edges, and the place on the finish where it begins. */
export function rectangle(
  of: Matter,
  corner: Vector,
  right: Vector,
  up: Vector,
  cells = 1,
  fromMm: readonly [number, number] = [0, 0],
): Mesh {
  const [wide, high] = [Math.sqrt(dot(right, right)), Math.sqrt(dot(up, up))];
  return sheet(of, cells, cells, (u, v) => ({
    at: plus(plus(corner, right, u), up, v),
    uvMm: [fromMm[0] + 1000 * wide * u, fromMm[1] + 1000 * high * v],
  }));
}

/** A block on its six sides, turned about the vertical. */
export function block(of: Matter, foot: Vector, size: Vector, turnRad = 0): Mesh[] {
  const [c, s] = [Math.cos(turnRad), Math.sin(turnRad)];
  const turned = ([x, y, z]: Vector): Vector => [x * c + z * s, y, z * c - x * s];
  const [w, h, d] = size;
  const side = (corner: Vector, right: Vector, up: Vector) =>
    rectangle(of, plus(foot, turned(corner)), turned(right), turned(up));
  return [
    side([-w / 2, 0, d / 2], [w, 0, 0], [0, h, 0]),
    side([w / 2, 0, d / 2], [0, 0, -d], [0, h, 0]),
    side([w / 2, 0, -d / 2], [-w, 0, 0], [0, h, 0]),
    side([-w / 2, 0, -d / 2], [0, 0, d], [0, h, 0]),
    side([-w / 2, h, d / 2], [w, 0, 0], [0, 0, -d]),
    side([-w / 2, 0, -d / 2], [w, 0, 0], [0, 0, d]),
  ];
}

/** All meshes of one matter in one. */
export function merged(meshes: readonly Mesh[]): Mesh[] {
  return [...new Set(meshes.map(({ of }) => of))].map((of) => {
    const same = meshes.filter((mesh) => mesh.of === of);
    const joined = (name: 'positions' | 'normals' | 'uvMm') => {
      const out = new Float32Array(same.reduce((sum, mesh) => sum + mesh[name].length, 0));
      let at = 0;
      for (const mesh of same) {
        out.set(mesh[name], at);
        at += mesh[name].length;
      }
      return out;
    };
    const index = new Uint32Array(same.reduce((sum, mesh) => sum + mesh.index.length, 0));
    let [at, first] = [0, 0];
    for (const mesh of same) {
      for (const v of mesh.index) index[at++] = v + first;
      first += mesh.positions.length / 3;
    }
    return { of, positions: joined('positions'), normals: joined('normals'), uvMm: joined('uvMm'), index };
  });
}

/** Heights over one repeat, mm; rows from the top. */
export interface HeightOverRepeat {
  widthPx: number;
  heightPx: number;
  repeatMm: { width: number; height: number };
  heightMm: Float32Array;
}

/** Meshes of the finish moved along their normals by its relief. @param times how much it is exaggerated; 1: as it is */
export function displaced(meshes: readonly Mesh[], relief: HeightOverRepeat, times = 1): Mesh[] {
  const { widthPx, heightPx, repeatMm, heightMm } = relief;
  return meshes.map((mesh) => {
    if (mesh.of !== 'finish') return mesh;
    const positions = mesh.positions.slice();
    for (let n = 0; n < mesh.uvMm.length / 2; n++) {
      const u = mesh.uvMm[2 * n]! / repeatMm.width;
      const v = 1 - mesh.uvMm[2 * n + 1]! / repeatMm.height;
      const x = Math.min(widthPx - 1, Math.floor((u - Math.floor(u)) * widthPx));
      const y = Math.min(heightPx - 1, Math.floor((v - Math.floor(v)) * heightPx));
      const metres = (times * heightMm[y * widthPx + x]!) / 1000;
      for (let a = 0; a < 3; a++) positions[3 * n + a]! += metres * mesh.normals[3 * n + a]!;
    }
    return { ...mesh, positions };
  });
}
