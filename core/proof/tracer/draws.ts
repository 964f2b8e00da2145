import { hash32 } from '../../raster';

/** Steps of a sequence for the first draws of a path: broken parts of square roots of primes. */
const STEPS = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53].map((p) => Math.sqrt(p) % 1);

/**
 * Numbers 0–1 for a path. The first ones of a pixel are spread evenly over its samples; each pixel begins elsewhere. Those
 * further on are drawn.
 */
export class Draws {
  private pixel = 0;
  private sample = 0;
  private dimension = 0;
  private state = 1;

  begin(pixel: number, sample: number): void {
    this.pixel = pixel;
    this.sample = sample;
    this.dimension = 0;
    this.state = hash32(pixel * 9781 + sample * 6271 + 1);
  }

  next(): number {
    const d = this.dimension++;
    if (d < STEPS.length) {
      const v = hash32(this.pixel * 31 + d * 7919) / 4294967296 + this.sample * STEPS[d]!;
      return v - Math.floor(v);
    }
    this.state = hash32(this.state + 0x9e3779b9);
    return this.state / 4294967296;
  }
}
