import { fresnelPolarised } from './fresnel';
import { squared } from '../exact';

/** What light does at panes of glass: no interference, all reflections between the surfaces summed. */

/** One pane. */
export interface Pane {
  index: number;
  thicknessMm: number;
  /** Absorption, per mm, of each channel (linear red, green, blue) or of one. */
  absorptionPerMm: readonly number[];
}

/** Shares of light that are let through and reflected, by channel. */
export interface PaneShares {
  transmitted: number[];
  reflected: number[];
}

/** Most that a pane of an index can let through: what its two surfaces leave, (1 − R)/(1 + R). */
export const clearTransmittance = (index: number): number => {
  const r = squared((index - 1) / (index + 1));
  return (1 - r) / (1 + r);
};

/**
 * Internal transmittance τ of a pane from what it lets through in all, at normal incidence: the inverse of
 * T = (1 − R)²τ/(1 − R²τ²).
 * @param total 0 < T
 * @returns τ; above 1 when the surfaces alone take more than T leaves
 */
export function internalTransmittance(total: number, index: number): number {
  const r = squared((index - 1) / (index + 1));
  const a = squared(1 - r);
  // Of T·R²·τ² + a·τ − T = 0 the root that stays finite without reflection.
  return (2 * total) / (a + Math.sqrt(a * a + squared(2 * total * r)));
}

/** Absorption per mm of glass that lets a share through at a thickness. */
export const absorptionOf = (total: number, index: number, atThicknessMm: number): number =>
  -Math.log(internalTransmittance(total, index)) / atThicknessMm;

/** Light let through and reflected by panes one behind another with air between, at an angle of incidence, unpolarised. */
export function throughPanes(panes: readonly Pane[], angleDeg: number): PaneShares {
  const cosIn = Math.cos((angleDeg * Math.PI) / 180);
  const channels = panes[0]!.absorptionPerMm.length;
  const transmitted = new Array<number>(channels).fill(0);
  const reflected = new Array<number>(channels).fill(0);
  for (const polarised of ['s', 'p'] as const)
    for (let c = 0; c < channels; c++) {
      let [t, r, back] = [1, 0, 0];
      for (const pane of panes) {
        const one = ofPane(pane, cosIn, polarised, c);
        // Reflections to and fro between what stands in front and this pane.
        const between = 1 - back * one.r;
        r += (t * t * one.r) / between;
        back = one.r + (one.t * one.t * back) / between;
        t = (t * one.t) / between;
      }
      transmitted[c]! += t / 2;
      reflected[c]! += r / 2;
    }
  return { transmitted, reflected };
}

/** One pane: its surfaces reflect R, and between them τ is left on each pass. */
function ofPane(
  { index, thicknessMm, absorptionPerMm }: Pane,
  cosIn: number,
  polarised: 's' | 'p',
  c: number,
) {
  const r = fresnelPolarised(cosIn, index)[polarised];
  const cosWithin = Math.sqrt(1 - (1 - cosIn * cosIn) / (index * index));
  const tau = Math.exp((-absorptionPerMm[c]! * thicknessMm) / cosWithin);
  const t = (squared(1 - r) * tau) / (1 - squared(r * tau));
  return { t, r: r * (1 + tau * t) };
}

const HAZE_FROM = (2.5 * Math.PI) / 180;

/** Tilt of a facet on one side of a pane that turns light met at normal incidence by an angle, once it has left the other side. */
function tiltThatTurnsBy(angle: number, index: number): number {
  let [low, high] = [0, 1];
  for (let k = 0; k < 50; k++) {
    const tilt = (low + high) / 2;
    const within = tilt - Math.asin(Math.sin(tilt) / index);
    if (index * Math.sin(within) < Math.sin(angle)) low = tilt;
    else high = tilt;
  }
  return (low + high) / 2;
}

/**
 * Roughness of a satin side from the haze of the pane: the share of the light let through that leaves more than 2.5° off
 * its way (as ASTM D1003 counts it). Facets of a GGX surface seen at normal incidence are tilted by more than t in a share of
 * α²/(α² + tan² t), and the tilt that turns light by 2.5° follows from refraction at both sides.
 * @param haze 0 ≤ haze < 1
 * @returns glTF roughness 0–1 (α = roughness²)
 */
export function roughnessOfHaze(haze: number, index: number): number {
  const tan = Math.tan(tiltThatTurnsBy(HAZE_FROM, index));
  return Math.min(1, Math.sqrt(tan * Math.sqrt(haze / (1 - haze))));
}

/** Haze of a pane with one satin side: the inverse of {@link roughnessOfHaze}. */
export function hazeOfRoughness(roughness: number, index: number): number {
  const alpha2 = squared(squared(roughness));
  return alpha2 / (alpha2 + squared(Math.tan(tiltThatTurnsBy(HAZE_FROM, index))));
}
