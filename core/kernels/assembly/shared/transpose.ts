/**
 * Turns rows into columns, four by four values of f32 at a time. Reads and writes up to three rows and columns beyond the end,
 * so that both sides need room for whole fours.
 * @param fromStride floats from one row to the next, a multiple of four, as toStride
 */
export function transpose(
  from: usize,
  fromStride: i32,
  columns: i32,
  rows: i32,
  to: usize,
  toStride: i32,
): void {
  const fromBytes = (<usize>fromStride) << 2;
  const toBytes = (<usize>toStride) << 2;
  for (let y = 0; y < rows; y += 4)
    for (let x = 0; x < columns; x += 4) {
      const at = from + <usize>y * fromBytes + ((<usize>x) << 2);
      const a = v128.load(at);
      const b = v128.load(at + fromBytes);
      const c = v128.load(at + 2 * fromBytes);
      const d = v128.load(at + 3 * fromBytes);
      const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
      const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
      const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
      const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
      const out = to + <usize>x * toBytes + ((<usize>y) << 2);
      v128.store(out, v128.shuffle<f32>(ab0, cd0, 0, 1, 4, 5));
      v128.store(out + toBytes, v128.shuffle<f32>(ab0, cd0, 2, 3, 6, 7));
      v128.store(out + 2 * toBytes, v128.shuffle<f32>(ab1, cd1, 0, 1, 4, 5));
      v128.store(out + 3 * toBytes, v128.shuffle<f32>(ab1, cd1, 2, 3, 6, 7));
    }
}
