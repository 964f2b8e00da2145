import { blurWrapped, makePlane, type ColourPicture, type Plane } from '../raster';
import type { Steps } from '../steps';
import { piecesBetween, type Pieces } from './pieces-between';
import { labPlanes, jointWidthsPx, segmented, segmentingSteps, type JointLook } from './segment';
import { fadingFrom, type JointsAndPieces } from './joints-of-pieces';

/**
 * Joints of pieces that lie in a lattice, where the grain of the pieces is as strong as their joints, as in herringbone parquet: averaged over
 * all cells of the lattice, grain and tones of the pieces vanish and joints stay.
 */

/** A lattice as courses: the way along after which all comes back, the height of one, and its shift against the one above. */
export interface CoursesOfLattice {
  acrossPx: number;
  upPx: number;
  /** Share of the way along. */
  stagger: number;
  /** After so many courses the shifts come back. */
  courses: number;
}

/** Pieces are at least as many as this share of the cells of their lattice, which hold one or several. */
const LEAST_OF_CELLS = 0.7;

/** Whether pieces may be those of a lattice; fewer, larger ones are shadows and stripes of it. */
export const fillCells = (pieces: number, cells: number): boolean => pieces >= LEAST_OF_CELLS * cells;

/** Tones that change over more than this share of the shorter period are no joints. */
const BROAD = 0.2;
/** With fewer cells grain does not vanish. */
const LEAST_CELLS = 6;
/** Bonds are laid side by side, about so many pixels both ways, for pieces in them to be seen whole; at least and at most so many. */
const TILED_PX = 480;
const LEAST_TILES = 2;
const MOST_TILES = 6;
const tilesOf = (bondPx: number) =>
  Math.min(MOST_TILES, Math.max(LEAST_TILES, Math.round(TILED_PX / bondPx)));
/** Joints are known exactly, and fade into the pieces over so much, px. */
const FADES_PX = 2;
/** A joint is seen at the middle of a pixel and so far about it, px. */
const ABOUT = [-0.4, 0, 0.4];

/**
 * @param picture linear light; its joints are at least about a pixel wide
 * @param asked pixels of what is returned, which covers the same
 * @returns steps; in the end joints and pieces of the picture, or null where no pieces are seen in the mean cell
 */
export function* jointsOfLatticeSteps(
  picture: ColourPicture,
  lattice: CoursesOfLattice,
  asked: { widthPx: number; heightPx: number } = picture,
): Steps<JointsAndPieces | null> {
  const found = yield* jointsOfMeanCell(labPlanes(picture), lattice);
  if (!found) return null;
  const { isJoint } = found;
  const { widthPx, heightPx } = asked;
  const times = { x: picture.widthPx / widthPx, y: picture.heightPx / heightPx };
  const joints = jointMask(widthPx, heightPx, (x, y) => isJoint(x * times.x, y * times.y));
  const inPiece = joints.map((joint) => 1 - joint);
  const cells = (picture.widthPx * picture.heightPx) / (lattice.acrossPx * lattice.upPx);
  return { ...fadingFrom(inPiece, widthPx, heightPx, FADES_PX, 0), count: Math.round(cells) };
}

/** Pieces of a lattice, and the joints between them. */
export interface PiecesOfLattice {
  pieces: Pieces;
  /** 1 in joints, else 0. */
  mortar: Uint8Array;
  /** What the joints look like in the mean cell. */
  look: JointLook;
}

/**
 * The pieces of a picture one by one.
 * @param lab its L*, a*, b*
 * @param wraps its edges meet
 * @param look what the joints look like, where that is known of another picture at this scale; null: it is found
 * @returns steps; in the end the pieces, or null where none are seen in the mean cell
 */
export function* piecesOfLatticeSteps(
  lab: readonly Plane[],
  lattice: CoursesOfLattice,
  wraps: boolean,
  look: JointLook | null = null,
): Steps<PiecesOfLattice | null> {
  const found = yield* jointsOfMeanCell(lab, lattice, look);
  if (!found) return null;
  const { isJoint } = found;
  const { widthPx, heightPx } = lab[0]!;
  const mortar = jointMask(widthPx, heightPx, isJoint);
  return { pieces: piecesBetween(mortar, widthPx, heightPx, wraps), mortar, look: found.look };
}

