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
import { NO_HAND, type ColourSettings, type ColourWay, type HandCorrection } from './settings';

/** The colour of a finish: matched to what rules, corrected by hand, recoloured. */

/** What one way of knowing says about the colour, beside what the finish measures. */
export interface ColourClaim {
  way: ColourWay;
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

/**
 * Applies the corrections by hand to a matched repeat, then the colourway.
 * @param before reading of the repeat before any match
 * @param wayId the colourway; null: the finish itself
 * @param part weight of the part that the colourway recolours, 0–1; null: the whole finish
 * @param balanced whether the picture's own colour says anything: it was balanced by a grey or a card
 * @param lab the matched repeat in Oklab; null: it is worked out where it is needed
 * @throws Refusal when a target cannot be the mean of this picture
 */
export function finishColour(
  { picture: matched, reading: matchedReading, factors }: MatchedColour,
  before: ColourReading,
  settings: ColourSettings,
  wayId: string | null,
  mmPerPx: { x: number; y: number },
  part: Plane | null,
  balanced: boolean,
  lab: InOklab | null,
): FinishedColour {
  const { hand } = settings;
  let reading = matchedReading;
  let done = matched;
  if (!isNoHand(hand)) {
    done = correctByHand(matched, hand, mmPerPx, lab ?? undefined);
    reading = readColour(done);
    refuseClipped(reading, 'These corrections by hand', 'colour.hand');
  }
  const way = wayId ? settings.ways.find((w) => w.id === wayId) : undefined;
  if (wayId && !way)
    throw new Refusal(
      'no-such-colourway',
      'This colourway is not part of the finish any more.',
      'colour.ways',
    );
  if (way) {
    const mean = part ? partMean(done, part) : reading.meanLinear;
    const to = inGamut('colour.ways', () => factorsForColour(mean, way.target.lab));
    done = part ? timesInPart(done, to, part) : timesChannels(done, to);
    reading = readColour(done);
    refuseClipped(reading, `The colourway “${way.name}”`, 'colour.ways');
  }
  return {
    colour: done,
    before,
    after: reading,
    factors,
    claims: way ? [] : claimsOf(settings, balanced, before, reading),
    wayOff: way
      ? ciede2000(
          linearToLab(part ? partMean(clippedTo01(done), part) : reading.shown.meanLinear),
          way.target.lab,
        )
      : null,
    hand: isNoHand(hand) || way ? null : effectsOf(matched, hand, mmPerPx, settings),
  };
}

/** @throws Refusal when the part is empty */
const partMean = (picture: ColourPicture, part: Plane): Triple =>
  refusing('part-empty', 'colour.recoloured', () => meanOfPart(picture, part));

/** What is known of the colour, against what the finish measures; the ruling way first. */
function claimsOf(
  settings: ColourSettings,
  balanced: boolean,
  before: ColourReading,
  after: ColourReading,
): ColourClaim[] {
  const { lrv, colour, reference, ruling } = settings;
  const claims: ColourClaim[] = [];
  const add = (way: ColourWay, value: number, lab: Triple | null, tolerance: number) =>
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
