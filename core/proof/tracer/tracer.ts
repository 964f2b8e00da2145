import { luminanceOf } from '../../raster';
import { LIGHT_TABLE, NEUTRALS, placedLamp, type Matter, type TurnedLight } from '../scene';
import type { Vector } from '../../vector';
import { f0OfIndex } from '../../optics';
import { Bsdf, napOf, type Nap } from './bsdf';
import type { Triangles } from './bvh';
import { Finder } from './finder';
import { Draws } from './draws';
import { Facet } from './ggx';
import { LampDirections } from './lamp';
import { Sampled, type TracedFinish } from './material';
import { bendThrough, PaneShares } from './pane';

/** From where the scene is looked at. */
export interface Shot {
  eye: Vector;
  target: Vector;
  /** Height of the view. */
  fovDeg: number;
  widthPx: number;
  heightPx: number;
}

export interface TracedScene {
  triangles: Triangles;
  finish: TracedFinish;
  light: TurnedLight;
  /** What 1 cd/m² is shown as, in linear light. */
  exposure: number;
  /** What is shown where nothing stands, in linear light. */
  surround: number;
}

/** What was gathered so far: sums over samples, rows from the top. */
export interface Gathered {
  samples: number;
  /** Shown light, linear; three numbers to a pixel. */
  light: Float32Array;
  /** Sum of the squares of its luminance. */
  squares: Float32Array;
  /** Colour, normal and distance of what is seen first. */
  colour: Float32Array;
  normal: Float32Array;
  distance: Float32Array;
}

const MOST_BOUNCES = 7;
const MOST_PASSES = 24;
const ROULETTE_FROM = 3;
/** Light on its way by a detour counts no more than this, as shown: so that single paths do not stand out. */
const BRIGHTEST = 12;
const EPSILON = 2e-5;
/** Width over which a finish is averaged where light comes from by a detour, against how far that is. */
const SCATTERED_RAD = 0.02;
/** Glass whose facets are tilted by less bends nothing that is seen: its shadow is that of a flat pane. */
const STRAIGHT = 0.99995;

/**
 * Follows light backwards through a scene (Kajiya 1986): what the lamp adds is sampled both by the lamp and by what the
 * surface scatters, weighted by how likely each is (Veach, Guibas 1995). Sums samples of all pixels.
 */
export class PathTracer {
  readonly gathered: Gathered;
  private readonly finder: Finder;
  private readonly draws = new Draws();
  private readonly sampled = new Sampled();
  /** What stands in the way of light from the lamp. */
  private readonly inItsWay = new Sampled();
  private readonly bsdf = new Bsdf();
  private readonly facet = new Facet();
  private readonly pane = new PaneShares();
  private readonly lamp: LampDirections | null;
  private readonly around: (up: number) => number;
  private readonly f0: number;
  private readonly nap: Nap | null;
  // The place that is met: where, its normals, its tangents.
  private readonly p = [0, 0, 0];
  private readonly d = [0, 0, 0];
  private readonly ng = [0, 0, 0];
  private readonly n = [0, 0, 0];
  private readonly tx = [0, 0, 0];
  private readonly ty = [0, 0, 0];
  private readonly to = [0, 0, 0];
  private readonly shade = [0, 0, 0];
  private readonly result = [0, 0, 0];
  private firstSeen = false;
  /** Length of the path so far, and the width that a pixel has at its end. */
  private gone = 0;
  private acrossMm = 0;
  private readonly pixelRad: number;

  constructor(
    private readonly scene: TracedScene,
    private readonly shot: Shot,
  ) {
    const pixels = shot.widthPx * shot.heightPx;
    this.pixelRad = (2 * Math.tan((shot.fovDeg * Math.PI) / 360)) / shot.heightPx;
    this.gathered = {
      samples: 0,
      light: new Float32Array(3 * pixels),
      squares: new Float32Array(pixels),
      colour: new Float32Array(3 * pixels),
      normal: new Float32Array(3 * pixels),
      distance: new Float32Array(pixels),
    };
    this.finder = new Finder(scene.triangles);
    const lamp = placedLamp(scene.light);
    this.lamp = lamp && new LampDirections(lamp);
    this.around = LIGHT_TABLE[scene.light.name].around;
    const { index, sheen } = scene.finish.physical;
    this.f0 = f0OfIndex(index ?? 1.5);
    this.nap = sheen ? napOf(sheen.linear, sheen.roughness) : null;
  }

