import { useFrame, useThree } from '@react-three/fiber';
import { useCallback, useEffect, useLayoutEffect, useMemo } from 'react';
import { useTheme } from 'styled-components';
import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { MapName } from '@jossel/core/finish';
import {
  directionTo,
  FORM_TABLE,
  lampIlluminance,
  placedLamp,
  type FormName,
  type TurnedLight,
} from '@jossel/core/proof';
import type { Vector } from '@jossel/core/vector';
import { draftOf, NEUTRAL_MATERIALS } from './matter';
import { setFinish, setMap, texturesOf, type Subject } from './material';
import { cameraOf, meshGeometry, withHole, type MeshForCamera, type MeshGeometry } from './planned-mesh';
import { skyTexture } from './sky';
import type { Turn } from './turns';
import { useCoarseWhileTurning } from './use-coarse-while-turning';

export const FOV_DEG = 32;
/** Between these distances from the eye things are drawn, metres. */
export const [NEAR_M, FAR_M] = [0.01, 80];
const RAD = Math.PI / 180;

/** From where the scene is looked at. */
export interface View {
  eye: Vector;
  target: Vector;
}

/** What the proof shows, and how. */
export interface Setting {
  form: FormName;
  /** Height of the wall that the finish is for; null: it repeats upwards. */
  wallMm: number | null;
  light: TurnedLight;
  /** What 1 cd/m² is shown as. */
  exposure: number;
  /** Grey that is shown where nothing stands, as CSS. */
  surround: string;
  reliefTimes: number;
  /** What stands on the left and, where two are compared, on the right of the divider. */
  subjects: readonly [Subject] | readonly [Subject, Subject];
  divider: number;
  /** A single map that is shown as it is, instead of the finish; null: the finish. */
  map: { name: MapName; tile: HTMLCanvasElement } | null;
  /** A planned mesh in the middle of the panel, seen from its camera; null: none. */
  mesh: MeshForCamera | null;
}

/** The scene drawn at once, while it is turned: direct light, shadows of the lamp, mirrored surroundings; no bounced light. */
export function Draft({
  setting,
  turn,
  onView,
  onShare,
}: {
  setting: Setting;
  /** Set while the scene is there: turns the view. */
  turn: React.RefObject<((by: Turn) => void) | null>;
  /** The view was turned. */
  onView: (view: View) => void;
  /** The share of the resolution that it is drawn with changes. */
  onShare: (share: number) => void;
}) {
  const { form, wallMm, surround, subjects, reliefTimes, mesh } = setting;
  const { scene, invalidate } = useThree();
  const meshes = useMemo(() => draftOf(form, wallMm), [form, wallMm]);
  const { displaced } = FORM_TABLE[form];
  const left = useFinish(subjects[0], displaced, reliefTimes);
  const right = useFinish(subjects[1] ?? subjects[0], displaced, reliefTimes);
  const single = useMap(setting);
  const planned = useMemo(
    () => mesh && meshGeometry(mesh, subjects[0].drawn, reliefTimes),
    [mesh, subjects, reliefTimes],
  );
  useEffect(() => {
    scene.background = new THREE.Color(surround);
    invalidate();
  }, [scene, surround, invalidate]);
  const onTurned = useCoarseWhileTurning(onShare);
  useView(
    form,
    mesh,
    turn,
    useCallback(
      (view) => {
        onTurned();
        onView(view);
      },
      [onTurned, onView],
    ),
  );
  useHalves(single ?? left, right, subjects.length === 2 && !single ? setting.divider : null);
  useEffect(() => invalidate());
  useShadowsWhenChanged(setting);
  return (
    <>
      <Light setting={setting} />
      {planned && <MeshInPlace geometry={planned} subject={subjects[0]} />}
      {meshes.map(({ of, geometry }) => (
        <mesh
          key={`${form} ${wallMm} ${of}`}
          name={of}
          geometry={planned && of === 'finish' ? withHole(geometry, planned.halfM) : geometry}
          material={of === 'finish' ? (single ?? left) : NEUTRAL_MATERIALS[of]}
          castShadow
          receiveShadow
        />
      ))}
    </>
  );
}

