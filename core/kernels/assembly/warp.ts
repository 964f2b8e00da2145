// AssemblyScript, compiled by `npm run kernels` to ../warp.wasm.ts; core/straighten/four-taps.ts fills its memory.

/**
 * Fetches pixels of three planes of f32 from between their pixels, four by four weighted values each. Sums are of f64, in the
 * order of the columns and then of the rows.
 *
 * Red and green share a vector; blue has the sums of two rows in one.
 * @param planes three windows one after another, `planeBytes` apart
 * @param rowBytes from one row of a window to the next
 * @param places f64, across and down for each pixel: whole numbers are the middles of pixels of the window
 * @param weights f64, four for each of `phases` + 1 places between two pixels
 * @param out three rows of f32, `outBytes` apart
 */
export function fetchFour(
  planes: usize,
  planeBytes: usize,
  rowBytes: usize,
  places: usize,
  count: i32,
  weights: usize,
  phases: f64,
  out: usize,
  outBytes: usize,
): void {
  for (let n = 0; n < count; n++, places += 16, out += 4) {
    const x = load<f64>(places);
    const y = load<f64>(places, 8);
    const x0 = <i32>x;
    const y0 = <i32>y;
    const across = weights + ((<usize>(<i32>((x - <f64>x0) * phases + 0.5))) << 5);
    const down = weights + ((<usize>(<i32>((y - <f64>y0) * phases + 0.5))) << 5);
    const a0 = v128.load_splat<f64>(across);
    const a1 = v128.load_splat<f64>(across, 8);
    const a2 = v128.load_splat<f64>(across, 16);
    const a3 = v128.load_splat<f64>(across, 24);
    let red = planes + <usize>(y0 - 1) * rowBytes + ((<usize>(x0 - 1)) << 2);
    let redAndGreen = f64x2.splat(0);
    let blue: f64 = 0;
    for (let row: usize = 0; row < 32; row += 16) {
      const next = red + rowBytes;
      const upper = summed(v128.load(red), v128.load(red + planeBytes), a0, a1, a2, a3);
      redAndGreen = f64x2.add(redAndGreen, f64x2.mul(v128.load_splat<f64>(down + row), upper));
      const lower = summed(v128.load(next), v128.load(next + planeBytes), a0, a1, a2, a3);
      redAndGreen = f64x2.add(redAndGreen, f64x2.mul(v128.load_splat<f64>(down + row, 8), lower));
      const blues = f64x2.mul(
        v128.load(down + row),
        summed(v128.load(red + 2 * planeBytes), v128.load(next + 2 * planeBytes), a0, a1, a2, a3),
      );
      blue += f64x2.extract_lane(blues, 0);
      blue += f64x2.extract_lane(blues, 1);
      red = next + rowBytes;
    }
    store<f32>(out, <f32>f64x2.extract_lane(redAndGreen, 0));
    store<f32>(out + outBytes, <f32>f64x2.extract_lane(redAndGreen, 1));
    store<f32>(out + 2 * outBytes, <f32>blue);
  }
}

/** Weighted sums of four values each, of two rows side by side. */
function summed(one: v128, other: v128, a0: v128, a1: v128, a2: v128, a3: v128): v128 {
  const begin = v128.shuffle<f32>(one, other, 0, 4, 1, 5);
  const end = v128.shuffle<f32>(one, other, 2, 6, 3, 7);
  let sum = f64x2.mul(a0, f64x2.promote_low_f32x4(begin));
  sum = f64x2.add(sum, f64x2.mul(a1, f64x2.promote_low_f32x4(v128.shuffle<f64>(begin, begin, 1, 1))));
  sum = f64x2.add(sum, f64x2.mul(a2, f64x2.promote_low_f32x4(end)));
  return f64x2.add(sum, f64x2.mul(a3, f64x2.promote_low_f32x4(v128.shuffle<f64>(end, end, 1, 1))));
}
