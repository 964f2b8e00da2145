import { labToXyz, linearToLab, linearToXyz, xyzToLab, xyzToLinear, type Triple } from '../colour';
import {
  absorptionOf,
  clearTransmittance,
  internalTransmittance,
  roughnessOfHaze,
  throughPanes,
  type Pane,
} from '../optics';
import { figure } from '../units';
import type { GlassSettings, Laminate } from './settings';

/** Glass: what a pane lets through and reflects, and the shadow it throws. */

/** Clear float glass of 6 mm: what a pane begins as. */
export const clearPane = (): GlassSettings => ({
  kind: 'glass',
  index: figure(1.52, '1', 'assumed'),
  thicknessMm: figure(6, 'mm', 'assumed'),
  lightPercent: figure(88, '%', 'assumed'),
  ofThicknessMm: figure(6, 'mm', 'assumed'),
  tint: [0, 0],
});

/** Angles of incidence that the shares are given at. */
export const GLASS_ANGLES = [
  0, 5, 10, 15, 20, 25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 75, 80, 85, 89,
] as const;
/** Thicknesses that are shown beside each other, mm. */
export const USUAL_PANES_MM = [4, 6, 10, 19] as const;

/** Light through a pane by angle, as shares of luminance. */
export interface GlassAtAngle {
  angleDeg: number;
  transmitted: number;
  reflected: number;
}

export interface GlassReport {
  /** Of the pane as it is set, at normal incidence: shares of luminance, and the colour of daylight seen through it. */
  transmitted: number;
  reflected: number;
  lab: Triple;
  /** Thickness of all of it, mm. */
  thicknessMm: number;
  /** Share of each channel (linear red, green, blue) that is left on the way through the thickness: glTF's attenuation. */
  attenuation: Triple;
  /** glTF roughness of the satin side; 0: it is clear. */
  roughness: number;
  angles: GlassAtAngle[];
  /** The same glass at usual thicknesses, alone, and the pane doubled with air between. */
  panes: { name: string; transmitted: number; reflected: number; lab: Triple }[];
  /** How dark its shadow is at three angles, for receivers that do not trace it, and how far a curve through them is off. */
  shadow: { at: [angleDeg: number, darkness: number][]; offAtMost: number };
  /** Most light that the surfaces leave, as a share. */
  clear: number;
  /** Whether more light is asked for than the surfaces leave, in some channel. */
  beyond: boolean;
}

const luminance = (rgb: readonly number[]): number => linearToXyz(rgb as unknown as Triple)[1];
const labOf = (rgb: readonly number[]): Triple => linearToLab(rgb as unknown as Triple);

/** A second glass of the same kind behind a usual interlayer. */
export const laminateOf = ({ thicknessMm, lightPercent, ofThicknessMm, tint }: GlassSettings): Laminate => ({
  second: { thicknessMm, lightPercent, ofThicknessMm, tint },
  interlayerMm: figure(0.76, 'mm', 'assumed'),
  interlayerPercent: figure(99, '%', 'assumed'),
});

/** One glass, as far as light goes through it. */
type Layer = Laminate['second'];

/** Light through the thickness it is given for, linear sRGB: the luminance asked for in the hue asked for. */
function askedLinear({ lightPercent, tint }: Layer): Triple {
  const share = lightPercent.value / 100;
  const [l] = xyzToLab([share, share, share]);
  return xyzToLinear(labToXyz([l, tint[0], tint[1]]));
}

/** Least share of a channel: darker hues than that are not told apart. */
const LEAST = 1e-4;

/** One glass: absorption of each channel from what it lets through at the thickness that this is given for. */
function ofLayer(layer: Layer, index: number): { pane: Pane; beyond: boolean } {
  const most = clearTransmittance(index);
  const asked = askedLinear(layer);
  return {
    pane: {
      index,
      thicknessMm: layer.thicknessMm.value,
      absorptionPerMm: asked.map((share) =>
        absorptionOf(Math.min(most, Math.max(LEAST, share)), index, layer.ofThicknessMm.value),
      ),
    },
    beyond: Math.max(...asked) > most + TOLERANCE,
  };
}

/**
 * The pane. Glasses bonded by an interlayer are one body to light: indices of 1.48 and 1.52 reflect less than 0.02 % between
 * them, so that absorption alone adds up (Beer and Lambert).
 */
