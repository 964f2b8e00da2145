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
  type LightField,
} from '../light';
import { frameOfQuad, type Frame, type Point, type Quad } from '../straighten';
import type { Triple } from '../colour';
import { halvingsToFit, type ColourPicture } from '../raster';
import type { ResolvedSize } from '../size';
import { hashOf, refusing, RenderContext, type Pictures, type StageCache } from '../surface';
import { lookStraight } from './looking';
import type { PictureSource } from './settings';
import { sampleGeometry, type Source, type UsedPart } from './source';

/** Pixels at which the light is judged, and at which a card is read. */
const LIGHT_SIDE_PX = 480;
const SURROUND_SIDE_PX = 800;
const CARD_SIDE_PX = 2000;

/** A source, and the part of it that is used. */
export type UsedSource = Source & UsedPart & { area: string | null };

/** What a calibration depends on. */
const keyOf = ({ settings, info, frame, size, used }: UsedSource) => {
  const { levelling, balance, grey, target } = settings.light;
  return hashOf(
    'calibration',
    info.sha256,
    frame.plane,
    frame.bow,
    used.plane,
    settings.preparation.keepOuts,
    levelling && { radiusMm: levelling.radiusMm },
    levelling?.radiusMm ? [size.width.mm, size.height.mm] : null,
    balance,
    balance === 'grey' ? grey : null,
    balance === 'card' ? target : null,
    // The card tells the light as well.
    settings.size?.card ?? null,
  );
};

/**
 * Light, balance and exposure of a photograph: judged at a fixed size, so that a draft and a full set are calibrated
 * alike.
 * @throws Refusal when what is asked cannot be had (a clipped grey, too few patches)
 */
export async function calibrationOf(
  ctx: RenderContext,
  source: UsedSource,
): Promise<{ calibration: Calibration; key: string }> {
  const { light, id } = source.settings;
  if (!light.levelling && light.balance === 'none') return { calibration: NO_CALIBRATION, key: 'plain' };
  const key = keyOf(source);
  const judged = () => refusing('light', `sources.${id}.light`, () => judge(ctx.pictures, source));
  return { calibration: await ctx.known(key, judged), key };
}

async function judge(pictures: Pictures, source: UsedSource): Promise<Calibration> {
  const { settings, info, frame, used } = source;
  const { balance, grey, target } = settings.light;
  const marks = settings.size?.card?.marks;
  if (balance === 'card' && !marks)
    throw new RangeError(
      'The balance is to rest on the target card, but no card is found in this picture. Find it under Size, or balance by a grey patch.',
    );
  const place = marks ? cardInPicture(info, frame.bow, marks) : null;
  const received = (sidePx: number) => pictures.level(settings.sampleId, halvingsToFit(info, sidePx));
  const reference = target.reference?.patches ?? CARD_REFERENCE;
  const card = place && (await received(CARD_SIDE_PX));
  const seen = card && place ? readCard(card, place) : [];
  const patchesKnown = card && place ? lightOnCard(card, place, seen, reference) : [];
  const light = settings.light.levelling
    ? await lightOf(pictures, source, place && cardOutline(place), patchesKnown)
    : null;
  const levelled = (linear: Triple, at: Point): Triple => {
    const k = light ? Math.exp(-logLightAt(light, at)) : 1;
    return [linear[0] * k, linear[1] * k, linear[2] * k];
  };
  const report: Calibration['report'] = {
    light: light && describeLight(light, used),
    target: null,
    grey: null,
  };
  if (balance === 'card') {
    const fit = fitTarget(
      seen.map((p) => ({ ...p, linear: levelled(p.linear, p.at) })),
      reference,
      target.leftOut,
      target.offset,
    );
    return { light, matrix: fit.matrix, report: { ...report, target: fit } };
  }
  if (balance === 'grey' && grey) {
    const spot = readSpot(await received(CARD_SIDE_PX), grey.at as Point, grey.radius);
    const matrix = fitGrey(levelled(spot.linear, grey.at as Point), spot.clipped, grey.lrv.value);
    const gains = [matrix.rows[0][0], matrix.rows[1][1], matrix.rows[2][2]] as const;
    return { light, matrix, report: { ...report, grey: { gains } } };
  }
  return { light, matrix: NO_MATRIX, report };
}

