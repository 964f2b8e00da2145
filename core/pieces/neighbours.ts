/** The pixels around a pixel of a picture, over edges that wrap or end. One is made for many pixels: nothing is allocated for each. */
export class Neighbours {
  /** The pixels around the one last asked for, row by row; as many as `of` returned. */
  readonly at = new Int32Array(8);

  constructor(
    readonly widthPx: number,
    readonly heightPx: number,
    readonly wraps: boolean,
  ) {}

  /** Fills `at`. @param i a pixel @returns how many lie around it: fewer than eight at an edge that does not wrap */
  of(i: number): number {
    const { at, widthPx: w, heightPx: h } = this;
    const x = i % w;
    if (x === 0 || x === w - 1 || i < w || i >= w * (h - 1)) return this.overEdges(x, (i - x) / w);
    at[0] = i - w - 1;
    at[1] = i - w;
    at[2] = i - w + 1;
    at[3] = i - 1;
    at[4] = i + 1;
    at[5] = i + w - 1;
    at[6] = i + w;
    at[7] = i + w + 1;
    return 8;
  }

  private overEdges(x: number, y: number): number {
    const { at, widthPx: w, heightPx: h, wraps } = this;
    let count = 0;
    for (let v = y - 1; v <= y + 1; v++)
      for (let u = x - 1; u <= x + 1; u++) {
        if (u === x && v === y) continue;
        if (wraps) at[count++] = ((v + h) % h) * w + ((u + w) % w);
        else if (u >= 0 && v >= 0 && u < w && v < h) at[count++] = v * w + u;
      }
    return count;
  }
}

/**
 * Marks the pixels that hang together with those that are marked, over pixels that may be (hysteresis, Canny 1986).
 * @param marked 1 where a pixel is marked from the start; more become 1
 * @param may whether a pixel may be marked
 */
export function growOver(marked: Uint8Array, around: Neighbours, may: (i: number) => boolean): void {
  // Every pixel is put on the stack at most once.
  const open = new Int32Array(marked.length);
  let count = 0;
  for (let i = 0; i < marked.length; i++) if (marked[i]) open[count++] = i;
  while (count > 0) {
    const beside = around.of(open[--count]!);
    for (let k = 0; k < beside; k++) {
      const there = around.at[k]!;
      if (marked[there] || !may(there)) continue;
      marked[there] = 1;
      open[count++] = there;
    }
  }
}
