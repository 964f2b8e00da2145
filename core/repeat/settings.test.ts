import fc from 'fast-check';
import { composedAxis, MOST_TIMES_SAMPLE } from './close';
import {
  coursesOfBond,
  plainRepeat,
  repeatSchema,
  withAnotherArrangement,
  withoutArrangement,
  type RepeatSettings,
} from './settings';

const axis = { closing: 'blend', overlapMm: 10 } as const;
const PLAIN: RepeatSettings = { ...plainRepeat(), across: axis, up: axis };

test('however arrangements are added and removed, numbers are their own, and the one in use is there', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 9 }), { maxLength: 30 }), (steps) => {
      let settings = PLAIN;
      for (const step of steps)
        settings =
          step < 5
            ? withAnotherArrangement(settings)
            : withoutArrangement(
                settings,
                settings.arrangements[step % settings.arrangements.length]!.number,
              );
      expect(repeatSchema.safeParse(settings).success).toBe(true);
    }),
  );
});

test('another arrangement is in use at once; without it, the one before is', () => {
  const three = withAnotherArrangement(withAnotherArrangement(PLAIN));
  expect([three.arrangement, three.arrangements.map((a) => a.number)]).toEqual([3, [1, 2, 3]]);
  expect(withoutArrangement(three, 3).arrangement).toBe(2);
  expect(withoutArrangement(three, 1).arrangement).toBe(3);
  // The last one stays.
  expect(withoutArrangement(PLAIN, 1)).toEqual(PLAIN);
});

test.each([
  [0, 1],
  [0.5, 2],
  [0.498, 2],
  [1 / 3, 3],
  [2 / 3, 3],
  [0.25, 4],
  [0.98, 1],
  [0.4, 5],
  [7 / 8, 8],
  [0.1, 10],
  [1 / 12, 12],
])('a stagger of %f comes back after %i courses', (stagger, courses) => {
  expect(coursesOfBond(stagger)).toBe(courses);
});

test('a composed axis is a whole number of periods near what was asked, or is refused', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 10, max: 2000, noNaN: true }),
      fc.double({ min: 5, max: 400, noNaN: true }),
      fc.double({ min: 1, max: 100000, noNaN: true }),
      (sampleMm, pitchMm, wantedMm) => {
        const make = () => composedAxis('wide', wantedMm, sampleMm, pitchMm, true);
        if (wantedMm > MOST_TIMES_SAMPLE * sampleMm) expect(make).toThrow(/200 times as long as the sample/);
        else if (wantedMm < 0.5 * pitchMm) expect(make).toThrow(/smaller than one period/);
        else {
          const { repeatMm, modules } = make();
          expect(repeatMm).toBeCloseTo(modules! * pitchMm, 9);
          expect(Math.abs(repeatMm - wantedMm)).toBeLessThanOrEqual(0.5 * pitchMm + 1e-9);
        }
      },
    ),
  );
  // An open edge needs no whole period, and nothing asked is as the sample.
  expect(composedAxis('high', 130, 300, 50, false)).toMatchObject({ repeatMm: 130 });
  expect(composedAxis('high', null, 300, null, true).repeatMm).toBe(300);
});
