import { dot, unit, type Vector } from '../../vector';

/**
 * Lights of the proof: a sky or a room all around, and one lamp in it, all so far away that they are the same everywhere in
 * the scene. Neutral in hue (D65): what has a hue is the finish. Luminance in cd/m².
 */

export const LIGHTS = ['overcast', 'sun', 'downlight', 'window'] as const;
export type LightName = (typeof LIGHTS)[number];

/** The lamp: a disc, or a rectangle upright in its place, of even luminance. */
export interface Lamp {
  luminance: number;
  shape: { kind: 'disc'; radiusDeg: number } | { kind: 'window'; wideDeg: number; highDeg: number };
}

interface LightKind {
  name: string;
  /** In words, with its figures. */
  about: string;
  /** Where the lamp stands to begin with: 0° to the right of the viewer, 90° behind the viewer; and its height. */
  azimuthDeg: number;
  elevationDeg: number;
  lamp: Lamp | null;
  /** Luminance of what is all around, by the sine of the height above the horizon. */
  around: (up: number) => number;
}

const RAD = Math.PI / 180;
/** Illuminance of a disc met at normal incidence: luminance times its solid angle, seen under the cosine. */
const luminanceOfDisc = (lux: number, radiusDeg: number) =>
  lux / (Math.PI * Math.sin(radiusDeg * RAD) * Math.sin(radiusDeg * RAD));

/** CIE standard overcast sky (ISO 15469): three times as bright above as at the horizon; over a ground of 20 %. */
function overcast(horizontalLux: number): LightKind['around'] {
  const zenith = (9 * horizontalLux) / (7 * Math.PI);
  const ground = (0.2 * horizontalLux) / Math.PI;
  return (up) => (up >= 0 ? (zenith * (1 + 2 * up)) / 3 : ground);
}
/** An even sky over a ground of 20 %, which the lamp lights too. */
const evenSky =
  (skyLux: number, lampLux: number): LightKind['around'] =>
  (up) =>
    up >= 0 ? skyLux / Math.PI : (0.2 * (skyLux + lampLux)) / Math.PI;
/** A room of light walls: as bright above as below. */
const room =
  (luminance: number): LightKind['around'] =>
  () =>
    luminance;

const SUN_RADIUS_DEG = 0.265;

export const LIGHT_TABLE: Readonly<Record<LightName, LightKind>> = {
  overcast: {
    name: 'overcast sky',
    about: 'CIE overcast, 10 000 lx',
    azimuthDeg: 90,
    elevationDeg: 90,
    lamp: null,
    around: overcast(10000),
  },
  sun: {
    name: 'low sun',
    about: 'sun 60 000 lx, sky 12 000 lx',
    azimuthDeg: 58,
    elevationDeg: 24,
    lamp: {
      luminance: luminanceOfDisc(60000, SUN_RADIUS_DEG),
      shape: { kind: 'disc', radiusDeg: SUN_RADIUS_DEG },
    },
    around: evenSky(12000, 20000),
  },
  downlight: {
    name: 'downlight',
    about: 'lamp 500 lx, room 25 cd/m²',
    azimuthDeg: 90,
    elevationDeg: 62,
    lamp: { luminance: luminanceOfDisc(500, 1.5), shape: { kind: 'disc', radiusDeg: 1.5 } },
    around: room(25),
  },
  window: {
    name: 'window',
    about: 'window 28° × 36° of 3 000 cd/m²',
    azimuthDeg: 60,
    elevationDeg: 14,
    lamp: { luminance: 3000, shape: { kind: 'window', wideDeg: 28, highDeg: 36 } },
    around: room(60),
  },
};

/** A light that is turned. */
export interface TurnedLight {
  name: LightName;
  azimuthDeg: number;
  elevationDeg: number;
}

/** Direction to the lamp. */
export function directionTo({ azimuthDeg, elevationDeg }: TurnedLight): Vector {
  const flat = Math.cos(elevationDeg * RAD);
  return [flat * Math.cos(azimuthDeg * RAD), Math.sin(elevationDeg * RAD), flat * Math.sin(azimuthDeg * RAD)];
}

/** The lamp in its place: where it is, its edges where it is a window, and its solid angle. */
export interface PlacedLamp {
  luminance: number;
  towards: Vector;
  /** Cosine of a disc's radius; of a window its half sides over a plane one away, with their directions. */
  disc: number | null;
  window: { right: Vector; up: Vector; halfWide: number; halfHigh: number } | null;
}