  /** Adds one sample to every pixel of some rows, between two columns. */
  addRows(from: number, to: number, sample: number, left = 0, end = this.shot.widthPx): void {
    const { widthPx, heightPx, eye, target, fovDeg } = this.shot;
    const ahead = normalised([target[0] - eye[0], target[1] - eye[1], target[2] - eye[2]]);
    const right = normalised([-ahead[2], 0, ahead[0]]);
    const up = [
      right[1]! * ahead[2] - right[2]! * ahead[1],
      right[2]! * ahead[0] - right[0]! * ahead[2],
      right[0]! * ahead[1] - right[1]! * ahead[0],
    ];
    const half = Math.tan((fovDeg * Math.PI) / 360);
    const aspect = widthPx / heightPx;
    const { light, squares } = this.gathered;
    for (let y = from; y < to; y++)
      for (let x = left; x < end; x++) {
        const i = y * widthPx + x;
        this.draws.begin(i, sample);
        const sx = half * aspect * ((2 * (x + this.draws.next())) / widthPx - 1);
        const sy = half * (1 - (2 * (y + this.draws.next())) / heightPx);
        const length = Math.sqrt(1 + sx * sx + sy * sy);
        for (let a = 0; a < 3; a++) {
          this.p[a] = eye[a]!;
          this.d[a] = (ahead[a]! + sx * right[a]! + sy * up[a]!) / length;
        }
        this.follow(i);
        const [r, g, b] = this.result as unknown as [number, number, number];
        light[3 * i]! += r;
        light[3 * i + 1]! += g;
        light[3 * i + 2]! += b;
        const luminance = luminanceOf(r, g, b);
        squares[i]! += luminance * luminance;
      }
  }

  /** One path from `p` along `d`; its light, as shown, in `result`. */
  private follow(pixel: number): void {
    const { scene, finder, p, d, result } = this;
    result[0] = result[1] = result[2] = 0;
    const left = [1, 1, 1];
    let lastPdf = -1;
    let bounces = 0;
    let scattered = false;
    this.firstSeen = false;
    this.gone = 0;
    for (let passes = 0; passes < MOST_PASSES; passes++) {
      if (!finder.find(p[0]!, p[1]!, p[2]!, d[0]!, d[1]!, d[2]!, 1e9, false)) {
        const shown = scattered ? this.skyAlong(d, lastPdf) * scene.exposure : scene.surround;
        for (let c = 0; c < 3; c++) result[c]! += left[c]! * clipped(shown, bounces);
        return;
      }
      const matter = this.meet();
      this.gone += finder.t;
      // What is met after light was scattered is seen blurred.
      this.acrossMm = 1000 * this.gone * (bounces === 0 ? this.pixelRad : SCATTERED_RAD);
      if (matter === 'finish') {
        this.lookUp();
        const { physical } = scene.finish;
        if (physical.glass) {
          this.see(pixel, 1, 1, 1);
          const straight = this.passGlass(left);
          if (straight === null) return;
          if (!straight) {
            lastPdf = -1;
            scattered = true;
          }
          if (left[0]! + left[1]! + left[2]! < 1e-4) return;
          continue;
        }
        if (this.sampled.opacity < 1 && this.draws.next() >= this.sampled.opacity) {
          this.step(d, 1);
          continue;
        }
      }
      this.surface(matter);
      this.see(pixel, this.bsdf.baseR, this.bsdf.baseG, this.bsdf.baseB);
      this.addLamp(left, bounces);
      if (++bounces > MOST_BOUNCES || !this.scatter(left)) return;
      lastPdf = this.bsdf.pdf;
      scattered = true;
      if (bounces >= ROULETTE_FROM) {
        const keep = Math.min(0.95, Math.max(left[0]!, left[1]!, left[2]!));
        if (this.draws.next() >= keep) return;
        for (let c = 0; c < 3; c++) left[c]! /= keep;
      }
    }
  }

  /** Light from where nothing stands; what the lamp adds is weighted by how likely this path was. */
  private skyAlong(d: readonly number[], lastPdf: number): number {
    const pdf = this.lamp?.pdfAlong(d) ?? 0;
    if (pdf === 0) return this.around(d[1]!);
    const weight = lastPdf < 0 ? 1 : (lastPdf * lastPdf) / (lastPdf * lastPdf + pdf * pdf);
    return this.lamp!.luminance * weight;
  }

