import { colourReadingSteps, type Triple } from '../colour';
import type { ColourPicture, Plane } from '../raster';
import {
  hashOf,
  refusing,
  withTurns,
  type Field,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
  namedPart,
  type Part,
} from '../surface';
import { spans, type Steps } from '../steps';
import { seamFiguresSteps } from '../repeat/seam';
import { bondOf } from './bonds';
import { checkLayout } from './checks';
import { colouringSteps, pieceColours } from './colour';
import { ALONG, coverInSteps, pixelsNearEdges, type Cover } from './cover';
import { areasOf, beyondOf, continuationsOf, facesOf } from './faces-of-surface';
import { fromOthers, jointHeight, jointPlanes, meanColourSteps, type FromOthers } from './from-others';
import type { LayoutGeometry } from './lay';
import { arrisWeight, layoutReliefSteps, reachOf } from './relief';
import type { LayoutReport } from './report';
import { coverage, laidPlane, laidPlanes, originOf, type Laying } from './sampling';
import type { LayoutSettings } from './settings';
import { solveLayout, type SolvedLayout } from './solved';
import { takeOffOf } from './take-off';
import { usualGlossOf } from './working';

/** What a million pixels take whose distance to one edge is found. */
const SECONDS_NEAR_EDGES = 0.04;