export function placedLamp(light: TurnedLight): PlacedLamp | null {
  const { lamp } = LIGHT_TABLE[light.name];
  if (!lamp) return null;
  const towards = directionTo(light);
  const { shape, luminance } = lamp;
  if (shape.kind === 'disc')
    return { luminance, towards, disc: Math.cos(shape.radiusDeg * RAD), window: null };
  const right = unit(Math.abs(towards[1]) > 0.999 ? [1, 0, 0] : [-towards[2], 0, towards[0]]);
  const up: Vector = [
    right[1] * towards[2] - right[2] * towards[1],
    right[2] * towards[0] - right[0] * towards[2],
    right[0] * towards[1] - right[1] * towards[0],
  ];
  return {
    luminance,
    towards,
    disc: null,
    window: {
      right,
      up,
      halfWide: Math.tan((shape.wideDeg * RAD) / 2),
      halfHigh: Math.tan((shape.highDeg * RAD) / 2),
    },
  };
}

/** Whether a direction meets the lamp. */
export function meetsLamp({ towards, disc, window }: PlacedLamp, direction: Vector): boolean {
  const ahead = dot(direction, towards);
  if (disc !== null) return ahead >= disc;
  if (ahead <= 0) return false;
  const { right, up, halfWide, halfHigh } = window!;
  return (
    Math.abs(dot(direction, right) / ahead) <= halfWide && Math.abs(dot(direction, up) / ahead) <= halfHigh
  );
}

/** Luminance that comes from a direction, the lamp included. */
export function luminanceFrom(light: TurnedLight, lamp: PlacedLamp | null, direction: Vector): number {
  if (lamp && meetsLamp(lamp, direction)) return lamp.luminance;
  return LIGHT_TABLE[light.name].around(direction[1]);
}

const RINGS = 96;
const AROUND = 192;

/** Illuminance that the surroundings alone give a surface, lx: summed over rings of its half of the sky. */
export function aroundIlluminance(light: TurnedLight, normal: Vector): number {
  const { around } = LIGHT_TABLE[light.name];
  let sum = 0;
  for (let j = 0; j < 2 * RINGS; j++) {
    const up = -1 + (j + 0.5) / RINGS;
    const flat = Math.sqrt(1 - up * up);
    for (let i = 0; i < AROUND; i++) {
      const angle = (2 * Math.PI * (i + 0.5)) / AROUND;
      const cos = normal[0] * flat * Math.cos(angle) + normal[1] * up + normal[2] * flat * Math.sin(angle);
      if (cos > 0) sum += cos * around(up);
    }
  }
  return (sum * 4 * Math.PI) / (2 * RINGS * AROUND);
}

/** Illuminance that the lamp gives a surface that sees all of it, lx. */
export function lampIlluminance(lamp: PlacedLamp | null, normal: Vector): number {
  if (!lamp) return 0;
  const { towards, luminance, disc, window } = lamp;
  if (disc !== null) return Math.max(0, dot(normal, towards)) * luminance * Math.PI * (1 - disc * disc);
  const { right, up, halfWide, halfHigh } = window!;
  const N = 24;
  let sum = 0;
  for (let j = 0; j < N; j++)
    for (let i = 0; i < N; i++) {
      const [a, b] = [halfWide * (2 * ((i + 0.5) / N) - 1), halfHigh * (2 * ((j + 0.5) / N) - 1)];
      const r2 = 1 + a * a + b * b;
      const cos = dot(normal, towards) + a * dot(normal, right) + b * dot(normal, up);
      // Solid angle of the cell, dA/r³, and its direction is 1/r of the sum above.
      if (cos > 0) sum += cos / (r2 * r2);
    }
  return (luminance * sum * 4 * halfWide * halfHigh) / (N * N);
}

/** The grey card stands upright and faces the viewer. */
const CARD_FACES: Vector = [0, 0, 1];

/** The exposure at which the card is shown at its reflectance under a light as it stands. */
export const exposureForCard = (light: TurnedLight): number => Math.PI / cardIlluminance(light);

/** Illuminance of the card with nothing in its light, lx. */
export function cardIlluminance(light: TurnedLight): number {
  const lamp = placedLamp(light);
  const around = aroundIlluminance(light, CARD_FACES);
  if (!lamp) return around;
  // The lamp stands in place of what is around it.
  const more = 1 - LIGHT_TABLE[light.name].around(lamp.towards[1]) / lamp.luminance;
  return around + more * lampIlluminance(lamp, CARD_FACES);
}
