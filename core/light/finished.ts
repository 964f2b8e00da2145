import {
  ciede2000,
  labToXyz,
  linearToLab,
  lrvOf,
  readColour,
  type ColourReading,
  type Triple,
} from '../colour';
import type { ColourPicture, Plane } from '../raster';
import { Refusal, refusing } from '../surface';
import { meanOfSplit, shownMeanOfSplit, timesInSplit, type SplitPart } from './edges';
import {
  clippedTo01,
  correctByHand,
  factorForLrv,
  factorsForColour,
  HAND_EFFECTS,
  isNoHand,
  meanOfPart,
  meansUnderHand,
  matchReference,
  MOST_CLIPPED,
  timesChannels,
  timesInPart,
  type HandEffectKey,
  type InOklab,
} from './match';
import { NO_HAND, type ColourSettings, type ColourRule, type HandCorrection } from './settings';

/** The colour of a finish: matched to what rules, corrected by hand, recoloured. */

/** What one way of knowing says about the colour, beside what the finish measures. */
export interface ColourClaim {
  way: ColourRule;
  lrv: number;
  /** Null when the way speaks of reflectance only. */
  lab: Triple | null;
  /** The finish less the claim, LRV. */
  lrvOff: number;
  /** CIEDE2000 of the finish from the claim; null without a colour. */
  deltaE: number | null;
  tolerance: number;
}

/** What one correction by hand does, with all others in place. */
export interface HandEffect {
  lrv: number;
  deltaE: number;
}

export interface FinishedColour {
  colour: ColourPicture;
  /** Of the repeat before any match, and at the end. */
  before: ColourReading;
  after: ColourReading;
  /** Factors per channel of the match; of a reference, the mean's. */
  factors: Triple;
  /** All that is known, the ruling way first. */
  claims: ColourClaim[];
  hand: Record<HandEffectKey, HandEffect> | null;
  /** CIEDE2000 of a colourway, or of the part that it recolours, from its target. */
  wayOff: number | null;
}

/** Default tolerances of what is known, when none is given. */
const LRV_TOLERANCE = 2;
const COLOUR_TOLERANCE = 2;

const refuseClipped = (reading: ColourReading, what: string, where: string) => {
  const share = reading.clippedHigh;
  if (share > MOST_CLIPPED)
    throw new Refusal(
      'mostly-clipped',
      `${what} would clip ${Math.round(100 * share)} % of the repeat at white. A mean this light needs a picture with less contrast; check the figure, or lower the contrast by hand.`,
      where,
    );
};

/** A colour outside the gamut is refused. */
const inGamut = <T>(where: string, work: () => T): T => refusing('out-of-gamut', where, work);

/** A repeat brought to the colour that rules. */
export interface MatchedColour {
  picture: ColourPicture;
  reading: ColourReading;
  factors: Triple;
}

/**
 * Brings a repeat to the colour that rules.
 * @param placed the calibrated repeat, linear light
 * @throws Refusal when the target cannot be the mean of this picture
 */
export function matchColour(
  placed: ColourPicture,
  before: ColourReading,
  { lrv, colour, reference, ruling }: Pick<ColourSettings, 'lrv' | 'colour' | 'reference' | 'ruling'>,
): MatchedColour {
  let factors: Triple = [1, 1, 1];
  let matched = placed;
  let reading = before;
  if (ruling === 'lrv' && lrv) {
    const k = factorForLrv(before, lrv.value);
    factors = [k, k, k];
  } else if (ruling === 'colour' && colour)
    factors = inGamut('colour.colour', () => factorsForColour(before.meanLinear, colour.lab));
  if (ruling === 'reference' && reference) {
    matched = matchReference(placed, reference);
    reading = readColour(matched);
    factors = reading.meanLinear.map(
      (v, k) => v / Math.max(1e-6, before.meanLinear[k]!),
    ) as unknown as Triple;
    refuseClipped(reading, `The mean of “${reference.name}”`, 'colour.reference');
  } else if (factors.some((f) => f !== 1)) {
    matched = timesChannels(placed, factors);
    reading = readColour(matched);
    refuseClipped(
      reading,
      ruling === 'lrv'
        ? `A mean of LRV ${lrv!.value}`
        : `A mean of Lab ${colour!.lab.map((v) => Math.round(v)).join(', ')}`,
      `colour.${ruling}`,
    );
  }
  return { picture: matched, reading, factors };
}

/** A repeat as it is corrected by hand, before any colourway. */
export interface CorrectedColour {
  picture: ColourPicture;
  reading: ColourReading;
}

/**
 * Applies the corrections by hand to a matched repeat.
 * @param lab the matched repeat in Oklab, where it is known already
 * @throws Refusal when most of it would be clipped
 */
export function correctColour(
  { picture, reading }: MatchedColour,
  { hand }: ColourSettings,
  mmPerPx: { x: number; y: number },
  lab?: InOklab,
): CorrectedColour {
  if (isNoHand(hand)) return { picture, reading };
  const corrected = correctByHand(picture, hand, mmPerPx, lab);
  const after = readColour(corrected);
  refuseClipped(after, 'These corrections by hand', 'colour.hand');
  return { picture: corrected, reading: after };
}

/** The part of a repeat that a colourway recolours. */
export interface RecolouredPart {
  /** Its mean in linear light. @throws RangeError when it is empty */
  mean: (picture: ColourPicture) => Triple;
  /** The picture with the part's light multiplied. */
  times: (picture: ColourPicture, factors: Triple) => ColourPicture;
  /** Mean of the part as it is shown, once its light is multiplied. */
  shownMean: (recoloured: ColourPicture, factors: Triple) => Triple;
}