/** Fitted stones have as many kinds as sizes; more are not listed. */
const MOST_KINDS = 12;

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
    const nearEdges = pixelsNearEdges(geometry, px, reachOf(settings));
    ctx.expect({
      what: `laying ${geometry.pieces.length} pieces over ${px.width} × ${px.height} px`,
      less: 'Make the repeat of the layout smaller',
      where: 'layout.repeatMm',
      seconds:
        0.1 +
        0.002 * geometry.pieces.length +
        (1.2 * px.width * px.height + SECONDS_NEAR_EDGES * nearEdges) / 1e6,
      bytes: 30 * px.width * px.height,
    });
    const continues = continuesFaces(ctx, surface);
    const faces = facesOf(surface, settings, geometry, continues);
    const key = hashOf('layout', settings, continues, px, surface.px, surface.sizeMm, areasOf(surface));
    const continuations = ctx.later(['continued', key, surface.fields.picture!.key], () =>
      continues ? continuationsOf(ctx, surface, faces) : [],
    );
    const cover = ctx.later(['cover', key], () =>
      withTurns(ctx.options, coverInSteps(geometry, px, reachOf(settings))),
    );
    const laying = async (): Promise<Laying> => ({
      geometry,
      cover: await cover.get(),
      faces: faces.faces,
      areas: areasOf(surface),
      continuations: await continuations.get(),
      from: { sizeMm: surface.sizeMm, px: surface.px },
    });
    const others = fromOthers(ctx, settings, solved, cover);
    const joint = ctx.later(['joint', key], async () =>
      withTurns(ctx.options, jointWeight(await cover.get(), geometry)),
    );
    const pictureOf = (name: string, from: Pending<ColourPicture>) =>
      ctx.later(['laid', name, key, from.key], async () =>
        withTurns(ctx.options, laidPicture(await laying(), await from.get())),
      );
    const { fields } = surface;
    return {
      ...surface,
      sizeMm: repeatMm,
      px,
      fields: {
        ...fields,
        picture: pictureOf('picture', fields.picture!),
        colour: colourOf(ctx, { settings, solved, surface, cover, laying, others, key }),
      },
      maps: new Map(
        [...surface.maps].map(([role, map]) => [
          role,
          ctx.later(['laid map', role, key, map.key], async () => {
            const { picture, greenRuns } = await map.get();
            return { picture: await withTurns(ctx.options, laidPicture(await laying(), picture)), greenRuns };
          }),
        ]),
      ),
      parts: partsOf(ctx, settings, solved, surface, cover, joint, laying, key),
      pieces: {
        key: hashOf('pieces of layout', key),
        get: async () => withTurns(ctx.options, piecesUnder(await cover.get())),
      },
      laid: {
        faces: surface,
        origin: { key: hashOf('origin', key), get: async () => originOf(await laying()) },
        lay: async (plane) => withTurns(ctx.options, laidPlane(await laying(), plane)),
        honed: settings.working.kind === 'honed',
        usualGloss: usualGlossOf(settings.working),
        others: others.kinds.filter((kind) => kind !== null),
        jointFrom: others.joint,
        relief: ctx.later(['relief of layout', key, others.joint?.key ?? null], async () => {
          await ctx.step(0.5, 'Laying the pieces');
          const drawn = await cover.get();
          const grain = await jointHeight(others.joint, drawn.piece.length);
          return withTurns(ctx.options, layoutReliefSteps(geometry, drawn, settings, grain));
        }),
        joint,
        endsMm: (reachMm) =>
          ctx.later(['ends of pieces', key, reachMm], async () =>
            withTurns(ctx.options, endDistance(geometry, px, reachMm)),
          ),
        jointGlossGu: settings.joint.glossGu,
      },
    };
  },

  async report(ctx, settings, surface) {
    if (!settings || !surface.laid) return { report: { layout: null }, checks: [] };
    const { geometry, kindOf } = solveLayout(settings);
    const continues = continuesFaces(ctx, surface.laid.faces);
    const faces = facesOf(surface.laid.faces, settings, geometry, continues);
    const colour = surface.fields.colour!;
    const read = await ctx.known(hashOf('reading', colour.key), async () =>
      withTurns(ctx.options, colourReadingSteps(await colour.get())),
    );
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
      withTurns(ctx.options, seamFiguresSteps(await colour.get(), coursesOn(settings, geometry))),
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

/** Courses follow each other up, or across where the layout is upright; turned by 45° they meet no edge. */
function coursesOn({ turnedDeg }: LayoutSettings, { courses }: LayoutGeometry) {
  if (courses <= 1 || turnedDeg % 90 !== 0) return {};
  return turnedDeg === 0 ? { up: courses } : { across: courses };
}

/** How far the size of the repeat may be off: as far, in proportion, as the pieces. */
function toleranceMm(
  { piece, turnedDeg }: LayoutSettings,
  { width, height }: { width: number; height: number },
) {
  const share = ({ value, tolerance }: { value: number; tolerance?: number | undefined }) =>
    (tolerance ?? 0) / value;
  const [along, across] = [share(piece.lengthMm), share(piece.widthMm)];
  if (turnedDeg % 90 !== 0) {
    const most = Math.max(along, across);
    return { width: width * most, height: height * most };
  }
  const level = turnedDeg === 0;
  return { width: width * (level ? along : across), height: height * (level ? across : along) };
}

/** Whether areas that are too short are continued, as since version 2. What is generated has no pictures to continue. */
const continuesFaces = (ctx: RenderContext, faces: Surface) =>
  ctx.versionOf(layoutStage) >= 2 && !faces.generated;

function* laidPicture(laying: Laying, { r, g, b }: ColourPicture): Steps<ColourPicture> {
  const { width: widthPx, height: heightPx } = laying.cover.px;
  const [lr, lg, lb] = (yield* laidPlanes(laying, [r, g, b])) as [Float32Array, Float32Array, Float32Array];
  return { widthPx, heightPx, r: lr, g: lg, b: lb };
}

/** What the colour of a laid surface is made from. */
interface ColourParts {
  settings: LayoutSettings;
  solved: SolvedLayout;
  surface: Surface;
  cover: Pending<Cover>;
  laying: () => Promise<Laying>;
  others: FromOthers;
  key: string;
}

function colourOf(
  ctx: RenderContext,
  { settings, solved: { geometry, kindOf }, surface, cover, laying, others, key }: ColourParts,
): Field<'colour'> {
  const from = surface.fields.colour!;
  const keysOfOthers = [...others.kinds, others.joint].map((other) => other?.key ?? null);
  return ctx.later(['laid colour', key, from.key, keysOfOthers], async () => {
    const faces = await from.get();
    await ctx.step(0.2, 'Laying the pieces');
    const laid = await withTurns(ctx.options, laidPicture(await laying(), faces));
    const tones = await layKinds(ctx, laid, others);
    const drawn = await cover.get();
    const joints = await jointPlanes(others.joint, drawn.piece.length);
    const own = await withTurns(ctx.options, meanColourSteps(faces));
    const colours = pieceColours(geometry, settings, kindOf, [own, ...tones]);
    return withTurns(ctx.options, colouringSteps(laid, geometry, drawn, settings, colours, joints));
  });
}

/** Lays pieces of other finishes over their places. @returns the mean of each kind, linear light; null: it is of the finish itself */
async function layKinds({ options }: RenderContext, { r, g, b }: ColourPicture, { kinds }: FromOthers) {
  const tones: (Triple | null)[] = [];
  for (const kind of kinds) {
    const colour = kind && (await (await kind.surface.get()).fields.colour!.get());
    if (colour) await kind.layAll([colour.r, colour.g, colour.b], [r, g, b]);
    tones.push(colour && (await withTurns(options, meanColourSteps(colour))));
  }
  return tones;
}

/** Share of each pixel that is joint. */
function* jointWeight({ px, piece, distanceMm }: Cover, { repeatMm }: LayoutGeometry): Steps<Plane> {
  const { width: widthPx, height: heightPx } = px;
  const mmPx = Math.max(repeatMm.width / widthPx, repeatMm.height / heightPx);
  const data = new Float32Array(widthPx * heightPx);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = piece[i]! < 0 ? 1 : 1 - coverage(distanceMm[i]!, mmPx);
  }
  return { widthPx, heightPx, data };
}

