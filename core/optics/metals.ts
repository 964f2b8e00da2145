import { squared } from '../exact';

/**
 * Complex refractive indices n + ik of metals in visible light. Gold, silver and copper are tabulated by P. B. Johnson and
 * R. W. Christy, Phys. Rev. B 6, 4370 (1972), between whose entries a cubic is laid; the others are the Lorentz–Drude
 * models of A. D. Rakić, A. B. Djurišić, J. M. Elazar and M. L. Majewski, Appl. Opt. 37, 5271 (1998).
 */

export const METALS = [
  'aluminium',
  'chromium',
  'copper',
  'gold',
  'nickel',
  'palladium',
  'platinum',
  'silver',
  'titanium',
  'tungsten',
] as const;
export type Metal = (typeof METALS)[number];

export interface ComplexIndex {
  n: number;
  k: number;
}

/** Energy of light times its wavelength, eV·nm. */
const EV_NM = 1239.84198;

/** Measured n and k by energy, eV. */
interface Tabulated {
  ev: readonly number[];
  n: readonly number[];
  k: readonly number[];
}
const JOHNSON_CHRISTY_EV = [
  1.51, 1.64, 1.76, 1.88, 2.01, 2.14, 2.26, 2.38, 2.5, 2.63, 2.75, 2.88, 3, 3.12, 3.25,
] as const;
const TABULATED: Partial<Record<Metal, Tabulated>> = {
  gold: {
    ev: JOHNSON_CHRISTY_EV,
    n: [0.16, 0.14, 0.13, 0.14, 0.21, 0.29, 0.43, 0.62, 1.04, 1.31, 1.38, 1.45, 1.46, 1.47, 1.46],
    k: [
      5.083, 4.542, 4.103, 3.697, 3.272, 2.863, 2.455, 2.081, 1.833, 1.849, 1.914, 1.948, 1.958, 1.952, 1.933,
    ],
  },
  silver: {
    ev: JOHNSON_CHRISTY_EV,
    n: [0.04, 0.03, 0.04, 0.05, 0.06, 0.05, 0.06, 0.05, 0.05, 0.05, 0.04, 0.04, 0.05, 0.05, 0.05],
    k: [
      5.727, 5.242, 4.838, 4.483, 4.152, 3.858, 3.586, 3.324, 3.093, 2.869, 2.657, 2.462, 2.275, 2.07, 1.864,
    ],
  },
  copper: {
    ev: JOHNSON_CHRISTY_EV,
    n: [0.26, 0.24, 0.21, 0.22, 0.3, 0.7, 1.02, 1.18, 1.22, 1.25, 1.24, 1.25, 1.28, 1.32, 1.33],
    k: [
      5.18, 4.665, 4.205, 3.747, 3.205, 2.704, 2.577, 2.608, 2.564, 2.483, 2.397, 2.305, 2.207, 2.116, 2.045,
    ],
  },
};

