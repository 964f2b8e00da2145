import { readColour, type ColourReading } from '../colour';
import { calibrate } from '../light';
import type { ColourPicture, Plane } from '../raster';
import {
  bandsOfPicture,
  bandsOfPlane,
  heightOfNormals,
  normalsOfHeight,
  occlusionOfHeight,
  reliefFromBands,
  slopes,
  type Bands,
  type HeightField,
  type NormalField,
} from '../relief';
import { applyPlacement, seamFigures, type PlacedSource, type SeamFigures } from '../repeat';
import { roughnessOfGloss, type Surface } from '../response';
import { findPart, type MapRole, type SourceMap } from '../sample';
import { doubtsAboutSize } from '../size';
import { arrange } from './arrange';
import { countBoards } from './boards';
import { StageCache } from './cache';
import { calibrationOf } from './calibration';
import { checkFinish } from './checks';
import { finishColour, matchColour, type FinishedColour, type MatchedColour } from './colour';
import {
  allAtDensity,
  blendSpaceOf,
  frameOnMap,
  type LaidPicture,
  type PictureChange,
  type PictureToPlace,
} from './density';
import { evenedOut } from './evened';
import { resolveRepeat } from './geometry';
import { hashOf } from './hash';
import { sourcesOfRepeat } from './joined';
import { mended } from './make-ready';
import { keptOutShare, madeReady, placedMasks, PLAIN_SPACE, type MadeReady } from './masks';
import type { Recipe } from './recipe';
import {
  CannotRender,
  mapsOf,
  Stopped,
  type MapName,
  type RenderedFinish,
  type RenderOptions,
  type RenderReport,
  type Sources,
} from './result';

const LARGEST_SIDE_PX = 16384;

/**
 * Computes a finish from its recipe.
 *
 * Stages, each kept under the hash of what it depends on: sample at the density wanted → placement → colour, relief →
 * normals and occlusion → response. The match to a reflectance is made over the finished repeat, so that the repeat
 * itself, not the sample it was cut from, has the asked mean.
 *
 * @param recipe a valid recipe
 * @param sources its pictures
 * @throws Stopped when the signal asks; CannotRender with a sentence when something is missing
 */
