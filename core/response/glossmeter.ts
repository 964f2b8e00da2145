import { squared } from '../exact';
import { fresnelDielectric, fresnelMetal } from '../optics';

/**
 * A simulated gloss meter after ISO 2813 for 20°, 60° and 85°: source 0.75° × 2.5°, receptor 4.4° × 11.7° at 60° (in the
 * plane of incidence × across it), unpolarised, relative to polished black glass of n = 1.567, which reads 100 GU at each.
 * The surface is GGX (Walter, Marschner, Li, Torrance 2007) with Smith's height-correlated masking, as in glTF.
 */

const RAD = Math.PI / 180;
const SOURCE = { inPlane: 0.75 * RAD, across: 2.5 * RAD };
/** Angles at which meters read. */
export const METER_ANGLES = [20, 60, 85] as const;
export type MeterAngle = (typeof METER_ANGLES)[number];

/** A meter: its angle, its receptor, and the cosines at which light can meet facets that send it there. */
interface Meter {
  theta: number;
  receptor: { inPlane: number; across: number };
  cosines: readonly [low: number, high: number];
}
const METERS: Readonly<Record<MeterAngle, Meter>> = {
  20: { theta: 20 * RAD, receptor: { inPlane: 1.8 * RAD, across: 3.6 * RAD }, cosines: [0.92, 0.96] },
  60: { theta: 60 * RAD, receptor: { inPlane: 4.4 * RAD, across: 11.7 * RAD }, cosines: [0.44, 0.56] },
  85: { theta: 85 * RAD, receptor: { inPlane: 4 * RAD, across: 6 * RAD }, cosines: [0.03, 0.15] },
};
export const STANDARD_INDEX = 1.567;

interface Quadrature {
  x: number[];
  w: number[];
}

const quadratures = new Map<number, Quadrature>();
/** Nodes and weights of Gauss–Legendre quadrature on −1…1. */
function gaussLegendre(n: number): Quadrature {
  const found = quadratures.get(n) ?? findGaussLegendre(n);
  quadratures.set(n, found);
  return found;
}

/** By Newton's method on the Legendre polynomial. */
function findGaussLegendre(n: number): Quadrature {
  const x: number[] = [];
  const w: number[] = [];
  for (let i = 0; i < n; i++) {
    let t = Math.cos((Math.PI * (i + 0.75)) / (n + 0.5));
    let slope = 1;
    for (let step = 0; step < 50; step++) {
      let p0 = 1;
      let p1 = t;
      for (let k = 2; k <= n; k++) [p0, p1] = [p1, ((2 * k - 1) * t * p1 - (k - 1) * p0) / k];
      slope = (n * (t * p1 - p0)) / (t * t - 1);
      const change = p1 / slope;
      t -= change;
      if (Math.abs(change) < 1e-15) break;
    }
    x.push(t);
    w.push(2 / ((1 - t * t) * slope * slope));
  }
  return { x, w };
}

/** One row: light that reaches the receptor, by the cosine at which it met its facet; Fresnel is left to the caller. */
interface Row {
  share: Float64Array;
  cosine: Float64Array;
}

/**
 * Integrates the meter for one roughness.
 *
 * A direction at in-plane angle a and across-angle b from the meter's axis is (sin(θ+a)·cos b, sin b, cos(θ+a)·cos b),
 * with solid angle cos b·da·db. Around the mirror direction of each source point the nodes are spread by a tangent,
 * so that narrow lobes are met by many nodes.
 * @param alpha in the plane of incidence
 * @param alphaAcross across it: of a brushed surface another one (anisotropic GGX, Heitz 2014)
 */
