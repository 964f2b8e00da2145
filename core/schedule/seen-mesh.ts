import { sampleWrapped, type Plane } from '../raster';
import type { ReliefView } from './relief-plan';

/** A patch of a displaced mesh as a camera sees it. */
export interface SeenMesh {
  /** Points of the mesh in each direction. */
  columns: number;
  rows: number;
  /** Places of the points in the picture, px from its middle, x to the right, y up; row by row, the farthest first. */
  x: Float32Array;
  y: Float32Array;
  /** Light on each cell between four points, 0–1, from the upper left at 15° over the surface. */
  light: Float32Array;
}

const RADIANS = Math.PI / 180;
/** More points than this are not drawn: lines would lie closer than pixels of a screen. */
const MOST_POINTS = 40000;
/** Cosines of the angles between the direction to the light and the axes of the surface. */
const LIGHT = [-0.683, 0.683, 0.259] as const;

/**
 * Sets up the mesh of a relief around the place the camera looks at.
 * @param height one repeat, mm, top row first
 * @param mmPerPx size of a pixel of it
 * @param view of the camera, which stands below that place by its angle
 * @param spacingMm edges of the mesh
 * @param seenPx how much of the picture is drawn, px; less where that would be too many points
 */
export function seenMesh(
  height: Plane,
  mmPerPx: { x: number; y: number },
  view: Pick<ReliefView, 'distanceMm' | 'cameraDeg' | 'fovDeg' | 'pictureWidthPx'>,
  spacingMm: number,
  seenPx: { width: number; height: number },
): SeenMesh {
  const { distanceMm, cameraDeg, fovDeg, pictureWidthPx } = view;
  const focalPx = pictureWidthPx / (2 * Math.tan((fovDeg / 2) * RADIANS));
  const [cos, sin] = [Math.cos(cameraDeg * RADIANS), Math.sin(cameraDeg * RADIANS)];
  const pixelMm = distanceMm / focalPx;
  // Rows farther away are seen smaller: half as much again fills the picture.
  const cellsFor = (mm: number) => Math.max(2, Math.ceil((1.5 * mm) / spacingMm));
  let columns = cellsFor(seenPx.width * pixelMm) + 1;
  let rows = cellsFor((seenPx.height * pixelMm) / Math.max(0.1, cos)) + 1;
  const scale = Math.min(1, Math.sqrt(MOST_POINTS / (columns * rows)));
  [columns, rows] = [Math.max(3, Math.floor(columns * scale)), Math.max(3, Math.floor(rows * scale))];
  const [x, y] = [new Float32Array(columns * rows), new Float32Array(columns * rows)];
  const z = new Float32Array(columns * rows);
  for (let row = 0, i = 0; row < rows; row++) {
    const upMm = ((rows - 1) / 2 - row) * spacingMm;
    for (let column = 0; column < columns; column++, i++) {
      const acrossMm = (column - (columns - 1) / 2) * spacingMm;
      z[i] = sampleWrapped(height, acrossMm / mmPerPx.x - 0.5, -upMm / mmPerPx.y - 0.5);
      // The camera stands at −sin, cos times its distance and looks at the origin.
      const away = distanceMm + upMm * sin - z[i]! * cos;
      x[i] = (focalPx * acrossMm) / away;
      y[i] = (focalPx * (upMm * cos + z[i]! * sin)) / away;
    }
  }
  return { columns, rows, x, y, light: lightOn(z, columns, rows, spacingMm) };
}

function lightOn(z: Float32Array, columns: number, rows: number, spacingMm: number): Float32Array {
  const light = new Float32Array((columns - 1) * (rows - 1));
  for (let row = 0, k = 0; row < rows - 1; row++)
    for (let column = 0; column < columns - 1; column++, k++) {
      const i = row * columns + column;
      const [a, b, c, d] = [z[i]!, z[i + 1]!, z[i + columns]!, z[i + columns + 1]!];
      const across = (b + d - a - c) / (2 * spacingMm);
      const up = (a + b - c - d) / (2 * spacingMm);
      const lit = (LIGHT[2] - across * LIGHT[0] - up * LIGHT[1]) / Math.hypot(across, up, 1);
      light[k] = Math.min(1, Math.max(0, lit));
    }
  return light;
}
