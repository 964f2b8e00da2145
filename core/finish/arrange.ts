import {
  applyCells,
  arrangementOf,
  begunWell,
  brokenHoldPx,
  cellsOf,
  closeByCut,
  compose,
  evenOut,
  redo,
  type Cells,
  type ComposeSettings,
  type ComposeSource,
  type PlacedSource,
  type Placement,
  type PlacementMap,
  type Redone,
  type RedoTask,
  type Steps,
  type Torus,
  type Turn,
} from '../repeat';
import { fillPolygon, makePlane, type ColourPicture } from '../raster';
import { drawHoldLines, drawKeepOuts, type Mark } from '../sample';
import type { StageCache } from './cache';
import { sampleAtDensity, type PictureChange, type PictureToPlace } from './density';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import { keptOutOfSource, type RepeatSource } from './joined';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** A repeat whose placement was solved from the pixels of its sources. */
export interface Arranged {
  map: PlacementMap & { cells: Cells };
  key: string;
  /** Density at which it was solved. */
  pxPerMm: { x: number; y: number };
  /** How many copies it is cut from. */
  copies: number;
  /** Over what length hold lines are broken where copies meet. */
  brokenHoldMm: number;
  /** The repeat as solved, for what is laid anew in it, and where its copies lie by name. */
  solved: { torus: Torus; laid: Map<string, Placement> };
  /** What it was before something was laid anew, and where that was; null: nothing was. */
  before: { arranged: Arranged; free: Uint8Array } | null;
}

/** Longer side of the repeat at which its placement is solved, px; more when the sample is small in it. */
const WORKING_PX = 512;
const MOST_WORKING_PX = 1024;
/** Shorter side that the sample should have at the working resolution, px. */
const SAMPLE_PX = 112;

/** Pixels at which a placement is solved: whole eighths, so that halving leaves nothing over. */
function workingPx(
  repeatMm: { width: number; height: number },
  usedMm: { width: number; height: number },
  samplePxPerMm: number,
): [number, number] {
  const long = Math.max(repeatMm.width, repeatMm.height);
  const short = Math.min(usedMm.width, usedMm.height);
  let density = WORKING_PX / long;
  if (short * density < SAMPLE_PX) density = Math.min(SAMPLE_PX / short, MOST_WORKING_PX / long);
  density = Math.min(density, samplePxPerMm);
  const side = (mm: number) => Math.max(16, 8 * Math.round((mm * density) / 8));
  return [side(repeatMm.width), side(repeatMm.height)];
}

/** How copies may lie; as the sample lies comes first. */
function turnsOf({ turning, mirrored }: Pick<ComposeSettings, 'turning' | 'mirrored'>): Turn[] {
  const quarters = ({ none: [0], half: [0, 2], quarter: [0, 1, 2, 3] } as const)[turning];
  const flips = mirrored ? [false, true] : [false];
  return flips.flatMap((flipped) => quarters.map((q) => ({ quarters: q, flipped })));
}

/** Sides of a copy where none is asked for: a good part of the sample, and several to the repeat; longer in an oblong sample. */
function usualCopyMm(
  repeatMm: { width: number; height: number },
  { width, height }: { width: number; height: number },
): { width: number; height: number } {
  const side = (own: number, other: number) => Math.max(0.42 * own, Math.min(0.8 * own, 0.42 * other));
  return {
    width: Math.min(side(width, height), 0.5 * repeatMm.width),
    height: Math.min(side(height, width), 0.5 * repeatMm.height),
  };
}

/** The sources of a repeat at its working resolution. */
async function prepared(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  recipe: Pick<Recipe, 'sample'>,
  pxPerMm: { x: number; y: number },
) {
  const { holdLines } = recipe.sample;
  const dense = [];
  for (const { picture, laidMm, change } of from)
    dense.push(await sampleAtDensity(sources, cache, picture, laidMm, pxPerMm, change));
  return {
    dense,
    toCompose: dense.map(({ picture }, k): ComposeSource => {
      const { widthPx: w, heightPx: h } = picture;
      const { pictureNumber, picture: of } = from[k]!;
      return {
        picture,
        keptOut: keptOutOfSource(recipe, from[k]!, w, h),
        held: pictureNumber === 0 && holdLines.length > 0 ? drawHoldLines(of.frame, holdLines, w, h) : null,
      };
    }),
  };
}

