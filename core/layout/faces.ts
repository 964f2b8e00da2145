import type { Random } from '../raster';
import { distinctNeighbours } from './blend';
import type { LaidPiece, LayoutGeometry } from './lay';
import { boxOf, turnedBy } from './polygon';
import type { LayoutSettings } from './settings';

/** Where in the pictures each piece takes its face from. */

/** A part of the faces' surface that pieces are cut from, mm, y up from its lower edge. */
export interface FaceArea {
  left: number;
  bottom: number;
  width: number;
  height: number;
  /** It closes on itself, so that a piece may be cut anywhere. */
  closed: boolean;
}

/** The face of a piece. */
export interface Face {
  /** Number of the area. */
  area: number;
  /** Where the middle of the piece lies on the faces' surface, mm, y up. */
  centre: { x: number; y: number };
  /** By how much the picture is turned to lie along the piece, anticlockwise, degrees. */
  turnDeg: number;
  mirrored: boolean;
}

export interface ChosenFaces {
  faces: Face[];
  /** Pairs of neighbours that show the same. */
  equal: number;
  /** How often each face is used, on average; null: pieces are cut anywhere. */
  timesEach: number | null;
  /** By how much pieces reach beyond the picture they are cut from, mm, at most: across it or along it. */
  beyondMm: { x: number; y: number };
  /** The same as a share of the picture, at most. */
  beyondShare: { x: number; y: number };
  /** Of every area, how far pieces cut from it reach along each axis, in its own lengths; 1: within it. */
  reach: { x: number; y: number }[];
}

/**
 * Chooses the face of every piece: neighbours differ, all faces are used alike, and pictures lie along their pieces.
 * @param areas what pieces are cut from, at least one
 * @param continues areas that are too short are continued: long pieces are cut from long areas where that can be, and those of
 * one area begin at different places
 */
export function chooseFaces(
  geometry: LayoutGeometry,
  areas: readonly FaceArea[],
  { halfTurn, mirror, grainDeg }: LayoutSettings['faces'],
  random: Random,
  continues = true,
): ChosenFaces {
  const { pieces, neighbours } = geometry;
  const anywhere = areas.length === 1 && areas[0]!.closed;
  const plain = pieces.map((piece) => sizeAlong(piece, piece.directionDeg - grainDeg));
  const tooShort = (k: number, number: number) =>
    TOO_SHORT * Math.max(0, shareBeyond(plain[k]!, areas[number]!) - ALMOST);
  const { numbers, equal } = anywhere
    ? { numbers: new Uint16Array(pieces.length), equal: 0 }
    : distinctNeighbours(pieces.length, neighbours, areas.length, random, continues ? tooShort : undefined);
  const beside: number[][] = pieces.map(() => []);
  for (const { a, b, itself } of neighbours) if (!itself) beside[Math.max(a, b)]!.push(Math.min(a, b));
  const faces: Face[] = [];
  const beyondMm = { x: 0, y: 0 };
  const beyondShare = { x: 0, y: 0 };
  const reach = areas.map(() => ({ x: 1, y: 1 }));
  for (const piece of pieces) {
    const area = areas[numbers[piece.id]!]!;
    const turnDeg = piece.directionDeg - grainDeg + (halfTurn && random.next() < 0.5 ? 180 : 0);
    const mirrored = mirror && random.next() < 0.5;
    const size = sizeAlong(piece, turnDeg);
    const near = beside[piece.id]!.map((other) => faces[other]!.centre);
    const centre = area.closed
      ? farFrom(near, area, size, random)
      : withinArea(area, size, random, continues ? BEGINS_WITHIN : 0);
    if (!area.closed) {
      beyondMm.x = Math.max(beyondMm.x, size.width - area.width);
      beyondMm.y = Math.max(beyondMm.y, size.height - area.height);
      beyondShare.x = Math.max(beyondShare.x, size.width / area.width - 1);
      beyondShare.y = Math.max(beyondShare.y, size.height / area.height - 1);
      reachBeyond(area, size, centre, reach[numbers[piece.id]!]!);
    }
    faces.push({ area: numbers[piece.id]!, centre, turnDeg, mirrored });
  }
  const used = anywhere
    ? pieces.reduce((sum, p) => sum + p.areaMm2, 0) / (areas[0]!.width * areas[0]!.height)
    : null;
  return {
    faces,
    equal,
    timesEach: anywhere ? Math.max(1, used!) : pieces.length / areas.length,
    beyondMm,
    beyondShare,
    reach,
  };
}

