import {
  calibrate,
  cardInPicture,
  cardOutline,
  cellsOf,
  describeLight,
  CARD_REFERENCE,
  fineLight,
  fitGrey,
  fitLight,
  fitTarget,
  keepingMean,
  LIGHT_ORDER,
  lightOnCard,
  lightOver,
  logLightAt,
  NO_CALIBRATION,
  NO_MATRIX,
  readCard,
  readSpot,
  surroundOf,
  type Calibration,
  type ColourSettings,
  type LightField,
} from '../light';
import { frameOfQuad, type Frame, type Point, type Quad } from '../straighten';
import type { Triple } from '../colour';
import type { ColourPicture } from '../raster';
import type { StageCache } from './cache';
import { hashOf } from './hash';
import { levelAtMost, lookStraight, type SampleToLookAt } from './looking';
import type { Recipe } from './recipe';
import type { SampleGeometry } from './geometry';
import type { Sources } from './result';

/** Pixels at which the light is judged, and at which a card is read. */
const LIGHT_SIDE_PX = 480;
const SURROUND_SIDE_PX = 800;
const CARD_SIDE_PX = 2000;

/** What a calibration hangs on. */
const keyOf = (
  recipe: Pick<Recipe, 'sample' | 'size' | 'colour'>,
  sha256: string,
  geometry: SampleGeometry,
) => {
  const { levelling, balance, grey, target } = recipe.colour;
  return hashOf(
    'calibration',
    sha256,
    geometry.frame.plane,
    geometry.frame.bow,
    geometry.used.plane,
    recipe.sample.keepOuts,
    levelling && { radiusMm: levelling.radiusMm },
    levelling?.radiusMm ? [geometry.size.width.mm, geometry.size.height.mm] : null,
    balance,
    balance === 'grey' ? grey : null,
    balance === 'card' ? target : null,
    // The card tells the light as well.
    recipe.size.card,
  );
};

/**
 * Light, balance and exposure of a finish's photograph: judged at a fixed size, so that a draft and a full set are
 * calibrated alike.
 * @throws RangeError with a sentence when what is asked cannot be had (a clipped grey, too few patches)
 */
export async function calibrationOf(
  sources: Sources,
  cache: StageCache,
  recipe: Pick<Recipe, 'sample' | 'size' | 'colour'>,
  sample: SampleToLookAt,
  geometry: SampleGeometry,
): Promise<{ calibration: Calibration; key: string }> {
  const { colour } = recipe;
  const key = keyOf(recipe, sample.sha256, geometry);
  if (!colour.levelling && colour.balance === 'none') return { calibration: NO_CALIBRATION, key: 'plain' };
  const known = cache.get<Calibration>(key);
  if (known) return { calibration: known, key };
  const calibration = await judge(sources, recipe, colour, sample, geometry);
  cache.set(key, calibration);
  return { calibration, key };
}