/** What hangs on the sources of a repeat. */
const keyOfSources = (from: readonly RepeatSource[], { keepOuts, holdLines }: Recipe['sample']) => [
  from.map(({ picture: { info, frame }, change, laidMm }) => [
    info.sha256,
    frame.plane,
    frame.bow,
    laidMm,
    change.key,
  ]),
  keepOuts,
  holdLines,
];

/**
 * Solves the placement of a repeat from the pixels of its sources, at a working resolution that hangs on nothing but the
 * finish: drafts and full sets are the same arrangement.
 *
 * @param from the sources
 * @param step called now and then with the share of the work done; may throw to stop
 * @param early called with what the repeat would be so far, at the working resolution
 * @throws RangeError with a sentence when nothing can be laid
 */
export async function arrange(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  recipe: Pick<Recipe, 'sample' | 'repeat'>,
  geometry: RepeatGeometry,
  step: (share: number) => Promise<void>,
  early?: (colour: ColourPicture) => void,
): Promise<Arranged> {
  const { laidMm, closed, pitchMm, joints, size } = geometry;
  const { repeatMm } = geometry.map;
  const { compose: settings } = recipe.repeat;
  const { seed, redone } = arrangementOf(recipe.repeat);
  const composed = geometry.solve === 'compose';
  const { stretchMost: _, areas: __, pictures: ___, ...laying } = settings;
  const key = hashOf(
    'arranged',
    keyOfSources(from, recipe.sample),
    repeatMm,
    closed,
    composed ? { laying, seed, pitchMm, joints } : 'cut',
  );
  const scale = { x: geometry.usedMm.width / laidMm.width, y: geometry.usedMm.height / laidMm.height };
  const [widthPx, heightPx] = workingPx(
    repeatMm,
    laidMm,
    Math.min(size.pxPerMm.x * scale.x, size.pxPerMm.y * scale.y),
  );
  const pxPerMm = { x: widthPx / repeatMm.width, y: heightPx / repeatMm.height };
  const usual = usualCopyMm(repeatMm, laidMm);
  const patchPx = {
    w: Math.max(8, Math.round((settings.copyMm ?? usual.width) * pxPerMm.x)),
    h: Math.max(8, Math.round((settings.copyMm ?? usual.height) * pxPerMm.y)),
  };
  const lattice = {
    acrossPx: pitchMm.across && pitchMm.across * pxPerMm.x,
    upPx: pitchMm.up && pitchMm.up * pxPerMm.y,
    stagger: pitchMm.stagger,
  };
  let arranged = cache.get<Arranged>(key);
  const anew = composed ? redone : [];
  const basic = anew.length > 0 ? 0.7 : 1;
  if (!arranged) {
    await step(0);
    const { dense, toCompose } = await prepared(sources, cache, from, recipe, pxPerMm);
    const task = { sources: toCompose, widthPx, heightPx, closed, joints };
    const solved = await run(
      composed
        ? compose({
            ...task,
            // What keeps to a structure lies as it lies: turned, it would be out of step.
            turns:
              pitchMm.across || pitchMm.up
                ? turnsOf({ turning: 'none', mirrored: false })
                : turnsOf(settings),
            seed,
            patchPx,
            lattice,
          })
        : closeByCut(task),
      (share) => step(basic * share),
      early &&
        ((soFar) => {
          const part = soFar.widthPx / widthPx;
          const densities = dense.map((d) => ({ x: d.pxPerMm.x * part, y: d.pxPerMm.y * part }));
          early(applyCells(cellsOf(soFar, repeatMm, densities), repeatMm, dense, widthPx, heightPx, null));
        }),
    );
    const torus = begunWell(solved, await drawnFor(sources, cache, from, geometry, solved, dense), {
      across: geometry.across.modules,
      up: geometry.up.modules,
    });
    const laid = new Map<string, Placement>();
    const cells = cellsOf(
      torus,
      repeatMm,
      dense.map((d) => d.pxPerMm),
      composed ? pitchMm : undefined,
      laid,
    );
    arranged = {
      map: { repeatMm, layers: [], cells },
      key,
      pxPerMm,
      copies: cells.placements.length,
      brokenHoldMm: brokenHoldMm(torus, pxPerMm),
      solved: { torus, laid },
      before: null,
    };
    cache.set(key, arranged);
  }
  for (const [k, item] of anew.entries()) {
    const share = (more: number) => step(basic + ((1 - basic) * (k + more)) / anew.length);
    arranged = await laidAnew(
      sources,
      cache,
      from,
      recipe,
      arranged,
      item,
      { patchPx, lattice, pitchMm },
      share,
    );
  }
  return arranged;
}

