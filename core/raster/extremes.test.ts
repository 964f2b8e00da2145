import fc from 'fast-check';
import { extremes, makePlane } from '.';

test('the greatest of a neighbourhood is that of looking at all of it, over edges that wrap or end', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 35, maxLength: 35 }),
      fc.integer({ min: 0, max: 4 }),
      fc.boolean(),
      (values, reach, wraps) => {
        const plane = makePlane(7, 5);
        plane.data.set(values);
        const found = extremes(plane, reach, 'greatest', wraps);
        for (let y = 0; y < 5; y++)
          for (let x = 0; x < 7; x++) {
            let most = -Infinity;
            for (let j = y - reach; j <= y + reach; j++)
              for (let i = x - reach; i <= x + reach; i++) {
                if (!wraps && (i < 0 || j < 0 || i > 6 || j > 4)) continue;
                most = Math.max(most, values[(((j % 5) + 5) % 5) * 7 + (((i % 7) + 7) % 7)]!);
              }
            expect(found.data[y * 7 + x]).toBe(most);
          }
        // The least is the greatest of the negative.
        const negative = { ...plane, data: plane.data.map((v) => -v) };
        const least = extremes(plane, reach, 'least', wraps).data.map((v) => -v);
        expect(Array.from(extremes(negative, reach, 'greatest', wraps).data, (v) => v + 0)).toEqual(
          Array.from(least, (v) => v + 0),
        );
      },
    ),
    { numRuns: 60 },
  );
});
