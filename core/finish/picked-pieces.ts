import { linearToLab, type Triple } from '../colour';
import { initialBond, initialLayout, layoutSizeMm, type LayoutSettings } from '../layout';
import {
  findBoards,
  labPlanes,
  rectangularPieces,
  segmented,
  type JointLook,
  type PieceBox,
  type Pieces,
  type PieceCorners,
} from '../pieces';
import { blurWrapped, type ColourPicture, type Plane } from '../raster';
import { snappedShift, type FoundStructure } from '../size';
import { lookStraight, sampleGeometry, structureOfSample, type SampleToLookAt } from '../sources';
import { quadArea, toPicture, type Frame, type Quad } from '../straighten';
import type { Pictures } from '../surface';
import { figure } from '../units';
import { piecesByJoints } from './pieces';
import { lead, type Recipe } from './recipe';

/** Pieces that are picked out of a sample by its joints, so that the finish can be laid of them in any bond. */

export interface PickedPieces {
  /** boards: courses of boards of many lengths; pieces: bricks, tiles or slabs, all sides between joints. */
  kind: 'boards' | 'pieces';
  /** Corners of each in shares of the picture as received. */
  corners: readonly Quad[];
  /** Usual size, along the piece and across, mm; of boards the longest and the usual width. */
  pieceMm: { length: number; width: number };
  /** Of boards, the shortest that is seen whole, mm; null: none is. */
  shortestMm: number | null;
  /** Usual length, mm. */
  usualMm: number;
  /** Pieces stand: they are longer up than across. */
  standing: boolean;
  jointMm: { along: number; across: number };
  /** Mean colour of the joints, CIELAB; null: they are too thin to be read. */
  jointLab: readonly [number, number, number] | null;
  /** Shift of one course against the next as a share of a piece and its joint. */
  shift: number;
  /** How far sizes and joints may be off, mm. */
  toleranceMm: number;
}

/** Pixels of the longer side at which boards and other pieces are picked, and joints are seen. */
const BOARDS_PX = 2048;
const PIECES_PX = 1100;
const SEEN_PX = 512;
/** So many are picked at most, the largest. */
const MOST_PICKED = 60;

/**
 * Picks the pieces of a picture of a finish: boards between the lines of its structure, or whatever rectangles its joints
 * enclose on all sides.
 * @param source the picture; default: the leading one
 * @returns null where it shows neither
 * @throws Refusal when its frame cannot be
 */
export async function pickPieces(
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
  pictures: Pictures,
  source = lead(recipe),
): Promise<PickedPieces | null> {
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: source.sampleId, ...(await pictures.info(source.sampleId)) };
  const leadSize =
    source.size || source.id === first.id
      ? undefined
      : sampleGeometry(first, null, await pictures.info(first.sampleId)).size;
  const { frame, size } = sampleGeometry(source, null, sample, leadSize);
  const { preparation } = source;
  const found = await structureOfSample(pictures, sample, preparation);
  const look = (sidePx: number) =>
    lookStraight(pictures, sample, frame, preparation.keepOuts, sidePx).then(
      ({ picture, keptOut }): Looked => ({
        picture,
        keptOut,
        frame,
        mm: { x: size.width.mm / picture.widthPx, y: size.height.mm / picture.heightPx },
      }),
    );
  const oneAxis = (found.across === null) !== (found.up === null);
  const boards = oneAxis ? boardsOf(await look(BOARDS_PX), found) : null;
  const long = boards && boards.usualMm >= BOARD_ASPECT * boards.pieceMm.width;
  if (long && boards.jointMm.across > 0) return boards;
  return (await piecesOf(look, found)) ?? boards;
}

/** Boards are at least so many times as long as wide; what is shorter, or has no ends, may be tiles whose joints were missed. */
const BOARD_ASPECT = 2.2;

interface Looked {
  picture: ColourPicture;
  keptOut: Plane | undefined;
  frame: Frame;
  mm: { x: number; y: number };
}

