import { z } from 'zod';
import { rectangle, type Cell, type LaidCells } from '../cell';
import { bond, moduleOf, typical, type AskedOfBond } from './bond';
import { lengthSchema, staggerSchema } from './boards';
import { coursesSteps } from './courses';

/** What clads roofs and walls: it shows less than it covers, and one edge stands out over the next course. */

const DOWN = 270;

const lapSchema = z
  .number()
  .min(0, 'A lap is 0 mm or more.')
  .max(200, 'A lap is at most 200 mm.')
  .describe('How far the lower edge of a piece stands out over the upper edge of the one below, mm');

const lapped = (laid: LaidCells, mm: number): LaidCells => ({
  ...laid,
  cells: laid.cells.map((cell) => (mm > 0 ? { ...cell, lap: { mm, directionDeg: DOWN } } : cell)),
});

/** Courses that come in pairs and fill the repeat. */
const pairs = (mm: number, courseMm: number) => 2 * Math.max(1, Math.round(mm / (2 * courseMm)));

const slates = bond({
  kind: 'slates',
  name: 'Slates',
  family: 'Roof and cladding',
  settings: z.object({ lapMm: lapSchema }),
  typical: typical(250, 210, 3, 1265, 1278),
  sized: 'both',
  random: false,
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const across = Math.max(1, Math.round(asked.repeatMm.width / l));
    const up = pairs(asked.repeatMm.height, w);
    const cells: Cell[] = [];
    for (let course = 0; course < up; course++)
      for (let k = 0; k < across; k++) {
        const x = (k + (course % 2) / 2) * l;
        cells.push(rectangle([x, course * w], { width: l, height: w }, { ...asked.joint, course }));
      }
    return lapped(
      { repeatMm: { width: across * l, height: up * w }, cells, courses: up },
      asked.settings.lapMm,
    );
  },
});

const shingles = bond({
  kind: 'shingles',
  name: 'Shingles',
  family: 'Roof and cladding',
  settings: z.object({
    shortestMm: lengthSchema('The narrowest shingle'),
    staggerMm: staggerSchema,
    lapMm: lapSchema,
  }),
  typical: typical(180, 125, 4, 1400, 1032),
  sized: 'both',
  random: true,
  *lay(asked) {
    const { l, w } = moduleOf(asked);
    const { shortestMm, staggerMm, lapMm } = asked.settings;
    const heights = Array<number>(pairs(asked.repeatMm.height, w)).fill(w);
    const lengths = {
      shortest: Math.min(l, shortestMm + asked.joint.acrossMm),
      longest: l,
      stagger: staggerMm,
    };
    return lapped(yield* coursesSteps(heights, lengths, asked), lapMm);
  },
});

/** Boards that run through: they have no ends within the repeat. */
function through(
  { repeatMm, widthMm, joint }: AskedOfBond<unknown>,
  coursesMm: readonly { mm: number; kind: string; raisedMm?: number }[],
): LaidCells {
  const unit = coursesMm.reduce((sum, { mm }) => sum + mm, 0);
  const times = Math.max(1, Math.round(repeatMm.height / unit));
  const cells: Cell[] = [];
  let y = 0;
  for (let n = 0; n < times; n++)
    coursesMm.forEach(({ mm, kind, raisedMm }, k) => {
      const cell = rectangle(
        [0, y],
        { width: repeatMm.width, height: mm },
        { alongMm: joint.alongMm, acrossMm: 0, course: n * coursesMm.length + k, kind },
      );
      cells.push({
        ...cell,
        nominalMm: { ...cell.nominalMm, width: kind === 'piece' ? widthMm : mm - joint.alongMm },
        ...(raisedMm ? { raisedMm } : {}),
      });
      y += mm;
    });
  return { repeatMm: { width: repeatMm.width, height: y }, cells, courses: times * coursesMm.length };
}

const boards = bond({
  kind: 'cladding',
  name: 'Cladding boards',
  family: 'Roof and cladding',
  settings: z.object({ lapMm: lapSchema }),
  typical: typical(1200, 120, 6, 1200, 1008),
  sized: 'width',
  random: false,
  lay(asked) {
    const { w } = moduleOf(asked);
    return lapped(through(asked, [{ mm: w, kind: 'piece' }]), asked.settings.lapMm);
  },
});

const batten = bond({
  kind: 'board-and-batten',
  name: 'Board and batten',
  family: 'Roof and cladding',
  settings: z.object({
    battenMm: z
      .number()
      .min(5, 'A batten is at least 5 mm wide.')
      .max(1000)
      .describe('Width of the battens, mm'),
    raisedMm: z.number().min(0).max(200).describe('How far the battens stand out, mm'),
  }),
  typical: typical(1200, 160, 0, 1200, 1025),
  sized: 'width',
  random: false,
  lay(asked) {
    const { w } = moduleOf(asked);
    const { battenMm, raisedMm } = asked.settings;
    return through(asked, [
      { mm: w, kind: 'piece' },
      { mm: battenMm + asked.joint.alongMm, kind: 'batten', raisedMm },
    ]);
  },
});

const seam = bond({
  kind: 'standing-seam',
  name: 'Standing seam',
  family: 'Roof and cladding',
  settings: z.object({
    seamMm: z.number().min(2, 'A seam is at least 2 mm wide.').max(100).describe('Width of the seams, mm'),
    raisedMm: z.number().min(0).max(200).describe('Height of the seams, mm'),
  }),
  typical: typical(1200, 430, 0, 1200, 1326),
  sized: 'width',
  random: false,
  lay(asked) {
    const { w } = moduleOf(asked);
    const { seamMm, raisedMm } = asked.settings;
    return through(asked, [
      { mm: w, kind: 'piece' },
      { mm: seamMm + asked.joint.alongMm, kind: 'seam', raisedMm },
    ]);
  },
});

export const CLADDING = [slates, shingles, boards, batten, seam] as const;
