import { execFileSync } from 'node:child_process';
import { seededRandom } from '@jossel/core/raster';
import { writeExr } from './exr';

/** Reads the file with the loader of three.js, another reader than ours; it is an ES module, which Jest does not load. */
function read(bytes: Uint8Array): { width: number; height: number; data: number[] } {
  const program = `
    const { EXRLoader } = await import('three/examples/jsm/loaders/EXRLoader.js');
    const { FloatType } = await import('three');
    const bytes = Uint8Array.from((await import('node:fs')).readFileSync(0));
    const { width, height, data } = new EXRLoader().setDataType(FloatType).parse(bytes.buffer);
    console.log(JSON.stringify({ width, height, data: Array.from(data) }));`;
  const answer = execFileSync(process.execPath, ['--input-type=module', '-e', program], {
    input: bytes,
    encoding: 'utf8',
    maxBuffer: 1e8,
  });
  return JSON.parse(answer) as ReturnType<typeof read>;
}

test.each([
  [1, 1],
  [7, 3],
  [33, 50],
  [200, 16],
])('a plane of %d × %d floats is read back by another reader, to the last bit', async (widthPx, heightPx) => {
  const random = seededRandom(widthPx);
  // Smooth rows compress; noise does not, and is stored as it is.
  const data = Float32Array.from({ length: widthPx * heightPx }, (_, i) =>
    i < 400 ? Math.fround(i / 70 - 3.5) : 1e3 * random.normal(),
  );
  const made = read(await writeExr({ widthPx, heightPx, data }, 'Height in millimetres'));
  expect([made.width, made.height]).toEqual([widthPx, heightPx]);
  const channels = made.data.length / (widthPx * heightPx);
  const rows = Array.from({ length: heightPx }, (_, y) =>
    Array.from({ length: widthPx }, (_, x) => made.data[channels * ((heightPx - 1 - y) * widthPx + x)]),
  );
  expect(rows.flat()).toEqual(Array.from(data));
});
