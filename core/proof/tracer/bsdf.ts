import { power } from '../../exact';
import { Albedo, density, Facet, hidden } from './ggx';

/** Nap of cloth: light that fibres throw back at grazing angles (Estevez, Kulla 2017; visibility after Neubelt 2013). */
export interface Nap {
  r: number;
  g: number;
  b: number;
  alpha: number;
  /** What it reflects in all, by the cosine that one looks at in equal steps. */
  reflected: Float32Array;
}

const napDensity = (sin2: number, alpha: number) =>
  ((2 + 1 / alpha) * power(Math.max(1e-9, sin2), 0.5 / alpha)) / (2 * Math.PI);

export function napOf(linear: readonly [number, number, number], roughness: number): Nap {
  const alpha = Math.max(0.005, roughness * roughness);
  const STEPS = 24;
  const reflected = Float32Array.from({ length: 33 }, (_, c) => {
    const vz = Math.max(0.02, c / 32);
    const vx = Math.sqrt(1 - vz * vz);
    let sum = 0;
    for (let i = 0; i < STEPS; i++)
      for (let j = 0; j < 2 * STEPS; j++) {
        const lz = (i + 0.5) / STEPS;
        const flat = Math.sqrt(1 - lz * lz);
        const phi = (Math.PI * (j + 0.5)) / STEPS;
        sum += napAt(vx, 0, vz, flat * Math.cos(phi), flat * Math.sin(phi), lz, alpha) * lz;
      }
    return (sum * 2 * Math.PI) / (2 * STEPS * STEPS);
  });
  return { r: linear[0], g: linear[1], b: linear[2], alpha, reflected };
}

function napAt(
  vx: number,
  vy: number,
  vz: number,
  lx: number,
  ly: number,
  lz: number,
  alpha: number,
): number {
  const hx = vx + lx;
  const hy = vy + ly;
  const hz = vz + lz;
  const sin2 = (hx * hx + hy * hy) / (hx * hx + hy * hy + hz * hz);
  return napDensity(sin2, alpha) / (4 * (lz + vz - lz * vz));
}

/**
 * How an opaque surface scatters light at one place, in the frame of its shading normal (z): a diffuse base or a metal under
 * GGX of two widths, a nap over it, a clear coat over all. What a layer reflects is taken from those below it, so that a
 * white surface neither gains nor loses light.
 */
export class Bsdf {
  // What the surface is.
  baseR = 0;
  baseG = 0;
  baseB = 0;
  metal = 0;
  /** Reflectance at normal incidence of what is no metal. */
  f0 = 0.04;
  roughness = 0.5;
  alphaX = 0.25;
  alphaY = 0.25;
  coat = 0;
  coatAlpha = 0.01;
  coatRoughness = 0.1;
  nap: Nap | null = null;
  /** Of its metal: shares of the reflectance at normal incidence, by channel at even steps of the cosine from 0 to 1. */
  overAngle: Float32Array | null = null;
  /** Perfectly matt: nothing is mirrored at its surface. */
  matt = false;
  /** Share of the diffuse light that goes through to the other side. */
  through = 0;

  // What was asked for last.
  r = 0;
  g = 0;
  b = 0;
  pdf = 0;
  lx = 0;
  ly = 0;
  lz = 1;

  private vx = 0;
  private vy = 0;
  private vz = 1;
  private readonly specular = new Float64Array(3);
  private readonly more = new Float64Array(3);
  private readonly diffuse = new Float64Array(3);
  private under = 1;
  private coatMore = 1;
  private toCoat = 0;
  private toSpecular = 0;
  private readonly albedo = new Albedo();
  private readonly facet = new Facet();