function boardsOf(
  { picture, keptOut, frame, mm }: Looked,
  { across, up }: FoundStructure,
): PickedPieces | null {
  const { widthPx: w, heightPx: h } = picture;
  const along = up ? 'across' : 'up';
  const { period, first } = (up ?? across)!;
  const sidePx = up ? h : w;
  const found = findBoards(picture, { along, pitchPx: period * sidePx, firstPx: first * sidePx }, keptOut);
  if (!found || found.boards.length === 0) return null;
  const [mmAlong, mmAcross] = up ? [mm.x, mm.y] : [mm.y, mm.x];
  const lengthOf = (b: PieceBox) => mmAlong * (up ? b.right - b.left : b.bottom - b.top);
  const isWhole = (b: PieceBox) => (up ? b.left > 0 && b.right < w : b.top > 0 && b.bottom < h);
  const whole = found.boards.filter(isWhole).map(lengthOf);
  const widths = found.boards.map((b) => mmAcross * (up ? b.bottom - b.top : b.right - b.left));
  return {
    kind: 'boards',
    corners: picked(found.boards, lengthOf).map((b) => onPicture(cornersOf(b), w, h, frame)),
    pieceMm: {
      length: Math.max(...found.boards.map(lengthOf), mmAlong * found.lengthPx),
      width: middle(widths),
    },
    shortestMm: whole.length > 0 ? Math.min(...whole) : null,
    usualMm: whole.length > 0 ? middle(whole) : mmAlong * found.lengthPx,
    standing: !up,
    jointMm: { along: mmAcross * found.jointPx.along, across: mmAlong * found.jointPx.across },
    jointLab: lineColour(picture, found.boards, found.jointPx.along, up !== null),
    shift: 0,
    toleranceMm: Math.max(mm.x, mm.y),
  };
}

/** A shift is known so well, as a share of a piece. */
const SHIFT_ERROR = 0.03;

/** The two edges of a piece are found within so many pixels together: joints that are blurred look wider than they are. */
const EDGES_PX = 2.5;

/** A larger picture is believed where it shows about as many pieces as the small one. */
const AS_MANY = 0.5;
/** What a pixel of the small picture averages is smoothed out of the large one by this, in its pixels. */
const SMOOTHED = 0.7;

/** Pieces of a larger picture by the look that joints have in a small one. */
function segmentedSharper(picture: ColourPicture, look: JointLook, smallWidthPx: number): Pieces {
  const times = picture.widthPx / smallWidthPx;
  const lab = labPlanes(picture).map((plane) => blurWrapped(plane, SMOOTHED * times, SMOOTHED * times));
  return segmented(lab, { ...look, widthPx: Math.max(1, Math.round(look.widthPx * times)) }, false);
}

/** Joints are known from a small picture; a larger one shows where their edges are. */
async function piecesOf(
  look: (sidePx: number) => Promise<Looked>,
  { stagger }: FoundStructure,
): Promise<PickedPieces | null> {
  const small = await look(SEEN_PX);
  const lab = labPlanes(small.picture);
  const known = piecesByJoints(lab, Math.min(small.picture.widthPx, small.picture.heightPx));
  const roughly = known && rectangularPieces(known.pieces);
  if (!known || !roughly) return null;
  const large = await look(PIECES_PX);
  const sharper = segmentedSharper(large.picture, known.look, small.picture.widthPx);
  const exactly = rectangularPieces(sharper);
  const isExact = exactly !== null && exactly.corners.length >= AS_MANY * roughly.corners.length;
  const { picture, keptOut, frame, mm } = isExact ? large : small;
  const [found, pieces] = isExact ? [exactly, sharper] : [roughly, known.pieces];
  const { widthPx: w, heightPx: h } = picture;
  const usable = found.corners.filter((quad) => !keptOut || !touches(quad, keptOut));
  if (usable.length === 0) return null;
  const [wide, high] = [mm.x * found.sizePx.width, mm.y * found.sizePx.height];
  const [between, up] = [mm.x * found.jointPx.across, mm.y * found.jointPx.up];
  const standing = high > wide;
  return {
    kind: 'pieces',
    corners: picked(usable, (quad) => Math.abs(quadArea(quad))).map((quad) => onPicture(quad, w, h, frame)),
    pieceMm: standing ? { length: high, width: wide } : { length: wide, width: high },
    shortestMm: null,
    usualMm: Math.max(wide, high),
    standing,
    jointMm: standing ? { along: between, across: up } : { along: up, across: between },
    jointLab: jointColour(picture, pieces.label),
    shift: stagger === null || standing ? 0 : snappedShift(Math.min(stagger, 1 - stagger), SHIFT_ERROR),
    toleranceMm: EDGES_PX * Math.max(mm.x, mm.y),
  };
}

