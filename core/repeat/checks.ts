import type { FoundStructure } from '../size';
import { open, wrong, type Check } from '../surface';
import { printNumber } from '../units';
import type { ClosedAxis } from './close';
import type { RepeatPlan } from './plan';
import { coursesOfBond, type RepeatSettings } from './settings';
import type { RepeatReport } from './report';

/** An edge shows when it is so many times as steep as nineteen of twenty lines inside. */
const BEYOND_LINES = 1.1;
/** Stretched by less is not worth a word. */
const LEAST_STRETCH = 0.0005;

const MM = '\u2009mm';

/**
 * What does not hold of a repeat.
 * @param ofBoards it is laid of whole boards
 */
export const checkRepeat = (
  repeat: RepeatSettings,
  plan: RepeatPlan,
  report: RepeatReport,
  ofBoards: boolean,
): Check[] => [
  ...edgesThatShow(plan, report),
  ...againstTheCount(repeat, plan),
  ...cutBond(repeat, plan),
  ...(ofBoards ? [] : cutAlongCourses(plan)),
  ...otherThanAsked(repeat, plan),
  ...stretches(repeat, report),
  ...brokenLines(report),
  ...scaledElements(repeat),
  ...inferredDetail(report),
  ...leftByTarget(report),
];

/**
 * Whether an edge of a repeat shows as a seam.
 * @param figure contrast across it over that inside
 * @param inside what lines inside have
 * @param counted it is compared with few others: those between modules
 */
export const edgeShows = (figure: number, inside: { to: number }, counted = false): boolean =>
  // Lines of some finishes differ much by nature.
  figure > Math.max(counted ? 1.25 : 1.15, BEYOND_LINES * inside.to);

function edgesThatShow(plan: RepeatPlan, { seam }: RepeatReport): Check[] {
  const edge = (
    code: string,
    name: string,
    value: number,
    axis: ClosedAxis,
    inside: { to: number },
  ): Check[] => {
    if (!edgeShows(value, inside, axis.modules !== undefined)) return [];
    const text = `${name} do not match: ${printNumber(value, 2)} times the contrast inside, where lines have up to ${printNumber(inside.to, 2)}.`;
    return [wrong('repeat', code, text)];
  };
  return [
    ...edge('seam-across', 'Left and right edges', seam.acrossWidth, plan.across, seam.inside.acrossWidth),
    ...edge('seam-up', 'Top and bottom edges', seam.acrossHeight, plan.up, seam.inside.acrossHeight),
  ];
}

/** A period this near to whole modules is made of them. */
const WHOLE_MODULES = 0.02;

/** A structure whose periods are not whole modules of those that were counted. */
function againstTheCount({ structure }: RepeatSettings, plan: RepeatPlan): Check[] {
  return (['across', 'up'] as const).flatMap((axis) => {
    const module = plan.moduleMm[axis];
    if (!structure[axis] || !plan.pitchMm[axis] || !module) return [];
    const pitch = plan.pitchMm[axis] / (1 + (plan[axis].stretch ?? 0));
    const times = pitch / module;
    if (Math.abs(times / Math.max(1, Math.round(times)) - 1) <= WHOLE_MODULES) return [];
    return [
      wrong(
        'repeat',
        `against-count-${axis}`,
        `The repeat keeps to periods of ${printNumber(pitch)}${MM} ${axis}; by the size, one module is ${printNumber(module)}${MM}. Modules are cut.`,
      ),
    ];
  });
}

/** Where lines run one way only, nothing keeps copies in step along them: boards get other lengths. */
function cutAlongCourses({ kind, pitchMm }: RepeatPlan): Check[] {
  if (kind !== 'composed' || (pitchMm.across === null) === (pitchMm.up === null)) return [];
  return [
    open(
      'repeat',
      'courses-cut',
      'The structure runs one way. Boards are cut at their ends where these are seen, so that some are shorter or longer than in the sample. They keep their lengths when they are laid: lay the pieces of the sample under Layout.',
    ),
  ];
}

/** At edges that are cut or blended a bond goes on only after all its courses: otherwise two like ones meet. */
function cutBond({ method, up, structure }: RepeatSettings, { courses, pitchMm }: RepeatPlan): Check[] {
  const bond = pitchMm.across ? coursesOfBond(structure.stagger) : 1;
  if (method !== 'edges' || up.closing === 'mirror' || bond === 1 || !courses.up || courses.up % bond === 0)
    return [];
  return [
    wrong(
      'repeat',
      'bond-cut',
      `The bond comes back after ${bond} courses, and the repeat holds ${courses.up}: at its upper edge courses meet that do not belong together. ${bond === 2 ? 'Double the period up' : 'Compose the repeat anew'}, so that whole bonds are kept.`,
    ),
  ];
}

/** A repeat holds whole periods when it differs by less than this share of one. */
const WHOLE_PERIODS = 0.06;