  /** The place that was found: its matter; its point, normals and tangents, towards where the ray comes from. */
  private meet(): Matter {
    const { finder, p, d, ng, n, tx } = this;
    const { corners, normals, along, matter, matters } = this.scene.triangles;
    const k = finder.triangle;
    const { b1, b2, t } = finder;
    const b0 = 1 - b1 - b2;
    for (let a = 0; a < 3; a++) {
      p[a]! += t * d[a]!;
      n[a] = b0 * normals[9 * k + a]! + b1 * normals[9 * k + 3 + a]! + b2 * normals[9 * k + 6 + a]!;
      tx[a] = along[3 * k + a]!;
    }
    const c = 9 * k;
    ng[0] = corners[c + 4]! * corners[c + 8]! - corners[c + 5]! * corners[c + 7]!;
    ng[1] = corners[c + 5]! * corners[c + 6]! - corners[c + 3]! * corners[c + 8]!;
    ng[2] = corners[c + 3]! * corners[c + 7]! - corners[c + 4]! * corners[c + 6]!;
    toUnit(ng);
    toUnit(n);
    this.frame();
    return matters[matter[k]!]!;
  }

  /** Tangents of the normal: tx along u, ty along v. */
  private frame(): void {
    const { n, tx, ty } = this;
    const dot = n[0]! * tx[0]! + n[1]! * tx[1]! + n[2]! * tx[2]!;
    for (let a = 0; a < 3; a++) tx[a]! -= dot * n[a]!;
    toUnit(tx);
    ty[0] = n[1]! * tx[2]! - n[2]! * tx[1]!;
    ty[1] = n[2]! * tx[0]! - n[0]! * tx[2]!;
    ty[2] = n[0]! * tx[1]! - n[1]! * tx[0]!;
  }

  /** Looks the finish up where it was met, and tilts the normal by its relief. */
  private lookUp(): void {
    const { finder, sampled, n, tx, ty } = this;
    const { uvMm } = this.scene.triangles;
    const k = 6 * finder.triangle;
    const { b1, b2 } = finder;
    const b0 = 1 - b1 - b2;
    sampled.look(
      this.scene.finish,
      b0 * uvMm[k]! + b1 * uvMm[k + 2]! + b2 * uvMm[k + 4]!,
      b0 * uvMm[k + 1]! + b1 * uvMm[k + 3]! + b2 * uvMm[k + 5]!,
      this.acrossMm,
    );
    for (let a = 0; a < 3; a++) n[a] = sampled.nx * tx[a]! + sampled.ny * ty[a]! + sampled.nz * n[a]!;
    toUnit(n);
    this.frame();
  }

  /** Turns normals to the side that is looked at, and says how it scatters there. */
  private surface(matter: Matter): void {
    const { bsdf, d, ng, n, tx, ty, sampled } = this;
    if (ng[0]! * d[0]! + ng[1]! * d[1]! + ng[2]! * d[2]! > 0)
      for (let a = 0; a < 3; a++) {
        ng[a] = -ng[a]!;
        n[a] = -n[a]!;
        ty[a] = -ty[a]!;
      }
    bsdf.matt = matter !== 'finish';
    if (matter === 'finish') this.asFinish(sampled);
    else {
      bsdf.baseR = bsdf.baseG = bsdf.baseB = NEUTRALS[matter];
      bsdf.metal = bsdf.coat = bsdf.through = 0;
      bsdf.nap = null;
      bsdf.f0 = 0;
      bsdf.roughness = bsdf.alphaX = bsdf.alphaY = 1;
    }
    const to = (axis: readonly number[]) => -(d[0]! * axis[0]! + d[1]! * axis[1]! + d[2]! * axis[2]!);
    bsdf.seenFrom(to(tx), to(ty), to(n));
  }

  private asFinish({ r, g, b, roughness, metalness }: Sampled): void {
    const { bsdf, tx, ty } = this;
    const { brushed, coat, cloth, haze } = this.scene.finish.physical;
    bsdf.baseR = r;
    bsdf.baseG = g;
    bsdf.baseB = b;
    bsdf.metal = metalness;
    bsdf.f0 = this.f0;
    const lobe = haze ? this.lobeOf(haze, roughness) : roughness;
    bsdf.roughness = lobe;
    const alpha = Math.max(1e-3, lobe * lobe);
    bsdf.alphaX = bsdf.alphaY = alpha;
    bsdf.coat = coat?.factor ?? 0;
    bsdf.coatRoughness = coat?.roughness ?? 0;
    bsdf.coatAlpha = Math.max(1e-3, bsdf.coatRoughness * bsdf.coatRoughness);
    bsdf.nap = this.nap;
    bsdf.overAngle = this.scene.finish.overAngle;
    bsdf.through = cloth?.diffuse ?? 0;
    if (!brushed) return;
    bsdf.alphaX = alpha + (1 - alpha) * brushed.strength * brushed.strength;
    const [cos, sin] = [Math.cos(brushed.rotationRad), Math.sin(brushed.rotationRad)];
    for (let a = 0; a < 3; a++) {
      const [x, y] = [tx[a]!, ty[a]!];
      tx[a] = cos * x + sin * y;
      ty[a] = cos * y - sin * x;
    }
  }