async function judge(
  sources: Sources,
  recipe: Pick<Recipe, 'sample' | 'size'>,
  colour: ColourSettings,
  sample: SampleToLookAt,
  geometry: SampleGeometry,
): Promise<Calibration> {
  const { frame, used } = geometry;
  const marks = recipe.size.card?.marks;
  if (colour.balance === 'card' && !marks)
    throw new RangeError(
      'The balance is to rest on the target card, but no card is found in this picture. Find it under Size, or balance by a grey patch.',
    );
  const place = marks ? cardInPicture(sample, frame.bow, marks) : null;
  const outline = place && cardOutline(place);
  const received = (sidePx: number) => sources.level(sample.id, levelAtMost(sample, sidePx));
  const reference = colour.target.reference?.patches ?? CARD_REFERENCE;
  const card = place && (await received(CARD_SIDE_PX));
  const seen = card && place ? readCard(card, place) : [];
  const patchesKnown = card && place ? lightOnCard(card, place, seen, reference) : [];

  let light: LightField | null = null;
  if (colour.levelling) {
    const surface = surfaceFrame(recipe.sample, sample, frame, used);
    const { picture, keptOut } = await lookStraight(
      sources,
      sample,
      surface,
      recipe.sample.keepOuts,
      LIGHT_SIDE_PX,
    );
    const around = surroundOf(await received(SURROUND_SIDE_PX), surface, [
      ...(outline ? [outline] : []),
      ...(colour.grey ? [spotOutline(colour.grey.at, colour.grey.radius)] : []),
    ]);
    const field = {
      coefficients: fitLight({ surfaces: [cellsOf(picture, surface, keptOut), around], known: patchesKnown }),
      order: LIGHT_ORDER,
      offset: 0,
      fine: null,
    };
    const over = lightOver(field, surface, picture.widthPx, picture.heightPx);
    const { radiusMm } = colour.levelling;
    const perMm = picture.widthPx / geometry.size.width.mm;
    const fine =
      radiusMm && surface === frame ? fineLight(picture, over, keptOut, Math.max(1, radiusMm * perMm)) : null;
    light = { ...field, fine };
    light.offset = keepingMean(
      picture,
      fine ? lightOver(light, surface, picture.widthPx, picture.heightPx) : over,
      keptOut,
    );
  }
  const levelled = (linear: Triple, at: Point): Triple => {
    const k = light ? Math.exp(-logLightAt(light, at)) : 1;
    return [linear[0] * k, linear[1] * k, linear[2] * k];
  };
  const report: Calibration['report'] = {
    light: light && describeLight(light, used),
    target: null,
    grey: null,
  };
  if (colour.balance === 'card') {
    const fit = fitTarget(
      seen.map((p) => ({ ...p, linear: levelled(p.linear, p.at) })),
      reference,
      colour.target.leftOut,
      colour.target.offset,
    );
    return { light, matrix: fit.matrix, report: { ...report, target: fit } };
  }
  if (colour.balance === 'grey' && colour.grey) {
    const { at, radius, lrv } = colour.grey;
    const spot = readSpot(await received(CARD_SIDE_PX), at as Point, radius);
    const matrix = fitGrey(levelled(spot.linear, at as Point), spot.clipped, lrv.value);
    const gains = [matrix.rows[0][0], matrix.rows[1][1], matrix.rows[2][2]] as const;
    return { light, matrix, report: { ...report, grey: { gains } } };
  }
  return { light, matrix: NO_MATRIX, report };
}

/** What counts as the sample when its light is judged: the frame; without one, the area that is used. */
function surfaceFrame(settings: Recipe['sample'], sample: SampleToLookAt, frame: Frame, used: Frame): Frame {
  if (!frame.whole || !settings.used) return frame;
  const area = settings.areas.find((a) => a.id === settings.used);
  return area ? frameOfQuad(sample, frame.bow, area.corners as Quad) : used;
}

const spotOutline = ([x, y]: readonly [number, number], radius: number): Point[] =>
  Array.from({ length: 16 }, (_, k) => [
    x + 1.3 * radius * Math.cos((k * Math.PI) / 8),
    y + 1.3 * radius * Math.sin((k * Math.PI) / 8),
  ]);

/** The used part of a sample at a size: as received, and as levelled and balanced. */
export async function lookCalibrated(
  sources: Sources,
  cache: StageCache,
  recipe: Pick<Recipe, 'sample' | 'size' | 'colour'>,
  sample: SampleToLookAt,
  geometry: SampleGeometry,
  sidePx: number,
): Promise<{ received: ColourPicture; calibrated: ColourPicture }> {
  const { calibration } = await calibrationOf(sources, cache, recipe, sample, geometry);
  const { picture } = await lookStraight(sources, sample, geometry.used, [], sidePx);
  return {
    received: picture,
    calibrated: calibrate(picture, calibration, recipe.colour, geometry.used, {
      x: geometry.usedMm.width / picture.widthPx,
      y: geometry.usedMm.height / picture.heightPx,
    }),
  };
}