/** A solved repeat drawn at its working resolution, and as finely as its sources are, up to twice that: to judge where it begins. */
async function drawnFor(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  { map: { repeatMm }, size, usedMm, laidMm }: RepeatGeometry,
  torus: Torus,
  dense: readonly PlacedSource[],
): Promise<ColourPicture[]> {
  const { widthPx: w, heightPx: h } = torus;
  const cells = cellsOf(
    torus,
    repeatMm,
    dense.map((d) => d.pxPerMm),
  );
  const drawn = [applyCells(cells, repeatMm, dense, w, h, null)];
  const own = (size.pxPerMm.x * usedMm.width) / laidMm.width;
  const times = Math.min(2, (own * repeatMm.width) / w);
  if (times > 1.2) {
    const [wide, high] = [Math.round(times * w), Math.round(times * h)];
    const density = { x: wide / repeatMm.width, y: high / repeatMm.height };
    const finer = [];
    for (const { picture, laidMm: mm, change } of from)
      finer.push(await sampleAtDensity(sources, cache, picture, mm, density, change));
    drawn.push(applyCells(cells, repeatMm, finer, wide, high, null));
  }
  return drawn;
}

/** A repeat with one area more laid anew. */
async function laidAnew(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  recipe: Pick<Recipe, 'sample'>,
  before: Arranged,
  { id: _, ...item }: Redone,
  { pitchMm, ...task }: Pick<RedoTask, 'patchPx' | 'lattice'> & Pick<RepeatGeometry, 'pitchMm'>,
  step: (share: number) => Promise<void>,
): Promise<Arranged> {
  const key = hashOf('laid anew', before.key, item);
  const known = cache.get<Arranged>(key);
  if (known) return known;
  const { map, pxPerMm, solved } = before;
  const { widthPx, heightPx, closed } = map.cells;
  const { dense, toCompose } = await prepared(sources, cache, from, recipe, pxPerMm);
  const taken = dense.map(({ picture: { widthPx: w, heightPx: h } }, k) => {
    const marks = item.taken
      .filter((t) => t.source === from[k]!.pictureNumber)
      .map((t, n): Mark => ({ id: String(n), kind: 'outline', points: t.points, erase: false }));
    return marks.length > 0 ? drawKeepOuts(from[k]!.picture.frame, marks, w, h) : null;
  });
  const outcome = await run(
    redo(solved.torus, {
      sources: toCompose,
      area: areasOver(item.areas, widthPx, heightPx, closed),
      taken,
      seed: item.seed,
      ...task,
    }),
    step,
  );
  const laid = new Map(solved.laid);
  const cells = cellsOf(
    outcome.torus,
    map.repeatMm,
    dense.map((d) => d.pxPerMm),
    pitchMm,
    laid,
  );
  const arranged: Arranged = {
    map: { ...map, cells },
    key,
    pxPerMm,
    copies: cells.placements.length,
    brokenHoldMm: brokenHoldMm(outcome.torus, pxPerMm),
    solved: { torus: outcome.torus, laid },
    before: { arranged: before, free: outcome.free },
  };
  cache.set(key, arranged);
  return arranged;
}

/**
 * Areas over the cells of a repeat: 1 where a cell lies in one with all its neighbours, so that passing over from one copy
 * to the next stays within as well. What reaches over a closed edge comes in at the other.
 */
function areasOver(
  areas: Redone['areas'],
  widthPx: number,
  heightPx: number,
  closed: { across: boolean; up: boolean },
): Uint8Array {
  // Drawn over three repeats each way, where they may reach.
  const wide = makePlane(3 * widthPx, 3 * heightPx);
  for (const points of areas)
    fillPolygon(
      wide,
      points.map(([x, y]) => [(x + 1) * widthPx, (y + 1) * heightPx] as const),
      1,
    );
  const inside = new Uint8Array(widthPx * heightPx);
  for (let y = 0; y < 3 * heightPx; y++)
    for (let x = 0; x < 3 * widthPx; x++) {
      if (wide.data[y * 3 * widthPx + x]! < 0.5) continue;
      const [ownX, ownY] = [x >= widthPx && x < 2 * widthPx, y >= heightPx && y < 2 * heightPx];
      if ((ownX || closed.across) && (ownY || closed.up))
        inside[(y % heightPx) * widthPx + (x % widthPx)] = 1;
    }
  return inside.map((one, p) => {
    const [x, y] = [p % widthPx, Math.floor(p / widthPx)];
    for (let v = -1; v <= 1; v++)
      for (let u = -1; u <= 1; u++) {
        const [qx, qy] = [(x + u + widthPx) % widthPx, (y + v + heightPx) % heightPx];
        if (inside[qy * widthPx + qx] === 0) return 0;
      }
    return one;
  });
}

