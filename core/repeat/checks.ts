import { open, wrong, type Check } from '../surface';
import { printNumber } from '../units';
import type { ClosedAxis } from './close';
import type { RepeatPlan } from './plan';
import type { RepeatSettings } from './settings';
import type { RepeatReport } from './report';

/** An edge shows when it is so many times as steep as nineteen of twenty lines inside. */
const BEYOND_LINES = 1.1;
/** Stretched by less is not worth a word. */
const LEAST_STRETCH = 0.0005;

const MM = '\u2009mm';

/** What does not hold of a repeat. */
export const checkRepeat = (repeat: RepeatSettings, plan: RepeatPlan, report: RepeatReport): Check[] => [
  ...edgesThatShow(plan, report),
  ...stretches(repeat, report),
  ...brokenLines(report),
  ...scaledElements(repeat),
  ...inferredDetail(report),
  ...leftByTarget(report),
];

function edgesThatShow(plan: RepeatPlan, { seam }: RepeatReport): Check[] {
  const edge = (
    code: string,
    name: string,
    value: number,
    axis: ClosedAxis,
    inside: { to: number },
  ): Check[] => {
    // A counted edge is compared with few others; and lines of some finishes differ much by nature.
    const limit = Math.max(axis.modules ? 1.25 : 1.15, BEYOND_LINES * inside.to);
    if (value <= limit) return [];
    const text = `${name} does not close: ${printNumber(value, 2)} times the contrast inside, where lines have up to ${printNumber(inside.to, 2)}.`;
    return [wrong('repeat', code, text)];
  };
  return [
    ...edge('seam-across', 'Left and right edge', seam.acrossWidth, plan.across, seam.inside.acrossWidth),
    ...edge('seam-up', 'Top and bottom edge', seam.acrossHeight, plan.up, seam.inside.acrossHeight),
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
