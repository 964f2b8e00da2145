import { z } from 'zod';
import type { Random } from '../../raster';
import type { Steps } from '../../steps';
import type { LaidCells } from '../cell';
import { roughSteps, type Roughness } from '../rough';
import { bond, moduleOf, typical, type AskedOfBond, type Bond, type Sizes } from './bond';
import { lengthSchema, staggerSchema } from './boards';
import { coursesSteps } from './courses';
import { fittingSteps, type StoneSize } from './fitted';
import { irregularSteps } from './irregular';

/** Walls and paving of stone. */

const roughSchema = z
  .number()
  .min(0, 'A roughness is 0 or more.')
  .max(1, 'A roughness is at most 1.')
  .describe('How rough the stones are dressed: 0 sawn, 1 as found');

function* rougher(laid: LaidCells, rough: Roughness, random: Random): Steps<LaidCells> {
  if (rough.roundMm === 0) return laid;
  return { ...laid, cells: yield* roughSteps(laid.cells, laid.repeatMm, rough, random) };
}

/** Stones in courses of heights that come one after another. */
function inCourses(
  asked: AskedOfBond<{ shortestMm: number; staggerMm: number }>,
  shares: readonly number[],
): Steps<LaidCells> {
  const { l, w } = moduleOf(asked);
  const { shortestMm, staggerMm } = asked.settings;
  const heights: number[] = [];
  for (let y = 0; y < asked.repeatMm.height - w / 2 || heights.length < 2;)
    y += heights[heights.push(w * shares[heights.length % shares.length]!) - 1]!;
  return coursesSteps(
    heights,
    { shortest: Math.min(l, shortestMm + asked.joint.acrossMm), longest: l, stagger: staggerMm },
    asked,
  );
}

/** Heights of courses of ashlar, as shares of the asked one. */
const COURSES = [1, 0.72, 1.16, 0.84, 1.3, 0.94, 0.78];

const coursedAshlar = bond({
  kind: 'coursed-ashlar',
  name: 'Coursed ashlar',
  family: 'Stone',
  settings: z.object({ shortestMm: lengthSchema('The shortest stone'), staggerMm: staggerSchema }),
  typical: typical(600, 220, 6, 2400, 1600),
  sized: 'both',
  random: true,
  lay: (asked) => inCourses(asked, COURSES),
});

const coursedRubble = bond({
  kind: 'coursed-rubble',
  name: 'Coursed rubble',
  family: 'Stone',
  settings: z.object({
    shortestMm: lengthSchema('The shortest stone'),
    staggerMm: staggerSchema,
    rough: roughSchema,
  }),
  typical: typical(380, 150, 14, 2000, 1300),
  sized: 'both',
  random: true,
  *lay(asked) {
    return yield* rougher(yield* inCourses(asked, COURSES), roughOf(asked, 0.22), asked.random);
  },
});

const roughOf = ({ widthMm, settings }: AskedOfBond<{ rough: number }>, most: number): Roughness => ({
  cornerMm: most * settings.rough * widthMm * 0.5,
  edgeMm: most * settings.rough * widthMm * 0.35,
  roundMm: most * settings.rough * widthMm * 0.6,
  stepMm: Math.max(4, 0.16 * widthMm),
});

/** Modules of an opus pattern: four sizes of slab, the square of one module the smallest. */
const OPUS: readonly StoneSize[] = [
  { along: 1, up: 1, share: 0.1 },
  { along: 2, up: 1, share: 0.12 },
  { along: 1, up: 2, share: 0.12 },
  { along: 2, up: 2, share: 0.3 },
  { along: 3, up: 2, share: 0.18 },
  { along: 2, up: 3, share: 0.18 },
];
const ASHLAR: readonly StoneSize[] = [
  { along: 2, up: 1, share: 0.16 },
  { along: 3, up: 1, share: 0.14 },
  { along: 4, up: 2, share: 0.24 },
  { along: 3, up: 2, share: 0.24 },
  { along: 2, up: 2, share: 0.12 },
  { along: 1, up: 1, share: 0.04 },
  { along: 5, up: 3, share: 0.06 },
];
const DRY: readonly StoneSize[] = [
  { along: 3, up: 1, share: 0.3 },
  { along: 4, up: 1, share: 0.22 },
  { along: 2, up: 1, share: 0.14 },
  { along: 4, up: 2, share: 0.16 },
  { along: 3, up: 2, share: 0.14 },
  { along: 1, up: 1, share: 0.04 },
];

type Modules = (asked: Sizes) => { width: number; height: number };
/** Length and width of one module with its joint, mm: a piece is so many modules long and wide. */
const modules =
  (along: number, up: number): Modules =>
  (asked) => {
    const { l, w } = moduleOf(asked);
    return { width: l / along, height: w / up };
  };

/** The whole modules that are nearest to a repeat. */
const countOf = (
  { repeatMm, ...asked }: Sizes & { repeatMm: { width: number; height: number } },
  of: Modules,
) => {
  const { width, height } = of(asked);
  return {
    columns: Math.max(6, Math.round(repeatMm.width / width)),
    rows: Math.max(6, Math.round(repeatMm.height / height)),
  };
};

