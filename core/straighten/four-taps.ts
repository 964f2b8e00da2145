import compiled from '../kernels/warp.wasm';
import { fours } from '../kernels/rows';
import { KernelModule, MemoryLayout, type Kernel } from '../kernels/web-assembly';
import type { ColourPicture } from '../raster';

/** See core/kernels/assembly/warp.ts; addresses and sizes in bytes. */
interface Functions {
  place(
    projection: number,
    bow: number,
    bowPerSquare: number,
    bowSteps: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    places: number,
  ): void;
  fetchFour(
    planes: number,
    planeBytes: number,
    rowBytes: number,
    left: number,
    top: number,
    places: number,
    count: number,
    weights: number,
    phases: number,
    out: number,
    outBytes: number,
  ): void;
}
const KERNEL = new KernelModule<Functions>(compiled);

/** Most floats of one plane that are copied at once; what is spread wider is left to others. */
const WINDOW_FLOATS = 128 * 128;
const CHANNELS = ['r', 'g', 'b'] as const;

/** Where pixels of a straightened picture lie in the picture that it is fetched from. */
export interface Projection {
  /** From the frame, 0–1, to the picture, in half diagonals from its middle: 3 × 3, row by row. */
  plane: readonly number[];
  widthPx: number;
  heightPx: number;
  /** Half the diagonal, and the middle, in pixels of the picture. */
  halfPx: number;
  middle: { xPx: number; yPx: number };
  /** Factors of the lens bow over the square of the distance from the middle; null: it has none. */
  bow: { factors: Float64Array; perSquare: number; steps: number } | null;
}
/** Numbers of a projection in the kernel's memory, the bounds of a part last. */
const PROJECTION_NUMBERS = 18;
const BOUNDS = 14;

/** Part of a straightened picture, pixels; right and bottom are the first beyond it. */
export interface Part {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Fetches parts of a straightened picture with a kernel of four by four pixels, in a kernel's memory. */
export class FourTaps {
  private readonly at: Record<'planes' | 'places' | 'weights' | 'projection' | 'bow' | 'out', number>;
  private readonly kernel: Kernel<Functions>;
  private readonly floats: Float32Array;
  private readonly bounds: Float64Array;
  /** Across and down for each pixel of the part that was placed last, in pixels of the picture. */
  readonly places: Float64Array;
  private readonly phases: number;

  /**
   * @param weights four for each place between two pixels, the last for the next pixel
   * @param mostPx most pixels of a part
   */
  constructor(
    private readonly picture: ColourPicture,
    private readonly projection: Projection,
    weights: Float64Array,
    private readonly mostPx: number,
  ) {
    const { plane, widthPx, heightPx, halfPx, middle, bow } = projection;
    const memory = new MemoryLayout();
    const doubles = (count: number) => memory.of(2 * count);
    this.at = {
      planes: memory.of(CHANNELS.length * WINDOW_FLOATS),
      places: doubles(2 * mostPx + 2),
      weights: doubles(weights.length),
      projection: doubles(PROJECTION_NUMBERS),
      bow: bow ? doubles(bow.factors.length) : 0,
      out: memory.of(CHANNELS.length * mostPx),
    };
    this.kernel = KERNEL.borrow(memory.bytes);
    const { buffer } = this.kernel.memory;
    const view = (at: number, length: number) => new Float64Array(buffer, at, length);
    this.floats = new Float32Array(buffer);
    this.places = view(this.at.places, 2 * mostPx);
    view(this.at.weights, weights.length).set(weights);
    const numbers = view(this.at.projection, PROJECTION_NUMBERS);
    numbers.set([...plane, 1 / widthPx, heightPx, halfPx, middle.xPx, middle.yPx]);
    this.bounds = numbers.subarray(BOUNDS);
    if (bow) view(this.at.bow, bow.factors.length).set(bow.factors);
    this.phases = weights.length / 4 - 1;
  }

  /** Ends it: its memory is free for others. */
  end(): void {
    KERNEL.giveBack(this.kernel);
  }

  /** Finds where the pixels of a part lie. */
  place({ left, top, right, bottom }: Part): void {
    const { at, projection } = this;
    const { perSquare = 0, steps = 0 } = projection.bow ?? {};
    this.kernel.place(at.projection, at.bow, perSquare, steps, left, top, right, bottom, at.places);
  }

  /**
   * Fetches the pixels of a part that was placed.
   * @param to index of its first pixel in the outcome
   * @returns false, with nothing fetched: the part is spread too wide, or needs pixels beyond the picture's edge
   */
  fetch({ left, top, right, bottom }: Part, out: ColourPicture, to: number): boolean {
    const [width, height] = [right - left, bottom - top];
    const window = this.windowOfPlaces();
    if (!window) return false;
    const planeFloats = fours(window.width * window.height);
    if (planeFloats > WINDOW_FLOATS) return false;
    this.copyIn(window, planeFloats);
    const { at, kernel, mostPx } = this;
    kernel.fetchFour(
      ...([at.planes, 4 * planeFloats, 4 * window.width, window.left, window.top] as const),
      ...([at.places, width * height, at.weights, this.phases, at.out, 4 * mostPx] as const),
    );
    this.copyOut(width, height, out, to);
    return true;
  }

  /** The pixels that are needed; null: some lie beyond the edge. */
  private windowOfPlaces(): Window | null {
    const [least, most, highest, lowest] = this.bounds as unknown as [number, number, number, number];
    const [left, top] = [Math.floor(least) - 1, Math.floor(highest) - 1];
    const [right, bottom] = [Math.floor(most) + 3, Math.floor(lowest) + 3];
    const { widthPx, heightPx } = this.picture;
    if (!(left >= 0 && top >= 0 && right <= widthPx && bottom <= heightPx)) return null;
    return { left, top, width: right - left, height: bottom - top };
  }

  private copyIn({ left, top, width, height }: Window, planeFloats: number): void {
    const { picture, floats } = this;
    for (const [c, name] of CHANNELS.entries()) {
      const data = picture[name];
      let to = this.at.planes / 4 + c * planeFloats;
      for (let y = top; y < top + height; y++, to += width) {
        const from = y * picture.widthPx + left;
        floats.set(data.subarray(from, from + width), to);
      }
    }
  }

  private copyOut(width: number, height: number, out: ColourPicture, to: number): void {
    for (const [c, name] of CHANNELS.entries()) {
      let from = this.at.out / 4 + c * this.mostPx;
      for (let y = 0; y < height; y++, from += width)
        out[name].set(this.floats.subarray(from, from + width), to + y * out.widthPx);
    }
  }
}

interface Window {
  left: number;
  top: number;
  width: number;
  height: number;
}