function integrate(
  alpha: number,
  nodes: number,
  { theta, receptor, cosines }: Meter,
  alphaAcross: number = alpha,
): Row {
  const gs = gaussLegendre(3);
  const gr = gaussLegendre(nodes);
  const bins = 12;
  const share = new Float64Array(bins);
  const cosineSum = new Float64Array(bins);
  const a2 = alpha * alpha;
  const [lowCos, highCos] = cosines;
  const brushed = alphaAcross !== alpha;
  const spreadIn = Math.max(2 * alpha, 1e-5);
  const spreadOut = Math.max(2 * alphaAcross, 1e-5);
  for (let si = 0; si < 3; si++)
    for (let sj = 0; sj < 3; sj++) {
      const sa = (SOURCE.inPlane / 2) * gs.x[si]!;
      const sb = (SOURCE.across / 2) * gs.x[sj]!;
      const sourceWeight = (gs.w[si]! * gs.w[sj]!) / 4;
      const lx = -Math.sin(theta + sa) * Math.cos(sb);
      const ly = Math.sin(sb);
      const lz = Math.cos(theta + sa) * Math.cos(sb);
      // Mirror direction of this source point, in the receptor's angles.
      const mirrorIn = spreadAround(sa, receptor.inPlane / 2, spreadIn, gr);
      const mirrorAcross = spreadAround(-sb, receptor.across / 2, spreadOut * Math.cos(theta), gr);
      for (let i = 0; i < nodes; i++) {
        const a = mirrorIn.angle[i]!;
        const da = mirrorIn.weight[i]!;
        const sinA = Math.sin(theta + a);
        const cosA = Math.cos(theta + a);
        for (let j = 0; j < nodes; j++) {
          const db = mirrorAcross.weight[j]!;
          const cosB = mirrorAcross.cos[j]!;
          const vx = sinA * cosB;
          const vy = mirrorAcross.sin[j]!;
          const vz = cosA * cosB;
          const hx = lx + vx;
          const hy = ly + vy;
          const hz = lz + vz;
          const length2 = hx * hx + hy * hy + hz * hz;
          const slope2 = (hx * hx + hy * hy) / length2; // sin² of the facet's tilt, without cancellation
          const cos2 = (hz * hz) / length2;
          const d = brushed
            ? 1 /
              (Math.PI *
                alpha *
                alphaAcross *
                squared((squared(hx / alpha) + squared(hy / alphaAcross)) / length2 + cos2))
            : a2 / (Math.PI * squared(a2 * cos2 + slope2));
          const masking = brushed
            ? 0.5 /
              (vz * Math.sqrt(squared(alpha * lx) + squared(alphaAcross * ly) + lz * lz) +
                lz * Math.sqrt(squared(alpha * vx) + squared(alphaAcross * vy) + vz * vz))
            : 0.5 / (vz * Math.sqrt(a2 + (1 - a2) * lz * lz) + lz * Math.sqrt(a2 + (1 - a2) * vz * vz));
          const cosFacet = Math.sqrt(length2) / 2;
          // BRDF = D·V·F with V = masking; times cos of the outgoing angle and solid angle. The flux arriving is 1.
          const flux = sourceWeight * d * masking * vz * cosB * da * db;
          const bin = Math.min(
            bins - 1,
            Math.max(0, Math.floor(((cosFacet - lowCos) / (highCos - lowCos)) * bins)),
          );
          share[bin]! += flux;
          cosineSum[bin]! += flux * cosFacet;
        }
      }
    }
  const cosine = new Float64Array(bins);
  for (let k = 0; k < bins; k++) cosine[k] = share[k]! > 0 ? cosineSum[k]! / share[k]! : 0.5;
  return { share, cosine };
}

/** Angles from −half to half, spread by a tangent around a centre, with their weights, sines and cosines. */
function spreadAround(centre: number, half: number, spread: number, { x, w }: Quadrature) {
  const nodes = x.length;
  const [angle, weight] = [new Float64Array(nodes), new Float64Array(nodes)];
  const from = Math.atan((-half - centre) / spread);
  const to = Math.atan((half - centre) / spread);
  for (let k = 0; k < nodes; k++) {
    const t = (from + to) / 2 + ((to - from) / 2) * x[k]!;
    angle[k] = centre + spread * Math.tan(t);
    weight[k] = ((to - from) / 2) * w[k]! * (spread / squared(Math.cos(t)));
  }
  return { angle, weight, sin: angle.map(Math.sin), cos: angle.map(Math.cos) };
}

const STEPS = 96;
const NODES = 32;
/** α of table row k: even steps in roughness (α = roughness²), from near zero to one. */
const alphaOfStep = (k: number) => Math.max(1e-4, squared(k / STEPS));
const tables = new Map<MeterAngle, Row[]>();
function rowsAt(angle: MeterAngle): Row[] {
  const known = tables.get(angle);
  if (known) return known;
  const rows = Array.from({ length: STEPS + 1 }, (_, k) => integrate(alphaOfStep(k), NODES, METERS[angle]));
  tables.set(angle, rows);
  return rows;
}

