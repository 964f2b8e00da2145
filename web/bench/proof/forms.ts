import * as THREE from 'three';
import type { BenchState } from '../bench-slice';

type Form = BenchState['form'];

/** Forms of real size, in metres. */
const SIZE = { panel: 2.4, sphere: 0.6, box: 0.5 } as const;
const CYLINDER = { across: 0.45, height: 0.6 } as const;

export const FORMS = {
  options: [
    { value: 'panel', name: 'panel' },
    { value: 'sphere', name: 'sphere' },
    { value: 'cylinder', name: 'cylinder' },
    { value: 'box', name: 'box' },
  ] as const,
  caption: {
    panel: '2.4 × 2.4 m, 1 m rule',
    sphere: '⌀ 0.6 m, 0.5 m rule',
    cylinder: '⌀ 0.45, 0.6 m high, 0.5 m rule',
    box: '0.5 m edge, 0.5 m rule',
  } satisfies Record<Form, string>,
  camera: {
    panel: { distance: 5.4, target: 1.2 },
    sphere: { distance: 1.75, target: 0.3 },
    cylinder: { distance: 1.75, target: 0.3 },
    box: { distance: 1.75, target: 0.25 },
  } satisfies Record<Form, { distance: number; target: number }>,
};

/** How far the texture coordinates 0–1 reach on the form, in mm along u and v. */
export function extentMm(form: Form): { u: number; v: number } {
  if (form === 'sphere') return { u: 1000 * Math.PI * SIZE.sphere, v: (1000 * Math.PI * SIZE.sphere) / 2 };
  if (form === 'cylinder') return { u: 1000 * Math.PI * CYLINDER.across, v: 1000 * CYLINDER.height };
  return { u: 1000 * SIZE[form], v: 1000 * SIZE[form] };
}

export function makeForm(form: Form): THREE.BufferGeometry {
  if (form === 'sphere') return new THREE.SphereGeometry(SIZE.sphere / 2, 160, 96);
  if (form === 'cylinder')
    // Open at its ends: what closes is its side.
    return new THREE.CylinderGeometry(
      CYLINDER.across / 2,
      CYLINDER.across / 2,
      CYLINDER.height,
      192,
      1,
      true,
    );
  if (form === 'box') {
    const box = new THREE.BoxGeometry(SIZE.box, SIZE.box, SIZE.box);
    box.rotateY(-0.55);
    return box;
  }
  // Fine enough to be displaced by the relief: a vertex every 9 mm.
  return new THREE.PlaneGeometry(SIZE.panel, SIZE.panel, 256, 256);
}

/** A rule of known length beside the form, divided into tenths of a metre. */
export function makeRule(form: Form): THREE.Group {
  const group = new THREE.Group();
  const count = form === 'panel' ? 10 : 5;
  const width = form === 'panel' ? 0.05 : 0.018;
  const x = form === 'panel' ? 1.34 : 0.46;
  for (let i = 0; i < count; i++) {
    const material = new THREE.MeshBasicMaterial({ color: i % 2 === 0 ? 0x1b1b1b : 0xf7f7f7 });
    const part = new THREE.Mesh(new THREE.BoxGeometry(width, 0.1, width * 0.4), material);
    part.position.set(x, 0.05 + 0.1 * i, 0);
    group.add(part);
  }
  return group;
}
