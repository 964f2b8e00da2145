import { readColour } from '../colour';
import { mapChannels, mean, seededRandom, type ColourPicture, type Plane } from '../raster';
import { sampleAtDensity, type PictureChange, type PictureToPlace } from '../sources';
import {
  hashOf,
  refusing,
  type Field,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { seamFigures } from '../repeat/seam';
import { bondOf } from './bonds';
import { assignedKinds } from './blend';
import { checkLayout } from './checks';
import { coloured, pieceColours } from './colour';
import { coverOf, type Cover } from './cover';
import { chooseFaces, type ChosenFaces, type FaceArea } from './faces';
import { continued } from './continued';
import { layPieces, type LayoutGeometry } from './lay';
import { arrisWidth, reachOf, reliefOfLayout } from './relief';
import type { LayoutReport } from './report';
import { coverage, originOf, laidPlane, laidPlanes, type AreaContinuation, type Laying } from './sampling';
import type { LayoutSettings } from './settings';
import { takeOffOf } from './take-off';

/** A layout before it is drawn: where every piece lies, and of which kind it is. */
export interface SolvedLayout {
  geometry: LayoutGeometry;
  kindOf: Uint8Array;
}

/** Fitted stones have as many kinds as sizes; more are not listed. */
const MOST_KINDS = 12;

const BLEND_SEED = 101;
const FACES_SEED = 307;

/** The layouts that were solved last, by their settings: one drawing asks for the same one several times. */
const solved = new Map<string, SolvedLayout>();
const MOST_SOLVED = 6;
/** Sizes of layouts that were solved; lists of finishes ask for many. */
const sizes = new Map<string, LayoutGeometry['repeatMm']>();
const MOST_SIZES = 2000;

/** Settings that decide where pieces lie; how they look has no part in it. */
function keyOfPlaces({ joint, arris: _, shade: __, faces: ___, ...placing }: LayoutSettings): string {
  return JSON.stringify([placing, joint.alongMm.value, joint.acrossMm.value]);
}

/** Size of the repeat of a layout, mm. @throws RangeError with a sentence where it cannot be laid */
export function layoutSizeMm(settings: LayoutSettings): LayoutGeometry['repeatMm'] {
  const key = keyOfPlaces(settings);
  const known = sizes.get(key);
  if (known) return known;
  const { repeatMm } = solveLayout(settings).geometry;
  sizes.set(key, repeatMm);
  if (sizes.size > MOST_SIZES) sizes.delete(sizes.keys().next().value!);
  return repeatMm;
}

/** @throws RangeError with a sentence where it cannot be laid */
export function solveLayout(settings: LayoutSettings): SolvedLayout {
  const key = keyOfPlaces(settings);
  const known = solved.get(key);
  if (known) return known;
  const geometry = layPieces(settings);
  const kindOf = assignedKinds(settings.blend, geometry, seededRandom(settings.seed + BLEND_SEED));
  solved.set(key, { geometry, kindOf });
  if (solved.size > MOST_SOLVED) solved.delete(solved.keys().next().value!);
  return { geometry, kindOf };
}

/** What a surface has when its repeat was planned as faces. */
interface MadeOfFaces {
  plan?: { areas?: readonly Omit<FaceArea, 'closed'>[] };
  /** The pictures of the areas, in their order. */
  sources?: readonly {
    picture: PictureToPlace;
    laidMm: { width: number; height: number };
    change: PictureChange;
  }[];
}

/** Lays a finish of pieces; where it has no layout, it stays as it is. */
export const layoutStage: SurfaceStage<LayoutSettings | null, LayoutReport> = {
  name: 'layout',
  /** 2: areas that are too short for a piece are continued; 1: they were mirrored at their edges. */
  version: 2,
  work: 3,

  run(ctx, settings, surface) {
    if (!settings) return surface;
    const solved = refusing('layout', 'layout', () => solveLayout(settings));
    const { geometry } = solved;
    const { repeatMm } = geometry;
    const width = ctx.asked.widthPx;
    const px = { width, height: Math.max(1, Math.round((width * repeatMm.height) / repeatMm.width)) };
    const continues = continuesFaces(ctx);
    const faces = facesOf(surface, settings, geometry, continues);
    const key = hashOf('layout', settings, continues, px, surface.px, surface.sizeMm, areasOf(surface));
    const continuations = ctx.later(['continued', key], () =>
      continues ? continuationsOf(ctx, surface, faces) : [],
    );
    const cover = ctx.later(['cover', key], () => coverOf(geometry, px, reachOf(settings)));
    const laying = async (): Promise<Laying> => ({
      geometry,
      cover: await cover.get(),
      faces: faces.faces,
      areas: areasOf(surface),
      continuations: await continuations.get(),
      from: { sizeMm: surface.sizeMm, px: surface.px },
    });
    const joint = ctx.later(['joint', key], async () => jointWeight(await cover.get(), geometry));
    const pictureOf = (name: string, from: Pending<ColourPicture>) =>
      ctx.later(['laid', name, key, from.key], async () => laidPicture(await laying(), await from.get()));
    const { fields } = surface;
    return {
      ...surface,
      sizeMm: repeatMm,
      px,
      fields: {
        ...fields,
        picture: pictureOf('picture', fields.picture!),
        colour: colourOf(ctx, settings, solved, surface, cover, laying, key),
      },
      maps: new Map(
        [...surface.maps].map(([role, map]) => [
          role,
          ctx.later(['laid map', role, key, map.key], async () => {
            const { picture, greenRuns } = await map.get();
            return { picture: await laidPicture(await laying(), picture), greenRuns };
          }),
        ]),
      ),
      parts: partsOf(ctx, settings, solved, surface, cover, joint, laying, key),
      pieces: {
        key: hashOf('pieces of layout', key),
        get: async () => piecesUnder(await cover.get()),
      },
      laid: {
        faces: surface,
        origin: { key: hashOf('origin', key), get: async () => originOf(await laying()) },
        lay: async (plane) => laidPlane(await laying(), plane),
        relief: ctx.later(['relief of layout', key], async () => {
          await ctx.step(0.5, 'Laying the pieces');
          return reliefOfLayout(geometry, await cover.get(), settings);
        }),
        joint,
        jointGlossGu: settings.joint.glossGu,
      },
    };
  },

  async report(ctx, settings, surface) {
    if (!settings || !surface.laid) return { report: { layout: null }, checks: [] };
    const { geometry, kindOf } = solveLayout(settings);
    const continues = continuesFaces(ctx);
    const faces = facesOf(surface.laid.faces, settings, geometry, continues);
    const colour = surface.fields.colour!;
    const read = await ctx.known(hashOf('reading', colour.key), async () => readColour(await colour.get()));
    const layout = {
      bond: bondOf(settings.bond.kind).name,
      pieces: geometry.pieces.length,
      kinds: [...new Set(geometry.pieces.map((p) => p.kind))].slice(0, MOST_KINDS),
      courses: geometry.courses,
      repeatMm: geometry.repeatMm,
      laid: geometry.laid,
      closing: geometry.closing,
      takeOff: takeOffOf(geometry, kindOf, 1 + settings.blend.others.length),
      equalNeighbours: faces.equal,
      timesEach: faces.timesEach,
      ...beyondOf(faces, continues),
      turnHeldDeg: geometry.turnHeldDeg,
      overall: { lrv: read.lrv, meanLab: read.meanLab },
    };
    const { repeatMm } = geometry;
    const seam = await ctx.known(hashOf('seam of layout', colour.key), async () =>
      seamFigures(await colour.get(), { up: geometry.courses > 1 ? geometry.courses : undefined }),
    );
    const laid = {
      layout,
      seam,
      repeatMm,
      pxPerMm: { x: surface.px.width / repeatMm.width, y: surface.px.height / repeatMm.height },
      repeatToleranceMm: toleranceMm(settings, repeatMm),
    };
    return { report: laid, checks: checkLayout(settings, layout) };
  },
};

/** How far the size of the repeat may be off: as far, in proportion, as the pieces. */
function toleranceMm(
  { piece, turnedDeg }: LayoutSettings,
  { width, height }: { width: number; height: number },
) {
  const share = ({ value, tolerance }: { value: number; tolerance?: number | undefined }) =>
    (tolerance ?? 0) / value;
  const [along, across] = [share(piece.lengthMm), share(piece.widthMm)];
  const level = turnedDeg === 0;
  return { width: width * (level ? along : across), height: height * (level ? across : along) };
}

/** What pieces are cut from: the areas of a repeat of faces, or the whole of one that closes. */
function areasOf(surface: Surface): readonly FaceArea[] {
  const { plan } = surface as MadeOfFaces;
  if (plan?.areas) return plan.areas.map((area) => ({ ...area, closed: false }));
  return [{ left: 0, bottom: 0, ...surface.sizeMm, closed: true }];
}

const facesOf = (
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
  );

/** Whether areas that are too short are continued, as since version 2. */
const continuesFaces = (ctx: RenderContext) => ctx.versionOf(layoutStage) >= 2;

/** The axis along which areas are continued: that by which pieces reach farther beyond them. */
const continuedAxis = ({ reach }: ChosenFaces): 'x' | 'y' => {
  const most = (axis: 'x' | 'y') => Math.max(...reach.map((r) => r[axis]));
  return most('y') > most('x') ? 'y' : 'x';
};

function beyondOf(faces: ChosenFaces, continues: boolean) {
  const { x, y } = faces.beyondMm;
  const level = continuedAxis(faces) === 'x';
  return continues
    ? { continuedMm: level ? x : y, mirroredMm: level ? y : x }
    : { continuedMm: 0, mirroredMm: Math.max(x, y) };
}

/** Areas are continued on pictures of so many pixels along. */
const CONTINUED_PX = 200;

/** Continues the areas that are shorter than the pieces cut from them. */
async function continuationsOf(
  ctx: RenderContext,
  surface: Surface,
  faces: ChosenFaces,
): Promise<(AreaContinuation | null)[]> {
  const { sources } = surface as MadeOfFaces;
  const axis = continuedAxis(faces);
  const out: (AreaContinuation | null)[] = [];
  for (const [k, reach] of faces.reach.entries()) {
    const source = sources?.[k];
    if (!source || reach[axis] <= 1) {
      out.push(null);
      continue;
    }
    const { picture, laidMm, change } = source;
    const density = CONTINUED_PX / (axis === 'x' ? laidMm.width : laidMm.height);
    const small = await sampleAtDensity(ctx, picture, laidMm, { x: density, y: density }, change);
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

function laidPicture(laying: Laying, { r, g, b }: ColourPicture): ColourPicture {
  const { width: widthPx, height: heightPx } = laying.cover.px;
  const [lr, lg, lb] = laidPlanes(laying, [r, g, b]) as [Float32Array, Float32Array, Float32Array];
  return { widthPx, heightPx, r: lr, g: lg, b: lb };
}

function colourOf(
  ctx: RenderContext,
  settings: LayoutSettings,
  { geometry, kindOf }: SolvedLayout,
  { fields }: Surface,
  cover: Pending<Cover>,
  laying: () => Promise<Laying>,
  key: string,
): Field<'colour'> {
  const from = fields.colour!;
  return ctx.later(['laid colour', key, from.key], async () => {
    const faces = await from.get();
    await ctx.step(0.2, 'Laying the pieces');
    const laid = await laidPicture(await laying(), faces);
    const tone = [mean(faces.r), mean(faces.g), mean(faces.b)] as const;
    return coloured(
      laid,
      geometry,
      await cover.get(),
      settings,
      pieceColours(geometry, settings, kindOf, tone),
    );
  });
}

/** Share of each pixel that is joint. */
function jointWeight(cover: Cover, { repeatMm }: LayoutGeometry): Plane {
  const { width: widthPx, height: heightPx } = cover.px;
  const mmPx = Math.max(repeatMm.width / widthPx, repeatMm.height / heightPx);
  const data = new Float32Array(widthPx * heightPx);
  for (let i = 0; i < data.length; i++)
    data[i] = cover.piece[i]! < 0 ? 1 : 1 - coverage(cover.distanceMm[i]!, mmPx);
  return { widthPx, heightPx, data };
}

/** Parts of the pictures as they are laid, and those that come of laying: joint, arris, face, kinds of the blend. */
function partsOf(
  ctx: RenderContext,
  settings: LayoutSettings,
  { geometry, kindOf }: SolvedLayout,
  surface: Surface,
  cover: Pending<Cover>,
  joint: Pending<Plane>,
  laying: () => Promise<Laying>,
  key: string,
): Surface['parts'] {
  const parts = new Map<string, Pending<Plane>>();
  for (const [id, part] of surface.parts)
    parts.set(
      id,
      ctx.later(['laid part', id, key, part.key], async () => laidPlane(await laying(), await part.get())),
    );
  const without = (weight: (i: number, cover: Cover) => number) => async () => {
    const [drawn, between] = [await cover.get(), await joint.get()];
    return { ...between, data: between.data.map((share, i) => (1 - share) * weight(i, drawn)) };
  };
  const arris = arrisWeight(settings, geometry);
  parts.set('joint', joint);
  parts.set(
    'face',
    ctx.later(
      ['face', key],
      without((i, drawn) => 1 - arris(i, drawn)),
    ),
  );
  if (settings.arris.form !== 'square') parts.set('arris', ctx.later(['arris', key], without(arris)));
  settings.blend.others.forEach(({ id }, k) => {
    const own = (i: number, drawn: Cover) =>
      drawn.piece[i]! >= 0 && kindOf[drawn.piece[i]!] === k + 1 ? 1 : 0;
    parts.set(`blend-${id}`, ctx.later(['blend', id, key], without(own)));
  });
  return parts;
}

/** Weight of the arris within a piece: 1 on it, 0 on the face. */
function arrisWeight(settings: LayoutSettings, { repeatMm }: LayoutGeometry) {
  const width = arrisWidth(settings, repeatMm);
  return (i: number, { px, distanceMm, side }: Cover): number => {
    const [x, row] = [i % px.width, Math.floor(i / px.width)];
    const [mmX, mmY] = [repeatMm.width / px.width, repeatMm.height / px.height];
    const size = width((x + 0.5) * mmX, repeatMm.height - (row + 0.5) * mmY, side[i]!);
    return size > 0 ? coverage(size - distanceMm[i]!, Math.max(mmX, mmY)) : 0;
  };
}

/** Pieces, without joints. */
function piecesUnder({ piece, distanceMm }: Cover): Int32Array {
  return piece.map((id, i) => (distanceMm[i]! >= 0 ? id : -1));
}
