import { boarded, coursed, herringbone, hexagons, mixedBoards, stones, woven, type Laying } from './laying';

/** Every kind of laying that is photographed, by name, with what truly repeats in it. */

/** A brick and its joint, mm: twice a header is a stretcher. */
const [STRETCHER, HEADER, COURSE] = [240, 120, 75];

const bond = (
  name: string,
  courses: [fromMm: number, ...lengthsMm: number[]][],
  truth: Laying['truth'],
  seed: number,
  [jointMm, strayMm] = [10, 1.2] as readonly number[],
) =>
  coursed(
    name,
    courses.map(([fromMm, ...lengthsMm]) => ({ fromMm, lengthsMm })),
    COURSE,
    truth,
    { seed, jointMm: jointMm!, strayMm: strayMm! },
  );

export const LAYINGS: Record<string, (seed: number) => Laying> = {
  'half bond': (seed) =>
    bond(
      'half bond',
      [
        [0, STRETCHER],
        [STRETCHER / 2, STRETCHER],
      ],
      { acrossMm: STRETCHER, upMm: COURSE, stagger: 0.5 },
      seed,
    ),
  'third bond': (seed) =>
    bond(
      'third bond',
      [
        [0, STRETCHER],
        [STRETCHER / 3, STRETCHER],
        [(2 * STRETCHER) / 3, STRETCHER],
      ],
      {
        acrossMm: STRETCHER,
        upMm: COURSE,
        stagger: 1 / 3,
      },
      seed,
    ),
  'stack bond': (seed) =>
    bond('stack bond', [[0, STRETCHER]], { acrossMm: STRETCHER, upMm: COURSE, stagger: 0 }, seed, [6, 0.6]),
  'English bond': (seed) =>
    bond(
      'English bond',
      [
        [0, STRETCHER],
        [HEADER / 2, HEADER, HEADER],
      ],
      { acrossMm: STRETCHER, upMm: 2 * COURSE, stagger: 0 },
      seed,
    ),
  'Flemish bond': (seed) =>
    bond(
      'Flemish bond',
      [
        [0, STRETCHER, HEADER],
        [(STRETCHER + HEADER) / 2, STRETCHER, HEADER],
      ],
      { acrossMm: STRETCHER + HEADER, upMm: COURSE, stagger: 0.5 },
      seed,
    ),
  'garden wall bond': (seed) =>
    bond(
      'garden wall bond',
      [
        [0, STRETCHER],
        [STRETCHER / 2, STRETCHER],
        [0, STRETCHER],
        [HEADER / 2, HEADER, HEADER],
      ],
      { acrossMm: STRETCHER, upMm: 4 * COURSE, stagger: 0 },
      seed,
    ),
  slates: (seed) =>
    bond(
      'slates',
      [
        [0, STRETCHER / 1.5],
        [STRETCHER / 3, STRETCHER / 1.5],
      ],
      { acrossMm: STRETCHER / 1.5, upMm: COURSE, stagger: 0.5 },
      seed,
      [4, 2],
    ),
  hexagons: () => hexagons(120),
  herringbone: () => herringbone(76),
  boards: (seed) => boarded(92, seed),
  'plain weave, two yarns': () =>
    woven('plain weave, two yarns', 14, [2, 2], (i, j) => (i + j) % 2 === 0, {
      acrossMm: 28,
      upMm: 14,
      stagger: 0.5,
    }),
  twill: () =>
    woven('twill', 14, [4, 4], (i, j) => (i + j) % 4 < 2, { acrossMm: 56, upMm: 14, stagger: 0.75 }),
  cobbles: (seed) => stones('cobbles', 110, 0.75, seed),
  'crazy paving': (seed) => stones('crazy paving', 260, 1, seed, 15),
  'boards of several widths': (seed) => mixedBoards(seed),
};
