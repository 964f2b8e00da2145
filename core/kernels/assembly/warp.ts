// AssemblyScript, compiled by `npm run kernels` to ../warp.wasm.ts; core/straighten/four-taps.ts fills its memory.

/** Where the numbers of a projection lie, f64: nine of its matrix, then those below. */
const ACROSS_PER_PX: usize = 72;
const HEIGHT_PX: usize = 80;
const HALF: usize = 88;
const MIDDLE_X: usize = 96;
const MIDDLE_Y: usize = 104;
/** The least and the greatest place across, and down, are written here. */
const BOUNDS: usize = 112;

/**
 * Finds where the pixels of a part of a straightened picture lie in the picture, two at a time, and between which places.
 * @param projection its numbers
 * @param bow factors of the lens bow over the square of the radius, f64; 0: it has none
 * @param bowPerSquare entries of that table for a square radius of one, `bowSteps` entries in all
 * @param places f64, across and down for each pixel; room for one more than there are
 */
export function place(
  projection: usize,
  bow: usize,
  bowPerSquare: f64,
  bowSteps: f64,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  places: usize,
): void {
  const h0 = v128.load_splat<f64>(projection);
  const h3 = v128.load_splat<f64>(projection, 24);
  const h6 = v128.load_splat<f64>(projection, 48);
  const h2 = v128.load_splat<f64>(projection, 16);
  const h5 = v128.load_splat<f64>(projection, 40);
  const h8 = v128.load_splat<f64>(projection, 64);
  const acrossPerPx = v128.load_splat<f64>(projection, ACROSS_PER_PX);
  const half = v128.load_splat<f64>(projection, HALF);
  const middleX = v128.load_splat<f64>(projection, MIDDLE_X);
  const middleY = v128.load_splat<f64>(projection, MIDDLE_Y);
  const one = f64x2.splat(1);
  let leastX = f64x2.splat(Infinity);
  let leastY = leastX;
  let mostX = f64x2.splat(-Infinity);
  let mostY = mostX;
  for (let y = top; y < bottom; y++) {
    const v = (<f64>y + 0.5) / load<f64>(projection, HEIGHT_PX);
    const h1v = f64x2.splat(load<f64>(projection, 8) * v);
    const h4v = f64x2.splat(load<f64>(projection, 32) * v);
    const h7v = f64x2.splat(load<f64>(projection, 56) * v);
    for (let x = left; x < right; x += 2) {
      const first = <f64>x + 0.5;
      // Beyond the end of a row its last pixel counts twice.
      const at = f64x2.replace_lane(f64x2.splat(first), 1, x + 1 < right ? first + 1 : first);
      const u = f64x2.mul(at, acrossPerPx);
      const w = f64x2.div(one, f64x2.add(f64x2.add(f64x2.mul(h6, u), h7v), h8));
      let px = f64x2.mul(f64x2.add(f64x2.add(f64x2.mul(h0, u), h1v), h2), w);
      let py = f64x2.mul(f64x2.add(f64x2.add(f64x2.mul(h3, u), h4v), h5), w);
      if (bow != 0) {
        const square = f64x2.add(f64x2.mul(px, px), f64x2.mul(py, py));
        let s = f64x2.splat(factorAt(bow, f64x2.extract_lane(square, 0), bowPerSquare, bowSteps));
        s = f64x2.replace_lane(s, 1, factorAt(bow, f64x2.extract_lane(square, 1), bowPerSquare, bowSteps));
        px = f64x2.mul(px, s);
        py = f64x2.mul(py, s);
      }
      px = f64x2.add(f64x2.mul(px, half), middleX);
      py = f64x2.add(f64x2.mul(py, half), middleY);
      leastX = f64x2.min(leastX, px);
      mostX = f64x2.max(mostX, px);
      leastY = f64x2.min(leastY, py);
      mostY = f64x2.max(mostY, py);
      v128.store(places, v128.shuffle<f64>(px, py, 0, 2));
      v128.store(places, v128.shuffle<f64>(px, py, 1, 3), 16);
      places += x + 1 < right ? 32 : 16;
    }
  }
  store<f64>(projection, min(f64x2.extract_lane(leastX, 0), f64x2.extract_lane(leastX, 1)), BOUNDS);
  store<f64>(projection, max(f64x2.extract_lane(mostX, 0), f64x2.extract_lane(mostX, 1)), BOUNDS + 8);
  store<f64>(projection, min(f64x2.extract_lane(leastY, 0), f64x2.extract_lane(leastY, 1)), BOUNDS + 16);
  store<f64>(projection, max(f64x2.extract_lane(mostY, 0), f64x2.extract_lane(mostY, 1)), BOUNDS + 24);
}

/** A factor of the lens bow, between two entries of its table. */
function factorAt(bow: usize, square: f64, perSquare: f64, steps: f64): f64 {
  const at = min(steps, square * perSquare);
  const k = <usize>at;
  const entry = bow + (k << 3);
  return load<f64>(entry) + (load<f64>(entry, 8) - load<f64>(entry)) * (at - <f64>k);
}

/**
 * Fetches pixels of three planes of f32 from between their pixels, four by four weighted values each. Sums are of f64, in the
 * order of the columns and then of the rows.
 *
 * Red and green share a vector; blue has the sums of two rows in one.
 * @param planes three windows one after another, `planeBytes` apart
 * @param rowBytes from one row of a window to the next
 * @param places f64, across and down for each pixel of a picture of which the window is a part
 * @param left, top column and row of the picture that the window begins at
 * @param weights f64, four for each of `phases` + 1 places between two pixels
 * @param out three rows of f32, `outBytes` apart
 */
export function fetchFour(
  planes: usize,
  planeBytes: usize,
  rowBytes: usize,
  left: f64,
  top: f64,
  places: usize,
  count: i32,
  weights: usize,
  phases: f64,
  out: usize,
  outBytes: usize,
): void {
  for (let n = 0; n < count; n++, places += 16, out += 4) {
    const x = load<f64>(places) - left;
    const y = load<f64>(places, 8) - top;
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