/** The planned mesh with the finish on it, and its edges. */
function MeshInPlace({ geometry, subject }: { geometry: MeshGeometry; subject: Subject }) {
  const { mark } = useTheme();
  // Its vertices are moved already.
  const material = useFinish(subject, false, 1);
  useEffect(
    () => () => {
      geometry.mesh.dispose();
      geometry.edges.dispose();
    },
    [geometry],
  );
  useLayoutEffect(() => {
    material.setValues({ polygonOffset: true, polygonOffsetFactor: 2, polygonOffsetUnits: 16 });
  }, [material]);
  return (
    <>
      <mesh geometry={geometry.mesh} material={material} castShadow receiveShadow />
      <lineSegments geometry={geometry.edges}>
        <lineBasicMaterial color={mark} transparent opacity={0.8} />
      </lineSegments>
    </>
  );
}

/** A material that follows a finish; one for all drafts of it, so that its programs are built once. */
function useFinish(subject: Subject, displaced: boolean, reliefTimes: number): THREE.MeshPhysicalMaterial {
  const { invalidate } = useThree();
  const textures = useMemo(() => texturesOf(subject.drawn), [subject.drawn]);
  useEffect(() => () => Object.values(textures).forEach((t) => t?.dispose()), [textures]);
  const material = useMemo(() => new THREE.MeshPhysicalMaterial(), []);
  useEffect(() => () => material.dispose(), [material]);
  useLayoutEffect(() => {
    setFinish(material, subject, textures, { displaced, reliefTimes });
    invalidate();
  }, [material, subject, textures, displaced, reliefTimes, invalidate]);
  return material;
}

/** The material of a single map; null: the finish is shown. */
function useMap({ map, subjects }: Setting): THREE.MeshBasicMaterial | null {
  const { invalidate } = useThree();
  const material = useMemo(() => new THREE.MeshBasicMaterial(), []);
  useEffect(() => () => material.dispose(), [material]);
  const { drawn } = subjects[0];
  useLayoutEffect(() => {
    if (map) setMap(material, map.tile, drawn);
    invalidate();
  }, [material, map, drawn, invalidate]);
  return map && material;
}

/** Draws the two sides of the divider one after the other. */
function useHalves(left: THREE.Material, right: THREE.Material, divider: number | null): void {
  useFrame(({ gl, scene, camera, size }) => {
    const mesh = scene.getObjectByName('finish') as THREE.Mesh | undefined;
    const draw = (material: THREE.Material, from: number, to: number) => {
      if (mesh) mesh.material = material;
      gl.setScissor(from * size.width, 0, (to - from) * size.width, size.height);
      gl.render(scene, camera);
    };
    gl.setScissorTest(divider !== null);
    if (divider === null) {
      if (mesh) mesh.material = left;
      gl.render(scene, camera);
      return;
    }
    draw(left, 0, divider);
    draw(right, divider, 1);
    gl.setScissorTest(false);
  }, 1);
}

/** The shadows of the lamp do not change with the view: they are drawn when something else has changed. */
function useShadowsWhenChanged({ form, light, subjects, reliefTimes, map }: Setting): void {
  const { gl } = useThree();
  useEffect(() => {
    // Two finishes throw two shadows.
    gl.shadowMap.autoUpdate = subjects.length === 2;
    gl.shadowMap.needsUpdate = true;
  }, [gl, form, light, subjects, reliefTimes, map]);
}

/** In a narrow view one stands further back, so that the whole form and the rule are seen. */
const backIn = ({ width, height }: { width: number; height: number }) =>
  Math.max(1, height / Math.max(1, width));

/** From the target to where one stands to begin with. */
function startOf(form: FormName, back: number): THREE.Vector3 {
  const { distance, fromRightDeg, fromAboveDeg } = FORM_TABLE[form].camera;
  return new THREE.Vector3().setFromSphericalCoords(
    distance * back,
    (90 - fromAboveDeg) * RAD,
    fromRightDeg * RAD,
  );
}

/** The view that one begins with. */
export function startView(form: FormName, size: { width: number; height: number }): View {
  const { target } = FORM_TABLE[form].camera;
  const eye = startOf(form, backIn(size)).add(new THREE.Vector3(...target));
  return { eye: eye.toArray(), target };
}