/** A part with the colour of its edge pixels split, so that nothing of another part is recoloured with it. */
export const splitAsPart = (split: SplitPart): RecolouredPart => ({
  mean: () => meanOfSplit(split),
  times: (picture, factors) => timesInSplit(picture, factors, split),
  shownMean: (_, factors) => shownMeanOfSplit(split, factors),
});

/** A part by its weight alone, as before version 2: edge pixels are recoloured as a whole. */
export const weightAsPart = (weight: Plane): RecolouredPart => ({
  mean: (picture) => meanOfPart(picture, weight),
  times: (picture, factors) => timesInPart(picture, factors, weight),
  shownMean: (recoloured) => meanOfPart(clippedTo01(recoloured), weight),
});

/** What a finish's colour is made of. */
export interface ColourSteps {
  before: ColourReading;
  matched: MatchedColour;
  corrected: CorrectedColour;
}

/**
 * The colour of a finish, or of one of its colourways.
 * @param steps readings and pictures of the steps before
 * @param wayId the colourway; null: the finish itself
 * @param part what the colourway recolours; null: the whole finish
 * @param balanced whether the picture's own colour says anything: it was balanced by a grey or a card
 * @throws Refusal when a target cannot be the mean of this picture
 */
export function finishColour(
  { before, matched, corrected }: ColourSteps,
  settings: ColourSettings,
  wayId: string | null,
  mmPerPx: { x: number; y: number },
  part: RecolouredPart | null,
  balanced: boolean,
): FinishedColour {
  const { hand } = settings;
  const { factors } = matched;
  if (wayId) return recoloured({ before, matched, corrected }, settings, wayId, part);
  return {
    colour: corrected.picture,
    before,
    after: corrected.reading,
    factors,
    claims: claimsOf(settings, balanced, before, corrected.reading),
    wayOff: null,
    hand: isNoHand(hand) ? null : effectsOf(matched.picture, hand, mmPerPx, settings),
  };
}

function recoloured(
  { before, matched, corrected }: ColourSteps,
  settings: ColourSettings,
  wayId: string,
  part: RecolouredPart | null,
): FinishedColour {
  const way = settings.ways.find((w) => w.id === wayId);
  if (!way)
    throw new Refusal(
      'no-such-colourway',
      'This colourway is not part of the finish any more.',
      'colour.ways',
    );
  const { picture, reading } = corrected;
  const { lab } = way.target;
  const mean = part ? notEmpty(() => part.mean(picture)) : reading.meanLinear;
  const to = inGamut('colour.ways', () => factorsForColour(mean, lab));
  const colour = part ? part.times(picture, to) : timesChannels(picture, to);
  const after = readColour(colour);
  refuseClipped(after, `The colourway “${way.name}”`, 'colour.ways');
  const shown = part ? notEmpty(() => part.shownMean(colour, to)) : after.shown.meanLinear;
  return {
    colour,
    before,
    after,
    factors: matched.factors,
    claims: [],
    wayOff: ciede2000(linearToLab(shown), lab),
    hand: null,
  };
}

/** @throws Refusal when the part is empty */
const notEmpty = <T>(mean: () => T): T => refusing('part-empty', 'colour.recoloured', mean);

/** What is known of the colour, against what the finish measures; the ruling way first. */
function claimsOf(
  settings: ColourSettings,
  balanced: boolean,
  before: ColourReading,
  after: ColourReading,
): ColourClaim[] {
  const { lrv, colour, reference, ruling } = settings;
  const claims: ColourClaim[] = [];
  const add = (way: ColourRule, value: number, lab: Triple | null, tolerance: number) =>
    claims.push({
      way,
      lrv: value,
      lab,
      lrvOff: after.shown.lrv - value,
      deltaE: lab && ciede2000(after.shown.meanLab, lab),
      tolerance,
    });
  // A picture that is neither levelled nor balanced says nothing of reflectance.
  if (ruling === 'picture' || balanced) add('picture', before.lrv, before.meanLab, COLOUR_TOLERANCE);
  if (lrv) add('lrv', lrv.value, null, lrv.tolerance ?? LRV_TOLERANCE);
  if (colour) add('colour', 100 * labToXyz(colour.lab)[1], colour.lab, colour.tolerance ?? COLOUR_TOLERANCE);
  if (reference) {
    const lab = linearToLab(reference.meanLinear);
    add('reference', 100 * labToXyz(lab)[1], lab, COLOUR_TOLERANCE);
  }
  return claims.sort((a, b) => Number(b.way === ruling) - Number(a.way === ruling));
}

/** What the finish's colour should be, as far as anything says so. */
const targetLab = (settings: ColourSettings): Triple | null =>
  settings.colour?.lab ?? (settings.reference ? linearToLab(settings.reference.meanLinear) : null);

function effectsOf(
  matched: ColourPicture,
  hand: HandCorrection,
  mmPerPx: { x: number; y: number },
  settings: ColourSettings,
): NonNullable<FinishedColour['hand']> {
  const { all, without } = meansUnderHand(matched, hand, mmPerPx, NO_HAND);
  const target = targetLab(settings);
  const now = linearToLab(all);
  const effect = (key: HandEffectKey): [HandEffectKey, HandEffect] => {
    const before = linearToLab(without[key]);
    return [
      key,
      {
        lrv: lrvOf(all) - lrvOf(without[key]),
        // From the target when there is one; else how far it moves the colour at all.
        deltaE: target ? ciede2000(now, target) - ciede2000(before, target) : ciede2000(now, before),
      },
    ];
  };
  return Object.fromEntries(HAND_EFFECTS.map(effect)) as NonNullable<FinishedColour['hand']>;
}