  /** Prepares for one direction that it is looked at from, over the surface. */
  seenFrom(vx: number, vy: number, vz: number): void {
    this.vx = vx;
    this.vy = vy;
    this.vz = Math.max(1e-4, vz);
    const { albedo, metal } = this;
    albedo.look(this.vz, this.coatRoughness);
    const coatTotal = this.coat * albedo.total(COAT_F0);
    this.coatMore = albedo.more(COAT_F0);
    const napTotal = this.nap ? this.napTotal(this.vz) : 0;
    this.under = (1 - coatTotal) * (1 - napTotal);
    albedo.look(this.vz, this.roughness);
    const left = this.matt ? 1 : 1 - albedo.total(this.f0);
    let [specular, diffuse] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const base = c === 0 ? this.baseR : c === 1 ? this.baseG : this.baseB;
      const f0 = metal * base + (1 - metal) * this.f0;
      this.specular[c] = f0;
      this.more[c] = albedo.more(f0);
      this.diffuse[c] = base * (1 - metal) * left;
      specular += this.matt ? 0 : albedo.total(f0) / 3;
      diffuse += this.diffuse[c]! / 3;
    }
    // Lobes are chosen by what they reflect.
    const all = coatTotal + this.under * (specular + diffuse) + napTotal;
    this.toCoat = all > 0 ? coatTotal / all : 0;
    this.toSpecular = all > 0 ? (this.under * specular) / all : 1;
  }

  private napTotal(cos: number): number {
    const { reflected, r, g, b } = this.nap!;
    const x = cos * 32;
    const k = Math.min(31, Math.floor(x));
    const e = reflected[k]! + (reflected[k + 1]! - reflected[k]!) * (x - k);
    return Math.min(1, e * Math.max(r, g, b));
  }

  /** What it scatters from a direction, times the cosine, and how likely {@link draw} is to draw that direction. */
  from(lx: number, ly: number, lz: number): void {
    this.r = this.g = this.b = this.pdf = 0;
    const toDiffuse = 1 - this.toCoat - this.toSpecular;
    if (lz <= 0) {
      if (this.through <= 0 || lz === 0) return;
      const share = (this.under * this.through * -lz) / Math.PI;
      this.r = this.diffuse[0]! * share;
      this.g = this.diffuse[1]! * share;
      this.b = this.diffuse[2]! * share;
      this.pdf = (toDiffuse * this.through * -lz) / Math.PI;
      return;
    }
    if (this.matt) {
      const share = ((1 - this.through) * lz) / Math.PI;
      this.r = this.diffuse[0]! * share;
      this.g = this.diffuse[1]! * share;
      this.b = this.diffuse[2]! * share;
      this.pdf = toDiffuse * share;
      return;
    }
    const { vx, vy, vz } = this;
    let hx = vx + lx;
    let hy = vy + ly;
    let hz = vz + lz;
    const n = 1 / Math.sqrt(hx * hx + hy * hy + hz * hz);
    hx *= n;
    hy *= n;
    hz *= n;
    const cos = Math.max(0, vx * hx + vy * hy + vz * hz);
    const m = 1 - cos;
    const grazing = m * m * m * m * m;
    const flat = ((1 - this.through) * lz) / Math.PI;
    const hiddenV = hidden(vx, vy, vz, this.alphaX, this.alphaY);
    const d = density(hx, hy, hz, this.alphaX, this.alphaY);
    const lobe = d / (1 + hiddenV + hidden(lx, ly, lz, this.alphaX, this.alphaY)) / (4 * vz);
    this.r = this.under * (lobe * this.shine(0, grazing, cos) + flat * this.diffuse[0]!);
    this.g = this.under * (lobe * this.shine(1, grazing, cos) + flat * this.diffuse[1]!);
    this.b = this.under * (lobe * this.shine(2, grazing, cos) + flat * this.diffuse[2]!);
    this.pdf = this.toSpecular * (d / (1 + hiddenV) / (4 * vz)) + toDiffuse * flat;
    if (this.nap) this.addNap(lx, ly, lz);
    if (this.coat > 0) this.addCoat(lx, ly, lz, hx, hy, hz, grazing);
  }

  private shine(c: number, grazing: number, cos: number): number {
    const f0 = this.specular[c]!;
    const schlick = f0 + (1 - f0) * grazing;
    if (!this.overAngle) return schlick * this.more[c]!;
    const steps = this.overAngle.length / 3 - 1;
    const x = Math.min(1, cos) * steps;
    const k = Math.min(steps - 1, Math.floor(x));
    const from = this.overAngle[3 * k + c]!;
    const metal = Math.min(1, f0 * (from + (this.overAngle[3 * k + 3 + c]! - from) * (x - k)));
    return (schlick + (metal - schlick) * this.metal) * this.more[c]!;
  }

  private addNap(lx: number, ly: number, lz: number): void {
    const { nap, vx, vy, vz } = this;
    const share = napAt(vx, vy, vz, lx, ly, lz, nap!.alpha) * lz;
    this.r += nap!.r * share;
    this.g += nap!.g * share;
    this.b += nap!.b * share;
  }

  private addCoat(
    lx: number,
    ly: number,
    lz: number,
    hx: number,
    hy: number,
    hz: number,
    grazing: number,
  ): void {
    const { vx, vy, vz, coatAlpha: a } = this;
    const d = density(hx, hy, hz, a, a);
    const hiddenV = hidden(vx, vy, vz, a, a);
    const f = (COAT_F0 + (1 - COAT_F0) * grazing) * this.coatMore * this.coat;
    const share = (f * d) / (1 + hiddenV + hidden(lx, ly, lz, a, a)) / (4 * vz);
    this.r += share;
    this.g += share;
    this.b += share;
    this.pdf += (this.toCoat * d) / (1 + hiddenV) / (4 * vz);
  }

  /** Draws a direction by three numbers 0–1. @returns false: it is lost in the surface */
  draw(u0: number, u1: number, u2: number): boolean {
    const { vx, vy, vz, facet } = this;
    if (u0 < this.toCoat + this.toSpecular) {
      const coat = u0 < this.toCoat;
      facet.draw(
        vx,
        vy,
        vz,
        coat ? this.coatAlpha : this.alphaX,
        coat ? this.coatAlpha : this.alphaY,
        u1,
        u2,
      );
      const vh = vx * facet.x + vy * facet.y + vz * facet.z;
      this.lx = 2 * vh * facet.x - vx;
      this.ly = 2 * vh * facet.y - vy;
      this.lz = 2 * vh * facet.z - vz;
      if (this.lz <= 0) return false;
    } else {
      const r = Math.sqrt(u1);
      const phi = 2 * Math.PI * u2;
      this.lx = r * Math.cos(phi);
      this.ly = r * Math.sin(phi);
      this.lz = Math.sqrt(Math.max(0, 1 - u1));
      const rest = (u0 - this.toCoat - this.toSpecular) / (1 - this.toCoat - this.toSpecular);
      if (rest < this.through) this.lz = -this.lz;
    }
    this.from(this.lx, this.ly, this.lz);
    return this.pdf > 0;
  }
}

/** A coat has the index that glTF takes for it: 1.5. */
const COAT_F0 = 0.04;
