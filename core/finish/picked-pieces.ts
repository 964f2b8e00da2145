import { linearToLab, type Triple } from '../colour';
import {
  angledPieces,
  findBoards,
  irregularPieces,
  jointColours,
  labPlanes,
  median,
  rectangularPieces,
  segmented,
  type AngledPieces,
  type FoundBond,
  type IrregularPieces,
  type JointColours,
  type JointLook,
  type PieceBox,
  type Pieces,
  type PieceCorners,
  type RectangularPieces,
} from '../pieces';
import { blurWrapped, type ColourPicture, type Plane } from '../raster';
import type { FoundStructure } from '../size';
import { lookStraight, sampleGeometry, structureOfSample, type SampleToLookAt } from '../sources';
import { quadArea, toPicture, type Frame, type Quad } from '../straighten';
import type { Pictures } from '../surface';
import { piecesByJoints } from './pieces';
import { lead, type Recipe } from './recipe';

/** Pieces that are picked out of a sample by its joints, so that the finish can be laid of them in any bond. */

/** Layings whose pieces are no level rectangles. */
export type IrregularBond =
  | { kind: 'herringbone'; diagonal: boolean }
  | { kind: 'hexagon' }
  | { kind: 'crazy-paving' | 'fieldstone'; variety: number };

export interface PickedPieces {
  /** boards: courses of boards of many lengths; pieces: bricks, tiles or slabs, all sides between joints; stones: of any outline. */
  kind: 'boards' | 'pieces' | 'stones';
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
  /** The bond that they are laid in; null: boards, or too few of them to say. */
  bond: FoundBond | IrregularBond | null;
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
 * enclose on all sides, or stones of any outline.
 * @param source the picture; default: the leading one
 * @returns null where it shows none of them
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
      width: median(widths)!,
    },
    shortestMm: whole.length > 0 ? Math.min(...whole) : null,
    usualMm: whole.length > 0 ? median(whole)! : mmAlong * found.lengthPx,
    standing: !up,
    jointMm: { along: mmAcross * found.jointPx.along, across: mmAlong * found.jointPx.across },
    jointLab: lineColour(picture, found.boards, found.jointPx.along, up !== null),
    bond: null,
    toleranceMm: Math.max(mm.x, mm.y),
  };
}

/** The two edges of a piece are found within so many pixels together: joints that are blurred look wider than they are. */
const EDGES_PX = 2.5;

/** A larger picture is believed where it shows about as many pieces as the small one. */
const AS_MANY = 0.5;
/** What a pixel of the small picture averages is smoothed out of the large one by this, in its pixels. */
const SMOOTHED = 0.7;

/** Pieces of a larger picture by the look that joints have in a small one. */
function segmentedSharper(picture: ColourPicture, small: JointLook, smallWidthPx: number): Segmented {
  const times = picture.widthPx / smallWidthPx;
  const sharp = labPlanes(picture);
  const lab = sharp.map((plane) => blurWrapped(plane, SMOOTHED * times, SMOOTHED * times));
  const widthPx = Math.max(1, Math.round(small.widthPx * times));
  const look = {
    ...small,
    widthPx,
    ...(small.smoothedPx ? { smoothedPx: small.smoothedPx * times } : {}),
  };
  const pieces = segmented(lab, look, false);
  return { pieces, ...jointColours(sharp, look, pieces) };
}

/** Joints are known from a small picture; a larger one shows where their edges are. */
async function piecesOf(
  look: (sidePx: number) => Promise<Looked>,
  structure: FoundStructure,
): Promise<PickedPieces | null> {
  const small = await look(SEEN_PX);
  const lab = labPlanes(small.picture);
  const known = piecesByJoints(lab, Math.min(small.picture.widthPx, small.picture.heightPx));
  if (!known) return null;
  const large = await look(PIECES_PX);
  const seen: readonly [Seen, Seen] = [
    [small, { pieces: known.pieces, ...jointColours(lab, known.look, known.pieces) }],
    [large, segmentedSharper(large.picture, known.look, small.picture.widthPx)],
  ];
  return (
    sharperOf(
      ({ pieces }) => rectangularPieces(pieces),
      ...seen,
      (looked, by, found) => bricksOf(looked, by, found, structure),
    ) ??
    sharperOf(({ pieces }) => angledPieces(pieces), ...seen, angledOf) ??
    sharperOf(({ pieces, widened }) => irregularPieces(pieces, widened), ...seen, stonesOf)
  );
}

interface Segmented extends JointColours {
  pieces: Pieces;
}
type Seen = readonly [looked: Looked, by: Segmented];

/** Pieces of the larger picture, where it shows about as many; else of the smaller one. */
function sharperOf<Found extends { corners: readonly PieceCorners[] }>(
  find: (by: Segmented) => Found | null,
  small: Seen,
  large: Seen,
  describe: (looked: Looked, by: Segmented, found: Found) => PickedPieces | null,
): PickedPieces | null {
  const roughly = find(small[1]);
  if (!roughly) return null;
  const exactly = find(large[1]);
  return exactly && exactly.corners.length >= AS_MANY * roughly.corners.length
    ? describe(...large, exactly)
    : describe(...small, roughly);
}

