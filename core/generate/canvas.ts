import { GENERATE_VERSION } from './version';
import { labToXyz, xyzToLinear } from '../colour';
import {
  halve,
  makeColourPicture,
  makePlane,
  channelSteps,
  seededRandom,
  type ColourPicture,
  type Plane,
  type Random,
} from '../raster';
import type { Steps } from '../steps';
import { printNumber } from '../units';
import { NoiseMemory, waves, wavesAt, ridges, type NoiseGround, type NoiseOptions, type Rows } from './noise';
import type { Lab } from './setting';

/** A generated finish over its repeat: colour, height and gloss from the same causes. */
export interface Painted {
  /** Reflectance, linear light. */
  colour: ColourPicture;
  /** mm over the mean face. */
  height: Plane;
  /** How much glossier a place is than the finish on average, GU. */
  gloss: Plane;
  /** Share that is not open, 0–1; null: it has no openings. */
  opacity: Plane | null;
  /** Weight of each part, 0–1. */
  parts: ReadonlyMap<string, Plane>;
}

export type Rgb = readonly [number, number, number];

/** Linear reflectance of a CIELAB colour, held within 0.002–1. */
export function rgbOf(lab: Lab): Rgb {
  const [r, g, b] = xyzToLinear(labToXyz([...lab]));
  const held = (v: number) => Math.min(1, Math.max(0.002, v));
  return [held(r), held(g), held(b)];
}

/** What a generator paints on. It closes on itself: what runs over one edge goes on at the other. */
export class Canvas implements NoiseGround {
  readonly colour: ColourPicture;
  readonly height: Plane;
  readonly gloss: Plane;
  opacity: Plane | null = null;
  readonly parts = new Map<string, Plane>();
  readonly noise = new NoiseMemory();
  /** Pixels that were visited around places since the last pause between things. */
  private visited = 0;
  /** Size of a pixel, mm. */
  readonly mm: { x: number; y: number };

  constructor(
    readonly sizeMm: { width: number; height: number },
    readonly px: { width: number; height: number },
    readonly seed: number,
    /** Called between rows: lets others in, and throws where the work is to stop. */
    private readonly pause: (share: number) => Promise<void>,
    /** Version of what is generated. */
    readonly version = GENERATE_VERSION,
  ) {
    this.colour = makeColourPicture(px.width, px.height);
    this.height = makePlane(px.width, px.height);
    this.gloss = makePlane(px.width, px.height);
    this.mm = { x: sizeMm.width / px.width, y: sizeMm.height / px.height };
  }

  /** The plane of a part, made when it is first asked for. */
  part(name: string): Float32Array {
    const known = this.parts.get(name);
    if (known) return known.data;
    const plane = makePlane(this.px.width, this.px.height);
    this.parts.set(name, plane);
    return plane.data;
  }

  /** Noise in rows, with a seed of this finish. @param salt tells one noise from another */
  waves(salt: number, cellMm: NoiseOptions['cellMm'], octaves = 1, gain = 0.5): Rows {
    return waves(this, { cellMm, octaves, gain, seed: this.seed * 7919 + salt });
  }
  ridges(salt: number, cellMm: NoiseOptions['cellMm'], octaves = 1, gain = 0.5): Rows {
    return ridges(this, { cellMm, octaves, gain, seed: this.seed * 7919 + salt });
  }
  /** Noise at places, in shares of the repeat. */
  wavesAt(
    salt: number,
    cellMm: NoiseOptions['cellMm'],
    octaves = 1,
    gain = 0.5,
  ): (u: number, v: number) => number {
    return wavesAt(this, { cellMm, octaves, gain, seed: this.seed * 7919 + salt });
  }

  /** Makes a list of what takes time, with pauses. */
  async list<T>(length: number, make: (k: number) => T): Promise<T[]> {
    const out: T[] = [];
    for (let k = 0; k < length; k++) {
      await this.pause(0);
      out.push(make(k));
    }
    return out;
  }

  /** Visits every row, with pauses. @param visit gets the row, the index of its first pixel, and its middle in mm from the top */
  async rows(visit: (y: number, first: number, yMm: number) => void): Promise<void> {
    const { width, height } = this.px;
    const between = Math.max(1, Math.floor(PIXELS_BETWEEN_PAUSES / width));
    for (let y = 0; y < height; y++) {
      if (y % between === 0) await this.pause(y / height);
      visit(y, y * width, (y + 0.5) * this.mm.y);
    }
  }

  /**
   * Lays many things at random places, with pauses.
   * @param what they are, in a word
   * @param lay lays one of them, in steps where it may be large
   * @throws RangeError when there are too many
   */
  async scatter(
    count: number,
    what: string,
    seed: number,
    lay: (random: Random) => void | Steps<void>,
  ): Promise<void> {
    if (count > MOST_SCATTERED)
      throw new RangeError(
        `About ${printNumber(count / 1e6, 2)} million ${what} would lie in this repeat; at most ${MOST_SCATTERED / 1e6} million can. Make the repeat smaller, or ask for fewer of them.`,
      );
    const random = seededRandom(seed);
    for (let n = 0; n < count; n++) {
      if (n % SCATTERED_BETWEEN_PAUSES === 0 || this.visited > PIXELS_BETWEEN_PAUSES) await this.pauseHere();
      const steps = lay(random);
      if (steps) await this.withPauses(steps);
    }
  }

