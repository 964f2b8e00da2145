import fc from 'fast-check';
import { makePlane } from '../raster';
import { withZeroSteps } from './height';
import { normalsOfHeight } from './normal';
import { occlusionOfRest, sharedRelief } from './shared';
import { atOnce } from '../steps';

const [W, H] = [192, 128];
const MM = { x: 0.5, y: 0.4 };

/** A wave along one axis. @param lengthMm its wavelength, of which a whole number lies in the plane */
function wave(amplitudeMm: number, lengthMm: number, axis: 'x' | 'y') {
  const plane = makePlane(W, H);
  plane.data.forEach((_, i) => {
    const at = axis === 'x' ? (i % W) * MM.x : Math.floor(i / W) * MM.y;
    plane.data[i] = amplitudeMm * Math.sin((2 * Math.PI * at) / lengthMm);
  });
  return plane;
}
const sum = (a: Float32Array, b: Float32Array) => a.map((v, i) => v + b[i]!);
const depth = (data: Float32Array) => Math.max(...data) - Math.min(...data);

test('mesh and rest add up to the whole relief, whatever it is and wherever it is shared', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.05, max: 5, noNaN: true }),
      fc.double({ min: 0.01, max: 1, noNaN: true }),
      fc.double({ min: 0.3, max: 60, noNaN: true }),
      (broad, fine, splitMm) => {
        const height = atOnce(
          withZeroSteps(
            { ...wave(broad, 96, 'x'), data: sum(wave(broad, 96, 'x').data, wave(fine, 3.2, 'y').data) },
            'mean',
          ),
        );
        const { mesh, rest } = sharedRelief(height, MM, splitMm);
        const off = sum(mesh.data, rest.data).map((v, i) => Math.abs(v - height.data[i]!));
        expect(Math.max(...off)).toBeLessThan(0.001 * depth(height.data));
        expect([mesh.minMm, mesh.maxMm]).toEqual([Math.min(...mesh.data), Math.max(...mesh.data)]);
      },
    ),
    { numRuns: 20 },
  );
});

test('long waves go to the mesh, short ones to the normals, and one of the very length to both', () => {
  const shareOfMesh = (lengthMm: number) => {
    const height = atOnce(withZeroSteps(wave(1, lengthMm, 'x'), 'mean'));
    return depth(sharedRelief(height, MM, 8).mesh.data) / 2;
  };
  expect(shareOfMesh(48)).toBeGreaterThan(0.97);
  expect(shareOfMesh(8)).toBeCloseTo(0.5, 1);
  expect(shareOfMesh(2)).toBeLessThan(0.002);
});

test('in the frame of the displaced mesh the normals are those of the whole relief', () => {
  const height = atOnce(
    withZeroSteps(
      {
        ...wave(4, 32, 'x'),
        data: sum(wave(4, 32, 'x').data, sum(wave(0.4, 4, 'x').data, wave(0.2, 3.2, 'y').data)),
      },
      'mean',
    ),
  );
  const { mesh, normal } = sharedRelief(height, MM, 12);
  const [base, whole] = [normalsOfHeight(mesh, MM), normalsOfHeight(height, MM)];
  let worstDeg = 0;
  for (let i = 0; i < W * H; i++) {
    // As receivers do it: the tangent runs along the width on the displaced mesh.
    const n = [base.x[i]!, base.y[i]!, base.z[i]!] as const;
    const [x, row] = [i % W, i - (i % W)];
    const rise = (mesh.data[row + ((x + 1) % W)]! - mesh.data[row + ((x + W - 1) % W)]!) / (2 * MM.x);
    const length = Math.hypot(1, rise);
    const t = [1 / length, 0, rise / length] as const;
    const b = [n[1] * t[2] - n[2] * t[1], n[2] * t[0] - n[0] * t[2], n[0] * t[1] - n[1] * t[0]] as const;
    const back = [0, 1, 2].map((k) => normal.x[i]! * t[k]! + normal.y[i]! * b[k]! + normal.z[i]! * n[k]!);
    const cos = back[0]! * whole.x[i]! + back[1]! * whole.y[i]! + back[2]! * whole.z[i]!;
    worstDeg = Math.max(worstDeg, (Math.acos(Math.min(1, cos)) * 180) / Math.PI);
  }
  expect(worstDeg).toBeLessThan(0.05);
});

test('what the mesh shades is not shaded once more', () => {
  const height = atOnce(withZeroSteps(wave(6, 96, 'x'), 'mean'));
  const shared = sharedRelief(height, MM, 6);
  expect(Math.min(...occlusionOfRest(shared, MM, 12).data)).toBeGreaterThan(0.99);
});
