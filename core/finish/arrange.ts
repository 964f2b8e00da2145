import {
  applyCells,
  cellsOf,
  closeByCut,
  compose,
  evenOut,
  type Cells,
  type PlacementMap,
  type Steps,
  type Torus,
  type Turn,
  type ComposeSettings,
} from '../repeat';
import type { ColourPicture } from '../raster';
import { drawHoldLines, drawKeepOuts } from '../sample';
import type { StageCache } from './cache';
import { sampleAtDensity, type PictureChange, type PictureToPlace } from './density';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** A repeat whose placement was solved from the pixels of the sample. */
export interface Arranged {
  map: PlacementMap & { cells: Cells };
  key: string;
  /** Density at which it was solved. */
  pxPerMm: { x: number; y: number };
  /** How many copies it is cut from. */
  copies: number;
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

/**
 * Solves the placement of a repeat from the sample's pixels, at a working resolution that hangs on nothing but the finish:
 * drafts and full sets are the same arrangement.
 *
 * @param picture the sample
 * @param change its levelling and balance
 * @param step called now and then with the share of the work done; may throw to stop
 * @param early called with what the repeat would be so far, at the working resolution
 * @throws RangeError with a sentence when nothing can be laid
 */
export async function arrange(
  sources: Sources,
  cache: StageCache,
  picture: PictureToPlace,
  change: PictureChange,
  recipe: Pick<Recipe, 'sample' | 'repeat'>,
  geometry: RepeatGeometry,
  step: (share: number) => Promise<void>,
  early?: (colour: ColourPicture) => void,
): Promise<Arranged> {
  const { used, usedMm, closed, pitchMm, joints, size } = geometry;
  const { repeatMm } = geometry.map;
  const { compose: settings, arrangements, arrangement } = recipe.repeat;
  const seed = arrangements.find((a) => a.number === arrangement)!.seed;
  const composed = geometry.solve === 'compose';
  const key = hashOf(
    'arranged',
    picture.info.sha256,
    used.plane,
    used.bow,
    usedMm,
    change.key,
    recipe.sample.keepOuts,
    recipe.sample.holdLines,
    repeatMm,
    closed,
    composed ? { settings, seed, pitchMm, joints } : 'cut',
  );
  const known = cache.get<Arranged>(key);
  if (known) return known;
  const [widthPx, heightPx] = workingPx(repeatMm, usedMm, Math.min(size.pxPerMm.x, size.pxPerMm.y));
  const pxPerMm = { x: widthPx / repeatMm.width, y: heightPx / repeatMm.height };
  await step(0);
  const dense = await sampleAtDensity(sources, cache, picture, usedMm, pxPerMm, change);
  const { widthPx: w, heightPx: h } = dense.picture;
  const { keepOuts, holdLines } = recipe.sample;
  const usual = usualCopyMm(repeatMm, usedMm);
  const task = {
    sources: [
      {
        picture: dense.picture,
        keptOut: keepOuts.length > 0 ? drawKeepOuts(used, keepOuts, w, h) : null,
        held: holdLines.length > 0 ? drawHoldLines(used, holdLines, w, h) : null,
      },
    ],
    widthPx,
    heightPx,
    closed,
    joints,
  };
  const torus = await run(
    composed
      ? compose({
          ...task,
          // What keeps to a structure lies as it lies: turned, it would be out of step.
          turns:
            pitchMm.across || pitchMm.up ? turnsOf({ turning: 'none', mirrored: false }) : turnsOf(settings),
          seed,
          patchPx: {
            w: Math.max(8, Math.round((settings.copyMm ?? usual.width) * pxPerMm.x)),
            h: Math.max(8, Math.round((settings.copyMm ?? usual.height) * pxPerMm.y)),
          },
          lattice: {
            acrossPx: pitchMm.across && pitchMm.across * pxPerMm.x,
            upPx: pitchMm.up && pitchMm.up * pxPerMm.y,
            stagger: pitchMm.stagger,
          },
        })
      : closeByCut(task),
    step,
    early &&
      ((soFar) => {
        const scale = soFar.widthPx / widthPx;
        const density = { x: dense.pxPerMm.x * scale, y: dense.pxPerMm.y * scale };
        const cells = cellsOf(soFar, repeatMm, [density]);
        early(applyCells(cells, repeatMm, [dense], widthPx, heightPx, null));
      }),
  );
  const cells = cellsOf(torus, repeatMm, [dense.pxPerMm], composed ? pitchMm : undefined);
  const arranged: Arranged = {
    map: { repeatMm, layers: [], cells },
    key,
    pxPerMm,
    copies: cells.placements.length,
  };
  cache.set(key, arranged);
  return arranged;
}

/** Time after which others have their turn. */
const TURN_MS = 60;

async function run(
  steps: Steps<Torus>,
  step: (share: number) => Promise<void>,
  look: ((soFar: Torus) => void) | undefined,
): Promise<Torus> {
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

/** What evens out the copies of a solved repeat in one of the sample's pictures. */
export async function evenedOut(
  sources: Sources,
  cache: StageCache,
  picture: PictureToPlace,
  usedMm: { width: number; height: number },
  { map, key: arrangedKey, pxPerMm }: Arranged,
  change?: PictureChange,
): Promise<ColourPicture> {
  const dense = await sampleAtDensity(sources, cache, picture, usedMm, pxPerMm, change);
  const key = hashOf('evened', dense.key, arrangedKey);
  const known = cache.get<ColourPicture>(key);
  if (known) return known;
  const { widthPx, heightPx } = map.cells;
  const evened = evenOut(
    map.cells,
    map.repeatMm,
    [dense],
    Math.max(6, Math.round(EVENED_REACH * Math.min(widthPx, heightPx))),
  );
  cache.set(key, evened);
  return evened;
}