/** A picture that is too short by its own length is as good as one used so many times more. */
const TOO_SHORT = 4;
/** A piece that is longer by no more than this share is as good as one that is not: its picture is mirrored at its edge. */
export const ALMOST = 0.04;
/** Pieces that are longer than their area begin within this share of it, and no farther than they are longer. */
const BEGINS_WITHIN = 0.25;

/** By how much of the area's length a piece is longer than it. */
const shareBeyond = (size: { width: number; height: number }, area: FaceArea) =>
  area.closed ? 0 : Math.max(0, size.width / area.width - 1, size.height / area.height - 1);

/** Notes how far a piece reaches beyond its area. */
function reachBeyond(
  area: FaceArea,
  size: { width: number; height: number },
  centre: Face['centre'],
  reach: { x: number; y: number },
): void {
  reach.x = Math.max(reach.x, (centre.x + size.width / 2 - area.left) / area.width);
  reach.y = Math.max(reach.y, (centre.y + size.height / 2 - area.bottom) / area.height);
}

/** Size of a piece along the axes of its picture, mm. */
function sizeAlong({ outline, centre }: LaidPiece, turnDeg: number) {
  const box = boxOf(turnedBy(outline, -turnDeg, centre));
  return { width: box.right - box.left, height: box.top - box.bottom };
}

const CANDIDATES = 10;

/** Of several random places, the one that overlaps least with the faces of neighbouring pieces. */
function farFrom(
  near: readonly { x: number; y: number }[],
  area: FaceArea,
  size: { width: number; height: number },
  random: Random,
): Face['centre'] {
  let best = { x: 0, y: 0 };
  let least = Infinity;
  for (let k = 0; k < CANDIDATES && least > 0; k++) {
    const at = { x: area.left + random.next() * area.width, y: area.bottom + random.next() * area.height };
    const shared = near.reduce((sum, other) => sum + sharedBy(at, other, area, size), 0);
    if (shared < least) [best, least] = [at, shared];
  }
  return best;
}

/** Area that two pieces of a size cut from the same picture have in common, mm². */
function sharedBy(
  a: { x: number; y: number },
  b: { x: number; y: number },
  area: FaceArea,
  size: { width: number; height: number },
): number {
  const apart = (d: number, side: number) => {
    const rest = Math.abs(d) % side;
    return Math.min(rest, side - rest);
  };
  const x = size.width - apart(a.x - b.x, area.width);
  const y = size.height - apart(a.y - b.y, area.height);
  return x > 0 && y > 0 ? x * y : 0;
}

/**
 * A place within an area at which a piece is covered. One that is longer begins within a share of the area; where that is 0, it
 * lies over the middle.
 */
function withinArea(
  area: FaceArea,
  size: { width: number; height: number },
  random: Random,
  beginsWithin: number,
): Face['centre'] {
  const axis = (from: number, length: number, piece: number) => {
    const at = random.next();
    if (piece > (1 + ALMOST) * length && beginsWithin > 0)
      return from + at * Math.min(beginsWithin * length, piece - length) + piece / 2;
    return from + length / 2 + (at - 0.5) * Math.max(0, length - piece);
  };
  return {
    x: axis(area.left, area.width, size.width),
    y: axis(area.bottom, area.height, size.height),
  };
}
