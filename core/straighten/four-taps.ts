import compiled from '../kernels/warp.wasm';
import { fours } from '../kernels/rows';
import { KernelModule, MemoryLayout, type Kernel } from '../kernels/web-assembly';
import type { ColourPicture } from '../raster';

/** See core/kernels/assembly/warp.ts; addresses and sizes in bytes. */
interface Functions {
  fetchFour(
    planes: number,
    planeBytes: number,
    rowBytes: number,
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

/** Fetches parts of a straightened picture with a kernel of four by four pixels, in a kernel's memory. */
export class FourTaps {
  private readonly at: Record<'planes' | 'places' | 'weights' | 'out', number>;
  private readonly kernel: Kernel<Functions>;
  private readonly floats: Float32Array;
  /** Across and down for each pixel of a part, in pixels of the picture: written before `fetch`. */
  readonly places: Float64Array;
  private readonly phases: number;

  /**
   * @param weights four for each place between two pixels, the last for the next pixel
   * @param mostPx most pixels of a part
   */
  constructor(
    private readonly picture: ColourPicture,
    weights: Float64Array,
    private readonly mostPx: number,
  ) {
    const memory = new MemoryLayout();
    this.at = {
      planes: memory.of(CHANNELS.length * WINDOW_FLOATS),
      places: memory.of(4 * mostPx),
      weights: memory.of(2 * weights.length),
      out: memory.of(CHANNELS.length * mostPx),
    };
    this.kernel = KERNEL.instance(memory.bytes);
    const { buffer } = this.kernel.memory;
    this.floats = new Float32Array(buffer);
    this.places = new Float64Array(buffer, this.at.places, 2 * mostPx);
    new Float64Array(buffer, this.at.weights, weights.length).set(weights);
    this.phases = weights.length / 4 - 1;
  }

  /**
   * Fetches the pixels whose places were written.
   * @param width of the part, pixels
   * @param to index of its first pixel in the outcome
   * @returns false, with nothing fetched: the part is spread too wide, or needs pixels beyond the picture's edge
   */
  fetch(width: number, height: number, out: ColourPicture, to: number): boolean {
    const count = width * height;
    const window = this.windowOf(count);
    if (!window) return false;
    const planeFloats = fours(window.width * window.height);
    if (planeFloats > WINDOW_FLOATS) return false;
    this.copyIn(window, planeFloats);
    for (let n = 0; n < 2 * count; n += 2) {
      this.places[n]! -= window.left;
      this.places[n + 1]! -= window.top;
    }
    const { at, kernel, mostPx } = this;
    kernel.fetchFour(
      ...([at.planes, 4 * planeFloats, 4 * window.width, at.places, count] as const),
      ...([at.weights, this.phases, at.out, 4 * mostPx] as const),
    );
    this.copyOut(width, height, out, to);
    return true;
  }

  /** The pixels that are needed; null: some lie beyond the edge. */
  private windowOf(count: number) {
    const { places } = this;
    let [least, most, highest, lowest] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let n = 0; n < 2 * count; n += 2) {
      const x = places[n]!;
      const y = places[n + 1]!;
      if (x < least) least = x;
      if (x > most) most = x;
      if (y < highest) highest = y;
      if (y > lowest) lowest = y;
    }
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
