import { wholePower } from '../exact';

/** Linear sRGB primaries, CIE XYZ (D65, 2°), CIELAB and LRV. */

export type Triple = readonly [number, number, number];

/** Linear sRGB to XYZ, Y of white = 1 (IEC 61966-2-1:1999 amendment 1, unrounded). */
const TO_XYZ: readonly Triple[] = [
  [0.4123907992659595, 0.357584339383878, 0.1804807884018343],
  [0.21263900587151027, 0.715168678767756, 0.07219231536073371],
  [0.01933081871559182, 0.11919477979462598, 0.9505321522496607],
];
const TO_RGB: readonly Triple[] = [
  [3.2409699419045226, -1.537383177570094, -0.4986107602930034],
  [-0.9692436362808796, 1.8759675015077202, 0.04155505740717559],
  [0.05563007969699366, -0.20397695888897652, 1.0569715142428786],
];

/** White of D65, 2° observer, Y = 1 (as the rows of TO_XYZ sum to). */
export const WHITE_D65: Triple = [0.9504559270516718, 1, 1.0890577507598784];

export function multiply(m: readonly Triple[], [a, b, c]: Triple): Triple {
  return [
    m[0]![0] * a + m[0]![1] * b + m[0]![2] * c,
    m[1]![0] * a + m[1]![1] * b + m[1]![2] * c,
    m[2]![0] * a + m[2]![1] * b + m[2]![2] * c,
  ];
}

export const linearToXyz = (rgb: Triple): Triple => multiply(TO_XYZ, rgb);
export const xyzToLinear = (xyz: Triple): Triple => multiply(TO_RGB, xyz);

const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;
const f = (t: number) => (t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116);

/** XYZ (Y of white = 1) to CIELAB under D65 (CIE 15:2018). */
export function xyzToLab([x, y, z]: Triple): Triple {
  const fx = f(x / WHITE_D65[0]);
  const fy = f(y);
  const fz = f(z / WHITE_D65[2]);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/** CIELAB under D65 to XYZ (Y of white = 1). */
export function labToXyz([l, a, b]: Triple): Triple {
  const fy = (l + 16) / 116;
  const inverse = (t: number) => (wholePower(t, 3) > EPSILON ? wholePower(t, 3) : (116 * t - 16) / KAPPA);
  return [inverse(fy + a / 500) * WHITE_D65[0], inverse(fy), inverse(fy - b / 200) * WHITE_D65[2]];
}

export const linearToLab = (rgb: Triple): Triple => xyzToLab(linearToXyz(rgb));

/** Light reflectance value of a linear colour: 100·Y (in the meaning of BS 8493). */
export const lrvOf = (rgb: Triple): number => 100 * linearToXyz(rgb)[1];
