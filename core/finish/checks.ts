import { highestGloss, type Surface } from '../response';
import type { ClosedAxis } from '../repeat';
import type { Doubt, ResolvedSize, SizeWay } from '../size';
import { isNoHand, type ColourWay } from '../light';
import { printNumber } from '../units';
import type { Recipe, Section } from './recipe';
import type { RenderReport } from './result';

/** Something that does not hold yet, in plain words, and where it is mended. */
export interface Check {
  code: string;
  section: Section;
  /** `wrong`: the finish would look wrong; `open`: something is still taken on trust. */
  weight: 'wrong' | 'open';
  text: string;
}

interface Found {
  size: ResolvedSize;
  across: ClosedAxis;
  up: ClosedAxis;
  surface: Surface;
  glossReached: boolean;
  samplePxPerMm: { x: number; y: number };
  /** Figures that are unlikely for the category. */
  doubts: readonly Doubt[];
}

/** A way of knowing the size, as a check names it. */
export const SIZE_WAY_WORDS: Readonly<Record<SizeWay, string>> = {
  overall: 'the overall size',
  count: 'the count',
  structure: 'the structure found',
  lines: 'the ruler lines',
  resolution: 'the resolution',
  card: 'the target card',
  follows: 'the other axis',
};

/** What rules the colour, as a check names it. */
export const COLOUR_WAY_WORDS: Readonly<Record<ColourWay, string>> = {
  picture: 'the picture as levelled and balanced',
  lrv: 'the given reflectance',
  colour: 'the given colour',
  reference: 'the finish or picture to match',
};

const MM = '\u2009mm';

/** An edge shows when it is so many times as steep as nineteen of twenty lines inside. */
const BEYOND_LINES = 1.1;

/**
 * Everything that does not hold, the weightiest first.
 * @param recipe the finish
 * @param report what it measures
 * @param found how its size, closing and gloss came out
 */
