import {
  applyCells,
  arrangementOf,
  begunAt,
  cellsOf,
  closeByCut,
  compose,
  laidAsBefore,
  makeAtlas,
  torusOfBoards,
  type ComposeSettings,
  type LaidBoards,
  type Turn,
} from '../repeat';
import type { ColourPicture } from '../raster';
import { keyOfSources, makeArranged, prepared, run, WORKING_PX, type Arranged } from './arranged';
import { beginsWell } from './begin';
import { boardsFor } from './boards';
import type { StageCache } from './cache';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import type { RepeatSource } from './joined';
import { laidAnew } from './lay-anew';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** The most pixels of the longer side at which a placement is solved, when the sample is small in it. */
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
    const ofBoards =
      composed && (await boardsFor(sources, cache, from, recipe, geometry, { widthPx, heightPx, seed }));
    const plain = { repeatMm, pxPerMm, dense, pitchMm: composed ? pitchMm : undefined };
    const asSolvedKey = hashOf('as solved', key);
    if (ofBoards) {
      const atlas = makeAtlas(toCompose, turnsOf({ turning: 'none', mirrored: false }));
      const overCells = (laid: LaidBoards) => torusOfBoards(laid, atlas, dense[0]!.pxPerMm);
      const asSolved = { ...plain, torus: overCells(ofBoards.laid), boards: ofBoards };
      const by = await beginsWell(sources, cache, from, geometry, makeArranged(asSolvedKey, asSolved));
      const { begins: had } = asSolved.torus;
      const laid = { ...ofBoards.laid, begins: { x: had.x + by.x, y: had.y + by.y } };
      arranged = makeArranged(key, { ...plain, torus: overCells(laid), boards: { ...ofBoards, laid } });
    } else {
      const task = { sources: toCompose, widthPx, heightPx, closed, joints };
      const torus = await run(
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
      const asSolved = makeArranged(asSolvedKey, { ...plain, torus });
      const by = await beginsWell(sources, cache, from, geometry, asSolved);
      const now = begunAt(torus, by);
      const laid = laidAsBefore(asSolved.map.cells, now, by, repeatMm);
      arranged = {
        ...makeArranged(key, { ...plain, torus: now }, laid),
        begunFrom: { arranged: asSolved, ...by },
      };
    }
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