const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** The largest pieces, in their order. */
function picked<T>(boxes: readonly T[], size: (b: T) => number): T[] {
  if (boxes.length <= MOST_PICKED) return [...boxes];
  const least = [...boxes].sort((a, b) => size(b) - size(a)).slice(0, MOST_PICKED);
  return boxes.filter((b) => least.includes(b));
}

const cornersOf = ({ left, top, right, bottom }: PieceBox): PieceCorners => [
  [left, top],
  [right, top],
  [right, bottom],
  [left, bottom],
];

/** Corners of a piece in shares of the picture as received. */
const onPicture = (quad: PieceCorners, w: number, h: number, frame: Frame): Quad =>
  quad.map(([x, y]) => toPicture(frame, [x / w, y / h])) as unknown as Quad;

/** Whether what is kept out reaches into a piece. */
function touches([a, b, c, d]: PieceCorners, { widthPx: w, heightPx: h, data }: Plane): boolean {
  const inside = (v: number, most: number) => Math.min(most, Math.max(0, Math.floor(v)));
  for (let y = inside(Math.min(a[1], b[1]), h - 1); y <= inside(Math.max(c[1], d[1]), h - 1); y++)
    for (let x = inside(Math.min(a[0], d[0]), w - 1); x <= inside(Math.max(b[0], c[0]), w - 1); x++)
      if (data[y * w + x]! > 0.02) return true;
  return false;
}

/** Mean of the lines behind the boards of each course; null where none is seen. */
function lineColour(
  { r, g, b, widthPx: w, heightPx: h }: ColourPicture,
  boards: readonly PieceBox[],
  linePx: number,
  level: boolean,
): PickedPieces['jointLab'] {
  if (linePx <= 0) return null;
  const sum: [number, number, number] = [0, 0, 0];
  let n = 0;
  for (const { left, top, right, bottom } of boards) {
    const line = Math.floor((level ? bottom : right) + linePx / 2);
    if (line >= (level ? h : w)) continue;
    for (let k = Math.ceil(level ? left : top); k < (level ? right : bottom); k++) {
      const i = level ? line * w + k : k * w + line;
      sum[0] += r[i]!;
      sum[1] += g[i]!;
      sum[2] += b[i]!;
      n++;
    }
  }
  return meanLab(sum, n);
}

const meanLab = (sum: readonly number[], n: number): PickedPieces['jointLab'] =>
  n > 0 ? linearToLab(sum.map((v) => v / n) as unknown as Triple) : null;

/** Mean of the middle of the joints: pixels whose neighbours are joint as well. */
function jointColour({ r, g, b, widthPx: w }: ColourPicture, label: Int32Array): PickedPieces['jointLab'] {
  const sum: [number, number, number] = [0, 0, 0];
  let n = 0;
  for (let i = w; i < label.length - w; i++) {
    if (
      label[i]! >= 0 ||
      label[i - 1]! >= 0 ||
      label[i + 1]! >= 0 ||
      label[i - w]! >= 0 ||
      label[i + w]! >= 0
    )
      continue;
    sum[0] += r[i]!;
    sum[1] += g[i]!;
    sum[2] += b[i]!;
    n++;
  }
  return meanLab(sum, n);
}

const inferred = (mm: number, toleranceMm: number) =>
  figure(Math.round(10 * mm) / 10, 'mm', 'inferred', Math.round(10 * toleranceMm) / 10 || 0.1);

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
    name: `${kind === 'boards' ? 'Board' : 'Piece'} ${k + 1}`,
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
  const along = kind === 'boards' ? LENGTHS * pieceMm.length : ROW * (pieceMm.length + jointMm.across);
  const courses = Math.round((TIMES_EACH * corners.length * usualMm) / along);
  const up = Math.min(MOST_COURSES, Math.max(LEAST_COURSES, courses)) * (pieceMm.width + jointMm.along);
  return { along: Math.round(along), up: Math.round(up) };
}

const boardsBond = ({ pieceMm, shortestMm }: PickedPieces): LayoutSettings['bond'] => ({
  ...initialBond('random-length'),
  shortestMm: Math.floor(Math.min(shortestMm ?? pieceMm.length / 3, pieceMm.length / 2)),
});

const piecesBond = ({ shift }: PickedPieces): LayoutSettings['bond'] =>
  shift > 0 ? { ...initialBond('running'), shift } : initialBond('stack');

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
