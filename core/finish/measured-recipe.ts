import { preparationInFrame } from '../sample';
import { sizeKnownBy } from '../size';
import { makeFrame, type PictureShape } from '../straighten';
import { open, type Check } from '../surface';
import { figure, printNumber } from '../units';
import { lengthsFor } from './default-recipe';
import { leadingPicture, type Recipe } from './recipe';

/** Recipes of finishes whose size, relief or reflectance is measured. */

/** A recipe whose leading picture has an overall size; without a height that follows from its proportions. */
export function withOverallSize(
  recipe: Recipe,
  { width, height }: { width: number; height?: number | undefined },
): Recipe {
  const source = leadingPicture(recipe);
  const size = sizeKnownBy(
    { overall: figure(width, 'mm', 'measured') },
    height === undefined ? 'follows' : { overall: figure(height, 'mm', 'measured') },
  );
  return { ...recipe, sources: recipe.sources.map((s) => (s.id === source?.id ? { ...s, size } : s)) };
}

/** What was measured from a light set. */
export interface MeasuredRelief {
  /** Its pictures were straightened first; left out: they were not. */
  isStraightened?: boolean;
  lightSetId: string;
  colourId: string;
  overallMm: { width: number; height: number };
  heightId: string;
  /** Height of what is white in the height map over what is black. */
  rangeMm: number;
  toleranceMm: number;
  lrv: number;
}

/** Reflectance that was measured from a light set is within this. */
const LRV_TOLERANCE = 2;
/** Waves longer than this share of the picture are measured least well, and are left out at first. */
const BROAD_SHARE = 1 / 3;

/** A size that differs by less changes no height that can be seen. */
const OTHER_SIZE = 0.005;

/**
 * Relief that was measured when its picture had another size: slopes stay as they were measured, so heights grow with the width.
 * @param pxPerMm of the leading picture, as its size is known now
 */
export function checkMeasuredSize(
  { relief }: Pick<Recipe, 'relief'>,
  picture: { widthPx: number },
  pxPerMm: number,
): Check[] {
  const nowMm = picture.widthPx / pxPerMm;
  return relief.contributions.flatMap((c) => {
    if (c.kind !== 'measured' || c.overMm === undefined || c.off) return [];
    const times = nowMm / c.overMm;
    if (Math.abs(times - 1) <= OTHER_SIZE) return [];
    return [
      open(
        'relief',
        `measured-at-other-size-${c.id}`,
        `“${c.name}” was measured over ${printNumber(c.overMm, 1)}\u2009mm; the picture is ${printNumber(nowMm, 1)}\u2009mm wide now. Slopes stay as measured with a depth of ${printNumber(c.depthMm.value * times, 3)}\u2009mm.`,
      ),
    ];
  });
}

/** A recipe of a measured colour whose size, relief and reflectance are measured too. */
export function withMeasured(recipe: Recipe, measured: MeasuredRelief): Recipe {
  const { overallMm } = measured;
  return {
    ...withMeasuredPicture(recipe, measured),
    relief: {
      ...recipe.relief,
      contributions: [
        {
          kind: 'measured',
          id: 'measured',
          ...depthOf(measured),
          name: 'Measured',
          broad: 0,
          middle: 1,
          fine: 1,
          broadFromMm: Number((BROAD_SHARE * Math.max(overallMm.width, overallMm.height)).toPrecision(3)),
          fineBelowMm: lengthsFor(overallMm).fineBelowMm,
          smoothMm: 0,
          invert: false,
        },
      ],
    },
  };
}

const NOTE = 'Measured from a light set';

/** Picture, size and reflectance of a recipe as they were measured. */
function withMeasuredPicture(recipe: Recipe, measured: MeasuredRelief): Recipe {
  const { colourId, overallMm, heightId, lrv } = measured;
  const source = leadingPicture(recipe);
  return {
    ...recipe,
    sources: recipe.sources.map((s) =>
      s.id === source?.id
        ? {
            ...s,
            sampleId: colourId,
            size: sizeKnownBy(
              { overall: figure(overallMm.width, 'mm', 'measured', undefined, NOTE) },
              { overall: figure(overallMm.height, 'mm', 'measured', undefined, NOTE) },
            ),
            maps: [{ sampleId: heightId, role: 'height', greenRuns: 'up' }],
          }
        : s,
    ),
    colour: {
      ...recipe.colour,
      ruling: 'lrv',
      lrv: figure(Number(lrv.toFixed(1)), 'LRV', 'measured', LRV_TOLERANCE, NOTE),
    },
  };
}

/** How deep a measured contribution is, and what it was measured from. */
const depthOf = ({ lightSetId, overallMm, rangeMm, toleranceMm, isStraightened }: MeasuredRelief) => ({
  lightSetId,
  ...(isStraightened ? { straightened: true } : {}),
  overMm: overallMm.width,
  depthMm: figure(Number(rangeMm.toFixed(3)), 'mm', 'measured', Number(toleranceMm.toFixed(3)), NOTE),
});

/**
 * A recipe whose pictures were straightened and measured again: its leading picture is the frame alone, and what was marked in the
 * picture keeps its place.
 * @param contributionId the measured contribution
 * @param measured from the straightened pictures
 * @param picture shape of the leading picture until now
 */
export function measuredStraightened(
  recipe: Recipe,
  contributionId: string,
  measured: MeasuredRelief,
  picture: PictureShape,
): Recipe {
  const source = leadingPicture(recipe)!;
  const { preparation } = source;
  const prepared = preparationInFrame(preparation, makeFrame(picture, preparation));
  const next = withMeasuredPicture(recipe, measured);
  return {
    ...next,
    sources: next.sources.map((s) => (s.id === source.id ? { ...s, preparation: prepared } : s)),
    relief: {
      ...recipe.relief,
      contributions: recipe.relief.contributions.map((c) =>
        c.id === contributionId && c.kind === 'measured'
          ? { ...c, ...depthOf({ ...measured, isStraightened: true }) }
          : c,
      ),
    },
  };
}