export async function renderFinish(
  recipe: Recipe,
  sources: Sources,
  options: RenderOptions,
): Promise<RenderedFinish> {
  const {
    widthPx,
    maps = mapsOf(recipe),
    onProgress,
    onEarly,
    signal,
    cache = new StageCache(),
    pause,
  } = options;
  const step = async (share: number, name: string) => {
    onProgress?.(share, name);
    await pause?.();
    if (signal?.aborted) throw new Stopped();
  };
  const sampleId = recipe.source.sampleIds[0];
  if (!sampleId) throw new CannotRender('This finish has no sample yet. Add a picture to it first.');
  const info = await sources.info(sampleId);
  const geometry = await refusing(() => resolveRepeat(recipe, info));
  const { size, used, usedMm, laidMm, across, up } = geometry;
  const { repeatMm } = geometry.map;
  const heightPx = Math.max(1, Math.round((widthPx * repeatMm.height) / repeatMm.width));
  if (heightPx > LARGEST_SIDE_PX || widthPx > LARGEST_SIDE_PX) {
    throw new CannotRender(
      `At ${widthPx} px of width the repeat of ${repeatMm.width.toFixed(0)} × ${repeatMm.height.toFixed(0)} mm would be ${heightPx} px high; at most ${LARGEST_SIDE_PX} px are possible. Ask for fewer pixels.`,
    );
  }
  const pxPerMm = { x: widthPx / repeatMm.width, y: heightPx / repeatMm.height };
  const mmPerPx = { x: 1 / pxPerMm.x, y: 1 / pxPerMm.y };

  await step(0.02, 'Placing the sample');
  const keptOut = keptOutShare(recipe, geometry);
  if (keptOut > 0.98)
    throw new CannotRender(
      'The keep-outs cover the whole sample, so that nothing is left to make a repeat from. Take some of them away, or undo the last one.',
    );
  const { calibration, key: calibrationKey } = await refusing(() =>
    calibrationOf(sources, cache, recipe, { id: sampleId, ...info }, geometry),
  );
  const { levelling, fills } = recipe.colour;
  // Light was judged on the sample in its own mm.
  const own = { x: usedMm.width / laidMm.width, y: usedMm.height / laidMm.height };
  const calibrated = ({ frame }: PictureToPlace): PictureChange => ({
    key: hashOf(calibrationKey, levelling, fills),
    apply: (picture, perPx) =>
      calibrate(picture, calibration, { levelling, fills }, frame, {
        x: perPx.x * own.x,
        y: perPx.y * own.y,
      }),
  });
  const first: PictureToPlace = { sampleId, info, frame: used, enlarged: recipe.repeat.enlarged };
  const from = await refusing(() => sourcesOfRepeat(sources, cache, recipe, geometry, first, calibrated));
  const composing = (share: number) => step(0.02 + 0.16 * share, 'Composing the repeat');
  const arranged = geometry.solve
    ? await refusing(() =>
        arrange(
          sources,
          cache,
          from,
          recipe,
          geometry,
          composing,
          onEarly && ((coarse) => onEarly({ colour: matchedAlone(coarse, recipe), repeatMm })),
        ),
      )
    : null;
  // Ways that lay the sample as it is lay it without what is kept out.
  const whole = arranged
    ? null
    : await refusing(() => mended(sources, cache, from[0]!, recipe, geometry, composing));
  const map = arranged?.map ?? geometry.map;
  const mapKey = arranged?.key ?? hashOf('layers', map, whole?.key ?? 'as it is');
  /** How a sample of a density is made ready. */
  const readyAs = ({ picture, pxPerMm: perMm }: PlacedSource): MadeReady => {
    const { repeatMm: sizeMm, cells } = whole!.map;
    const { cutFirst } = geometry;
    return {
      cells,
      sizeMm,
      widthPx: cutFirst.across ? Math.round(sizeMm.width * perMm.x) : picture.widthPx,
      heightPx: cutFirst.up ? Math.round(sizeMm.height * perMm.y) : picture.heightPx,
    };
  };
  /** The same picture of every source, laid over the repeat as the placement map says. */
  const place = async (
    pictures: readonly LaidPicture[],
    evens = true,
  ): Promise<{ placed: ColourPicture; key: string }> => {
    const dense = await allAtDensity(sources, cache, pictures, pxPerMm);
    const key = hashOf(
      'placed',
      dense.map((d) => d.key),
      mapKey,
    );
    const known = cache.get<ColourPicture>(key);
    if (known) return { placed: known, key };
    await step(0.2, 'Placing the sample');
    const { picture, change } = pictures[0]!;
    const space = arranged ? PLAIN_SPACE : await blendSpaceOf(sources, cache, picture, laidMm, change);
    const solved = arranged ?? whole;
    const evened = solved && evens ? await evenedOut(sources, cache, pictures, solved) : null;
    const laid = whole ? [madeReady(dense[0]!, readyAs(dense[0]!), evened)] : dense;
    return {
      placed: cache.keep(key, applyPlacement(map, laid, widthPx, heightPx, space, whole ? null : evened)),
      key,
    };
  };
  const { placed, key: placedKey } = await place(from);
  const ofSet = (...roles: MapRole[]) => recipe.source.maps.find((m) => roles.includes(m.role));
  /** A map of the set as data, laid over the repeat by the same placement. */
  const placeMap = async ({ sampleId: id, role }: SourceMap) => {
    if (from.some((source) => source.pictureNumber > 0))
      throw new CannotRender(
        'The maps of the set belong to the first picture only, so that nothing is known of them in the others. Join areas of the first picture, or take the maps out of the set.',
      );
    const info = await sources.info(id);
    const pictures = from.map(({ picture: { frame, enlarged }, laidMm: mm }) => ({
      picture: { sampleId: id, info, frame: frameOnMap(frame, info), asData: true, enlarged },
      laidMm: mm,
    }));
    // Directions are not evened out: their copies meet as they are.
    return place(pictures, role !== 'normal');
  };

  /** Where the part that colourways recolour lies in the repeat; null when it is not there any more. */
  const recolouredPart = async (): Promise<Plane | null> => {
    const wanted = recipe.sample.parts.find((p) => p.id === recipe.colour.recoloured);
    if (!wanted) return null;
    const asReceived = from.map(({ picture, laidMm: mm }) => ({ picture, laidMm: mm }));
    const dense = await allAtDensity(sources, cache, asReceived, pxPerMm);
    const key = hashOf(
      'part',
      dense.map((d) => d.key),
      mapKey,
      wanted,
    );
    const known = cache.get<Plane>(key);
    if (known) return known;
    await step(0.35, 'Separating the part');
    const masks = dense.map(({ picture, pxPerMm: perMm }) => ({
      mask: findPart(picture, wanted, { x: 1 / perMm.x, y: 1 / perMm.y }).weight,
      pxPerMm: perMm,
    }));
    return cache.keep(key, placedMasks(masks, map, widthPx, heightPx, whole ? readyAs(dense[0]!) : null));
  };

  await step(0.4, 'Matching the colour');
  const seamKey = hashOf('seam', placedKey, across.modules, up.modules);
  const measured =
    cache.get<{ seam: SeamFigures; before: ColourReading }>(seamKey) ??
    cache.keep(seamKey, {
      seam: seamFigures(placed, { across: across.modules, up: up.modules }),
      before: readColour(placed),
    });
  const way = options.way ?? null;
  const part = way && recipe.colour.recoloured ? await recolouredPart() : null;
  const colourKey = hashOf('colour', placedKey, recipe.colour, way, part ? recipe.sample.parts : null);
  const { ruling, lrv, colour: known, reference } = recipe.colour;
  const matchKey = hashOf('match', placedKey, ruling, lrv, known, reference);
  const matched =
    cache.get<MatchedColour>(matchKey) ??
    cache.keep(matchKey, await refusing(() => matchColour(placed, measured.before, recipe.colour)));
  const coloured =
    cache.get<FinishedColour>(colourKey) ??
    cache.keep(
      colourKey,
      await refusing(() => finishColour(matched, measured.before, recipe.colour, way, mmPerPx, part)),
    );
  const { colour, after } = coloured;

  const wants = (name: MapName) => maps.includes(name);
  await step(0.5, 'Reading the relief');
  const { depthMm, ...shape } = recipe.relief;
  const reliefMap = recipe.relief.source === 'map' ? ofSet('height', 'normal') : undefined;
  if (recipe.relief.source === 'map' && !reliefMap)
    throw new CannotRender(
      'The relief is to come from a map, but the set holds neither a height nor a normal map. Take it from the picture, or bring the map in.',
    );
  const reliefFrom = reliefMap ? await placeMap(reliefMap) : { placed, key: placedKey };
  const heightKey = hashOf('height', reliefFrom.key, reliefMap ?? 'picture', shape, depthMm.value);
  let height = cache.get<HeightField>(heightKey);
  if (!height) {
    const bandsKey = hashOf(
      'bands',
      reliefFrom.key,
      reliefMap ?? 'picture',
      shape.broadFromMm,
      shape.fineBelowMm,
    );
    const bands =
      cache.get<Bands>(bandsKey) ??
      cache.keep(
        bandsKey,
        reliefMap
          ? bandsOfPlane(
              reliefMap.role === 'normal'
                ? heightOfNormals(reliefFrom.placed, mmPerPx, reliefMap.greenRuns)
                : planeOf(reliefFrom.placed),
              mmPerPx,
              shape,
            )
          : bandsOfPicture(placed, mmPerPx, shape),
      );
    height = cache.keep(heightKey, reliefFromBands(bands, mmPerPx, { ...shape, depthMm: depthMm.value }));
  }
  await step(0.6, 'Deriving normals');
  const normalKey = hashOf('normal', heightKey);
  const derived =
    cache.get<{ normal: NormalField; slope: ReturnType<typeof slopes> }>(normalKey) ??
    cache.keep(
      normalKey,
      (() => {
        const normal = normalsOfHeight(height, mmPerPx);
        return { normal, slope: slopes(normal) };
      })(),
    );
  let occlusion: Plane | undefined;
  if (wants('occlusion')) {
    await step(0.7, 'Deriving occlusion');
    const occlusionKey = hashOf('occlusion', heightKey);
    // Beyond six times the depth a rise stands below 10° and takes next to no light.
    const radiusMm = Math.max(6 * depthMm.value, 2 * Math.max(mmPerPx.x, mmPerPx.y));
    occlusion =
      cache.get<Plane>(occlusionKey) ??
      cache.keep(occlusionKey, occlusionOfHeight(height, derived.normal, mmPerPx, radiusMm));
  }

  await step(0.95, 'Working out the gloss');
  const surface: Surface = recipe.response.metal
    ? { kind: 'metal', f0: Math.min(1, after.lrv / 100) }
    : { kind: 'dielectric', index: recipe.response.index.value };
  const gloss = roughnessOfGloss(recipe.response.glossGu.value, surface);
  const responseMaps: Partial<Record<'roughness' | 'metalness' | 'opacity', Plane>> = {};
  for (const name of ['roughness', 'metalness', 'opacity'] as const) {
    const from = wants(name) && (name === 'roughness' ? ofSet('roughness', 'gloss') : ofSet(name));
    if (!from) continue;
    const plane = planeOf((await placeMap(from)).placed);
    // Gloss counts the other way: what is smooth is bright.
    if (from.role === 'gloss') for (let i = 0; i < plane.data.length; i++) plane.data[i] = 1 - plane.data[i]!;
    responseMaps[name] = plane;
  }

  const stretch = { across: across.stretch ?? 0, up: up.stretch ?? 0 };
  const report: Omit<RenderReport, 'checks'> = {
    repeatMm,
    copies: arranged?.copies ?? null,
    boards: arranged?.boards ? countBoards(arranged.boards) : null,
    arrangement: geometry.solve === 'compose' ? recipe.repeat.arrangement : null,
    joined: from.map(({ gain }) => ({ gain })),
    brokenHoldMm: (arranged ?? whole)?.brokenHoldMm ?? 0,
    stretch,
    repeatToleranceMm: {
      width: repeatMm.width * (size.width.toleranceMm / size.width.mm + Math.abs(stretch.across)),
      height: repeatMm.height * (size.height.toleranceMm / size.height.mm + Math.abs(stretch.up)),
    },
    inferred: inferredBy(recipe.repeat.enlarged, pxPerMm, {
      x: (size.pxPerMm.x * usedMm.width) / laidMm.width,
      y: (size.pxPerMm.y * usedMm.height) / laidMm.height,
    }),
    sampleMm: { width: size.width.mm, height: size.height.mm },
    usedMm,
    keptOut,
    pxPerMm,
    lrv: after.shown.lrv,
    meanLab: after.shown.meanLab,
    before: { lrv: measured.before.lrv, meanLab: measured.before.meanLab },
    factors: coloured.factors,
    claims: coloured.claims,
    hand: coloured.hand,
    calibration: calibration.report,
    way,
    wayOff: coloured.wayOff,
    clipped: { high: after.clippedHigh, low: after.clippedLow },
    luminance: { p1: after.p1, p50: after.p50, p99: after.p99 },
    seam: measured.seam,
    heightMm: { min: height.minMm, max: height.maxMm, zero: 0 },
    slopeDeg: { mean: derived.slope.meanDeg, p99: derived.slope.p99Deg },
    glossGu: recipe.response.glossGu.value,
    roughness: gloss.roughness,
  };
  await step(1, 'Done');
  return {
    widthPx,
    heightPx,
    report: {
      ...report,
      checks: checkFinish(recipe, report, {
        size,
        across,
        up,
        surface,
        glossReached: gloss.reached,
        samplePxPerMm: size.pxPerMm,
        doubts: options.category ? doubtsAboutSize(size, options.category) : [],
      }),
    },
    placed: { map, sources: from, courses: geometry.courses },
    colour,
    ...(wants('height') ? { height } : {}),
    ...(wants('normal') ? { normal: derived.normal } : {}),
    ...(occlusion ? { occlusion } : {}),
    roughness: gloss.roughness,
    metalness: recipe.response.metal ? 1 : 0,
    responseMaps,
  };
}

/** How many times finer than its own pixels the detail of a picture is made at a density. */
const inferredBy = (
  enlarged: number,
  asked: { x: number; y: number },
  own: { x: number; y: number },
): number => Math.max(1, Math.min(enlarged, Math.max(asked.x / own.x, asked.y / own.y)));

/** A picture of the repeat with its colour matched as the finish's would be; parts and colourways aside. */
function matchedAlone(picture: ColourPicture, { colour }: Recipe): ColourPicture {
  const before = readColour(picture);
  return finishColour(matchColour(picture, before, colour), before, colour, null, { x: 1, y: 1 }, null)
    .colour;
}

/** A setting that cannot be becomes a refusal with its sentence. */
async function refusing<T>(work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof RangeError) throw new CannotRender(error.message);
    throw error;
  }
}

const planeOf = (picture: ColourPicture): Plane => ({
  widthPx: picture.widthPx,
  heightPx: picture.heightPx,
  data: picture.g.slice(),
});
