import { initialBond, initialLayout, layoutSizeMm, type LayoutSettings } from '../layout';
import { snappedShift } from '../size';
import { figure } from '../units';
import type { PickedPieces } from './picked-pieces';
import { lead, type Recipe } from './recipe';

/** A recipe that is laid of the pieces picked out of one of its pictures. */

const inferred = (mm: number, toleranceMm: number) =>
  figure(Math.round(10 * mm) / 10, 'mm', 'inferred', Math.round(10 * toleranceMm) / 10 || 0.1);

const NAMES: Record<PickedPieces['kind'], string> = { boards: 'Board', pieces: 'Piece', stones: 'Stone' };

/**
 * A recipe with the pieces of a picture as its picked areas; the repeat is made from whole frames then.
 * @param newId names the areas
 * @param source the picture; default: the leading one
 */
export function withPicked(
  recipe: Recipe,
  { kind, corners }: PickedPieces,
  newId: () => string,
  first = lead(recipe),
): Recipe {
  const areas = corners.map((quad, k) => ({
    id: newId(),
    name: `${NAMES[kind]} ${k + 1}`,
    leftOut: false,
    corners: quad.map(([x, y]): [number, number] => [x, y]) as [
      [number, number],
      [number, number],
      [number, number],
      [number, number],
    ],
  }));
  const preparation = { ...first.preparation, areas };
  const sources = recipe.sources.map((s) => (s.id === first.id ? { ...s, preparation } : s));
  // Areas that the repeat was made from are gone.
  const from = recipe.repeat.from.map(({ source, area }) => ({
    source,
    area: source === first.id ? null : area,
  }));
  const once = from.filter((one, k) => from.findIndex((other) => sameValue(one, other)) === k);
  return { ...recipe, sources, repeat: { ...recipe.repeat, from: once } };
}

const sameValue = (a: Recipe['repeat']['from'][number], b: Recipe['repeat']['from'][number]) =>
  a.source === b.source && a.area === b.area;

/** Every piece is shown about so often in the first repeat. */
const TIMES_EACH = 1.5;
const LEAST_COURSES = 9;
/** Lengths of the longest board in a course of the first repeat: enough that boards of several lengths fill it. */
const LENGTHS = 2.5;
/** Pieces in a course of the first repeat. */
const ROW = 6;
const MOST_COURSES = 24;
/** Stones along each side of the first repeat. */
const LEAST_STONES = 5;
const MOST_STONES = 12;

/**
 * A recipe laid of the pieces of its leading picture. A layout that is there keeps its bond and its sizes; a new one is like the
 * sample.
 */
export function laidOfPicked(recipe: Recipe, picked: PickedPieces, newId: () => string): Recipe {
  const next = withPicked(recipe, picked, newId);
  const { layout } = recipe;
  const faces = { from: 'areas' as const, grainDeg: picked.standing ? 90 : 0 };
  if (layout) return { ...next, layout: { ...layout, faces: { ...layout.faces, ...faces } } };
  return { ...next, layout: layoutOf(picked, faces) };
}

function layoutOf(
  picked: PickedPieces,
  faces: Pick<LayoutSettings['faces'], 'from' | 'grainDeg'>,
): LayoutSettings {
  const { kind, pieceMm, jointMm, toleranceMm, jointLab, standing } = picked;
  const bond = kind === 'boards' ? boardsBond(picked) : piecesBond(picked);
  const initial = initialLayout(bond.kind);
  const { along, up } = repeatOf(picked);
  const layout: LayoutSettings = {
    ...initial,
    bond,
    piece: {
      lengthMm: inferred(pieceMm.length, toleranceMm),
      widthMm: inferred(pieceMm.width, toleranceMm),
    },
    joint: {
      ...initial.joint,
      // Between boards there is a gap; mortar is struck near the faces.
      ...(kind === 'boards'
        ? { profile: 'open' as const, depthMm: figure(openDepthMm(jointMm.along), 'mm', 'assumed') }
        : {}),
      alongMm: inferred(jointMm.along, toleranceMm),
      acrossMm: inferred(jointMm.across, toleranceMm),
      ...(jointLab ? { lab: jointLab.map((v) => Math.round(10 * v) / 10) as [number, number, number] } : {}),
    },
    repeatMm: standing ? { width: up, height: along } : { width: along, height: up },
    turnedDeg: standing ? 90 : 0,
    faces: { ...initial.faces, ...faces, mirror: kind === 'boards' },
  };
  return kind === 'boards' ? withStagger(layout) : layout;
}

/** A gap between boards is about as deep as it is wide, as far down as light reaches. */
const openDepthMm = (widthMm: number) => Math.round(10 * Math.min(3, widthMm)) / 10;

/** The first repeat: large enough that every piece is shown about one and a half times, in whole courses. */
function repeatOf({ kind, pieceMm, usualMm, jointMm, corners }: PickedPieces): { along: number; up: number } {
  if (kind === 'stones') {
    const stones = Math.min(MOST_STONES, Math.max(LEAST_STONES, Math.sqrt(TIMES_EACH * corners.length)));
    return {
      along: Math.round(stones * (pieceMm.length + jointMm.across)),
      up: Math.round(stones * (pieceMm.width + jointMm.along)),
    };
  }
  const along = kind === 'boards' ? LENGTHS * pieceMm.length : ROW * (pieceMm.length + jointMm.across);
  const courses = Math.round((TIMES_EACH * corners.length * usualMm) / along);
  const up = Math.min(MOST_COURSES, Math.max(LEAST_COURSES, courses)) * (pieceMm.width + jointMm.along);
  return { along: Math.round(along), up: Math.round(up) };
}

const boardsBond = ({ pieceMm, shortestMm }: PickedPieces): LayoutSettings['bond'] => ({
  ...initialBond('random-length'),
  shortestMm: Math.floor(Math.min(shortestMm ?? pieceMm.length / 3, pieceMm.length / 2)),
});

/** A shift is known so well, as a share of a piece. */
const SHIFT_ERROR = 0.03;

function piecesBond({ bond }: PickedPieces): LayoutSettings['bond'] {
  if (!bond) return initialBond('stack');
  if (bond.kind === 'running')
    return {
      ...initialBond('running'),
      shift: snappedShift(bond.shift, SHIFT_ERROR),
      rising: bond.rising,
    };
  const { kind, ...settings } = bond;
  return { ...initialBond(kind), ...settings };
}

/** Least distances of end joints that are tried, in widths of a board. */
const STAGGERS = [2.5, 2, 1.5, 1, 0.5, 0];

/** The largest usual stagger that boards of these lengths can keep. */
function withStagger(layout: LayoutSettings): LayoutSettings {
  const tried = STAGGERS.map((widths): LayoutSettings => ({
    ...layout,
    bond: { ...layout.bond, staggerMm: Math.round(widths * layout.piece.widthMm.value) },
  }));
  return tried.find(canBeLaid) ?? tried.at(-1)!;
}

function canBeLaid(layout: LayoutSettings): boolean {
  try {
    layoutSizeMm(layout);
    return true;
  } catch (error) {
    if (error instanceof RangeError) return false;
    throw error;
  }
}
