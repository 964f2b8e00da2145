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
  /** Which of the pictures it is a stretch of, and where it lies in it; none: it is the whole of the picture of its number. */
  of?: { picture: number; x: number; y: number };
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
 * Chooses the face of every piece: neighbours differ, all faces are used alike, and pictures lie along their pieces. Where only
 * stretches of a picture may be used, pieces that lay elsewhere in it are moved, and no others.
 * @param areas what pieces are cut from, at least one
 * @param continues areas that are too short are continued: long pieces are cut from long areas where that can be, and those of
 * one area begin at different places
 * @param pictures size of every picture that areas are stretches of; default: every area is a picture
 */
export function chooseFaces(
  geometry: LayoutGeometry,
  areas: readonly FaceArea[],
  { halfTurn, mirror, grainDeg }: LayoutSettings['faces'],
  random: Random,
  continues = true,
  pictures: readonly { width: number; height: number }[] = areas,
): ChosenFaces {
  const { pieces, neighbours } = geometry;
  const anywhere = areas.length === 1 && areas[0]!.closed;
  const plain = pieces.map((piece) => sizeAlong(piece, piece.directionDeg - grainDeg));
  const tooShort = (k: number, number: number) =>
    TOO_SHORT * Math.max(0, anywhere ? 0 : shareBeyond(plain[k]!, pictures[number]!) - ALMOST);
  const { numbers } = anywhere
    ? { numbers: new Uint16Array(pieces.length) }
    : distinctNeighbours(
        pieces.length,
        neighbours,
        pictures.length,
        random,
        continues ? tooShort : undefined,
      );
  const beside = besideOf(geometry);
  const stretches = new Stretches(areas, pictures, numbers, beside);
  const faces: Face[] = [];
  const reach = new Reach(areas);
  for (const piece of pieces) {
    const picture = pictures[numbers[piece.id]!]!;
    const turnDeg = piece.directionDeg - grainDeg + (halfTurn && random.next() < 0.5 ? 180 : 0);
    const mirrored = mirror && random.next() < 0.5;
    const size = sizeAlong(piece, turnDeg);
    const near = beside[piece.id]!.filter((other) => other < piece.id).map((other) => faces[other]!.centre);
    const { area, centre } = anywhere
      ? { area: 0, centre: farFrom(near, areas[0]!, size, random) }
      : stretches.place(piece.id, size, withinPicture(picture, size, random, continues ? BEGINS_WITHIN : 0));
    reach.note(area, size, centre);
    faces.push({ area, centre, turnDeg, mirrored });
  }
  const used = pieces.reduce((sum, p) => sum + p.areaMm2, 0) / (areas[0]!.width * areas[0]!.height);
  const isEqual = ({ a, b, itself }: (typeof neighbours)[number]) => !itself && numbers[a] === numbers[b];
  return {
    faces,
    equal: anywhere ? 0 : neighbours.filter(isEqual).length,
    timesEach: anywhere ? Math.max(1, used) : pieces.length / areas.length,
    beyondMm: reach.beyondMm,
    beyondShare: reach.beyondShare,
    reach: reach.ofArea,
  };
}

/** The neighbours of every piece. */
function besideOf({ pieces, neighbours }: LayoutGeometry): number[][] {
  const beside: number[][] = pieces.map(() => []);
  for (const { a, b, itself } of neighbours)
    if (!itself) {
      beside[a]!.push(b);
      beside[b]!.push(a);
    }
  return beside;
}

/** How far pieces reach beyond what they are cut from. */
class Reach {
  readonly beyondMm = { x: 0, y: 0 };
  readonly beyondShare = { x: 0, y: 0 };
  readonly ofArea: { x: number; y: number }[];

  constructor(private readonly areas: readonly FaceArea[]) {
    this.ofArea = areas.map(() => ({ x: 1, y: 1 }));
  }

  note(number: number, { width, height }: { width: number; height: number }, centre: Face['centre']): void {
    const area = this.areas[number]!;
    if (area.closed) return;
    const { beyondMm, beyondShare } = this;
    beyondMm.x = Math.max(beyondMm.x, width - area.width);
    beyondMm.y = Math.max(beyondMm.y, height - area.height);
    beyondShare.x = Math.max(beyondShare.x, width / area.width - 1);
    beyondShare.y = Math.max(beyondShare.y, height / area.height - 1);
    const reach = this.ofArea[number]!;
    reach.x = Math.max(reach.x, (centre.x + width / 2 - area.left) / area.width);
    reach.y = Math.max(reach.y, (centre.y + height / 2 - area.bottom) / area.height);
  }
}

type Placed = Pick<Face, 'area' | 'centre'>;

/** The stretches of pictures that may be used, and which of them a piece is cut from. */
class Stretches {
  private readonly ofPicture: number[][];
  private readonly times: number[];