  /** Roughness of one of two lobes, each met as often as its share. */
  private lobeOf(haze: NonNullable<TracedFinish['physical']['haze']>, roughness: number): number {
    if (this.draws.next() < haze.wideShare) return haze.wideRoughness;
    return Math.min(1, roughness * haze.narrowFactor);
  }

  /** Keeps what is seen first, for the picture to be smoothed along it. */
  private see(pixel: number, r: number, g: number, b: number): void {
    if (this.firstSeen) return;
    this.firstSeen = true;
    const { colour, normal, distance } = this.gathered;
    colour[3 * pixel]! += r;
    colour[3 * pixel + 1]! += g;
    colour[3 * pixel + 2]! += b;
    for (let a = 0; a < 3; a++) normal[3 * pixel + a]! += this.n[a]!;
    distance[pixel]! += this.finder.t;
  }

  /** Light that comes straight from the lamp. */
  private addLamp(left: readonly number[], bounces: number): void {
    const { lamp, draws, bsdf, to, p, ng, shade } = this;
    if (!lamp) return;
    const pdf = lamp.draw(draws.next(), draws.next(), to);
    const local = (axis: readonly number[]) => to[0]! * axis[0]! + to[1]! * axis[1]! + to[2]! * axis[2]!;
    const lz = local(this.n);
    const over = local(ng);
    if (over * lz <= 0) return;
    bsdf.from(local(this.tx), local(this.ty), lz);
    if (bsdf.r + bsdf.g + bsdf.b <= 0) return;
    const side = over > 0 ? EPSILON : -EPSILON;
    if (!this.reaches(p[0]! + side * ng[0]!, p[1]! + side * ng[1]!, p[2]! + side * ng[2]!)) return;
    const weight = (pdf * pdf) / (pdf * pdf + bsdf.pdf * bsdf.pdf);
    const share = (this.scene.exposure * lamp.luminance * weight) / pdf;
    this.result[0]! += left[0]! * clipped(share * bsdf.r * shade[0]!, bounces);
    this.result[1]! += left[1]! * clipped(share * bsdf.g * shade[1]!, bounces);
    this.result[2]! += left[2]! * clipped(share * bsdf.b * shade[2]!, bounces);
  }

  /** How much light reaches a place along `to`, by channel in `shade`: panes and openings let some of it through. */
  private reaches(x: number, y: number, z: number): boolean {
    const { finder, to, shade, scene } = this;
    shade[0] = shade[1] = shade[2] = 1;
    const { glass, index } = scene.finish.physical;
    const sheer = glass !== null || scene.finish.sheer;
    let open = true;
    for (let passes = 0; passes < 8; passes++) {
      if (!finder.find(x, y, z, to[0]!, to[1]!, to[2]!, 1e9, !sheer)) break;
      const { triangles } = scene;
      if (!sheer || triangles.matters[triangles.matter[finder.triangle]!] !== 'finish') {
        open = false;
        break;
      }
      const t = finder.t + EPSILON;
      open = this.shadeBy(glass, index);
      x += t * to[0]!;
      y += t * to[1]!;
      z += t * to[2]!;
      if (!open) break;
    }
    return open;
  }

  /** What the finish at the place that was found leaves of light that comes along `to`. @returns false: nothing that is straight */
  private shadeBy(glass: TracedFinish['physical']['glass'], index: number | null): boolean {
    const { finder, inItsWay: sampled, shade, to, pane } = this;
    const { uvMm, normals } = this.scene.triangles;
    const { b1, b2, triangle } = finder;
    const b0 = 1 - b1 - b2;
    const k = 6 * triangle;
    sampled.look(
      this.scene.finish,
      b0 * uvMm[k]! + b1 * uvMm[k + 2]! + b2 * uvMm[k + 4]!,
      b0 * uvMm[k + 1]! + b1 * uvMm[k + 3]! + b2 * uvMm[k + 5]!,
      this.acrossMm,
    );
    if (!glass) {
      for (let c = 0; c < 3; c++) shade[c]! *= 1 - sampled.opacity;
      return sampled.opacity < 1;
    }
    if (glass.roughness > 0 || sampled.nz < STRAIGHT) return false;
    const m = 9 * triangle;
    const cos = Math.abs(to[0]! * normals[m]! + to[1]! * normals[m + 1]! + to[2]! * normals[m + 2]!);
    pane.meet(Math.max(1e-3, cos), index!, glass.attenuation);
    shade[0]! *= pane.r;
    shade[1]! *= pane.g;
    shade[2]! *= pane.b;
    return true;
  }

