import type { PlacedLamp } from '../scene';

/** Directions to the lamp, and how likely each is drawn. */
export class LampDirections {
  readonly luminance: number;
  /** Likelihood per solid angle: of a disc the same everywhere, of a window over the plane one away. */
  private readonly pdf: number;

  constructor(private readonly lamp: PlacedLamp) {
    this.luminance = lamp.luminance;
    this.pdf =
      lamp.disc !== null
        ? 1 / (2 * Math.PI * (1 - lamp.disc))
        : 1 / (4 * lamp.window!.halfWide * lamp.window!.halfHigh);
  }

  /** Likelihood with which the lamp draws a direction; 0: it does not lie there. */
  pdfAlong(d: readonly number[]): number {
    const { lamp } = this;
    const [tx, ty, tz] = lamp.towards;
    const ahead = d[0]! * tx + d[1]! * ty + d[2]! * tz;
    if (lamp.disc !== null) return ahead >= lamp.disc ? this.pdf : 0;
    if (ahead <= 0) return 0;
    const { right, up, halfWide, halfHigh } = lamp.window!;
    const a = (d[0]! * right[0] + d[1]! * right[1] + d[2]! * right[2]) / ahead;
    const b = (d[0]! * up[0] + d[1]! * up[1] + d[2]! * up[2]) / ahead;
    if (Math.abs(a) > halfWide || Math.abs(b) > halfHigh) return 0;
    const r2 = 1 + a * a + b * b;
    return this.pdf * r2 * Math.sqrt(r2);
  }

  /** Draws a direction to the lamp by two numbers 0–1. @returns how likely it was */
  draw(u: number, v: number, to: number[]): number {
    const { towards, disc, window } = this.lamp;
    if (disc !== null) {
      const cos = 1 - u * (1 - disc);
      const sin = Math.sqrt(1 - cos * cos);
      const phi = 2 * Math.PI * v;
      const [tx, ty, tz] = towards;
      // Two directions across the one to the lamp (Duff et al. 2017).
      const sign = tz >= 0 ? 1 : -1;
      const a = -1 / (sign + tz);
      const b = tx * ty * a;
      const [x, y] = [sin * Math.cos(phi), sin * Math.sin(phi)];
      to[0] = x * (1 + sign * tx * tx * a) + y * b + cos * tx;
      to[1] = x * sign * b + y * (sign + ty * ty * a) + cos * ty;
      to[2] = -x * sign * tx - y * ty + cos * tz;
      return this.pdf;
    }
    const { right, up, halfWide, halfHigh } = window!;
    const [a, b] = [halfWide * (2 * u - 1), halfHigh * (2 * v - 1)];
    const r2 = 1 + a * a + b * b;
    const r = Math.sqrt(r2);
    for (let k = 0; k < 3; k++) to[k] = (towards[k]! + a * right[k]! + b * up[k]!) / r;
    return this.pdf * r2 * r;
  }
}
