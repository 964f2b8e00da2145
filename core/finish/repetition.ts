import {
  arrangementOf,
  findTelltales,
  hull,
  repetitionSeen,
  weightAt,
  withRedone,
  type Cells,
  type Telltale,
  type PlacedRepeat,
  type Redone,
  type RepeatSource,
  type Visibility,
} from '../repeat';
import { toPicture, type Point } from '../straighten';
import type { Recipe } from './recipe';
import type { RenderedFinish } from './render';

/** What gives a repetition away in a finished repeat, from how far it is seen, and what of the sample it comes from. */
export interface Repetition {
  telltales: readonly FoundTelltale[];
  seen: Visibility;
}

export interface FoundTelltale extends Telltale {
  /** The parts of the pictures it comes from, in shares of each, as an arrangement takes them out. */
  taken: Redone['taken'];
}

/** What is looked at: the colour of a finish, where it comes from, and how large and light it is. */
export type SeenRepeat = Pick<RenderedFinish<'colour'>, 'maps' | 'placed' | 'laid'> & {
  report: Pick<RenderedFinish['report'], 'repeatMm' | 'lrv'>;
};

/** What a surface is lit by indoors, lx: what it is seen at is worked out from its reflectance. */
export const SEEN_AT_LX = 500;

/**
 * Looks for what gives the repetition away.
 * @param finish a rendered finish, its repeat about 512 px or more
 * @param fieldMm side of the square field that is looked at
 */
export async function repetitionOf(finish: SeenRepeat, fieldMm: number): Promise<Repetition> {
  const {
    maps: { colour },
    placed,
    laid,
    report,
  } = finish;
  const { widthPx, heightPx } = colour;
  const piece = laid && (await laid.pieces.get());
  const courses = laid ? {} : placed.courses;
  const lookUp = await lookUpOf(finish);
  return {
    telltales: findTelltales(colour, courses, piece && { piece, widthPx, heightPx }).map((found) => ({
      ...found,
      taken: comesFrom(found, lookUp),
    })),
    seen: repetitionSeen(colour, report.repeatMm, {
      fieldMm,
      luminance: Math.max(0.1, (SEEN_AT_LX * (report.lrv / 100)) / Math.PI),
      courses,
    }),
  };
}

/** Where a place of a repeat comes from: the source, and shares of it; copies that differ in `part` are taken apart. */
interface LookUp {
  at: (x: number, y: number) => { part: number; source: RepeatSource; u: number; v: number } | null;
  /** The repeat is laid of pieces, each judged by itself. */
  ofPieces: boolean;
}

/** How places of a finish are looked up; of one that is laid of pieces by way of the surface that they are cut from. */
async function lookUpOf({ placed, laid, report: { repeatMm } }: SeenRepeat): Promise<LookUp> {
  if (!laid) return { ofPieces: false, at: (x, y) => placedAt(placed, x, y, repeatMm) };
  const origin = await laid.origin.get();
  const { facesMm } = laid;
  return {
    ofPieces: true,
    at: (x, y) => {
      const from = origin(x * repeatMm.width, y * repeatMm.height);
      return from && placedAt(placed, from.xMm / facesMm.width, from.yMm / facesMm.height, facesMm);
    },
  };
}

function placedAt(
  { map, sources }: PlacedRepeat,
  x: number,
  y: number,
  repeatMm: { width: number; height: number },
): ReturnType<LookUp['at']> {
  const part = map.cells ? at(map.cells, x, y) : mostWeight(map.layers, x, y, repeatMm);
  if (part === null) return null;
  const p = map.cells ? map.cells.placements[part]! : map.layers[part]!.placement;
  const source = sources[p.sourceIndex]!;
  const [xMm, yMm] = [x * repeatMm.width, y * repeatMm.height];
  return {
    part,
    source,
    u: (p.offsetXMm + p.signX * (p.swapped ? yMm : xMm)) / source.laidMm.width,
    v: (p.offsetYMm + p.signY * (p.swapped ? xMm : yMm)) / source.laidMm.height,
  };
}

/**
 * A recipe with telltales replaced: a composed repeat lays them anew and uses what they come from no more in this
 * arrangement; all other ways keep what they come from out of the sample, and fill it from elsewhere in it. Of picked areas
 * that pieces are cut from, what lies beside it is still used.
 *
 * @param recipe the finish
 * @param telltales what is to be replaced, at once
 * @param newId names of items that are added
 */
