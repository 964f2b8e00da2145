import { linearToLab, lrvOf, type Triple } from '../colour';
import { filmReflectance, metalIndex, reflectanceOfIndex, type ComplexIndex, type Film } from '../optics';
import type { ColourPicture, Plane } from '../raster';
import { linearOfSpectrum } from '../spectrum';
import type { PartId, Surface } from '../surface';
import { printNumber } from '../units';
import type { FilmSettings, MetalSettings, ResponseSettings } from './settings';

/** Metals of known optical constants, with or without a thin film: their colour, and parts of a finish that have it. */

/** What a metal reflects at normal incidence. */
export interface MetalColour {
  /** In words: the metal, and the film on it. */
  name: string;
  /** Linear sRGB under D65; outside 0–1 where sRGB has no such colour. */
  linear: Triple;
  lab: Triple;
  lrv: number;
}

/** Refractive index of a metal by wavelength; null: only its colour is known. */
function indexOf(of: MetalSettings): ((nm: number) => ComplexIndex) | null {
  if (of.from === 'constants') return (nm) => metalIndex(of.metal, nm);
  if (of.from === 'index') return () => of;
  return null;
}

const nameOf = (of: MetalSettings) =>
  of.from === 'constants'
    ? of.metal
    : of.from === 'index'
      ? `metal of n ${of.n}, k ${of.k}`
      : 'metal as pictured';

const filmOf = ({ thicknessNm, index }: FilmSettings): Film => ({
  thicknessNm: thicknessNm.value,
  index: index.value,
});

/**
 * Colour of a metal at an angle of incidence, by its spectrum under D65 and the 2° observer.
 * @returns null when nothing but its picture is known of the metal
 */
export function metalColour(of: MetalSettings, film: FilmSettings | null, angleDeg = 0): MetalColour | null {
  const index = indexOf(of);
  if (!index) return null;
  const cosIn = Math.cos((angleDeg * Math.PI) / 180);
  const spectrum = (nm: number) =>
    film || cosIn < 1
      ? filmReflectance(film ? filmOf(film) : { thicknessNm: 0, index: 1.5 }, index(nm), nm, cosIn)
      : reflectanceOfIndex(index(nm));
  const linear = linearOfSpectrum(spectrum);
  const name = film
    ? `${nameOf(of)} under ${printNumber(film.thicknessNm.value, 0)} nm of index ${printNumber(film.index.value, 2)}`
    : nameOf(of);
  return { name, linear, lab: linearToLab(linear), lrv: lrvOf(linear) };
}

/** The film on a part, or on the whole finish. */
const filmOn = ({ films = [] }: ResponseSettings, part: PartId | null): FilmSettings | null =>
  films.find((film) => film.part === part) ?? null;

/** Colour of the finish where it is a metal of known constants; null: its colour is that of its pictures. */
export const baseMetalColour = (settings: ResponseSettings): MetalColour | null =>
  settings.base.kind === 'metal' && settings.base.of
    ? metalColour(settings.base.of, filmOn(settings, null))
    : null;

/** Even steps of the cosine of incidence that reflectance over angle is given at. */
export const ANGLE_STEPS = 24;

/**
 * How the reflectance of the finish changes with the angle, where it is a metal of known constants, with its film: its
 * share of that at normal incidence, linear red, green and blue at each of {@link ANGLE_STEPS} + 1 cosines from 0 to 1.
 * @returns null when the finish is no such metal
 */
export function reflectanceOverAngle(settings: ResponseSettings): Float32Array | null {
  const of = settings.base.kind === 'metal' ? settings.base.of : undefined;
  const film = filmOn(settings, null);
  const normal = of && metalColour(of, film);
  if (!normal) return null;
  const shares = new Float32Array(3 * (ANGLE_STEPS + 1)).fill(1);
  for (let k = 0; k < ANGLE_STEPS; k++) {
    // At grazing incidence all is reflected: the last step but that stands just above it.
    const cos = Math.max(1e-3, k / ANGLE_STEPS);
    const { linear } = metalColour(of, film, (Math.acos(cos) * 180) / Math.PI)!;
    for (let c = 0; c < 3; c++)
      shares[3 * k + c] = Math.max(0, linear[c]!) / Math.max(LEAST_REFLECTANCE, normal.linear[c]!);
  }
  return shares;
}
/** Darker than that in one channel, a metal is not told apart. */
const LEAST_REFLECTANCE = 1e-3;

/** A part that is of bare metal, or carries a film. */
export interface MetalPart {
  part: PartId;
  /** What colour it has; null: that of its pictures. */
  colour: MetalColour | null;
}

/** Parts of metal, and parts of a finish of metal that have a film of their own. */
export function metalParts(settings: ResponseSettings): MetalPart[] {
  const { base, metals = [], films = [] } = settings;
  const own = metals.map(({ part, of }) => ({ part, colour: metalColour(of, filmOn(settings, part)) }));
  const ofBase = base.kind === 'metal' ? (base.of ?? null) : null;
  const filmed = films.flatMap((film): MetalPart[] =>
    film.part === null || !ofBase || metals.some(({ part }) => part === film.part)
      ? []
      : [{ part: film.part, colour: metalColour(ofBase, film) }],
  );
  return [...own, ...filmed];
}

/** Films that lie on nothing whose optical constants are known. */
export function filmsOnNothing({ base, metals = [], films = [] }: ResponseSettings): FilmSettings[] {
  const ofBase = base.kind === 'metal' ? base.of : undefined;
  return films.filter((film) => {
    const of = metals.find(({ part }) => part === film.part)?.of ?? ofBase;
    return !of || of.from === 'picture';
  });
}

/**
 * Gives parts the mean colour of their metal; differences from place to place stay, in proportion.
 * @param parts weight of each, and its colour in linear light; the first counts where they overlap
 */
export function withMetalColours(
  colour: ColourPicture,
  parts: readonly { weight: Plane; linear: Triple }[],
): ColourPicture {
  const out = { ...colour, r: colour.r.slice(), g: colour.g.slice(), b: colour.b.slice() };
  const left = new Float32Array(colour.r.length).fill(1);
  for (const { weight, linear } of parts) {
    const share = weight.data.map((w, i) => Math.min(left[i]!, w));
    for (const [c, name] of (['r', 'g', 'b'] as const).entries()) {
      const [from, into] = [colour[name], out[name]];
      let [sum, all] = [0, 0];
      for (let i = 0; i < share.length; i++) {
        sum += share[i]! * from[i]!;
        all += share[i]!;
      }
      if (all <= 0) continue;
      const factor = sum > 0 ? Math.max(0, linear[c]!) / (sum / all) : 0;
      for (let i = 0; i < share.length; i++) into[i]! += share[i]! * (factor - 1) * from[i]!;
    }
    for (let i = 0; i < share.length; i++) left[i]! -= share[i]!;
  }
  return out;
}

/** Metalness where parts are of metal. */
export function withMetalParts(own: Plane, parts: readonly Plane[]): Plane {
  const data = own.data.map((v, i) => {
    let metal = v;
    for (const part of parts) metal = Math.max(metal, part.data[i]!);
    return metal;
  });
  return { ...own, data };
}

/** Parts of metal that the surface has. */
export const metalPartsOn = (settings: ResponseSettings, { parts }: Pick<Surface, 'parts'>): MetalPart[] =>
  metalParts(settings).filter(({ part }) => parts.has(part));