/** A view turned by a key, where there is no draft that turns it. */
export function turned({ eye, target }: View, { aroundDeg = 0, upDeg = 0, nearer = 1 }: Turn): View {
  const middle = new THREE.Vector3(...target);
  const at = new THREE.Spherical().setFromVector3(new THREE.Vector3(...eye).sub(middle));
  at.theta += aroundDeg * RAD;
  at.phi -= upDeg * RAD;
  at.radius /= nearer;
  return { eye: new THREE.Vector3().setFromSpherical(at.makeSafe()).add(middle).toArray(), target };
}

/** Turns the view by dragging, wheel and keys. @param mesh is looked at from its camera to begin with; null: the whole form is */
function useView(
  form: FormName,
  mesh: MeshForCamera | null,
  turn: React.RefObject<((by: Turn) => void) | null>,
  onView: (view: View) => void,
): void {
  const { gl, camera, invalidate, size } = useThree();
  const back = backIn(size);
  useEffect(() => {
    const controls = new OrbitControls(camera, gl.domElement);
    const from = mesh && cameraOf(mesh, size);
    const target = from?.target ?? FORM_TABLE[form].camera.target;
    const start = from?.eye ?? startOf(form, back);
    const distance = start.length();
    if (camera instanceof THREE.PerspectiveCamera) {
      camera.fov = from?.fovDeg ?? FOV_DEG;
      [camera.near, camera.far] = from ? [from.near, from.far] : [NEAR_M, FAR_M];
      camera.updateProjectionMatrix();
    }
    controls.target.set(...target);
    camera.position.copy(start).add(controls.target);
    controls.minDistance = distance * 0.08;
    controls.maxDistance = distance * 2;
    controls.enableDamping = false;
    const say = () => {
      onView({ eye: camera.position.toArray(), target: controls.target.toArray() });
      invalidate();
    };
    controls.addEventListener('change', say);
    controls.update();
    say();
    turn.current = ({ aroundDeg = 0, upDeg = 0, nearer = 1, back: home }) => {
      if (home) controls.target.set(...target);
      const at = new THREE.Spherical().setFromVector3(
        home ? start : camera.position.clone().sub(controls.target),
      );
      at.theta += aroundDeg * RAD;
      at.phi -= upDeg * RAD;
      at.radius = Math.min(controls.maxDistance, Math.max(controls.minDistance, at.radius / nearer));
      camera.position.setFromSpherical(at.makeSafe()).add(controls.target);
      controls.update();
    };
    return () => {
      turn.current = null;
      controls.dispose();
    };
  }, [camera, gl, form, mesh, size, back, invalidate, turn, onView]);
}

/** The surroundings, and the lamp where it is small enough to throw a shadow with an edge. */
function Light({ setting: { form, light, exposure } }: { setting: Setting }) {
  const { gl, scene, invalidate } = useThree();
  const { name, azimuthDeg, elevationDeg } = light;
  useEffect(() => {
    const sky = skyTexture(gl, { name, azimuthDeg, elevationDeg }, exposure);
    scene.environment = sky;
    invalidate();
    return () => sky.dispose();
  }, [gl, scene, name, azimuthDeg, elevationDeg, exposure, invalidate]);
  const lamp = placedLamp(light);
  if (!lamp || lamp.window) return null;
  const { target, distance } = FORM_TABLE[form].camera;
  const towards = directionTo(light);
  const reach = 0.7 * distance;
  return (
    <directionalLight
      key={form}
      intensity={exposure * lampIlluminance(lamp, towards)}
      position={[0, 1, 2].map((a) => target[a]! + 1.5 * distance * towards[a]!) as [number, number, number]}
      target-position={target as [number, number, number]}
      castShadow
      shadow-mapSize={[2048, 2048]}
      shadow-bias={-0.0005}
      shadow-normalBias={0.006 * distance}
    >
      <orthographicCamera attach="shadow-camera" args={[-reach, reach, reach, -reach, 0.01, 4 * distance]} />
    </directionalLight>
  );
}