export function withReplaced(
  recipe: Recipe,
  telltales: readonly Pick<FoundTelltale, 'outline' | 'taken'>[],
  newId: () => string,
): Recipe {
  const taken = telltales.flatMap((g) => g.taken);
  if (recipe.repeat.method === 'composed' && !recipe.layout) {
    const areas = telltales.map((g) => g.outline.map(([x, y]): [number, number] => [within(x), within(y)]));
    return { ...recipe, repeat: withAreasRedone(recipe.repeat, areas, taken, newId()) };
  }
  const keptOut = (sourceId: string) =>
    taken
      .filter((t) => t.source === sourceId)
      .map((t) => ({ id: newId(), kind: 'outline' as const, points: t.points, erase: false }));
  return {
    ...recipe,
    sources: recipe.sources.map((source) => ({
      ...source,
      preparation: {
        ...source.preparation,
        keepOuts: [...source.preparation.keepOuts, ...keptOut(source.id)],
      },
    })),
  };
}

/** Settings in which areas of the arrangement in use are laid anew. */
export function withAreasRedone(
  repeat: Recipe['repeat'],
  areas: Redone['areas'],
  taken: Redone['taken'],
  id: string,
): Recipe['repeat'] {
  const { redone } = arrangementOf(repeat);
  // A seed of its own for each, so that the same area laid anew twice comes out otherwise.
  return withRedone(repeat, [...redone, { id, seed: 1 + redone.length, areas, taken }]);
}

const within = (v: number) => Math.min(2, Math.max(-1, v));

/** Places looked up over a telltale, each way. */
const LOOKED_UP = 48;
/** A copy that gives less than this share of it is only grazed. */
const LEAST_PART = 0.08;
/** Taken with so much around it, as a share of its extent. */
const GROWN = 0.12;

/** Outlines of the parts of the pictures that a region of the repeat comes from. */
function comesFrom({ outline }: Telltale, lookUp: LookUp): Redone['taken'] {
  const xs = outline.map((p) => p[0]);
  const ys = outline.map((p) => p[1]);
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const parts = new Map<number, { source: RepeatSource; points: [number, number][] }>();
  let all = 0;
  for (let j = 0; j <= LOOKED_UP; j++)
    for (let i = 0; i <= LOOKED_UP; i++) {
      const x = left + ((right - left) * i) / LOOKED_UP;
      const y = top + ((bottom - top) * j) / LOOKED_UP;
      if (!inside(outline, x, y)) continue;
      const from = lookUp.at(x - Math.floor(x), y - Math.floor(y));
      if (!from) continue;
      all++;
      const part = parts.get(from.part) ?? { source: from.source, points: [] };
      part.points.push([from.u, from.v]);
      parts.set(from.part, part);
    }
  const found = [...parts.values()].filter(({ points }) => points.length >= Math.max(3, LEAST_PART * all));
  // The outline may graze the pieces beside.
  const most = Math.max(...found.map(({ points }) => points.length));
  return found
    .filter(({ points }) => !lookUp.ofPieces || points.length >= most / 2)
    .map(({ source, points }) => ({
      source: source.source.settings.id,
      points: grown(hull(points)).map((p): [number, number] => {
        const [x, y] = toPicture(source.picture.frame, p);
        return [Math.min(2, Math.max(-1, x)), Math.min(2, Math.max(-1, y))];
      }),
    }))
    .filter(({ points }) => points.length >= 3);
}

function inside(outline: readonly (readonly [number, number])[], x: number, y: number): boolean {
  let is = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [a, b] = [outline[i]!, outline[j]!];
    if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) is = !is;
  }
  return is;
}

const at = (cells: Cells, x: number, y: number): number =>
  cells.copy[
    Math.min(cells.heightPx - 1, Math.floor(y * cells.heightPx)) * cells.widthPx +
      Math.min(cells.widthPx - 1, Math.floor(x * cells.widthPx))
  ]!;

/** The layer with the most weight at a place. */
function mostWeight(
  layers: PlacedRepeat['map']['layers'],
  x: number,
  y: number,
  repeatMm: { width: number; height: number },
): number | null {
  let best: number | null = null;
  let most = 0;
  for (const [k, layer] of layers.entries()) {
    const w = weightAt(layer.across, x * repeatMm.width) * weightAt(layer.up, y * repeatMm.height);
    if (w > most) [most, best] = [w, k];
  }
  return best;
}

/** An outline a little larger, about its middle. */
function grown(outline: readonly (readonly [number, number])[]): Point[] {
  const n = outline.length;
  const mx = outline.reduce((s, p) => s + p[0], 0) / n;
  const my = outline.reduce((s, p) => s + p[1], 0) / n;
  const least = 0.002;
  const out = (v: number, m: number) => v + GROWN * (v - m) + Math.sign(v - m) * least;
  return outline.map(([x, y]) => [out(x, mx), out(y, my)] as const);
}