  constructor(
    private readonly areas: readonly FaceArea[],
    private readonly pictures: readonly { width: number; height: number }[],
    /** The picture of every piece; that of a piece is changed where it offers no room. */
    private readonly numbers: Uint16Array,
    private readonly beside: readonly (readonly number[])[],
  ) {
    this.ofPicture = pictures.map(() => []);
    areas.forEach((area, k) => this.ofPicture[area.of?.picture ?? k]!.push(k));
    this.times = pictures.map(() => 0);
  }

  /** @param centre where the middle of the piece would lie in its picture, mm */
  place(piece: number, size: { width: number; height: number }, centre: Face['centre']): Placed {
    const own = this.ofPicture[this.numbers[piece]!]!;
    const [only] = own;
    if (own.length === 1 && this.isWhole(only!)) return this.onSheet(only!, centre);
    const fits = (k: number) => shareBeyond(size, this.areas[k]!) <= ALMOST;
    const fitting = own.filter(fits);
    if (fitting.length > 0) return this.nearest(fitting, size, centre);
    const others = this.areas.map((_, k) => k).filter((k) => fits(k) && this.mayBe(piece, k));
    if (others.length > 0) {
      const used = (k: number) => this.times[this.pictureOf(k)]!;
      return this.taken(
        piece,
        others.reduce((best, k) => (used(k) < used(best) ? k : best)),
        size,
        centre,
      );
    }
    // It is continued from the longest there is.
    const some = this.areas.map((_, k) => k).filter((k) => own.includes(k) || this.mayBe(piece, k));
    const all = some.length > 0 ? some : this.areas.map((_, k) => k);
    const beyond = (k: number) => shareBeyond(size, this.areas[k]!);
    return this.taken(
      piece,
      all.reduce((best, k) => (beyond(k) < beyond(best) ? k : best)),
      size,
      centre,
    );
  }

  private isWhole(area: number): boolean {
    const { width, height } = this.areas[area]!;
    const picture = this.pictures[this.pictureOf(area)]!;
    return width >= picture.width && height >= picture.height;
  }

  private pictureOf(area: number): number {
    return this.areas[area]!.of?.picture ?? area;
  }

  /** Whether no neighbour shows the picture. */
  private mayBe(piece: number, area: number): boolean {
    return this.beside[piece]!.every((other) => this.numbers[other] !== this.pictureOf(area));
  }

  private taken(
    piece: number,
    area: number,
    size: { width: number; height: number },
    centre: Face['centre'],
  ): Placed {
    const picture = this.pictureOf(area);
    this.numbers[piece] = picture;
    this.times[picture]!++;
    return this.nearest([area], size, centre);
  }

  /** Of several stretches that one in which the piece has to be moved least. */
  private nearest(
    own: readonly number[],
    size: { width: number; height: number },
    centre: Face['centre'],
  ): Placed {
    let best: Placed | null = null;
    let least = Infinity;
    for (const k of own) {
      const { of, width, height } = this.areas[k]!;
      const at = {
        x: inside(centre.x, of?.x ?? 0, width, size.width),
        y: inside(centre.y, of?.y ?? 0, height, size.height),
      };
      const moved = Math.hypot(at.x - centre.x, at.y - centre.y);
      if (moved < least) [best, least] = [this.onSheet(k, at), moved];
    }
    return best!;
  }

  private onSheet(area: number, { x, y }: Face['centre']): Placed {
    const { left, bottom, of } = this.areas[area]!;
    return { area, centre: { x: left + x - (of?.x ?? 0), y: bottom + y - (of?.y ?? 0) } };
  }
}

/** The place nearest to one at which a length lies within a stretch; from its beginning on where it is longer. */
function inside(at: number, from: number, length: number, piece: number): number {
  if (piece >= length) return from + piece / 2;
  return Math.min(from + length - piece / 2, Math.max(from + piece / 2, at));
}

/** A picture that is too short by its own length is as good as one used so many times more. */
const TOO_SHORT = 4;
/** A piece that is longer by no more than this share is as good as one that is not: its picture is mirrored at its edge. */
export const ALMOST = 0.04;
/** Pieces that are longer than their area begin within this share of it, and no farther than they are longer. */
const BEGINS_WITHIN = 0.25;

/** By how much of the picture's length a piece is longer than it. */
const shareBeyond = (
  size: { width: number; height: number },
  picture: { width: number; height: number },
): number => Math.max(0, size.width / picture.width - 1, size.height / picture.height - 1);

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
 * A place in a picture at which a piece is covered, mm from its lower left corner. One that is longer begins within a share of the
 * picture; where that is 0, it lies over the middle.
 */
function withinPicture(
  picture: { width: number; height: number },
  size: { width: number; height: number },
  random: Random,
  beginsWithin: number,
): Face['centre'] {
  const axis = (length: number, piece: number) => {
    const at = random.next();
    if (piece > (1 + ALMOST) * length && beginsWithin > 0)
      return at * Math.min(beginsWithin * length, piece - length) + piece / 2;
    return length / 2 + (at - 0.5) * Math.max(0, length - piece);
  };
  return { x: axis(picture.width, size.width), y: axis(picture.height, size.height) };
}
