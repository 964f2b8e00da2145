import type { Plane } from '../raster';
import { atOnce, spans, type Steps } from '../steps';

/** Unit normals in glTF orientation: x to the right, y up, z out of the surface. */
export interface NormalField {
  widthPx: number;
  heightPx: number;
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

/**
 * Normals of a height that repeats: normalise(−∂h/∂x, −∂h/∂y, 1), by central differences that wrap.
 * @param height mm, top row first
 * @param mmPerPx size of a pixel
 */
export const normalsOfHeight = (height: Plane, mmPerPx: { x: number; y: number }): NormalField =>
  atOnce(normalsSteps(height, mmPerPx));

/** As `normalsOfHeight`, left between rows. */
export function* normalsSteps(height: Plane, mmPerPx: { x: number; y: number }): Steps<NormalField> {
  const { widthPx: w, heightPx: h, data } = height;
  const out: NormalField = {
    widthPx: w,
    heightPx: h,
    x: new Float32Array(w * h),
    y: new Float32Array(w * h),
    z: new Float32Array(w * h),
  };
  for (let row = 0; row < h; row++) {
    yield;
    normalsOfRow(out, data, row, mmPerPx);
  }
  return out;
}

function normalsOfRow(
  { widthPx: w, heightPx: h, x, y, z }: NormalField,
  data: Float32Array,
  row: number,
  mmPerPx: { x: number; y: number },
): void {
  const sx = 1 / (2 * mmPerPx.x);
  const sy = 1 / (2 * mmPerPx.y);
  const above = (row === 0 ? h - 1 : row - 1) * w;
  const below = (row === h - 1 ? 0 : row + 1) * w;
  const here = row * w;
  for (let column = 0; column < w; column++) {
    const left = column === 0 ? w - 1 : column - 1;
    const right = column === w - 1 ? 0 : column + 1;
    const gx = (data[here + right]! - data[here + left]!) * sx;
    const gy = (data[above + column]! - data[below + column]!) * sy; // y is up, rows run down
    const length = 1 / Math.sqrt(gx * gx + gy * gy + 1);
    const i = here + column;
    x[i] = -gx * length;
    y[i] = -gy * length;
    z[i] = length;
  }
}

/** Slope angles of a relief: mean, and the angle that 99 % of the surface stays below, in degrees. */
export function* slopesSteps(normals: NormalField): Steps<{ meanDeg: number; p99Deg: number }> {
  const bins = new Float64Array(900);
  let level = 0;
  for (const { from, to } of spans(normals.z.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const z = normals.z[i]!;
      if (z >= 1) {
        level++;
        continue;
      }
      // The tangent is binned and turned into angles once, so that no arc cosine runs per pixel.
      const tangent = Math.sqrt(Math.max(0, 1 - z * z)) / z;
      bins[tangent < 1 ? Math.floor(tangent * 450) : Math.max(450, 899 - Math.floor(450 / tangent))]!++;
    }
  }
  const degreesOfBin = (k: number) =>
    (Math.atan(k < 450 ? (k + 0.5) / 450 : 450 / (899 - k + 0.5)) * 180) / Math.PI;
  const n = normals.z.length;
  let sum = 0;
  let seen = level;
  let p99Deg = 0;
  for (let k = 0; k < 900; k++) {
    sum += bins[k]! * degreesOfBin(k);
    if (seen < 0.99 * n && seen + bins[k]! >= 0.99 * n) p99Deg = degreesOfBin(k);
    seen += bins[k]!;
  }
  return { meanDeg: sum / n, p99Deg };
}