const sizeInModules =
  (of: Modules): NonNullable<Bond['sizeMm']> =>
  (asked) => {
    const { columns, rows } = countOf(asked, of);
    const { width, height } = of(asked);
    return { width: columns * width, height: rows * height };
  };

/** Stones fitted on modules. */
const fitted = (
  asked: AskedOfBond<unknown>,
  of: Modules,
  sizes: readonly StoneSize[],
  longestJoint: { upright: number; level: number },
): Steps<LaidCells> =>
  fittingSteps({
    ...countOf(asked, of),
    sizes,
    longestJoint,
    moduleMm: of(asked),
    joint: asked.joint,
    random: asked.random,
  });

const OPUS_MODULES = modules(2, 2);
const ASHLAR_MODULES = modules(3, 2);
const DRY_MODULES = modules(3, 1);

const opus = bond({
  kind: 'opus',
  name: 'Opus pattern',
  family: 'Stone',
  settings: z.object({}),
  typical: typical(400, 400, 5, 2430, 2430),
  sized: 'both',
  random: true,
  sizeMm: sizeInModules(OPUS_MODULES),
  lay: (asked) => fitted(asked, OPUS_MODULES, OPUS, { upright: 4, level: 4 }),
});

const ashlar = bond({
  kind: 'random-ashlar',
  name: 'Random ashlar',
  family: 'Stone',
  settings: z.object({}),
  typical: typical(450, 220, 8, 2750, 1824),
  sized: 'both',
  random: true,
  sizeMm: sizeInModules(ASHLAR_MODULES),
  lay: (asked) => fitted(asked, ASHLAR_MODULES, ASHLAR, { upright: 3, level: 9 }),
});

const randomRubble = bond({
  kind: 'random-rubble',
  name: 'Random rubble',
  family: 'Stone',
  settings: z.object({ rough: roughSchema }),
  typical: typical(330, 180, 16, 2000, 1400),
  sized: 'both',
  random: true,
  sizeMm: sizeInModules(ASHLAR_MODULES),
  *lay(asked) {
    const laid = yield* fitted(asked, ASHLAR_MODULES, ASHLAR, { upright: 3, level: 6 });
    return yield* rougher(laid, roughOf(asked, 0.32), asked.random);
  },
});

const dryStone = bond({
  kind: 'dry-stone',
  name: 'Dry-laid stone',
  family: 'Stone',
  settings: z.object({ rough: roughSchema }),
  typical: typical(280, 70, 4, 1700, 1100),
  sized: 'both',
  random: true,
  sizeMm: sizeInModules(DRY_MODULES),
  *lay(asked) {
    const laid = yield* fitted(asked, DRY_MODULES, DRY, { upright: 2, level: 8 });
    return yield* rougher(laid, roughOf(asked, 0.3), asked.random);
  },
});

const varietySchema = z
  .number()
  .min(0, 'A variety is from 0 to 1.')
  .max(1, 'A variety is from 0 to 1.')
  .describe('How much the sizes of stones differ: 0 alike, 1 most');

function* irregular(asked: AskedOfBond<{ variety: number }>): Steps<LaidCells> {
  const { l, w } = moduleOf(asked);
  const { repeatMm, joint, random, settings } = asked;
  const cells = yield* irregularSteps({
    repeatMm,
    length: l,
    width: w,
    variety: settings.variety,
    jointMm: joint.alongMm,
    random,
  });
  return { repeatMm, cells, courses: 1 };
}

const fieldstone = bond({
  kind: 'fieldstone',
  name: 'Fieldstone',
  family: 'Stone',
  settings: z.object({ rough: roughSchema, variety: varietySchema }),
  typical: typical(300, 220, 20, 2000, 1500),
  sized: 'both',
  random: true,
  sizeMm: ({ repeatMm }) => repeatMm,
  *lay(asked) {
    return yield* rougher(yield* irregular(asked), { ...roughOf(asked, 0.16), cornerMm: 0 }, asked.random);
  },
});

const crazyPaving = bond({
  kind: 'crazy-paving',
  name: 'Crazy paving',
  family: 'Stone',
  settings: z.object({ rough: roughSchema, variety: varietySchema }),
  typical: typical(420, 360, 12, 2400, 2000),
  sized: 'both',
  random: true,
  sizeMm: ({ repeatMm }) => repeatMm,
  *lay(asked) {
    return yield* rougher(yield* irregular(asked), { ...roughOf(asked, 0.07), cornerMm: 0 }, asked.random);
  },
});

const mosaic = bond({
  kind: 'mosaic',
  name: 'Mosaic',
  family: 'Tiles',
  settings: z.object({
    shortestMm: lengthSchema('The shortest tessera'),
    staggerMm: staggerSchema,
    rough: roughSchema,
  }),
  typical: typical(26, 20, 2, 240, 176),
  sized: 'both',
  random: true,
  *lay(asked) {
    return yield* rougher(yield* inCourses(asked, [1]), roughOf(asked, 0.14), asked.random);
  },
});

export const STONE = [
  coursedAshlar,
  ashlar,
  opus,
  coursedRubble,
  randomRubble,
  dryStone,
  fieldstone,
  crazyPaving,
  mosaic,
] as const;