export type ReflectingSurface = { kind: 'dielectric'; index: number } | { kind: 'metal'; f0: number };

const reflectance = (surface: ReflectingSurface, cosine: number) =>
  surface.kind === 'dielectric' ? fresnelDielectric(cosine, surface.index) : fresnelMetal(cosine, surface.f0);

function glossOfRow(row: Row, surface: ReflectingSurface, angle: MeterAngle): number {
  let flux = 0;
  for (let k = 0; k < row.share.length; k++) flux += row.share[k]! * reflectance(surface, row.cosine[k]!);
  return (100 * flux) / fresnelDielectric(Math.cos(METERS[angle].theta), STANDARD_INDEX);
}

/** Readings of the last surfaces at every row of the table; tables of roughness ask for many of one surface. */
const readings = new Map<string, Float64Array>();
const MOST_READINGS = 64;

function readingsOf(surface: ReflectingSurface, angle: MeterAngle): Float64Array {
  const key = `${surface.kind} ${surface.kind === 'dielectric' ? surface.index : surface.f0} ${angle}`;
  const known = readings.get(key);
  if (known) return known;
  const made = Float64Array.from(rowsAt(angle), (row) => glossOfRow(row, surface, angle));
  readings.set(key, made);
  if (readings.size > MOST_READINGS) readings.delete(readings.keys().next().value!);
  return made;
}

/**
 * Gloss of a surface.
 * @param roughness glTF roughness 0–1 (α = roughness²)
 * @param surface dielectric with refractive index, or metal with its reflectance at normal incidence
 * @param angle of the meter, degrees
 * @returns gloss units (GU); above 100 for metals
 */
export function glossOfRoughness(
  roughness: number,
  surface: ReflectingSurface,
  angle: MeterAngle = 60,
): number {
  return readingAt(readingsOf(surface, angle), roughness);
}

function readingAt(rows: Float64Array, roughness: number): number {
  const x = Math.min(1, Math.max(0, roughness)) * STEPS;
  const k = Math.min(STEPS - 1, Math.floor(x));
  return rows[k]! + (rows[k + 1]! - rows[k]!) * (x - k);
}

/** The most gloss a surface can have: a perfect mirror of its material. */
export const highestGloss = (surface: ReflectingSurface): number => glossOfRoughness(0, surface);

/**
 * Roughness that gives a gloss reading: the inverse of {@link glossOfRoughness}.
 * @param gu gloss units
 * @returns roughness 0–1, and `reached`: false when the material cannot be that glossy (roughness 0 then) or that matt
 */
export function roughnessOfGloss(
  gu: number,
  surface: ReflectingSurface,
): { roughness: number; reached: boolean } {
  const highest = highestGloss(surface);
  if (gu >= highest) return { roughness: 0, reached: gu <= highest + 0.5 };
  const lowest = glossOfRoughness(1, surface);
  if (gu <= lowest) return { roughness: 1, reached: gu >= lowest - 0.5 };
  const rows = readingsOf(surface, 60);
  let low = 0;
  let high = 1;
  for (let i = 0; i < 48; i++) {
    const middle = (low + high) / 2;
    if (readingAt(rows, middle) > gu) low = middle;
    else high = middle;
  }
  return { roughness: (low + high) / 2, reached: true };
}

/** The meter at one exact α by direct integration with more nodes; the table is tested against it. */
export function glossByIntegration(
  alpha: number,
  surface: ReflectingSurface,
  nodes = 64,
  angle: MeterAngle = 60,
): number {
  return glossOfRow(integrate(alpha, nodes, METERS[angle]), surface, angle);
}

/**
 * What a meter reads at 60° of a brushed surface.
 * @param alpha along and across the scratches; facets are tilted across them the most
 * @param along whether the meter's plane of incidence runs along the scratches
 */
export function glossOfBrushed(
  alpha: { along: number; across: number },
  surface: ReflectingSurface,
  along: boolean,
  nodes = 24,
): number {
  const [inPlane, across] = along ? [alpha.along, alpha.across] : [alpha.across, alpha.along];
  return glossOfRow(
    integrate(Math.max(1e-4, inPlane), nodes, METERS[60], Math.max(1e-4, across)),
    surface,
    60,
  );
}
