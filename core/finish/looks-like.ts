import { linearToLab } from '../colour';
import { squared } from '../exact';
import { halve, makePlane, mapChannels, type ColourPicture, type Plane } from '../raster';
import type { SampleReport } from '../sample';
import type { Category } from './default-recipe';

/** What a picture shows is guessed by its colour, its contrast and the direction of its lines: a place to start from. */

export interface Likeness {
  category: Category;
  /** What in the picture speaks for it, as the end of "it shows …". */
  shows: string;
}

/** The report on a sample, with what it looks like; pictures received by earlier versions have only the report. */
export type ReportWithLikeness = SampleReport & { looksLike?: Likeness | null };

/** Longer side of the picture that is looked at, px. */
const LOOKED_AT_PX = 450;

/** What is measured of a picture. */
export interface Looks {
  lightness: number;
  chroma: number;
  /** Of the mean colour, degrees in Lab. */
  hueDeg: number;
  /** CIELAB b* of the mean colour: below 0 it is cold. */
  yellow: number;
  /** Standard deviation of L*. */
  contrast: number;
  /** Standard deviation of a* and b* together. */
  colours: number;
  /** 1: all lines run one way; 0: none or all ways (coherence of the structure tensor, Bigün and Granlund 1987). */
  directed: number;
  /** The lesser of the shares of steep change that run straight across and straight up: lines on both axes. */
  crossed: number;
  /** Shares of steep change that run straight across or straight up, together; about 0.42 where nothing is aligned. */
  aligned: number;
  /** How evenly steep change is spread over the picture: about 0.6 for threads and grain, low where few lines hold all of it. */
  dense: number;
  /** Contrast of details below about 1/50 of the picture over that of larger ones. */
  fine: number;
}

/** Detail up to 8 px, and from there on. */
const FINE_BANDS = 3;
const BANDS = 5;

/**
 * Measures how a picture looks.
 * @param picture linear light, any size
 */
export function looksOf(picture: ColourPicture): Looks {
  let small = picture;
  while (Math.max(small.widthPx, small.heightPx) > LOOKED_AT_PX) small = mapChannels(small, halve);
  const { l, a, b } = labPlanes(small);
  const [meanA, meanB] = [meanOf(a), meanOf(b)];
  const bands = contrastByBand(l);
  const total = (from: number, to: number) =>
    Math.sqrt(bands.slice(from, to).reduce((sum, v) => sum + squared(v), 0));
  const contrast = deviationOf(l);
  return {
    lightness: meanOf(l),
    chroma: Math.hypot(meanA, meanB),
    hueDeg: ((Math.atan2(meanB, meanA) * 180) / Math.PI + 360) % 360,
    yellow: meanB,
    contrast,
    colours: Math.hypot(deviationOf(a), deviationOf(b)),
    ...directionsOf(l),
    fine: total(0, FINE_BANDS) / Math.max(0.1 * contrast, total(FINE_BANDS, BANDS), 1e-6),
  };
}

function labPlanes(picture: ColourPicture): Record<'l' | 'a' | 'b', Plane> {
  const { widthPx, heightPx } = picture;
  const [l, a, b] = [
    makePlane(widthPx, heightPx),
    makePlane(widthPx, heightPx),
    makePlane(widthPx, heightPx),
  ];
  for (let i = 0; i < l.data.length; i++)
    [l.data[i], a.data[i], b.data[i]] = linearToLab([picture.r[i]!, picture.g[i]!, picture.b[i]!]);
  return { l, a, b };
}

const meanOf = ({ data }: Plane) => data.reduce((sum, v) => sum + v, 0) / data.length;
function deviationOf(plane: Plane): number {
  const mean = meanOf(plane);
  return Math.sqrt(plane.data.reduce((sum, v) => sum + squared(v - mean), 0) / plane.data.length);
}

/** Standard deviation of what each halving takes away. */
function contrastByBand(plane: Plane): number[] {
  const deviations = [deviationOf(plane)];
  for (let at = plane; deviations.length <= BANDS && Math.min(at.widthPx, at.heightPx) >= 8;) {
    at = halve(at);
    deviations.push(deviationOf(at));
  }
  return deviations
    .slice(1)
    .map((coarser, k) => Math.sqrt(Math.max(0, squared(deviations[k]!) - squared(coarser))));
}

/** A gradient lies on an axis within this tangent: 19°. */
const ON_AXIS = 0.35;

function directionsOf({
  widthPx: w,
  heightPx: h,
  data,
}: Plane): Pick<Looks, 'directed' | 'crossed' | 'aligned' | 'dense'> {
  let [xx, yy, xy, across, up, steepness] = [0, 0, 0, 0, 0, 0];
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const gx = data[i + 1]! - data[i - 1]!;
      const gy = data[i + w]! - data[i - w]!;
      xx += gx * gx;
      yy += gy * gy;
      xy += gx * gy;
      steepness += Math.hypot(gx, gy);
      if (Math.abs(gy) < ON_AXIS * Math.abs(gx)) across += gx * gx + gy * gy;
      else if (Math.abs(gx) < ON_AXIS * Math.abs(gy)) up += gx * gx + gy * gy;
    }
  const all = Math.max(1e-9, xx + yy);
  return {
    directed: Math.sqrt(squared(xx - yy) + 4 * squared(xy)) / all,
    crossed: Math.min(across, up) / all,
    aligned: (across + up) / all,
    dense: squared(steepness) / (all * Math.max(1, (w - 2) * (h - 2))),
  };
}

