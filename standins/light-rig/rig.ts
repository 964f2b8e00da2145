import { z } from 'zod';
import { makePlane, seededRandom, type ColourPicture } from '@jossel/core/raster';
import type { PhysicalSurface } from '../physical/surface';
import { CAREFUL_CAMERA, photograph, type CameraSettings, type PhotographTruth } from '../camera/photograph';
import { layOut } from '../camera/scene';
import { lit, type Vector } from './lit';

const within = (min: number, max: number, what: string) =>
  z
    .number()
    .min(min, `${what}: from ${min} to ${max}.`)
    .max(max, `${what}: from ${min} to ${max}.`)
    .describe(`${what}, from ${min} to ${max}`);

/** What can be set on the light rig. */
export const rigSchema = z.object({
  sampleId: z.string().describe('Which of the samples lies under the lights'),
  lights: z.number().int().min(3, 'At least 3 lights.').max(12, 'At most 12 lights.').default(8),
  widthPx: z.number().int().min(200).max(3000).default(1600),
  exposure: within(-4, 4, 'Exposure in stops').default(0),
  noise: within(0, 0.1, 'Noise').default(0.004),
  bow: within(-0.1, 0.1, 'Lens bow').default(0),
  rollDeg: within(-10, 10, 'Turn in degrees').default(0),
  tiltDeg: within(-10, 10, 'Tilt in degrees').default(0),
  seed: z.number().int().min(1).max(1000).default(1),
});

export type RigRequest = z.infer<typeof rigSchema>;

/** A fixed camera over a sample, and lamps around it that are lit one after the other. */
export interface RigSettings {
  lights: number;
  widthPx: number;
  /** Standard deviation at white. */
  noise: number;
  /** Lens bow. */
  bow: number;
  /** The sample lies turned and tilted below the camera, degrees. */
  rollDeg: number;
  tiltDeg: number;
  /** In stops. */
  exposure: number;
  /** How far lamps stand from where they are said to, mm, and how much brighter or darker they are, as a share. */
  misplacedMm: number;
  uneven: number;
  /** How much larger than the picture the sample is, as a share. */
  overfill: number;
  seed: number;
}

export const CAREFUL_RIG: RigSettings = {
  lights: 8,
  widthPx: 1600,
  noise: 0.004,
  bow: 0,
  rollDeg: 0,
  tiltDeg: 0,
  exposure: 0,
  misplacedMm: 0.5,
  uneven: 0.02,
  overfill: 0.02,
  seed: 1,
};

export interface LitShot {
  picture: ColourPicture;
  /** As the rig says: from the middle of the picture on the sample, x to the right, y up, z to the camera. */
  positionMm: Vector;
  strength: number;
}

/** Focal length of the rig's camera, as on 24 × 36 mm. */
export const RIG_FOCAL_MM = 85;
/** Brightness at which a white that faces a lamp is just not clipped. */
const STRENGTH = 0.92;
/** Lamps stand in two rings, at these elevations. */
const ELEVATIONS_DEG = [32, 54];

/** Where lamps stand around a sample, and how they are told apart from where they are said to. */
export function lampsAround(widthMm: number, heightMm: number, settings: RigSettings) {
  const random = seededRandom(settings.seed);
  const off = () => settings.misplacedMm * 1.2 * (random.next() + random.next() - 1);
  const distance = 1.5 * Math.hypot(widthMm, heightMm);
  return Array.from({ length: settings.lights }, (_, k) => {
    const azimuth = (2 * Math.PI * (k + 0.25)) / settings.lights;
    const elevation = (ELEVATIONS_DEG[k % ELEVATIONS_DEG.length]! * Math.PI) / 180;
    const said: Vector = [
      distance * Math.cos(elevation) * Math.cos(azimuth),
      distance * Math.cos(elevation) * Math.sin(azimuth),
      distance * Math.sin(elevation),
    ];
    const is: Vector = [said[0] + off(), said[1] + off(), said[2] + off()];
    return { said, is, strength: STRENGTH * (1 + settings.uneven * 1.7 * (2 * random.next() - 1)) };
  });
}

/** Takes a picture under every lamp. The truth of places is the same for all. */
export function captureUnderLights(
  surface: PhysicalSurface,
  settings: RigSettings,
): { shots: LitShot[]; truth: PhotographTruth; coveredMm: { width: number; height: number } } {
  const { widthMm, heightMm } = surface;
  const camera: CameraSettings = {
    ...CAREFUL_CAMERA,
    widthPx: settings.widthPx,
    heightPx: Math.round((settings.widthPx * heightMm) / widthMm),
    focalMm: RIG_FOCAL_MM,
    bow: settings.bow,
    tiltDeg: settings.tiltDeg,
    rollDeg: settings.rollDeg,
    exposure: settings.exposure,
    noise: settings.noise,
    unevenness: 0,
    glare: 0,
  };
  // The sample fills the picture, and a little more than that.
  const focalPx = (camera.focalMm / Math.hypot(24, 36)) * Math.hypot(camera.widthPx, camera.heightPx);
  camera.distanceMm = (focalPx * widthMm) / (camera.widthPx * (1 + settings.overfill));
  const eye: Vector = [0, 0, camera.distanceMm];
  const lamps = lampsAround(widthMm, heightMm, settings);
  const seen = lit(
    surface,
    lamps.map(({ is, strength }) => ({ at: is, strength, radiusMm: LAMP_SHARE * Math.hypot(...is) })),
    eye,
  );
  const shots = seen.map((colour, k) => {
    const { widthPx, heightPx } = colour;
    // Its light is in its colour now: it lies flat and matt before the camera.
    const painted: PhysicalSurface = {
      ...surface,
      colour,
      heightMmPlane: makePlane(widthPx, heightPx),
      glossGu: makePlane(widthPx, heightPx),
    };
    return photograph(layOut(painted, {}), { ...camera, seed: settings.seed * 100 + k });
  });
  return {
    shots: shots.map(({ picture }, k) => ({
      picture,
      positionMm: inPicture(lamps[k]!.said, settings),
      strength: STRENGTH * 2 ** settings.exposure,
    })),
    truth: shots[0]!.truth,
    // What the picture shows of the sample.
    coveredMm: { width: widthMm / (1 + settings.overfill), height: heightMm / (1 + settings.overfill) },
  };
}

/** Radius of a lamp as a share of its distance. */
const LAMP_SHARE = 0.02;

/** A place about the sample as the camera sees it: turned back by its roll, and by its tilt. */
function inPicture([x, y, z]: Vector, { rollDeg, tiltDeg }: RigSettings): Vector {
  const [c, s] = [Math.cos((rollDeg * Math.PI) / 180), Math.sin((rollDeg * Math.PI) / 180)];
  const [ct, st] = [Math.cos((tiltDeg * Math.PI) / 180), Math.sin((tiltDeg * Math.PI) / 180)];
  // The camera is tipped towards its lower edge first (see `poseAt`), then turned about its axis of view.
  const [y1, z1] = [y * ct + z * st, z * ct - y * st];
  return [x * c - y1 * s, x * s + y1 * c, z1];
}