type IsJoint = (x: number, y: number) => boolean;

function jointMask(widthPx: number, heightPx: number, isJoint: IsJoint): Uint8Array {
  const mask = new Uint8Array(widthPx * heightPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++)
      if (ABOUT.some((dy) => ABOUT.some((dx) => isJoint(x + 0.5 + dx, y + 0.5 + dy))))
        mask[y * widthPx + x] = 1;
  return mask;
}

/**
 * Whether a joint lies at a place of a picture, px, by the mean cell of its lattice; and what joints look like there.
 * @returns null where no pieces are seen in it
 */
function* jointsOfMeanCell(
  lab: readonly Plane[],
  lattice: CoursesOfLattice,
  look: JointLook | null = null,
): Steps<{ isJoint: IsJoint; look: JointLook } | null> {
  const { widthPx: w, heightPx: h } = lab[0]!;
  const { acrossPx, upPx, courses } = lattice;
  if ((w * h) / (acrossPx * upPx) < LEAST_CELLS) return null;
  yield;
  const bonds = lab.map((plane) => tiled(meanCell(plane, lattice), lattice));
  const { widthPx, heightPx } = bonds[0]!;
  const found = look
    ? { look, pieces: segmented(bonds, look, false) }
    : yield* segmentingSteps(bonds, jointWidthsPx(Math.min(widthPx, heightPx)), false);
  if (!found) return null;
  const { label } = found.pieces;
  const bond = { width: Math.round(acrossPx), height: courses * Math.round(upPx) };
  const perPx = { x: bond.width / acrossPx, y: bond.height / (upPx * courses) };
  // From the middle of one tile to that of the next no piece is cut.
  const inMiddle = (at: number, length: number) => Math.floor(mod(at - length / 2, length) + length / 2);
  const isJoint: IsJoint = (x, y) =>
    label[inMiddle(y * perPx.y, bond.height) * widthPx + inMiddle(x * perPx.x, bond.width)]! < 0;
  return { isJoint, look: found.look };
}

const mod = (a: number, n: number) => ((a % n) + n) % n;

/** The mean of all cells of a lattice, without broad changes of the picture. */
function meanCell(plane: Plane, { acrossPx, upPx, stagger }: CoursesOfLattice): Plane {
  const { widthPx: w, heightPx: h, data } = plane;
  const broadPx = BROAD * Math.min(acrossPx, upPx);
  const broad = blurWrapped(plane, broadPx, broadPx).data;
  const [cellW, cellH] = [Math.max(1, Math.round(acrossPx)), Math.max(1, Math.round(upPx))];
  const cell = makePlane(cellW, cellH);
  const counts = new Uint32Array(cellW * cellH);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const k = Math.floor((y + 0.5) / upPx);
      const along = (x + 0.5) / acrossPx - k * stagger;
      const u = Math.floor((along - Math.floor(along)) * cellW);
      const v = Math.floor(((y + 0.5) / upPx - k) * cellH);
      cell.data[v * cellW + u]! += data[y * w + x]! - broad[y * w + x]!;
      counts[v * cellW + u]!++;
    }
  // A cell holds a little more or fewer pixels than there are, so that some were never met.
  let last = 0;
  cell.data.forEach((sum, i) => {
    if (counts[i]! > 0) last = sum / counts[i]!;
    cell.data[i] = last;
  });
  return cell;
}

/** A whole bond of cells, several times side by side. */
function tiled(cell: Plane, { stagger, courses }: CoursesOfLattice): Plane {
  const { widthPx: cellW, heightPx: cellH } = cell;
  const bond = { width: cellW, height: courses * cellH };
  const out = makePlane(tilesOf(bond.width) * bond.width, tilesOf(bond.height) * bond.height);
  for (let y = 0; y < out.heightPx; y++) {
    const [k, v] = [Math.floor(y / cellH), y % cellH];
    const shift = Math.round(k * stagger * cellW);
    for (let x = 0; x < out.widthPx; x++) {
      const u = mod(x - shift, cellW);
      out.data[y * out.widthPx + x] = cell.data[v * cellW + u]!;
    }
  }
  return out;
}