/** From where to where a measure speaks fully for a likeness; outside it fades over `over`. */
type Within = readonly [from: number, to: number, over: number];
type Rule = Likeness & { where: Partial<Record<keyof Looks, Within>> };
const ANY = Infinity;

/** What finishes of a category look like. The first of those that fit equally well is taken. */
const RULES: readonly Rule[] = [
  {
    category: 'glass',
    shows: 'a clear, even field',
    where: { lightness: [85, 100, 5], contrast: [0, 0.5, 0.3], chroma: [0, 6, 4] },
  },
  {
    category: 'brick',
    shows: 'reddish pieces with joints both ways',
    where: { hueDeg: [25, 62, 10], chroma: [16, ANY, 6], crossed: [0.16, 1, 0.04], aligned: [0.66, 1, 0.1] },
  },
  {
    category: 'textile',
    shows: 'fine threads both ways',
    where: { dense: [0.5, 1, 0.1], crossed: [0.17, 1, 0.04], contrast: [6, ANY, 3], aligned: [0.7, 1, 0.06] },
  },
  {
    category: 'textile',
    shows: 'threads of different colours',
    where: {
      dense: [0.54, 1, 0.1],
      crossed: [0.17, 1, 0.04],
      colours: [4.6, ANY, 1],
      aligned: [0.48, 1, 0.04],
    },
  },
  {
    category: 'ceramic',
    shows: 'pieces with joints both ways',
    where: {
      crossed: [0.25, 1, 0.06],
      aligned: [0.75, 1, 0.1],
      contrast: [3, ANY, 2],
      dense: [0, 0.42, 0.1],
    },
  },
  {
    category: 'metal',
    shows: 'fine neutral lines one way',
    where: { directed: [0.6, 1, 0.15], chroma: [0, 5, 3], contrast: [0, 6, 3] },
  },
  {
    category: 'timber',
    shows: 'warm grain one way',
    where: { directed: [0.33, 1, 0.1], hueDeg: [48, 88, 10], chroma: [10, 48, 6], crossed: [0, 0.16, 0.05] },
  },
  {
    category: 'ceramic',
    shows: 'an even field of a strong colour',
    where: { chroma: [16, ANY, 6], hueDeg: [100, 360, 15], contrast: [0, 4, 3], directed: [0, 0.3, 0.1] },
  },
  {
    category: 'brick',
    shows: 'an even field of fired clay',
    where: {
      chroma: [22, ANY, 6],
      hueDeg: [30, 60, 8],
      contrast: [0.5, 5, 2],
      lightness: [25, 60, 10],
      fine: [0, 2.2, 0.8],
    },
  },
  {
    category: 'resilient',
    shows: 'a fine brown grain in all directions',
    where: {
      chroma: [20, 40, 5],
      hueDeg: [55, 85, 8],
      contrast: [3.5, 10, 2],
      directed: [0, 0.25, 0.1],
      aligned: [0, 0.6, 0.1],
    },
  },
  {
    category: 'stone',
    shows: 'grains of different colours in all directions',
    where: {
      contrast: [9, ANY, 3],
      directed: [0, 0.2, 0.1],
      aligned: [0, 0.62, 0.06],
      dense: [0.4, 1, 0.1],
      chroma: [0, 14, 5],
      colours: [0.8, ANY, 0.3],
    },
  },
  {
    category: 'stone',
    shows: 'a pale mineral field with fine grain',
    where: {
      contrast: [1, 6, 1],
      directed: [0, 0.3, 0.15],
      lightness: [68, 95, 4],
      fine: [1.1, ANY, 0.2],
      chroma: [0, 20, 5],
      aligned: [0, 0.7, 0.1],
    },
  },
  {
    category: 'stone',
    shows: 'a dark, even mineral field',
    where: { contrast: [0.6, 6, 1], lightness: [10, 44, 5], chroma: [0, 10, 4], directed: [0, 0.35, 0.1] },
  },
  {
    category: 'plaster',
    shows: 'a pale field that varies broadly',
    where: {
      contrast: [0.4, 4, 1],
      lightness: [70, 98, 5],
      fine: [0, 0.95, 0.2],
      chroma: [0, 20, 6],
      directed: [0, 0.35, 0.1],
    },
  },
  {
    category: 'metal',
    shows: 'a cold grey field',
    where: {
      contrast: [0.5, 4, 1],
      lightness: [45, 70, 5],
      chroma: [0, 5, 2],
      yellow: [-8, 0, 1],
      directed: [0, 0.4, 0.1],
    },
  },
  {
    category: 'concrete',
    shows: 'a grey mineral field',
    where: { contrast: [0.8, 6, 1], lightness: [45, 75, 5], chroma: [0, 8, 3], yellow: [0.5, 9, 1] },
  },
];

/** A rule that fits less well than so says nothing. */
const LEAST_FIT = 0.4;

const fitWithin = (value: number, [from, to, over]: Within): number =>
  Math.max(0, 1 - Math.max(from - value, value - to, 0) / over);

/**
 * The category that a picture looks like; null: it looks like none, or like several.
 * @param picture linear light, any size
 */
export function looksLike(picture: ColourPicture): Likeness | null {
  const looks = looksOf(picture);
  const fits = RULES.map((rule) => ({
    rule,
    fit: Object.entries(rule.where).reduce(
      (least, [key, within]) => Math.min(least, fitWithin(looks[key as keyof Looks], within)),
      1,
    ),
  }));
  const best = fits.reduce((a, b) => (b.fit > a.fit ? b : a));
  return best.fit < LEAST_FIT ? null : { category: best.rule.category, shows: best.rule.shows };
}
