/** Sums over windows of a plane in four steps: an integral image. */
export class SummedAreaTable {
  private readonly data: Float64Array;

  /** @param value of each pixel */
  constructor(
    private readonly widthPx: number,
    heightPx: number,
    value: (x: number, y: number) => number,
  ) {
    const s = widthPx + 1;
    this.data = new Float64Array(s * (heightPx + 1));
    for (let y = 0; y < heightPx; y++) {
      let row = 0;
      for (let x = 0; x < widthPx; x++) {
        row += value(x, y);
        this.data[(y + 1) * s + x + 1] = this.data[y * s + x + 1]! + row;
      }
    }
  }

  over(x: number, y: number, w: number, h: number): number {
    const { data } = this;
    const s = this.widthPx + 1;
    return data[(y + h) * s + x + w]! - data[y * s + x + w]! - data[(y + h) * s + x]! + data[y * s + x]!;
  }
}
