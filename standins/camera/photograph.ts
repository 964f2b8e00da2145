import {
  blurWrapped,
  makeColourPicture,
  makePlane,
  mapChannels,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '@jossel/core/raster';
import { CARD_MARKS_MM, withBow, type LensBow, type Point, type Quad } from '@jossel/core/straighten';
import { groundAt, type Ground, type Things } from './scene';

export interface CameraSettings {
  widthPx: number;
  heightPx: number;
  /** Focal length as it would be on 24 × 36 mm. */
  focalMm: number;
  /** From the lens to the middle of what is looked at; null: as far as needed to see everything. */
  distanceMm: number | null;
  /** How far the camera is tipped forwards and sideways. */
  tiltDeg: number;
  panDeg: number;
  rollDeg: number;
  /** Bow of the lens; 0.1 is a strong barrel. */
  bow: number;
  /** Loss of light from one side to the other and to the corners, 0–1. */
  unevenness: number;
  /** −1 cold … 1 warm. */
  cast: number;
  /** In stops. */
  exposure: number;
  /** Standard deviation at white, 0–0.1. */
  noise: number;
  /** How strong the lamp mirrors in the sample, 0–1. */
  glare: number;
  /** Standard deviation of blur, px. */
  blurPx: number;
  seed: number;
}

export const CAREFUL_CAMERA: CameraSettings = {
  widthPx: 2000,
  heightPx: 1500,
  focalMm: 50,
  distanceMm: null,
  tiltDeg: 0,
  panDeg: 0,
  rollDeg: 0,
  bow: 0,
  unevenness: 0.05,
  cast: 0,
  exposure: 0,
  noise: 0.004,
  glare: 0,
  blurPx: 0.6,
  seed: 1,
};

/** What is true of a photograph: places are shares of the picture. */
export interface PhotographTruth {
  sampleMm: { width: number; height: number };
  sampleCorners: Quad;
  cardMarks: Quad | null;
  focalPx: number;
  bow: LensBow;
  /** Places of the picture for places on the sample, mm from its top left corner. */
  place: (xMm: number, yMm: number) => Point;
}

const FORMAT_DIAGONAL_MM = Math.hypot(24, 36);
type Vector = readonly [number, number, number];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

interface Pose {
  /** Where the lens is; z upwards from the table. */
  eye: Vector;
  right: Vector;
  down: Vector;
  forward: Vector;
  focalPx: number;
}

function poseAt(c: CameraSettings, middle: Point, distanceMm: number): Pose {
  const rad = Math.PI / 180;
  const [ct, st] = [Math.cos(c.tiltDeg * rad), Math.sin(c.tiltDeg * rad)];
  const [cp, sp] = [Math.cos(c.panDeg * rad), Math.sin(c.panDeg * rad)];
  // Straight above, then tipped about the picture's two axes.
  const forward: Vector = [sp * ct, -st, -cp * ct];
  const right0: Vector = [cp, 0, sp];
  const down0: Vector = [
    forward[2] * right0[1] - forward[1] * right0[2],
    forward[0] * right0[2] - forward[2] * right0[0],
    forward[1] * right0[0] - forward[0] * right0[1],
  ];
  const [cr, sr] = [Math.cos(c.rollDeg * rad), Math.sin(c.rollDeg * rad)];
  const turn = (a: Vector, b: Vector, x: number, y: number): Vector => [
    x * a[0] + y * b[0],
    x * a[1] + y * b[1],
    x * a[2] + y * b[2],
  ];
  return {
    eye: [middle[0] - distanceMm * forward[0], middle[1] - distanceMm * forward[1], -distanceMm * forward[2]],
    right: turn(right0, down0, cr, sr),
    down: turn(right0, down0, -sr, cr),
    forward,
    focalPx: (c.focalMm / FORMAT_DIAGONAL_MM) * Math.hypot(c.widthPx, c.heightPx),
  };
}

/** A place of the table in shares of the picture. */
function seenAt(c: CameraSettings, pose: Pose, bow: LensBow, x: number, y: number): Point {
  const ray: Vector = [x - pose.eye[0], y - pose.eye[1], -pose.eye[2]];
  const depth = dot(ray, pose.forward);
  const half = Math.hypot(c.widthPx, c.heightPx) / 2;
  const [bx, by] = withBow(bow, [
    (pose.focalPx * dot(ray, pose.right)) / depth / half,
    (pose.focalPx * dot(ray, pose.down)) / depth / half,
  ]);
  return [(bx * half) / c.widthPx + 0.5, (by * half) / c.heightPx + 0.5];
}

/** Where the camera stands, and what is true of a photograph taken from there. */
function standAt(
  things: Pick<Things, 'halfMm' | 'card' | 'ruler'>,
  camera: CameraSettings,
): { pose: Pose; middle: Point; bow: LensBow; truth: PhotographTruth } {
  const { halfMm, card, ruler } = things;
  const bow: LensBow = { k1: camera.bow, k2: 0 };
  const ends: Point[] = [
    [-halfMm.x, -halfMm.y],
    [halfMm.x, -halfMm.y],
    [halfMm.x, halfMm.y],
    [-halfMm.x, halfMm.y],
  ];
  const onCard = (u: number, v: number): Point => {
    const turn = (card!.turnDeg * Math.PI) / 180;
    return [
      card!.xMm + u * Math.cos(turn) - v * Math.sin(turn),
      card!.yMm + u * Math.sin(turn) + v * Math.cos(turn),
    ];
  };
  const all = [
    ...ends,
    ...(card ? [onCard(0, 0), onCard(120, 0), onCard(120, 80), onCard(0, 80)] : []),
    ...(ruler
      ? ([
          [ruler.xMm - 4, ruler.yMm + 22],
          [ruler.xMm + ruler.lengthMm + 4, ruler.yMm + 22],
        ] as Point[])
      : []),
  ];
  const middle: Point = [0, 1].map(
    (k) => (Math.min(...all.map((p) => p[k]!)) + Math.max(...all.map((p) => p[k]!))) / 2,
  ) as unknown as Point;
  let pose = poseAt(camera, middle, camera.distanceMm ?? 1000);
  if (camera.distanceMm === null) {
    // Back until all of it lies within the middle 94 % of the picture.
    const fits = (mm: number) => {
      const p = poseAt(camera, middle, mm);
      return all.every(([x, y]) => {
        const depth = dot([x - p.eye[0], y - p.eye[1], -p.eye[2]], p.forward);
        const [u, v] = seenAt(camera, p, bow, x, y);
        return depth > 1 && Math.abs(u - 0.5) < 0.47 && Math.abs(v - 0.5) < 0.47;
      });
    };
    let mm = 0.6 * Math.max(halfMm.x, halfMm.y);
    while (!fits(mm) && mm < 1e6) mm *= 1.04;
    pose = poseAt(camera, middle, mm);
  }
  return {
    pose,
    middle,
    bow,
    truth: {
      sampleMm: { width: 2 * halfMm.x, height: 2 * halfMm.y },
      sampleCorners: ends.map(([x, y]) => seenAt(camera, pose, bow, x, y)) as unknown as Quad,
      cardMarks: card
        ? (CARD_MARKS_MM.map(([u, v]) => seenAt(camera, pose, bow, ...onCard(u, v))) as unknown as Quad)
        : null,
      focalPx: pose.focalPx,
      bow,
      place: (xMm, yMm) => seenAt(camera, pose, bow, xMm - halfMm.x, yMm - halfMm.y),
    },
  };
}

/** What is true of a photograph, without taking it. */
export const truthOf = (
  things: Pick<Things, 'halfMm' | 'card' | 'ruler'>,
  camera: CameraSettings,
): PhotographTruth => standAt(things, camera).truth;

/**
 * Photographs what lies on the table: a pinhole camera with radial bow over a flat scene whose relief and gloss answer a
 * lamp, light that falls off, a colour cast, exposure, blur and noise. Same settings and seed, same picture.
 *
 * @returns linear light with sRGB primaries, not clipped, and what is true of it
 */
export function photograph(
  things: Things,
  camera: CameraSettings,
): { picture: ColourPicture; truth: PhotographTruth } {
  const { widthPx: w, heightPx: h } = camera;
  const { halfMm } = things;
  const { pose, middle, bow, truth } = standAt(things, camera);
  const picture = makeColourPicture(w, h);
  const half = Math.hypot(w, h) / 2;
  const [red, green, blue] = [1 + 0.22 * camera.cast, 1, 1 - 0.3 * camera.cast];
  const gain = 2 ** camera.exposure;
  const ground: Ground = { r: 0, g: 0, b: 0, nx: 0, ny: 0, alpha: 0.5 };
  // The lamp stands high at the far left.
  const away = 2.2 * Math.max(halfMm.x, halfMm.y) + 300;
  const lamp: Vector = [middle[0] - 0.55 * away, middle[1] - 0.75 * away, away];
  const SUB = 2;
  const [f0, f1, f2] = pose.forward;
  const [r0, r1, r2] = pose.right;
  const [d0, d1, d2] = pose.down;
  for (let py = 0; py < h; py++)
    for (let px = 0; px < w; px++) {
      let sr = 0;
      let sg = 0;
      let sb = 0;
      let light = 1;
      let mirror = 0;
      for (let k = 0; k < SUB * SUB; k++) {
        const ix = px + ((k % SUB) + 0.5) / SUB;
        const iy = py + ((k >> 1) + 0.5) / SUB;
        // As withoutBow, spelled out: this runs for every part of every pixel.
        const bx = (ix - w / 2) / half;
        const by = (iy - h / 2) / half;
        const s = ((1 + bow.k1 * (bx * bx + by * by)) * half) / pose.focalPx;
        const cx = bx * s;
        const cy = by * s;
        const dx = f0 + cx * r0 + cy * d0;
        const dy = f1 + cx * r1 + cy * d1;
        const dz = f2 + cx * r2 + cy * d2;
        if (dz > -1e-3) continue;
        const t = -pose.eye[2] / dz;
        const x = pose.eye[0] + t * dx;
        const y = pose.eye[1] + t * dy;
        const first = k === 0;
        groundAt(things, x, y, t / pose.focalPx / SUB, first, ground);
        // Light changes slowly: it is worked out once a pixel.
        if (first) {
          const nz = Math.sqrt(Math.max(0.05, 1 - ground.nx ** 2 - ground.ny ** 2));
          // Normals count y up the picture, the table counts it down.
          const nx = ground.nx;
          const ny = -ground.ny;
          const lx = lamp[0] - x;
          const ly = lamp[1] - y;
          const lz = lamp[2];
          const ll = Math.sqrt(lx * lx + ly * ly + lz * lz);
          // By slope, not by cosine: the sample's colour is what it shows as a whole, so that its relief moves light about
          // and takes none away.
          light = 0.62 + (0.38 * Math.max(0, nx * lx + ny * ly + nz * lz)) / (lz * nz);
          mirror = 0;
          if (camera.glare > 0) {
            const vl = Math.sqrt(dx * dx + dy * dy + dz * dz);
            const hx = lx / ll - dx / vl;
            const hy = ly / ll - dy / vl;
            const hz = lz / ll - dz / vl;
            const cos = Math.max(0, (nx * hx + ny * hy + nz * hz) / Math.sqrt(hx * hx + hy * hy + hz * hz));
            // A soft box spreads the lobe; GGX (Walter et al. 2007).
            const a2 = Math.max(ground.alpha, 0.12) ** 2;
            const d = a2 / (Math.PI * (cos * cos * (a2 - 1) + 1) ** 2);
            mirror = (camera.glare * 0.04 * d) / Math.max(0.3, 4 * nz * (-dz / vl));
          }
        }
        sr += ground.r * light + mirror;
        sg += ground.g * light + mirror;
        sb += ground.b * light + mirror;
      }
      const [u, v] = [(px + 0.5) / w - 0.5, (py + 0.5) / h - 0.5];
      const fall = 1 - camera.unevenness * (0.5 + 0.9 * u + 0.35 * v + 0.8 * (u * u + v * v) - 0.35);
      const k = (gain * fall) / (SUB * SUB);
      const i = py * w + px;
      picture.r[i] = sr * k * red;
      picture.g[i] = sg * k * green;
      picture.b[i] = sb * k * blue;
    }
  const soft =
    camera.blurPx > 0.2 ? mapChannels(picture, (plane) => defocused(plane, camera.blurPx)) : picture;
  if (camera.noise > 0) {
    const random = seededRandom(camera.seed);
    for (const plane of [soft.r, soft.g, soft.b])
      for (let i = 0; i < plane.length; i++)
        // Sum of four uniforms: near enough to normal, and quick.
        plane[i]! +=
          camera.noise *
          Math.sqrt(Math.max(0, plane[i]!) + 0.003) *
          1.732 *
          (random.next() + random.next() + random.next() + random.next() - 2);
  }
  return { picture: soft, truth };
}

/** Blurs a picture beyond whose border things go on as they are there. */
function defocused({ widthPx: w, heightPx: h, data }: Plane, sigmaPx: number): Plane {
  const beyond = Math.ceil(3 * sigmaPx);
  const wide = makePlane(w + 2 * beyond, h + 2 * beyond);
  const held = (at: number, last: number) => Math.min(last, Math.max(0, at - beyond));
  for (let y = 0, i = 0; y < wide.heightPx; y++)
    for (let x = 0; x < wide.widthPx; x++, i++) wide.data[i] = data[held(y, h - 1) * w + held(x, w - 1)]!;
  const soft = blurWrapped(wide, sigmaPx, sigmaPx).data;
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++) {
    const from = (y + beyond) * wide.widthPx + beyond;
    out.data.set(soft.subarray(from, from + w), y * w);
  }
  return out;
}
