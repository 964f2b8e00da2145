import { z } from 'zod';
import { rectangle, type Cell } from '../cell';
import { bond, moduleOf, typical, type AskedOfBond, type Sizes } from './bond';
import { repeatedUnit } from './periodic';

/** Bonds of brickwork: stretchers show their length, headers their end, which is half a module. */

const none = z.object({});

interface InCourse {
  at: number;
  length: number;
  kind: string;
}

/** Courses of pieces one above another, each shifted, as one unit. */
function coursed(
  { joint, widthMm }: Sizes,
  unitMm: number,
  courses: readonly (readonly InCourse[])[],
): { widthMm: number; heightMm: number; cells: Cell[]; courses: number } {
  const w = widthMm + joint.alongMm;
  return {
    widthMm: unitMm,
    heightMm: courses.length * w,
    courses: courses.length,
    cells: courses.flatMap((pieces, course) =>
      pieces.map(({ at, length, kind }) =>
        rectangle([at, course * w], { width: length, height: w }, { ...joint, course, kind }),
      ),
    ),
  };
}

const run = (start: number, ...lengths: readonly [number, string][]): InCourse[] => {
  let at = start;
  return lengths.map(([length, kind]) => {
    const piece = { at, length, kind };
    at += length;
    return piece;
  });
};

const header = bond({
  kind: 'header',
  name: 'Header bond',
  family: 'Brickwork',
  settings: none,
  typical: typical(215, 65, 10, 900, 450),
  sized: 'both',
  random: false,
  lay(asked) {
    const half = moduleOf(asked).l / 2;
    const courses = [run(0, [half, 'header']), run(half / 2, [half, 'header'])];
    return repeatedUnit(coursed(asked, half, courses), asked.repeatMm);
  },
});

const english = bond({
  kind: 'english',
  name: 'English bond',
  family: 'Brickwork',
  settings: z.object({
    stretcherCourses: z
      .number()
      .int()
      .min(1, 'At least one course of stretchers stands between headers.')
      .max(9, 'At most nine courses of stretchers stand between headers.')
      .describe('Courses of stretchers between two of headers: 1 English, 3 or 5 English garden wall'),
  }),
  typical: typical(215, 65, 10, 900, 450),
  sized: 'both',
  random: false,
  lay(asked) {
    const { l } = moduleOf(asked);
    const stretchers = Array.from({ length: asked.settings.stretcherCourses }, (_, k) =>
      run(k % 2 === 0 ? 0 : l / 2, [l, 'stretcher']),
    );
    const headers = run(l / 4, [l / 2, 'header'], [l / 2, 'header']);
    return repeatedUnit(coursed(asked, l, [...stretchers, headers]), asked.repeatMm);
  },
});

/** Stretchers and a header in every course; each header stands over the middle of the stretchers below. */
function flemishOf(stretchers: number, asked: AskedOfBond<unknown>) {
  const { l } = moduleOf(asked);
  const course = [...Array.from({ length: stretchers }, () => [l, 'stretcher'] as [number, string])];
  course.push([l / 2, 'header']);
  const unit = (stretchers + 0.5) * l;
  return repeatedUnit(coursed(asked, unit, [run(0, ...course), run(unit / 2, ...course)]), asked.repeatMm);
}

const flemish = bond({
  kind: 'flemish',
  name: 'Flemish bond',
  family: 'Brickwork',
  settings: none,
  typical: typical(215, 65, 10, 1000, 450),
  sized: 'both',
  random: false,
  lay: (asked) => flemishOf(1, asked),
});

const monk = bond({
  kind: 'monk',
  name: 'Monk bond',
  family: 'Brickwork',
  settings: none,
  typical: typical(215, 65, 10, 1120, 450),
  sized: 'both',
  random: false,
  lay: (asked) => flemishOf(2, asked),
});

export const BRICKWORK = [header, english, flemish, monk] as const;