/** A free-electron term and oscillators: strengths, widths and places of each, the free electrons first (eV). */
interface LorentzDrude {
  plasmaEv: number;
  strength: readonly number[];
  widthEv: readonly number[];
  atEv: readonly number[];
}
const MODELS: Partial<Record<Metal, LorentzDrude>> = {
  aluminium: {
    plasmaEv: 14.98,
    strength: [0.523, 0.227, 0.05, 0.166, 0.03],
    widthEv: [0.047, 0.333, 0.312, 1.351, 3.382],
    atEv: [0, 0.162, 1.544, 1.808, 3.473],
  },
  chromium: {
    plasmaEv: 10.75,
    strength: [0.168, 0.151, 0.15, 1.149, 0.825],
    widthEv: [0.047, 3.175, 1.305, 2.676, 1.335],
    atEv: [0, 0.121, 0.543, 1.97, 8.775],
  },
  nickel: {
    plasmaEv: 15.92,
    strength: [0.096, 0.1, 0.135, 0.106, 0.729],
    widthEv: [0.048, 4.511, 1.334, 2.178, 6.292],
    atEv: [0, 0.174, 0.582, 1.597, 6.089],
  },
  palladium: {
    plasmaEv: 9.72,
    strength: [0.33, 0.649, 0.121, 0.638, 0.453],
    widthEv: [0.008, 2.95, 0.555, 4.621, 3.236],
    atEv: [0, 0.336, 0.501, 1.659, 5.715],
  },
  platinum: {
    plasmaEv: 9.59,
    strength: [0.333, 0.191, 0.659, 0.547, 3.576],
    widthEv: [0.08, 0.517, 1.838, 3.668, 8.517],
    atEv: [0, 0.78, 1.314, 3.141, 9.249],
  },
  titanium: {
    plasmaEv: 7.29,
    strength: [0.148, 0.899, 0.393, 0.187, 0.001],
    widthEv: [0.082, 2.276, 2.518, 1.663, 1.762],
    atEv: [0, 0.777, 1.545, 2.509, 19.43],
  },
  tungsten: {
    plasmaEv: 13.22,
    strength: [0.206, 0.054, 0.166, 0.706, 2.59],
    widthEv: [0.064, 0.53, 1.281, 3.332, 5.836],
    atEv: [0, 1.004, 1.917, 3.58, 7.498],
  },
};

/** Refractive index of a metal at a wavelength, nm; beyond a table's ends its last entry holds. */
export function metalIndex(metal: Metal, nm: number): ComplexIndex {
  const ev = EV_NM / nm;
  const table = TABULATED[metal];
  if (table) return { n: cubicAt(table.ev, table.n, ev), k: cubicAt(table.ev, table.k, ev) };
  return ofModel(MODELS[metal]!, ev);
}

/** Permittivity 1 − f₀ωp²/(ω(ω + iΓ₀)) + Σ fωp²/(ω₀² − ω² − iωΓ), and its square root. */
function ofModel({ plasmaEv, strength, widthEv, atEv }: LorentzDrude, ev: number): ComplexIndex {
  let [re, im] = [1, 0];
  for (let j = 0; j < strength.length; j++) {
    const a = squared(atEv[j]!) - ev * ev;
    const b = -ev * widthEv[j]!;
    const scale = (strength[j]! * squared(plasmaEv)) / (a * a + b * b);
    re += scale * a;
    im -= scale * b;
  }
  const size = Math.sqrt(re * re + im * im);
  return { n: Math.sqrt((size + re) / 2), k: Math.sqrt((size - re) / 2) };
}

/** Cubic through uneven places, with slopes that keep rising values rising (Fritsch, Carlson 1980, harmonic means). */
function cubicAt(xs: readonly number[], ys: readonly number[], x: number): number {
  const last = xs.length - 1;
  if (x <= xs[0]!) return ys[0]!;
  if (x >= xs[last]!) return ys[last]!;
  let k = 0;
  while (xs[k + 1]! < x) k++;
  const step = (i: number) => xs[i + 1]! - xs[i]!;
  const rise = (i: number) => (ys[i + 1]! - ys[i]!) / step(i);
  const slope = (i: number) => {
    if (i === 0) return rise(0);
    if (i === last) return rise(last - 1);
    const [a, b] = [rise(i - 1), rise(i)];
    return a * b <= 0 ? 0 : (2 * a * b) / (a + b);
  };
  const h = step(k);
  const t = (x - xs[k]!) / h;
  const u = 1 - t;
  return (
    ys[k]! * (1 + 2 * t) * u * u +
    slope(k) * h * t * u * u +
    ys[k + 1]! * t * t * (3 - 2 * t) -
    slope(k + 1) * h * t * t * u
  );
}

/** Reflectance at normal incidence of a surface in air: ((n − 1)² + k²)/((n + 1)² + k²). */
export const reflectanceOfIndex = ({ n, k }: ComplexIndex): number =>
  (squared(n - 1) + k * k) / (squared(n + 1) + k * k);