/** Corners in shares of the picture as received; keep-outs are left out. */
function usableCorners({ picture, keptOut, frame }: Looked, corners: readonly PieceCorners[]): Quad[] {
  const usable = corners.filter((quad) => !keptOut || !touches(quad, keptOut));
  return picked(usable, (quad) => Math.abs(quadArea(quad))).map((quad) =>
    onPicture(quad, picture.widthPx, picture.heightPx, frame),
  );
}

function bricksOf(
  looked: Looked,
  { pieces, coverage }: Segmented,
  found: RectangularPieces,
  structure: FoundStructure,
): PickedPieces | null {
  const { picture, mm } = looked;
  const corners = usableCorners(looked, found.corners);
  if (corners.length === 0) return null;
  // What a joint is narrower than it was segmented, the piece is wider.
  const [between, up] = [mm.x * coverage * found.jointPx.across, mm.y * coverage * found.jointPx.up];
  const wide = mm.x * (found.sizePx.width + found.jointPx.across) - between;
  const high = mm.y * (found.sizePx.height + found.jointPx.up) - up;
  const standing = high > wide;
  return {
    kind: 'pieces',
    corners,
    pieceMm: standing ? { length: high, width: wide } : { length: wide, width: high },
    shortestMm: null,
    usualMm: Math.max(wide, high),
    standing,
    jointMm: standing ? { along: between, across: up } : { along: up, across: between },
    jointLab: jointColour(picture, pieces.label),
    bond: found.bond ?? bondOfStructure(structure, standing),
    toleranceMm: EDGES_PX * Math.max(mm.x, mm.y),
  };
}

/** Pieces that lie at 45° are laid diagonally when they are within so many degrees of it. */
const DIAGONAL_DEG = 12;

function angledOf(looked: Looked, { pieces, coverage }: Segmented, found: AngledPieces): PickedPieces | null {
  const { picture, mm } = looked;
  const corners = usableCorners(looked, found.corners);
  if (corners.length === 0) return null;
  // Pixels are square enough for pieces at 45°.
  const perPx = (mm.x + mm.y) / 2;
  const jointPx = irregularPieces(pieces)?.jointPx ?? 0;
  const narrower = jointPx * (1 - coverage);
  const size = { length: perPx * (found.lengthPx + narrower), width: perPx * (found.widthPx + narrower) };
  const jointMm = perPx * coverage * jointPx;
  const diagonal = found.directionsDeg.every((deg) => Math.abs(Math.abs(deg) - 45) < DIAGONAL_DEG);
  return {
    kind: 'pieces',
    corners,
    pieceMm: size,
    shortestMm: null,
    usualMm: size.length,
    standing: false,
    jointMm: { along: jointMm, across: jointMm },
    jointLab: jointColour(picture, pieces.label),
    bond: found.directionsDeg.length === 2 ? { kind: 'herringbone', diagonal } : null,
    toleranceMm: EDGES_PX * Math.max(mm.x, mm.y),
  };
}

/** Joints wider than this share of a stone are those of fieldstone and cobbles; paving of broken slabs has narrower ones. */
const WIDE_JOINTS = 0.08;
/** Pieces whose areas differ by less are alike: hexagons, as they are no rectangles. */
const ALIKE = 0.08;
/** Areas differ by so much in a laid bond whose variety is 0, and by so much more where it is 1. */
const AREAS_VARY = [0.1, 0.52] as const;

function stonesOf(
  looked: Looked,
  { pieces, coverage }: Segmented,
  found: IrregularPieces,
): PickedPieces | null {
  const { picture, mm } = looked;
  const corners = usableCorners(looked, found.corners);
  if (corners.length === 0) return null;
  const alike = found.areasVary < ALIKE;
  const jointMm = (coverage * found.jointPx * (mm.x + mm.y)) / 2;
  const [width, height] = [mm.x * found.cellPx.width, mm.y * found.cellPx.height];
  // A hexagon is as wide across its flats as the square root of 2/√3 of its area.
  const acrossFlats = Math.sqrt((2 / Math.sqrt(3)) * width * height);
  const standing = alike ? width > height : height > width;
  const [length, across] = alike
    ? [(2 / Math.sqrt(3)) * acrossFlats, acrossFlats]
    : [Math.max(width, height), Math.min(width, height)];
  const variety = Math.min(1, Math.max(0, (found.areasVary - AREAS_VARY[0]) / AREAS_VARY[1]));
  return {
    kind: 'stones',
    corners,
    pieceMm: { length: length - jointMm, width: across - jointMm },
    shortestMm: null,
    usualMm: length - jointMm,
    standing,
    jointMm: { along: jointMm, across: jointMm },
    jointLab: jointColour(picture, pieces.label),
    bond: alike
      ? { kind: 'hexagon' }
      : {
          kind: jointMm > WIDE_JOINTS * across ? 'fieldstone' : 'crazy-paving',
          variety: Math.round(100 * variety) / 100,
        },
    toleranceMm: EDGES_PX * Math.max(mm.x, mm.y),
  };
}

/** Where too few pieces are whole, the lattice says how courses are shifted. */
const bondOfStructure = ({ stagger }: FoundStructure, standing: boolean): FoundBond | null =>
  stagger === null || standing || stagger === 0
    ? null
    : { kind: 'running', shift: Math.min(stagger, 1 - stagger), rising: false };

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
