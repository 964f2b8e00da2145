import * as THREE from 'three';
import { displaced, FORM_TABLE, rectangle } from '@jossel/core/proof';
import type { Drawn } from '../../workers/render.worker';

/** A mesh that the relief of a finish was planned with, and the camera that it was planned for. */
export interface MeshForCamera {
  spacingMm: number;
  /** From the camera to the surface. */
  distanceMm: number;
  /** Between the line of sight and the normal of the surface. */
  cameraDeg: number;
  /** How much of the surface is seen across. */
  acrossMm: number;
}

/** Where the camera looks at the panel: its middle, metres. */
const MIDDLE = [0, 1.2, 0] as const;
/** Place of the left lower corner of the panel, metres. */
const CORNER = [-1.2, 0] as const;
/** More cells than this each way are not drawn. */
const MOST_CELLS = 240;
/** How far the mesh reaches beyond what is seen. */
const MARGIN = 1.6;

/** The planned mesh about the middle of the panel, and its edges as lines. */
export interface MeshGeometry {
  mesh: THREE.BufferGeometry;
  edges: THREE.BufferGeometry;
  /** Half of the side of the square that it covers, metres. */
  halfM: number;
}

/** @param reliefTimes how many times the relief is exaggerated */
export function meshGeometry(
  { spacingMm, cameraDeg, acrossMm }: MeshForCamera,
  { widthPx, heightPx, heightMm, report: { repeatMm } }: Drawn,
  reliefTimes: number,
): MeshGeometry {
  // Seen at an angle, as much of the picture takes more of the surface.
  const wantedMm = (MARGIN * acrossMm) / Math.cos(Math.min(75, cameraDeg) * RAD);
  const cells = Math.max(2, Math.min(MOST_CELLS, Math.ceil(wantedMm / spacingMm)));
  const side = (cells * spacingMm) / 1000;
  const [x, y] = [MIDDLE[0] - side / 2, MIDDLE[1] - side / 2];
  const fromMm = [1000 * (x - CORNER[0]), 1000 * (y - CORNER[1])] as const;
  const flat = rectangle('finish', [x, y, 0], [side, 0, 0], [0, side, 0], cells, fromMm);
  const [{ positions, normals, uvMm, index }] = displaced(
    [flat],
    { widthPx, heightPx, repeatMm, heightMm },
    reliefTimes,
  ) as [typeof flat];
  const position = new THREE.BufferAttribute(positions, 3);
  const mesh = new THREE.BufferGeometry();
  mesh.setAttribute('position', position);
  mesh.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
  mesh.setAttribute('uv', new THREE.BufferAttribute(uvMm, 2));
  mesh.setIndex(new THREE.BufferAttribute(index, 1));
  const edges = new THREE.BufferGeometry();
  edges.setAttribute('position', position);
  edges.setIndex(new THREE.BufferAttribute(edgesOf(index), 1));
  return { mesh, edges, halfM: side / 2 };
}
const RAD = Math.PI / 180;

/** The edges of triangles that come in pairs, each pair a cell: its lower and right edge, and the diagonal that they share. */
function edgesOf(index: Uint32Array): Uint32Array {
  const lines = new Uint32Array(index.length);
  for (let k = 0; k < index.length; k += 6) {
    const [a, b, c] = [index[k]!, index[k + 1]!, index[k + 2]!];
    lines.set([a, b, b, c, a, c], k);
  }
  return lines;
}

/** The panel's own triangles without those that lie wholly where the planned mesh is. */
export function withHole(panel: THREE.BufferGeometry, halfM: number): THREE.BufferGeometry {
  const position = panel.getAttribute('position');
  const all = panel.getIndex()!.array;
  const within = (v: number) =>
    Math.abs(position.getX(v) - MIDDLE[0]) <= halfM && Math.abs(position.getY(v) - MIDDLE[1]) <= halfM;
  const left: number[] = [];
  for (let k = 0; k < all.length; k += 3) {
    const [a, b, c] = [all[k]!, all[k + 1]!, all[k + 2]!];
    if (!(within(a) && within(b) && within(c))) left.push(a, b, c);
  }
  const out = new THREE.BufferGeometry();
  for (const name of ['position', 'normal', 'uv']) out.setAttribute(name, panel.getAttribute(name));
  out.setIndex(left);
  return out;
}

/** Where one stands to see the mesh as its camera does, enlarged until it fills the view. */
export function cameraOf(
  { distanceMm, cameraDeg, acrossMm }: MeshForCamera,
  { width, height }: { width: number; height: number },
) {
  const distance = distanceMm / 1000;
  const at = cameraDeg * RAD;
  const highM = ((acrossMm / 1000) * height) / Math.max(1, width);
  return {
    target: MIDDLE,
    eye: new THREE.Vector3(0, distance * Math.sin(at), distance * Math.cos(at)),
    fovDeg: (2 * Math.atan(highM / 2 / distance)) / RAD,
    near: 0.3 * distance,
    far: 4 * distance + FORM_TABLE.panel.camera.distance,
  };
}
