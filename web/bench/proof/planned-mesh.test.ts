import * as THREE from 'three';
import { FORM_TABLE } from '@jossel/core/proof';
import type { Drawn } from '../../workers/render.worker';
import { draftOf } from './matter';
import { cameraOf, meshGeometry, withHole, type MeshForCamera } from './planned-mesh';

const MESH: MeshForCamera = { spacingMm: 5, distanceMm: 4000, cameraDeg: 30, acrossMm: 180 };

/** A ridge of 8 mm that runs upwards, once over 100 mm. */
const ridged = (): Drawn => {
  const [widthPx, heightPx] = [200, 40];
  const heightMm = new Float32Array(widthPx * heightPx);
  for (let i = 0; i < heightMm.length; i++) {
    const x = i % widthPx;
    heightMm[i] = x >= 50 && x < 100 ? 8 : 0;
  }
  const report = { repeatMm: { width: 100, height: 20 } };
  return { widthPx, heightPx, heightMm, report } as unknown as Drawn;
};

const pointsOf = (geometry: THREE.BufferGeometry) => {
  const position = geometry.getAttribute('position');
  return Array.from({ length: position.count }, (_, i) =>
    new THREE.Vector3().fromBufferAttribute(position, i),
  );
};

test('its points stand as far apart as planned, and as high as the relief at their place', () => {
  const { mesh, halfM } = meshGeometry(MESH, ridged(), 1);
  const points = pointsOf(mesh);
  expect(1000 * (points[1]!.x - points[0]!.x)).toBeCloseTo(5, 4);
  // More than what is seen across, and in whole cells.
  expect(2000 * halfM).toBeGreaterThan(MESH.acrossMm);
  expect(points).toHaveLength(Math.round((2000 * halfM) / 5 + 1) ** 2);
  const uv = mesh.getAttribute('uv');
  points.forEach(({ x, z }, i) => {
    // The finish begins at the left edge of the panel.
    expect(uv.getX(i)).toBeCloseTo(1000 * (x + 1.2), 2);
    const at = ((uv.getX(i) % 100) + 100) % 100;
    if (Math.abs(at - 25) > 0.5 && Math.abs(at - 50) > 0.5)
      expect(1000 * z).toBeCloseTo(at > 25 && at < 50 ? 8 : 0, 4);
  });
});

test('exaggerated relief moves it as much further', () => {
  const highest = (times: number) =>
    Math.max(...pointsOf(meshGeometry(MESH, ridged(), times).mesh).map(({ z }) => 1000 * z));
  expect([highest(1), highest(3)]).toEqual([expect.closeTo(8, 4), expect.closeTo(24, 4)]);
});

test('every cell has its diagonal and two edges, none of them longer than a cell allows', () => {
  const { mesh, edges } = meshGeometry(MESH, { ...ridged(), heightMm: new Float32Array(8000) }, 1);
  const points = pointsOf(edges);
  const index = edges.getIndex()!;
  expect(index.count / 2).toBe(mesh.getIndex()!.count / 2);
  const lengths = new Set<number>();
  for (let k = 0; k < index.count; k += 2)
    lengths.add(Math.round(1000 * points[index.getX(k)]!.distanceTo(points[index.getX(k + 1)]!)));
  expect([...lengths].sort((a, b) => a - b)).toEqual([5, 7]);
});

test('the panel is left out where the mesh lies, and nowhere else', () => {
  const panel = draftOf('panel', null).find(({ of }) => of === 'finish')!.geometry;
  const points = pointsOf(panel);
  const areaOf = (geometry: THREE.BufferGeometry) => {
    const index = geometry.getIndex()!;
    let area = 0;
    for (let k = 0; k < index.count; k += 3) {
      const [a, b, c] = [0, 1, 2].map((n) => points[index.getX(k + n)]!) as [
        THREE.Vector3,
        THREE.Vector3,
        THREE.Vector3,
      ];
      area += new THREE.Triangle(a, b, c).getArea();
    }
    return area;
  };
  const missing = areaOf(panel) - areaOf(withHole(panel, 0.3));
  // Triangles of 12 mm are left out whole.
  expect(missing).toBeLessThanOrEqual(0.36 + 1e-6);
  expect(missing).toBeGreaterThan(0.576 ** 2);
  expect(areaOf(withHole(panel, 0.001))).toBeCloseTo(areaOf(panel), 6);
});

test('it is seen from the distance and angle of its camera, as wide as asked for', () => {
  const { eye, target, fovDeg, near, far } = cameraOf(MESH, { width: 400, height: 300 });
  const towards = eye.clone().sub(new THREE.Vector3(target[0], 0, target[2]));
  expect(towards.length()).toBeCloseTo(4, 6);
  expect(THREE.MathUtils.radToDeg(Math.atan2(towards.y, towards.z))).toBeCloseTo(30, 6);
  const highMm = 2 * 4000 * Math.tan(THREE.MathUtils.degToRad(fovDeg / 2));
  expect((highMm * 400) / 300).toBeCloseTo(MESH.acrossMm, 6);
  expect(near).toBeLessThan(4);
  expect(far).toBeGreaterThan(4 + FORM_TABLE.panel.camera.distance - 1);
});