/**
 * A structure of the sample that the repeat does not hold in whole periods: pieces are cut where copies meet.
 * @param found in the leading picture
 * @param frameMm size of that picture
 */
export function checkStructureKept(
  repeat: RepeatSettings,
  plan: RepeatPlan,
  found: FoundStructure,
  frameMm: { width: number; height: number },
): Check[] {
  const side = (axis: 'across' | 'up', mm: number, repeatMm: number): Check[] => {
    const period = found[axis];
    // A mirrored edge meets itself, and a structure that was kept is judged with the count.
    if (!period || plan.pitchMm[axis] || (repeat.method === 'edges' && repeat[axis].closing === 'mirror'))
      return [];
    const pitch = repeat.elements.scale * period.period * mm;
    const held = repeatMm / pitch;
    if (Math.abs(held - Math.round(held)) <= WHOLE_PERIODS) return [];
    return [
      open(
        'repeat',
        `structure-cut-${axis}`,
        `A structure of ${printNumber(pitch)}${MM} ${axis} was detected (seen in ${printNumber(100 * period.confidence, 0)} % of the picture); the repeat holds ${printNumber(held, 2)} of its periods, so pieces are cut at the edge.`,
      ),
    ];
  };
  return [
    ...side('across', frameMm.width, plan.repeatMm.width),
    ...side('up', frameMm.height, plan.repeatMm.height),
  ];
}

/** A repeat that differs from what was asked for by less is as asked, mm. */
const AS_ASKED_MM = 0.05;

/** A composed repeat of a structure takes the nearest whole number of periods. */
function otherThanAsked({ method, composed }: RepeatSettings, { repeatMm, across, up }: RepeatPlan): Check[] {
  if (method !== 'composed') return [];
  const side = (
    axis: 'across' | 'up',
    name: string,
    asked: number | null,
    got: number,
    { modules, stretchNeeded }: ClosedAxis,
  ) =>
    asked === null || stretchNeeded !== undefined || Math.abs(asked - got) <= AS_ASKED_MM
      ? []
      : [
          open(
            'repeat',
            `asked-${axis}`,
            `The repeat is ${printNumber(got)}${MM} ${name}, not ${printNumber(asked)}${MM} as asked: ${modules} whole periods.`,
          ),
        ];
  return [
    ...side('across', 'wide', composed.widthMm, repeatMm.width, across),
    ...side('up', 'high', composed.heightMm, repeatMm.height, up),
  ];
}

function stretches({ composed }: RepeatSettings, { stretch, stretchNeeded }: RepeatReport): Check[] {
  return (['across', 'up'] as const).flatMap((axis) => {
    const needed = stretchNeeded[axis];
    return [
      ...(Math.abs(stretch[axis]) > LEAST_STRETCH
        ? [
            open(
              'repeat',
              `stretched-${axis}`,
              `Stretched ${axis} by ${printNumber(100 * stretch[axis])} % so that whole periods fill the repeat; the size is off by as much.`,
            ),
          ]
        : []),
      ...(needed !== undefined
        ? [
            open(
              'repeat',
              `stretch-${axis}`,
              `To fill the length asked for ${axis}, the structure would be stretched by ${printNumber(100 * needed)} %; at most ${printNumber(100 * composed.stretchMost)} % is allowed, so the nearest whole number of periods is used.`,
            ),
          ]
        : []),
    ];
  });
}

const brokenLines = ({ brokenHoldMm }: RepeatReport): Check[] =>
  brokenHoldMm > 0
    ? [
        wrong(
          'repeat',
          'hold-broken',
          `Continuity lines do not meet over ${printNumber(brokenHoldMm)}${MM} where copies meet. Lines that cannot run on together conflict: take one away, widen the overlap, or compose to another size.`,
        ),
      ]
    : [];

const scaledElements = ({ elements: { scale, confirmed } }: RepeatSettings): Check[] =>
  scale !== 1 && !confirmed
    ? [
        wrong(
          'repeat',
          'elements-scaled',
          `The pattern is shown at ${printNumber(100 * scale)} % of its true size. Set it to 100 %, or confirm that this size is meant.`,
        ),
      ]
    : [];

const inferredDetail = ({ inferred }: RepeatReport): Check[] =>
  inferred > 1
    ? [
        open(
          'repeat',
          'inferred',
          `Detail finer than the picture's pixels, up to ${printNumber(inferred)} times, is inferred from the picture itself.`,
        ),
      ]
    : [];

/** A patch of a target card that is off by more is pointed out, ΔE00. */
const MOST_LEFT = 4;

function leftByTarget({ calibration: { target } }: RepeatReport): Check[] {
  if (!target || target.worst.error <= MOST_LEFT) return [];
  const { name, error } = target.worst;
  return [
    open(
      'colour',
      'target-worst',
      `Patch ${name} of the target card is still off by ${printNumber(error)} ΔE00. Leave it out if there is a reflection on it.`,
    ),
  ];
}
