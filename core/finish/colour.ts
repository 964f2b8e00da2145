import { ciede2000, linearToLab, readColour, type ColourReading, type Triple } from '../colour';
import {
  correctByHand,
  factorForLrv,
  factorsForColour,
  isNoHand,
  matchReference,
  MOST_CLIPPED,
  NO_HAND,
  timesChannels,
  withoutEach,
  type ColourSettings,
  type ColourWay,
  type HandCorrection,
} from '../light';
import type { ColourPicture } from '../raster';
import { labToXyz } from '../colour';

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
  hand: Record<keyof ReturnType<typeof withoutEach>, HandEffect> | null;
}

/** Default tolerances of what is known, when none is given. */
const LRV_TOLERANCE = 2;
const COLOUR_TOLERANCE = 2;

const refuseClipped = (reading: ColourReading, what: string) => {
  const share = reading.clippedHigh;
  if (share > MOST_CLIPPED)
    throw new RangeError(
      `${what} would clip ${Math.round(100 * share)} % of the repeat at white. A mean this light needs a picture with less contrast; check the figure, or lower the contrast by hand.`,
    );
};

/**
 * Brings a repeat to the colour that rules, then applies the corrections by hand, then the colourway.
 * @param placed the calibrated repeat, linear light
 * @param wayId the colourway; null: the finish itself
 * @throws RangeError with a sentence when a target cannot be the mean of this picture
 */
export function finishColour(
  placed: ColourPicture,
  before: ColourReading,
  settings: ColourSettings,
  wayId: string | null,
  mmPerPx: { x: number; y: number },
): FinishedColour {
  const { lrv, colour, reference, hand, ruling } = settings;
  let factors: Triple = [1, 1, 1];
  let matched = placed;
  let reading = before;
  if (ruling === 'lrv' && lrv) {
    const k = factorForLrv(before, lrv.value);
    factors = [k, k, k];
  } else if (ruling === 'colour' && colour) factors = factorsForColour(before.meanLinear, colour.lab);
  if (ruling === 'reference' && reference) {
    matched = matchReference(placed, reference);
    reading = readColour(matched);
    factors = reading.meanLinear.map(
      (v, k) => v / Math.max(1e-6, before.meanLinear[k]!),
    ) as unknown as Triple;
    refuseClipped(reading, `The mean of “${reference.name}”`);
  } else if (factors.some((f) => f !== 1)) {
    matched = timesChannels(placed, factors);
    reading = readColour(matched);
    refuseClipped(
      reading,
      ruling === 'lrv'
        ? `A mean of LRV ${lrv!.value}`
        : `A mean of Lab ${colour!.lab.map((v) => Math.round(v)).join(', ')}`,
    );
  }
  let done = matched;
  if (!isNoHand(hand)) {
    done = correctByHand(matched, hand, mmPerPx);
    reading = readColour(done);
    refuseClipped(reading, 'These corrections by hand');
  }
  const handled = done;
  const way = wayId ? settings.ways.find((w) => w.id === wayId) : undefined;
  if (wayId && !way) throw new RangeError('This colourway is not part of the finish any more.');
  if (way) {
    const to = factorsForColour(reading.meanLinear, way.target.lab);
    done = timesChannels(done, to);
    reading = readColour(done);
    refuseClipped(reading, `The colourway “${way.name}”`);
  }
  return {
    colour: done,
    before,
    after: reading,
    factors,
    claims: way ? [] : claimsOf(settings, before, reading),
    hand: isNoHand(hand) || way ? null : effectsOf(matched, handled, hand, mmPerPx, settings),
  };
}

/** What is known of the colour, against what the finish measures; the ruling way first. */
function claimsOf(settings: ColourSettings, before: ColourReading, after: ColourReading): ColourClaim[] {
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
  if (ruling === 'picture' || settings.balance !== 'none')
    add('picture', before.lrv, before.meanLab, COLOUR_TOLERANCE);
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
  handled: ColourPicture,
  hand: HandCorrection,
  mmPerPx: { x: number; y: number },
  settings: ColourSettings,
): FinishedColour['hand'] {
  const without = withoutEach(matched, hand, mmPerPx, NO_HAND);
  const now = readColour(handled);
  const target = targetLab(settings);
  const effect = ({ lrv, mean }: { lrv: number; mean: Triple }): HandEffect => ({
    lrv: now.lrv - lrv,
    // From the target when there is one; else how far it moves the colour at all.
    deltaE: target
      ? ciede2000(now.meanLab, target) - ciede2000(linearToLab(mean), target)
      : ciede2000(now.meanLab, linearToLab(mean)),
  });
  return {
    lightness: effect(without.lightness),
    contrast: effect(without.contrast),
    hueDeg: effect(without.hueDeg),
    saturation: effect(without.saturation),
    tint: effect(without.tint),
  };
}