  /** Counts pixels that are visited without `around`, so that pauses come in time. */
  hasVisited(pixels: number): void {
    this.visited += pixels;
  }

  /** Lays each of some things in steps, with pauses. */
  async lay<T>(things: readonly T[], lay: (thing: T) => Steps<void>): Promise<void> {
    for (const thing of things) await this.withPauses(lay(thing));
  }

  private async withPauses(steps: Steps<void>): Promise<void> {
    while (!steps.next().done) if (this.visited > PIXELS_BETWEEN_PAUSES) await this.pauseHere();
  }

  private async pauseHere(): Promise<void> {
    this.visited = 0;
    await this.pause(0);
  }

  /** Sets the colour of a pixel. */
  put(i: number, [r, g, b]: Rgb, tone: number): void {
    this.colour.r[i] = r * tone;
    this.colour.g[i] = g * tone;
    this.colour.b[i] = b * tone;
  }
  /** Sets the colour of a pixel to a mix of two, in linear light. */
  mix(i: number, a: Rgb, b: Rgb, t: number, tone: number): void {
    this.colour.r[i] = (a[0] + (b[0] - a[0]) * t) * tone;
    this.colour.g[i] = (a[1] + (b[1] - a[1]) * t) * tone;
    this.colour.b[i] = (a[2] + (b[2] - a[2]) * t) * tone;
  }
  /** Lays a colour over a pixel. @param share how much of it, 0–1 */
  over(i: number, [r, g, b]: Rgb, share: number): void {
    const { colour } = this;
    colour.r[i]! += (r - colour.r[i]!) * share;
    colour.g[i]! += (g - colour.g[i]!) * share;
    colour.b[i]! += (b - colour.b[i]!) * share;
  }
  /** Multiplies the colour of a pixel. */
  tone(i: number, factor: number): void {
    this.colour.r[i]! *= factor;
    this.colour.g[i]! *= factor;
    this.colour.b[i]! *= factor;
  }

  /**
   * Visits all pixels within a reach of a place; pixels beyond an edge come back at the other one.
   * @param visit gets the index of the pixel and its offset from the place, mm
   */
  around(
    xMm: number,
    yMm: number,
    reachXMm: number,
    reachYMm: number,
    visit: (i: number, dxMm: number, dyMm: number) => void,
  ): void {
    const { mm } = this;
    const [y0, y1] = [Math.floor((yMm - reachYMm) / mm.y), Math.ceil((yMm + reachYMm) / mm.y)];
    for (let y = y0; y < y1; y++) this.alongRow(y, xMm, yMm, reachXMm, visit);
  }

  /** As `around`, left between rows. */
  *aroundSteps(
    xMm: number,
    yMm: number,
    reachXMm: number,
    reachYMm: number,
    visit: (i: number, dxMm: number, dyMm: number) => void,
  ): Steps<void> {
    const { mm } = this;
    const [y0, y1] = [Math.floor((yMm - reachYMm) / mm.y), Math.ceil((yMm + reachYMm) / mm.y)];
    for (let y = y0; y < y1; y++) {
      yield;
      this.alongRow(y, xMm, yMm, reachXMm, visit);
    }
  }

  /** Visits the pixels of one row within a reach of a place. @param y the row, which may lie beyond an edge */
  private alongRow(
    y: number,
    xMm: number,
    yMm: number,
    reachXMm: number,
    visit: (i: number, dxMm: number, dyMm: number) => void,
  ): void {
    const { mm } = this;
    const { width, height } = this.px;
    const [x0, x1] = [Math.floor((xMm - reachXMm) / mm.x), Math.ceil((xMm + reachXMm) / mm.x)];
    this.visited += x1 - x0;
    const row = (((y % height) + height) % height) * width;
    const dy = (y + 0.5) * mm.y - yMm;
    for (let x = x0; x < x1; x++) visit(row + (((x % width) + width) % width), (x + 0.5) * mm.x - xMm, dy);
  }

  /** What was painted, with so many pixels of it made one on each axis. */
  *paintedSteps(times: 1 | 2 | 4): Steps<Painted> {
    const smaller = function* (plane: Plane): Steps<Plane> {
      let out = plane;
      for (let k = times; k > 1; k /= 2) {
        yield;
        out = halve(out);
      }
      return out;
    };
    const parts = new Map<string, Plane>();
    for (const [name, plane] of this.parts) parts.set(name, yield* smaller(plane));
    return {
      colour: times === 1 ? this.colour : yield* channelSteps(this.colour, smaller),
      height: yield* smaller(this.height),
      gloss: yield* smaller(this.gloss),
      opacity: this.opacity && (yield* smaller(this.opacity)),
      parts,
    };
  }
}

const PIXELS_BETWEEN_PAUSES = 16384;
const SCATTERED_BETWEEN_PAUSES = 2048;
const MOST_SCATTERED = 2e6;