/** Distance to the ends of pieces, mm; `reachMm` where a side along the piece is nearer, and in joints. */
function* endDistance(
  geometry: LayoutGeometry,
  px: { width: number; height: number },
  reachMm: number,
): Steps<Plane> {
  const { distanceMm, side } = yield* coverInSteps(geometry, px, { insideMm: reachMm, outsideMm: 0 });
  const data = new Float32Array(distanceMm.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const mm = distanceMm[i]!;
      data[i] = mm < 0 || (side[i]! & ALONG) !== 0 ? reachMm : Math.min(reachMm, mm);
    }
  }
  return { widthPx: px.width, heightPx: px.height, data };
}

/** What comes of laying, by the name of the part. */
export const LAID_PARTS = { joint: 'Joints', face: 'Faces', arris: 'Arrises' } as const;

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
  const parts = new Map<string, Part>();
  const put = (id: string, name: string, of: Pending<Plane>) => parts.set(id, namedPart(name, of));
  for (const [id, part] of surface.parts)
    put(
      id,
      part.name,
      ctx.later(['laid part', id, key, part.key], async () =>
        withTurns(ctx.options, laidPlane(await laying(), await part.get())),
      ),
    );
  const without = (weight: (i: number, cover: Cover) => number) => async () => {
    const [drawn, between] = [await cover.get(), await joint.get()];
    return withTurns(
      ctx.options,
      ofPieces(between, (i) => weight(i, drawn)),
    );
  };
  const arris = arrisWeight(settings, geometry);
  put('joint', LAID_PARTS.joint, joint);
  put(
    'face',
    LAID_PARTS.face,
    ctx.later(
      ['face', key],
      without((i, drawn) => 1 - arris(i, drawn)),
    ),
  );
  if (settings.arris.form !== 'square')
    put('arris', LAID_PARTS.arris, ctx.later(['arris', key], without(arris)));
  settings.blend.others.forEach(({ id, name }, k) => {
    const own = (i: number, drawn: Cover) =>
      drawn.piece[i]! >= 0 && kindOf[drawn.piece[i]!] === k + 1 ? 1 : 0;
    put(`blend-${id}`, name, ctx.later(['blend', id, key], without(own)));
  });
  return parts;
}

/** The weight of a part of the pieces, less where joints are. */
function* ofPieces(joint: Plane, weight: (i: number) => number): Steps<Plane> {
  const between = joint.data;
  const data = new Float32Array(between.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = (1 - between[i]!) * weight(i);
  }
  return { ...joint, data };
}

/** Pieces, without joints. */
function* piecesUnder({ piece, distanceMm }: Cover): Steps<Int32Array> {
  const pieces = new Int32Array(piece.length);
  for (const { from, to } of spans(pieces.length)) {
    yield;
    for (let i = from; i < to; i++) pieces[i] = distanceMm[i]! >= 0 ? piece[i]! : -1;
  }
  return pieces;
}