/**
 * The sample made ready for ways that lay it as it is: its keep-outs filled from elsewhere in it, and where one axis is
 * closed by a cut and the other is not, that axis closed.
 *
 * @param from the sample
 * @returns null when nothing is kept out or cut
 */
export async function mended(
  sources: Sources,
  cache: StageCache,
  from: RepeatSource,
  recipe: Pick<Recipe, 'sample'>,
  { cutFirst, across, up }: RepeatGeometry,
  step: (share: number) => Promise<void>,
): Promise<Arranged | null> {
  const cut = cutFirst.across || cutFirst.up;
  if (recipe.sample.keepOuts.length === 0 && !cut) return null;
  const { laidMm } = from;
  const sizeMm = {
    width: cutFirst.across ? across.repeatMm : laidMm.width,
    height: cutFirst.up ? up.repeatMm : laidMm.height,
  };
  const key = hashOf('mended', keyOfSources([from], recipe.sample), sizeMm, cutFirst);
  const known = cache.get<Arranged>(key);
  if (known) return known;
  const density = WORKING_PX / Math.max(laidMm.width, laidMm.height);
  const { dense, toCompose } = await prepared(sources, cache, [from], recipe, { x: density, y: density });
  const [{ picture, pxPerMm }] = dense as [(typeof dense)[0]];
  const task = {
    sources: toCompose,
    widthPx: cutFirst.across ? Math.round(sizeMm.width * pxPerMm.x) : picture.widthPx,
    heightPx: cutFirst.up ? Math.round(sizeMm.height * pxPerMm.y) : picture.heightPx,
    closed: cutFirst,
  };
  const torus = await run(closeByCut(task), step);
  const laid = new Map<string, Placement>();
  const cells = cellsOf(torus, sizeMm, [pxPerMm], undefined, laid);
  const arranged: Arranged = {
    map: { repeatMm: sizeMm, layers: [], cells },
    key,
    pxPerMm,
    copies: cells.placements.length,
    brokenHoldMm: brokenHoldMm(torus, pxPerMm),
    solved: { torus, laid },
    before: null,
  };
  cache.set(key, arranged);
  return arranged;
}

/** Fewer pixels of a hold line are no break: lines are drawn softly. */
const SOFT_PX = 6;

function brokenHoldMm(torus: Torus, pxPerMm: { x: number; y: number }): number {
  const px = brokenHoldPx(torus);
  return px > SOFT_PX ? (2 * px) / (pxPerMm.x + pxPerMm.y) : 0;
}

/** Time after which others have their turn. */
const TURN_MS = 60;

async function run<T>(
  steps: Steps<T>,
  step: (share: number) => Promise<void>,
  look?: (soFar: Torus) => void,
): Promise<T> {
  let last = Date.now();
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    const { share, soFar } = next.value;
    if (soFar) look?.(soFar);
    else if (Date.now() - last < TURN_MS) continue;
    await step(share);
    last = Date.now();
  }
}

/** How far from an outline differences are spread, as a share of the shorter side of the repeat. */
const EVENED_REACH = 1 / 10;

/**
 * What evens out the copies of a solved repeat in one picture of each of its sources.
 * @param pictures the same picture of every source: their colour, or one map
 */
export async function evenedOut(
  sources: Sources,
  cache: StageCache,
  pictures: readonly {
    picture: PictureToPlace;
    laidMm: { width: number; height: number };
    change?: PictureChange;
  }[],
  { map, key: arrangedKey, pxPerMm, before }: Arranged,
): Promise<ColourPicture> {
  const dense = [];
  for (const { picture, laidMm, change } of pictures)
    dense.push(await sampleAtDensity(sources, cache, picture, laidMm, pxPerMm, change));
  const key = hashOf(
    'evened',
    dense.map((d) => d.key),
    arrangedKey,
  );
  const known = cache.get<ColourPicture>(key);
  if (known) return known;
  const { widthPx, heightPx } = map.cells;
  const evened = evenOut(
    map.cells,
    map.repeatMm,
    dense,
    Math.max(6, Math.round(EVENED_REACH * Math.min(widthPx, heightPx))),
    before
      ? { free: before.free, evened: await evenedOut(sources, cache, pictures, before.arranged) }
      : undefined,
  );
  cache.set(key, evened);
  return evened;
}