export function paneOf(glass: GlassSettings): { pane: Pane; beyond: boolean } {
  const index = glass.index.value;
  const first = ofLayer(glass, index);
  const { laminate } = glass;
  if (!laminate) return first;
  const second = ofLayer(laminate.second, index);
  const interlayer = -Math.log(Math.min(1, Math.max(LEAST, laminate.interlayerPercent.value / 100)));
  const thicknessMm = first.pane.thicknessMm + laminate.interlayerMm.value + second.pane.thicknessMm;
  const absorptionPerMm = first.pane.absorptionPerMm.map(
    (a, c) =>
      (a * first.pane.thicknessMm + interlayer + second.pane.absorptionPerMm[c]! * second.pane.thicknessMm) /
      thicknessMm,
  );
  return { pane: { index, thicknessMm, absorptionPerMm }, beyond: first.beyond || second.beyond };
}
/** Light transmittance is given to a percent: half of it more than surfaces leave is no contradiction. */
const TOLERANCE = 0.005;

/** All that follows of a glass. */
export function glassOf(glass: GlassSettings): GlassReport {
  const { pane, beyond } = paneOf(glass);
  const { pane: first } = ofLayer(glass, glass.index.value);
  const angles = GLASS_ANGLES.map((angleDeg): GlassAtAngle => {
    const { transmitted, reflected } = throughPanes([pane], angleDeg);
    return { angleDeg, transmitted: luminance(transmitted), reflected: luminance(reflected) };
  });
  const headOn = throughPanes([pane], 0);
  const haze = (glass.hazePercent?.value ?? 0) / 100;
  return {
    transmitted: luminance(headOn.transmitted),
    reflected: luminance(headOn.reflected),
    lab: labOf(headOn.transmitted),
    thicknessMm: pane.thicknessMm,
    attenuation: pane.absorptionPerMm.map((a) => Math.exp(-a * pane.thicknessMm)) as unknown as Triple,
    roughness: haze > 0 ? roughnessOfHaze(Math.min(0.995, haze), pane.index) : 0,
    angles,
    panes: [
      ...USUAL_PANES_MM.map((mm) => shown(`${mm} mm`, [{ ...first, thicknessMm: mm }])),
      ...(glass.laminate ? [shown('this laminate', [pane])] : []),
      shown('two of this pane, air between', [pane, pane]),
    ],
    shadow: shadowOf(pane),
    clear: clearTransmittance(pane.index),
    beyond,
  };
}

function shown(name: string, panes: readonly Pane[]): GlassReport['panes'][number] {
  const { transmitted, reflected } = throughPanes(panes, 0);
  return {
    name,
    transmitted: luminance(transmitted),
    reflected: luminance(reflected),
    lab: labOf(transmitted),
  };
}

const SHADOW_ANGLES = [0, 60, 80] as const;

/** Darkness of the shadow at three angles, and how far the curve through them (with 1 at 90°) is off between. */
function shadowOf(pane: Pane): GlassReport['shadow'] {
  const darkness = (deg: number) => 1 - luminance(throughPanes([pane], deg).transmitted);
  const at = SHADOW_ANGLES.map((deg): [number, number] => [deg, darkness(deg)]);
  let offAtMost = 0;
  for (let deg = 0; deg < 90; deg++)
    offAtMost = Math.max(offAtMost, Math.abs(shadowBetween(at, deg) - darkness(deg)));
  return { at, offAtMost };
}

/** Darkness between the angles given, along straight lines over the cosine of the angle, to all dark at 90°. */
export function shadowBetween(at: readonly (readonly [number, number])[], angleDeg: number): number {
  const cos = (deg: number) => Math.cos((deg * Math.PI) / 180);
  const points = [...at.map(([deg, dark]) => [cos(deg), dark] as const), [0, 1] as const];
  const x = cos(angleDeg);
  for (let k = 1; k < points.length; k++) {
    const [[x0, y0], [x1, y1]] = [points[k - 1]!, points[k]!];
    if (x >= x1) return y0 + ((y1 - y0) * (x0 - x)) / (x0 - x1);
  }
  return 1;
}

/** Internal transmittance of a light transmittance, as a share; above 1: the surfaces alone take more. */
export const internalShare = (glass: GlassSettings): number =>
  internalTransmittance(glass.lightPercent.value / 100, glass.index.value);
