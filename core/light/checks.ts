import { open, wrong, type Check } from '../surface';
import { printNumber } from '../units';
import { isNoHand } from './match';
import type { ColourReport, ColourStageSettings } from './report';
import type { ColourRule } from './settings';

/** What rules the colour, as a check names it. */
export const COLOUR_RULE_WORDS: Readonly<Record<ColourRule, string>> = {
  picture: 'the picture as levelled and balanced',
  lrv: 'the given reflectance',
  colour: 'the given colour',
  reference: 'the finish or picture to match',
};

/** Shares of pixels that may be clipped without a word. */
const CLIPPED_HIGH = 0.001;
const CLIPPED_LOW = 0.005;
/** A claim that is off by so many tolerances is wrong, not only open. */
const FAR_OFF = 2.5;
/** Hardly anything but fresh snow reflects more, hardly anything but velvet less. */
const MOST_REFLECTED = 0.92;
const LEAST_REFLECTED = 0.02;

/** What does not hold of the colour. */
export const checkColour = (settings: ColourStageSettings, report: ColourReport): Check[] =>
  settings.glass
    ? []
    : [
        ...clipping(report),
        ...claimsThatDiffer(settings, report),
        ...implausible(settings, report),
        ...takenOnTrust(settings, report),
      ];

const isKnown = ({ colour, balanced }: ColourStageSettings) => colour.ruling !== 'picture' || balanced;

function clipping({ clipped }: ColourReport): Check[] {
  const checks: Check[] = [];
  if (clipped.high > CLIPPED_HIGH)
    checks.push(
      wrong(
        'colour',
        'clipped-high',
        `${printNumber(clipped.high * 100, 1)} % of the repeat is brighter than white and is clipped.`,
      ),
    );
  if (clipped.low > CLIPPED_LOW)
    checks.push(
      open(
        'colour',
        'out-of-gamut',
        `${printNumber(clipped.low * 100, 1)} % of the repeat lies outside the sRGB gamut and is clipped.`,
      ),
    );
  return checks;
}

function claimsThatDiffer({ colour }: ColourStageSettings, { claims, lrv }: ColourReport): Check[] {
  return claims
    .filter((claim) => claim.way !== colour.ruling || !isNoHand(colour.hand))
    .flatMap((claim) => {
      const off = claim.deltaE ?? Math.abs(claim.lrvOff);
      if (off <= claim.tolerance) return [];
      const text =
        claim.deltaE !== null
          ? `The finish is ΔE00 ${printNumber(claim.deltaE)} off ${COLOUR_RULE_WORDS[claim.way]}; the tolerance is ${printNumber(claim.tolerance)}.`
          : `The finish measures LRV ${printNumber(lrv)}, ${printNumber(Math.abs(claim.lrvOff))} ${claim.lrvOff > 0 ? 'more' : 'less'} than ${COLOUR_RULE_WORDS[claim.way]} of ${printNumber(claim.lrv)}.`;
      const code = `colour-${claim.way}`;
      return [off > FAR_OFF * claim.tolerance ? wrong('colour', code, text) : open('colour', code, text)];
    });
}

function implausible(settings: ColourStageSettings, { luminance }: ColourReport): Check[] {
  if (settings.metal || !isKnown(settings)) return [];
  const checks: Check[] = [];
  if (luminance.p99 > MOST_REFLECTED)
    checks.push(
      wrong(
        'colour',
        'too-light',
        `The lightest part reflects ${printNumber(luminance.p99 * 100, 0)} %; hardly any finish but fresh snow reflects more than 92 %.`,
      ),
    );
  if (luminance.p1 < LEAST_REFLECTED)
    checks.push(
      open(
        'colour',
        'too-dark',
        `The darkest part reflects ${printNumber(luminance.p1 * 100, 1)} %; surfaces other than velvet and deep holes reflect at least 2 %.`,
      ),
    );
  return checks;
}

function takenOnTrust(settings: ColourStageSettings, { lrv }: ColourReport): Check[] {
  const { ruling, lrv: given } = settings.colour;
  if (!isKnown(settings))
    return [
      open(
        'colour',
        'reflectance-open',
        `No reflectance is given; the picture's own LRV of ${printNumber(lrv)} is used.`,
      ),
    ];
  return ruling === 'lrv' && given?.basis === 'assumed'
    ? [
        open(
          'colour',
          'reflectance-assumed',
          `The reflectance of LRV ${printNumber(given.value)} is assumed.`,
        ),
      ]
    : [];
}
