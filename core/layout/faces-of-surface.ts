import { mapChannels, seededRandom, type ColourPicture, type Plane } from '../raster';
import { sampleAtDensity, type PictureChange, type PictureToPlace } from '../sources';
import type { RenderContext, Surface } from '../surface';
import { continued } from './continued';
import { ALMOST, chooseFaces, type ChosenFaces, type FaceArea } from './faces';
import type { LayoutGeometry } from './lay';
import type { LaidReport } from './report';
import type { AreaContinuation } from './sampling';
import type { LayoutSettings } from './settings';

/** The faces that a surface offers, and how those that are too short for a piece are continued. */

const FACES_SEED = 307;

/** What a surface has when its repeat was planned as faces. */
interface MadeOfFaces {
  plan?: {
    areas?: readonly Omit<FaceArea, 'closed'>[];
    /** Size of the pictures that areas are stretches of. */
    pictures?: readonly { width: number; height: number }[];
  };
  /** The pictures of the areas, in their order. */
  sources?: readonly {
    picture: PictureToPlace;
    laidMm: { width: number; height: number };
    change: PictureChange;
  }[];
}

/** What pieces are cut from: the areas of a repeat of faces, or the whole of one that closes. */
export function areasOf(surface: Surface): readonly FaceArea[] {
  const { plan } = surface as MadeOfFaces;
  if (plan?.areas) return plan.areas.map((area) => ({ ...area, closed: false }));
  return [{ left: 0, bottom: 0, ...surface.sizeMm, closed: true }];
}

/** The face of every piece. @param continues areas that are too short are continued */
export const facesOf = (
  surface: Surface,
  settings: LayoutSettings,
  geometry: LayoutGeometry,
  continues: boolean,
): ChosenFaces =>
  chooseFaces(
    geometry,
    areasOf(surface),
    settings.faces,
    seededRandom(settings.seed + FACES_SEED),
    continues,
    (surface as MadeOfFaces).plan?.pictures,
  );

/** The axis along which areas are continued: that by which pieces reach farther beyond them. */
const continuedAxis = ({ reach }: ChosenFaces): 'x' | 'y' => {
  const most = (axis: 'x' | 'y') => Math.max(...reach.map((r) => r[axis]));
  return most('y') > most('x') ? 'y' : 'x';
};

/** By how much pieces are larger than their picture, as the report says it. */
export function beyondOf(
  faces: ChosenFaces,
  continues: boolean,
): Pick<LaidReport, 'continuedMm' | 'mirroredMm' | 'mirroredShare'> {
  const { beyondMm: mm, beyondShare: share } = faces;
  const along = continuedAxis(faces);
  const across = along === 'x' ? 'y' : 'x';
  return continues
    ? { continuedMm: mm[along], mirroredMm: mm[across], mirroredShare: share[across] }
    : { continuedMm: 0, mirroredMm: Math.max(mm.x, mm.y), mirroredShare: Math.max(share.x, share.y) };
}

/** Areas are continued on pictures of so many pixels, along the way they are continued and across it. */
const ALONG_PX = 200;
const ACROSS_PX = 60;

/** Continues the areas that are shorter than the pieces cut from them. */
export async function continuationsOf(
  ctx: RenderContext,
  surface: Surface,
  faces: ChosenFaces,
): Promise<(AreaContinuation | null)[]> {
  const { sources } = surface as MadeOfFaces;
  const axis = continuedAxis(faces);
  const out: (AreaContinuation | null)[] = [];
  for (const [k, reach] of faces.reach.entries()) {
    const source = sources?.[k];
    if (!source || reach[axis] <= 1 + ALMOST) {
      out.push(null);
      continue;
    }
    const { picture, laidMm, change } = source;
    const px = axis === 'x' ? { x: ALONG_PX, y: ACROSS_PX } : { x: ACROSS_PX, y: ALONG_PX };
    const perMm = { x: px.x / laidMm.width, y: px.y / laidMm.height };
    const small = await sampleAtDensity(ctx, picture, laidMm, perMm, change);
    // Rows run along the axis; across it they count as places do, which is upwards.
    const face = axis === 'x' ? upsideDown(small.picture) : mapChannels(small.picture, standing);
    out.push({ axis, along: continued(face, reach[axis]) });
  }
  return out;
}

/** Rows from the bottom. */
const upsideDown = (picture: ColourPicture) =>
  mapChannels(picture, ({ widthPx, heightPx, data }) => ({
    widthPx,
    heightPx,
    data: data.map((_, i) => data[(heightPx - 1 - Math.floor(i / widthPx)) * widthPx + (i % widthPx)]!),
  }));

/** A plane whose rows are the columns of another one, from its bottom upwards. */
const standing = ({ widthPx: w, heightPx: h, data }: Plane): Plane => ({
  widthPx: h,
  heightPx: w,
  data: data.map((_, i) => data[(h - 1 - (i % h)) * w + Math.floor(i / h)]!),
});