export function checkFinish(recipe: Recipe, report: Omit<RenderReport, 'checks'>, found: Found): Check[] {
  const checks: Check[] = [];
  const add = (code: string, section: Section, weight: Check['weight'], text: string) =>
    checks.push({ code, section, weight, text });
  const { seam, luminance, clipped } = report;

  for (const [code, name, value, axis, inside] of [
    ['seam-across', 'Left and right edge', seam.acrossWidth, found.across, seam.inside.acrossWidth],
    ['seam-up', 'Top and bottom edge', seam.acrossHeight, found.up, seam.inside.acrossHeight],
  ] as const) {
    // A counted edge is compared with few others; and lines of some finishes differ much by nature.
    const limit = Math.max(axis.modules ? 1.25 : 1.15, BEYOND_LINES * inside.to);
    if (value > limit)
      add(
        code,
        'repeat',
        'wrong',
        `${name} does not close: ${printNumber(value, 2)} times the contrast inside, where lines have up to ${printNumber(inside.to, 2)}.`,
      );
  }
  if (found.size.axesDiffer > 0.02 || found.size.axesDiffer < -0.02) {
    add(
      'axes-differ',
      'size',
      'wrong',
      `Width and height have different scales: the pixels are ${printNumber(Math.abs(found.size.axesDiffer) * 100)} % ${found.size.axesDiffer > 0 ? 'narrower than high' : 'wider than high'}.`,
    );
  }
  for (const [name, length] of [
    ['Width', found.size.width],
    ['Height', found.size.height],
  ] as const)
    for (const claim of length.claims.slice(1)) {
      const differs = claim.mm / length.mm - 1;
      // Apart by more than both tolerances together, and by more than can be overlooked.
      if (
        Math.abs(claim.mm - length.mm) > claim.toleranceMm + length.toleranceMm &&
        Math.abs(differs) > 0.005
      )
        add(
          `size-${name.toLowerCase()}-${claim.way}`,
          'size',
          Math.abs(differs) > 0.02 ? 'wrong' : 'open',
          `${name}: ${SIZE_WAY_WORDS[claim.way]} says ${printNumber(claim.mm)}${MM}, ${printNumber(Math.abs(differs) * 100)} % ${differs > 0 ? 'more' : 'less'} than the ${printNumber(length.mm)}${MM} by ${SIZE_WAY_WORDS[length.way]}.`,
        );
    }
  for (const { axis, question } of found.doubts) add(`unlikely-${axis}`, 'size', 'open', question);
  if (clipped.high > 0.001)
    add(
      'clipped-high',
      'colour',
      'wrong',
      `${printNumber(clipped.high * 100, 1)} % of the repeat is brighter than white and is clipped.`,
    );
  if (clipped.low > 0.005)
    add(
      'out-of-gamut',
      'colour',
      'open',
      `${printNumber(clipped.low * 100, 1)} % of the repeat lies outside the sRGB gamut and is clipped.`,
    );
  for (const [name, stretch, needed] of [
    ['across', report.stretch.across, found.across.stretchNeeded],
    ['up', report.stretch.up, found.up.stretchNeeded],
  ] as const) {
    if (Math.abs(stretch) > 0.0005)
      add(
        `stretched-${name}`,
        'repeat',
        'open',
        `Stretched ${name} by ${printNumber(100 * stretch)} % so that whole periods fill the repeat; the size is off by as much.`,
      );
    if (needed !== undefined)
      add(
        `stretch-${name}`,
        'repeat',
        'open',
        `To fill the length asked for ${name}, the structure would be stretched by ${printNumber(100 * needed)} %; at most ${printNumber(100 * recipe.repeat.compose.stretchMost)} % is allowed, so the nearest whole number of periods is used.`,
      );
  }
  if (report.brokenHoldMm > 0)
    add(
      'hold-broken',
      'repeat',
      'wrong',
      `Hold lines do not meet over ${printNumber(report.brokenHoldMm)}${MM} where copies meet. Lines that cannot run on together hold each other off: take one away, widen the overlap, or compose to another size.`,
    );
  const { scale, confirmed } = recipe.repeat.elements;
  if (scale !== 1 && !confirmed)
    add(
      'elements-scaled',
      'repeat',
      'wrong',
      `The pattern is shown at ${printNumber(100 * scale)} % of its true size. Set it to 100 %, or confirm that this size is meant.`,
    );
  if (report.inferred > 1)
    add(
      'inferred',
      'repeat',
      'open',
      `Detail finer than the picture's pixels, up to ${printNumber(report.inferred)} times, is inferred from the picture itself.`,
    );
  const { target } = report.calibration;
  if (target && target.worst.error > 4)
    add(
      'target-worst',
      'colour',
      'open',
      `Patch ${target.worst.name} of the target card is still off by ${printNumber(target.worst.error)} ΔE00. Leave it out if there is a reflex on it.`,
    );
  for (const claim of report.claims.filter(
    (c) => c.way !== recipe.colour.ruling || !isNoHand(recipe.colour.hand),
  )) {
    const off = claim.deltaE ?? Math.abs(claim.lrvOff);
    if (off <= claim.tolerance) continue;
    add(
      `colour-${claim.way}`,
      'colour',
      off > 2.5 * claim.tolerance ? 'wrong' : 'open',
      claim.deltaE !== null
        ? `The finish is ΔE00 ${printNumber(claim.deltaE)} off ${COLOUR_WAY_WORDS[claim.way]}; within ${printNumber(claim.tolerance)} was asked.`
        : `The finish measures LRV ${printNumber(report.lrv)}, ${printNumber(Math.abs(claim.lrvOff))} ${claim.lrvOff > 0 ? 'more' : 'less'} than ${COLOUR_WAY_WORDS[claim.way]} of ${printNumber(claim.lrv)}.`,
    );
  }
  const known = recipe.colour.ruling !== 'picture' || recipe.colour.balance !== 'none';
  if (!recipe.response.metal && known) {
    if (luminance.p99 > 0.92)
      add(
        'too-light',
        'colour',
        'wrong',
        `The lightest part reflects ${printNumber(luminance.p99 * 100, 0)} %; hardly any finish but fresh snow reflects more than 92 %.`,
      );
    if (luminance.p1 < 0.02)
      add(
        'too-dark',
        'colour',
        'open',
        `The darkest part reflects ${printNumber(luminance.p1 * 100, 1)} %; surfaces other than velvet and deep holes reflect at least 2 %.`,
      );
  }
  if (!found.glossReached) {
    const highest = highestGloss(found.surface);
    const asked = printNumber(recipe.response.glossGu.value, 0);
    add(
      'gloss-out-of-reach',
      'response',
      'wrong',
      report.roughness === 0
        ? `${asked} GU cannot be reached: a perfect mirror of ${found.surface.kind === 'metal' ? 'this reflectance' : `index ${printNumber(found.surface.index, 3)}`} has ${printNumber(highest, 0)} GU.`
        : `${asked} GU is below the most matt surface this material can have.`,
    );
  }
  if (report.slopeDeg.p99 > 60)
    add(
      'too-steep',
      'relief',
      'wrong',
      `The relief is very steep: 1 % of it stands at more than ${printNumber(report.slopeDeg.p99, 0)}°. Lower its depth or its fine detail.`,
    );
  const assumed: [string, Section, string][] = [];
  if (found.size.width.basis === 'assumed' || found.size.height.basis === 'assumed')
    assumed.push([
      'size-assumed',
      'size',
      `The size of ${printNumber(found.size.width.mm)} × ${printNumber(found.size.height.mm)}${MM} is assumed.`,
    ]);
  if (!known)
    assumed.push([
      'reflectance-open',
      'colour',
      `No reflectance is given; the picture's own LRV of ${printNumber(report.lrv)} is used.`,
    ]);
  else if (recipe.colour.ruling === 'lrv' && recipe.colour.lrv?.basis === 'assumed')
    assumed.push([
      'reflectance-assumed',
      'colour',
      `The reflectance of LRV ${printNumber(recipe.colour.lrv.value)} is assumed.`,
    ]);
  if (recipe.relief.depthMm.basis === 'assumed')
    assumed.push([
      'depth-assumed',
      'relief',
      `The relief depth of ${printNumber(recipe.relief.depthMm.value, 2)}${MM} is assumed.`,
    ]);
  if (recipe.response.glossGu.basis === 'assumed')
    assumed.push([
      'gloss-assumed',
      'response',
      `The gloss of ${printNumber(recipe.response.glossGu.value, 0)} GU is assumed.`,
    ]);
  for (const [code, section, text] of assumed) add(code, section, 'open', text);
  return checks.sort((a, b) => (a.weight === b.weight ? 0 : a.weight === 'wrong' ? -1 : 1));
}
