import * as THREE from 'three';

/**
 * Light from everywhere, as under an overcast sky (CIE standard overcast: the zenith three times as bright as the
 * horizon), over a mid-grey floor, with one bright window so that gloss has something to mirror.
 */
export function overcastSky(renderer: THREE.WebGLRenderer): THREE.Texture {
  const scene = new THREE.Scene();
  const dome = new THREE.SphereGeometry(20, 48, 32);
  const colours: number[] = [];
  const position = dome.getAttribute('position');
  for (let i = 0; i < position.count; i++) {
    const up = position.getY(i) / 20;
    const light = up >= 0 ? (0.42 * (1 + 2 * up)) / 3 : 0.1;
    colours.push(light, light, light);
  }
  dome.setAttribute('color', new THREE.Float32BufferAttribute(colours, 3));
  const domeMesh = new THREE.Mesh(
    dome,
    new THREE.MeshBasicMaterial({ vertexColors: true, side: THREE.BackSide }),
  );
  scene.add(domeMesh);
  const pane = new THREE.MeshBasicMaterial({ color: new THREE.Color(5, 5, 5) });
  for (const [x, w] of [
    [-0.36, 0.56],
    [0.36, 0.56],
  ] as const) {
    const window = new THREE.Mesh(new THREE.PlaneGeometry(w, 1.5), pane);
    window.position.set(-1.6 + x, 0.1, 5);
    window.lookAt(0, 0.1, 0);
    scene.add(window);
  }
  const generator = new THREE.PMREMGenerator(renderer);
  const { texture } = generator.fromScene(scene, 0.01);
  generator.dispose();
  dome.dispose();
  return texture;
}