  /** Draws where light is scattered to, and steps off the surface. @returns false: the path ends */
  private scatter(left: number[]): boolean {
    const { bsdf, draws, d, tx, ty, n, ng } = this;
    if (!bsdf.draw(draws.next(), draws.next(), draws.next())) return false;
    const { lx, ly, lz } = bsdf;
    for (let a = 0; a < 3; a++) d[a] = lx * tx[a]! + ly * ty[a]! + lz * n[a]!;
    const over = d[0]! * ng[0]! + d[1]! * ng[1]! + d[2]! * ng[2]!;
    // What the tilted normal sends through the surface is lost.
    if (over * lz <= 0) return false;
    left[0]! *= bsdf.r / bsdf.pdf;
    left[1]! *= bsdf.g / bsdf.pdf;
    left[2]! *= bsdf.b / bsdf.pdf;
    this.step(ng, over > 0 ? 1 : -1);
    return left[0]! + left[1]! + left[2]! > 1e-4;
  }

  private step(along: readonly number[], sign: number): void {
    for (let a = 0; a < 3; a++) this.p[a]! += sign * EPSILON * along[a]!;
  }

  /**
   * A pane mirrors a ray or lets it through, bent by its relief and scattered by its satin side.
   * @returns true: it went on as straight as it came; null: it is lost
   */
  private passGlass(left: number[]): boolean | null {
    const { d, n, ng, pane, draws, facet, tx, ty } = this;
    const { glass, index } = this.scene.finish.physical;
    const back = ng[0]! * d[0]! + ng[1]! * d[1]! + ng[2]! * d[2]! > 0;
    const sign = back ? -1 : 1;
    const facing = [sign * ng[0]!, sign * ng[1]!, sign * ng[2]!];
    // The side with the relief: facets of the satin side are spread about its normal.
    const relief = [sign * n[0]!, sign * n[1]!, sign * n[2]!];
    const flat = Math.abs(n[0]! * ng[0]! + n[1]! * ng[1]! + n[2]! * ng[2]!) >= STRAIGHT;
    if (glass!.roughness > 0) {
      const alpha = Math.max(1e-3, glass!.roughness * glass!.roughness);
      facet.draw(0, 0, 1, alpha, alpha, draws.next(), draws.next());
      for (let a = 0; a < 3; a++) relief[a] = sign * (facet.x * tx[a]! + facet.y * ty[a]! + facet.z * n[a]!);
    }
    const cos = -(d[0]! * relief[0]! + d[1]! * relief[1]! + d[2]! * relief[2]!);
    if (cos <= 0) return null;
    pane.meet(Math.max(1e-3, cos), index!, glass!.attenuation);
    if (draws.next() < pane.mirrored) {
      for (let a = 0; a < 3; a++) d[a]! += 2 * cos * relief[a]!;
      this.step(facing, 1);
      return false;
    }
    const share = 1 / (1 - pane.mirrored);
    left[0]! *= pane.r * share;
    left[1]! *= pane.g * share;
    left[2]! *= pane.b * share;
    if (flat && glass!.roughness === 0) {
      this.step(facing, -1);
      return true;
    }
    const out = [0, 0, 0];
    const [first, second] = back ? [facing, relief] : [relief, facing];
    if (!bendThrough(d, first, second, index!, out)) return null;
    for (let a = 0; a < 3; a++) d[a] = out[a]!;
    this.step(facing, -1);
    return false;
  }
}

/** Light by a detour is held; what is seen straight is not. */
const clipped = (shown: number, bounces: number) => (bounces > 0 && shown > BRIGHTEST ? BRIGHTEST : shown);

function normalised(a: Vector): Vector {
  const out = [...a];
  toUnit(out);
  return out as unknown as Vector;
}

function toUnit(a: number[]): void {
  const n = 1 / Math.sqrt(a[0]! * a[0]! + a[1]! * a[1]! + a[2]! * a[2]! || 1);
  a[0]! *= n;
  a[1]! *= n;
  a[2]! *= n;
}