/** How the light falls over a picture, judged on the finish, its surround and the card. */
async function lightOf(
  pictures: Pictures,
  source: UsedSource,
  cardAt: readonly Point[] | null,
  known: Parameters<typeof fitLight>[0]['known'],
): Promise<LightField> {
  const { settings, info, frame, size } = source;
  const { keepOuts } = settings.preparation;
  const { grey, levelling } = settings.light;
  const sample = { id: settings.sampleId, ...info };
  const surface = surfaceFrame(source);
  const { picture, keptOut } = await lookStraight(pictures, sample, surface, keepOuts, LIGHT_SIDE_PX);
  const around = surroundOf(
    await pictures.level(settings.sampleId, halvingsToFit(info, SURROUND_SIDE_PX)),
    surface,
    [...(cardAt ? [cardAt] : []), ...(grey ? [spotOutline(grey.at, grey.radius)] : [])],
  );
  const broad: LightField = {
    coefficients: fitLight({ surfaces: [cellsOf(picture, surface, keptOut), around], known }),
    order: LIGHT_ORDER,
    offset: 0,
    fine: null,
  };
  const over = lightOver(broad, surface, picture.widthPx, picture.heightPx);
  const radiusMm = levelling?.radiusMm;
  const perMm = picture.widthPx / size.width.mm;
  const fine =
    radiusMm && surface === frame ? fineLight(picture, over, keptOut, Math.max(1, radiusMm * perMm)) : null;
  const light = { ...broad, fine };
  const all = fine ? lightOver(light, surface, picture.widthPx, picture.heightPx) : over;
  return { ...light, offset: keepingMean(picture, all, keptOut) };
}

/** What counts as the sample when its light is judged: the frame; without one, the area that is used. */
function surfaceFrame({ settings, frame, used, area, info }: UsedSource): Frame {
  if (!frame.whole || !area) return frame;
  const picked = settings.preparation.areas.find((a) => a.id === area);
  return picked ? frameOfQuad(info, frame.bow, picked.corners as Quad) : used;
}

const spotOutline = ([x, y]: readonly [number, number], radius: number): Point[] =>
  Array.from({ length: 16 }, (_, k) => [
    x + 1.3 * radius * Math.cos((k * Math.PI) / 8),
    y + 1.3 * radius * Math.sin((k * Math.PI) / 8),
  ]);

/**
 * The used part of a picture at a size: as received, and as levelled and balanced.
 * @param area id of an area picked out of it; null: its whole frame
 * @param lead size of the leading picture, for a picture without a size of its own
 */
export async function lookCalibrated(
  pictures: Pictures,
  settings: PictureSource,
  area: string | null,
  sidePx: number,
  { cache, lead }: { cache?: StageCache; lead?: ResolvedSize } = {},
): Promise<{ received: ColourPicture; calibrated: ColourPicture }> {
  const asked = { widthPx: sidePx, way: null, category: null };
  const ctx = new RenderContext(pictures, asked, cache ? { cache } : {});
  const info = await pictures.info(settings.sampleId);
  const geometry = sampleGeometry(settings, area, info, lead);
  const source: UsedSource = { settings, info, area, ...geometry };
  const { calibration } = await calibrationOf(ctx, source);
  const { used, usedMm } = geometry;
  const { picture } = await lookStraight(pictures, { id: settings.sampleId, ...info }, used, [], sidePx);
  return {
    received: picture,
    calibrated: calibrate(picture, calibration, settings.light, used, {
      x: usedMm.width / picture.widthPx,
      y: usedMm.height / picture.heightPx,
    }),
  };
}
