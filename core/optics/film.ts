import type { ComplexIndex } from './metals';

/**
 * A thin film of even thickness on a surface, by the sum of all its reflections (Airy): the amplitude reflected is
 * (r₁ + r₂·e^{2iβ})/(1 + r₁r₂·e^{2iβ}) with β = 2π·n·d·cos θ/λ.
 */
export interface Film {
  thicknessNm: number;
  index: number;
}

type Complex = readonly [re: number, im: number];
const add = (a: Complex, b: Complex): Complex => [a[0] + b[0], a[1] + b[1]];
const less = (a: Complex, b: Complex): Complex => [a[0] - b[0], a[1] - b[1]];
const times = (a: Complex, b: Complex): Complex => [a[0] * b[0] - a[1] * b[1], a[0] * b[1] + a[1] * b[0]];
function over(a: Complex, b: Complex): Complex {
  const size = b[0] * b[0] + b[1] * b[1];
  return [(a[0] * b[0] + a[1] * b[1]) / size, (a[1] * b[0] - a[0] * b[1]) / size];
}
function root([re, im]: Complex): Complex {
  const size = Math.sqrt(re * re + im * im);
  const s = Math.sqrt(Math.max(0, (size + re) / 2));
  const t = Math.sqrt(Math.max(0, (size - re) / 2));
  return [s, im < 0 ? -t : t];
}

/**
 * Share of unpolarised light that a film on a surface reflects.
 * @param below refractive index of the surface at this wavelength; k = 0 for what lets light through
 * @param nm wavelength
 * @param cosIn cosine of the angle of incidence in air
 */
export function filmReflectance(film: Film, below: ComplexIndex, nm: number, cosIn = 1): number {
  const sin2 = 1 - cosIn * cosIn;
  const nFilm = film.index;
  const cosFilm = Math.sqrt(1 - sin2 / (nFilm * nFilm));
  const nBelow: Complex = [below.n, below.k];
  const cosBelow = root(less([1, 0], over([sin2, 0], times(nBelow, nBelow))));
  const phase = (4 * Math.PI * nFilm * film.thicknessNm * cosFilm) / nm;
  const turn: Complex = [Math.cos(phase), Math.sin(phase)];
  /** Reflection of a step: s-polarised from n·cos, p-polarised from cos/n. */
  const stepped = (a: Complex, b: Complex): Complex => over(less(a, b), add(a, b));
  const ofStack = (air: Complex, inFilm: Complex, inBelow: Complex) => {
    const first = stepped(air, inFilm);
    const second = times(stepped(inFilm, inBelow), turn);
    const [re, im] = over(add(first, second), add([1, 0], times(first, second)));
    return re * re + im * im;
  };
  const s = ofStack([cosIn, 0], [nFilm * cosFilm, 0], times(nBelow, cosBelow));
  const p = ofStack([1 / cosIn, 0], [nFilm / cosFilm, 0], over(nBelow, cosBelow));
  return (s + p) / 2;
}
