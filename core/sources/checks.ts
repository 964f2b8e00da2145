import { doubtsAboutSize, type ResolvedSize, type SizeWay } from '../size';
import { open, wrong, type Check } from '../surface';
import { printNumber } from '../units';

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

/** Scales of the two axes that differ by more are pointed out. */
const AXES_DIFFER = 0.02;
/** A claim that differs by less than this share of the length is as good as the same. */
const OVERLOOKED = 0.005;

const MM = '\u2009mm';

/**
 * What does not hold of the size of a picture.
 * @param category kind of finish, by which figures are found unlikely; null: not known
 */
export const checkSize = (size: ResolvedSize, category: string | null): Check[] => [
  ...axesThatDiffer(size),
  ...claimsThatDiffer(size, 'Width', 'width'),
  ...claimsThatDiffer(size, 'Height', 'height'),
  ...(category
    ? doubtsAboutSize(size, category).map(({ axis, about, question }) =>
        open('size', `unlikely-${about}-${axis}`, question),
      )
    : []),
  ...loosenedByLens(size),
  ...assumedSize(size),
];

function axesThatDiffer({ axesDiffer }: ResolvedSize): Check[] {
  if (Math.abs(axesDiffer) <= AXES_DIFFER) return [];
  const percent = printNumber(Math.abs(axesDiffer) * 100);
  return [
    wrong(
      'size',
      'axes-differ',
      `Width and height have different scales: the pixels are ${percent} % ${axesDiffer > 0 ? 'narrower than high' : 'wider than high'}.`,
    ),
  ];
}

function claimsThatDiffer(size: ResolvedSize, name: string, side: 'width' | 'height'): Check[] {
  const length = size[side];
  return length.claims.slice(1).flatMap((claim) => {
    const share = claim.mm / length.mm - 1;
    // Apart by more than both tolerances together, and by more than can be overlooked.
    if (Math.abs(claim.mm - length.mm) <= claim.toleranceMm + length.toleranceMm) return [];
    if (Math.abs(share) <= OVERLOOKED) return [];
    const text = `${name}: ${SIZE_WAY_WORDS[claim.way]} says ${printNumber(claim.mm)}${MM}, ${printNumber(Math.abs(share) * 100)} % ${share > 0 ? 'more' : 'less'} than the ${printNumber(length.mm)}${MM} by ${SIZE_WAY_WORDS[length.way]}.`;
    const code = `size-${side}-${claim.way}`;
    return [Math.abs(share) > AXES_DIFFER ? wrong('size', code, text) : open('size', code, text)];
  });
}

/** A tolerance that is owed to the lens is pointed out from this share of the length. */
const LOOSE = 0.005;

/** Lengths that are known less well because the lens is not: with what would narrow them. */
function loosenedByLens(size: ResolvedSize): Check[] {
  return (['width', 'height'] as const).flatMap((side) => {
    const { way, lens = 0, mm, toleranceMm } = size[side];
    if (lens < LOOSE || mm * lens < 0.5 * toleranceMm) return [];
    const other = side === 'width' ? 'height' : 'width';
    const text =
      way === 'follows'
        ? `The ${side} follows the proportions, and how they look depends on the focal length, which ${lens > 0.03 ? 'is not known' : 'is known only roughly'}: ± ${printNumber(100 * lens)} %. Give the ${side} by itself, as a size, a count or a ruler line.`
        : `The ${side} by ${SIZE_WAY_WORDS[way]} may be off by ${printNumber(100 * lens)} %, because the distortion of the lens is not corrected. Draw a line along an edge that is straight, or check it by the ${other} of a piece.`;
    return [open('size', `lens-${side}`, text)];
  });
}

const assumedSize = ({ width, height }: ResolvedSize): Check[] =>
  width.basis === 'assumed' || height.basis === 'assumed'
    ? [
        open(
          'size',
          'size-assumed',
          `The size of ${printNumber(width.mm)} × ${printNumber(height.mm)}${MM} is assumed.`,
        ),
      ]
    : [];
