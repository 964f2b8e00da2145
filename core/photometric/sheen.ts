/**
 * Light that a matt surface mirrors towards the camera: a broad lobe that no reading stands out by, and that bends the whole
 * relief if it is taken for diffuse light. GGX with height-correlated masking (Walter et al. 2007; Heitz 2014) and the Fresnel
 * term of a dielectric (Schlick 1994).
 *
 * @param light three numbers from `at` on: unit vector to the light times what a white facing it reads
 * @param lobes what it is made of
 * @returns what it adds to the reading
 */
export function mirrored(
  nx: number,
  ny: number,
  nz: number,
  light: Float64Array,
  at: number,
  view: Float64Array,
  lobes: readonly Lobe[],
): number {
  const [lx, ly, lz] = [light[at]!, light[at + 1]!, light[at + 2]!];
  const strength = Math.sqrt(lx * lx + ly * ly + lz * lz);
  const nl = (nx * lx + ny * ly + nz * lz) / strength;
  const nv = nx * view[0]! + ny * view[1]! + nz * view[2]!;
  if (nl <= 0.02 || nv <= 0.02) return 0;
  const hx = lx / strength + view[0]!;
  const hy = ly / strength + view[1]!;
  const hz = lz / strength + view[2]!;
  const hl = Math.sqrt(hx * hx + hy * hy + hz * hz);
  const nh = (nx * hx + ny * hy + nz * hz) / hl;
  const vh = (view[0]! * hx + view[1]! * hy + view[2]! * hz) / hl;
  const c = 1 - vh;
  const fresnel = F0 + (1 - F0) * c * c * c * c * c;
  let sum = 0;
  for (const { alpha, share } of lobes) {
    const a2 = alpha * alpha;
    const q = nh * nh * (a2 - 1) + 1;
    const masked = 0.5 / (nl * Math.sqrt(nv * nv * (1 - a2) + a2) + nv * Math.sqrt(nl * nl * (1 - a2) + a2));
    sum += (share * a2 * masked) / (q * q);
  }
  return strength * nl * fresnel * sum;
}

/** Part of what a surface mirrors: roughness (GGX alpha), and its share of the surface. */
export interface Lobe {
  alpha: number;
  share: number;
}

/** Of a dielectric of index 1.5 at normal incidence. */
const F0 = 0.04;
