import fc from 'fast-check';
import { makePlane } from '../raster';
import { opacityOf } from './openness';

test('a weave is open where it is lowest, in the share that was asked for', () => {
  const weave = makePlane(64, 64);
  for (let y = 0; y < 64; y++)
    for (let x = 0; x < 64; x++)
      weave.data[64 * y + x] = Math.abs(Math.sin((x * Math.PI) / 8)) + Math.abs(Math.sin((y * Math.PI) / 8));
  fc.assert(
    fc.property(fc.double({ min: 0.01, max: 0.9, noNaN: true }), (open) => {
      const { data } = opacityOf(weave, open);
      let sum = 0;
      for (const v of data) sum += v;
      expect(1 - sum / data.length).toBeCloseTo(open, 3);
    }),
  );
  const { data } = opacityOf(weave, 0.12);
  expect(data[0]).toBe(0); // between four threads
  expect(data[64 * 4 + 4]).toBe(1); // where two threads cross
});

test('nothing open is opaque everywhere, and a flat plane has no place to open but keeps its share', () => {
  expect(Math.min(...opacityOf(makePlane(8, 8), 0).data)).toBe(1);
  const flat = opacityOf(makePlane(8, 8), 0.3).data;
  expect(flat[0]).toBeCloseTo(0.7, 3);
});
