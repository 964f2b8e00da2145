import { linearToLab } from '../../colour';
import type { ColourPicture, Plane } from '../../raster';
import { atOnce, type Steps } from '../../steps';

/** What a copy of the sample can be turned or turned over by. */
export interface Turn {
  /** Quarter turns, clockwise as seen. */
  quarters: 0 | 1 | 2 | 3;
  /** Reflected left to right, before it is turned. */
  flipped: boolean;
}

/** A sample to compose from, at the working resolution. */
export interface ComposeSource {
  picture: ColourPicture;
  /** 1 where it must not be used; null: everywhere usable. */
  keptOut: Plane | null;
  /** 1 on continuity lines; null: none. */
  held: Plane | null;
  /** Its pieces, stones, bricks, tiles, and the joints that part them; none: it shows no pieces, or they are not looked at. */
  jointed?: Jointed | null;
}

/** Where the pieces and joints of a sample lie, and what they are taken for. */
export interface Jointed {
  /** 1 in joints, 0 well inside pieces. */
  joints: Plane;
  /** 1 in pieces, 0 in joints; null: parts of pieces are not brought to one tone. */
  pieces: Plane | null;
  /** Joints run on over outlines, so that none ends in a piece. */
  runOn: boolean;
  /** Copies are cut in joints, from joint to joint. */
  cutIn: boolean;
}

/** One sample, turned in one way, in the atlas. */
export interface AtlasPart {
  sourceIndex: number;
  turn: Turn;
  /** Place of its first pixel in the atlas. */
  first: number;
  widthPx: number;
  heightPx: number;
}

/** Values per pixel: L*, a*, b*, change of L* across and down, continuity line or joint. */
export const FEATURES = 6;
/** Features are whole numbers, so that costs are the same on every machine: this many per unit of L*. */
export const PER_UNIT = 16;
/** How much a change of lightness counts against lightness itself. */
const EDGE_WEIGHT = 1.2;
/** A continuity line that meets none costs as much as a step of so many L*. */
const HOLD_UNITS = 70;
/** A joint that meets none costs as much as a step of so many L*, so that none ends in a piece; less where continuity lines are drawn. */
const JOINT_UNITS = 60;
const JOINT_UNITS_BESIDE_LINES = 30;
/** A seam through a piece costs as much as steps of so many L* on both its sides. */
const PIECE_UNITS = 40;

/**
 * All samples one below the other, each with a border of one pixel, so that a place is one number and its neighbours lie
 * at fixed distances.
 */
export interface Atlas {
  stride: number;
  features: Int16Array;
  usable: Uint8Array;
  /** Whether continuity lines are drawn. */
  hasLines: boolean;
  /** 1 where a pixel lies inside a piece, 0 in a joint; null: no sample shows pieces. */
  inPiece: Uint8Array | null;
  /** What a seam beside a pixel costs more because it runs through a piece, in steps of features; null: copies are not cut in joints. */
  throughPiece: Int16Array | null;
  /** Which part a pixel belongs to; 255 on borders. */
  partOf: Uint8Array;
  parts: readonly AtlasPart[];
  /**
   * How much a difference between neighbours side by side, and one below the other, counts in a seam, in sixteenths: the less,
   * the more neighbours differ that way in the finish itself.
   */
  counts: { beside: number; below: number };
}

/** The pixel of the sample as it lies that stands at (x, y) of the turned one. */
export function unturned(
  turn: Turn,
  x: number,
  y: number,
  widthPx: number,
  heightPx: number,
): readonly [number, number] {
  // widthPx × heightPx: of the turned picture.
  let [u, v] = [x, y];
  let [w, h] = [widthPx, heightPx];
  for (let k = 0; k < turn.quarters; k++) {
    // One quarter back, anticlockwise.
    [u, v] = [v, w - 1 - u];
    [w, h] = [h, w];
  }
  return turn.flipped ? [w - 1 - u, v] : [u, v];
}

/** Lays all samples in all allowed turns into one atlas. */
export const makeAtlas = (sources: readonly ComposeSource[], turns: readonly Turn[]): Atlas =>
  atOnce(makingAtlas(sources, turns));

/** Rows that are laid before others may have their turn. */
const ROWS_BETWEEN_TURNS = 64;

/** The same in steps. */
export function* makingAtlas(sources: readonly ComposeSource[], turns: readonly Turn[]): Steps<Atlas> {
  const parts: AtlasPart[] = [];
  let stride = 0;
  let rows = 0;
  for (const [sourceIndex, { picture }] of sources.entries())
    for (const turn of turns) {
      const odd = turn.quarters % 2 === 1;
      const widthPx = odd ? picture.heightPx : picture.widthPx;
      const heightPx = odd ? picture.widthPx : picture.heightPx;
      parts.push({ sourceIndex, turn, first: rows, widthPx, heightPx });
      stride = Math.max(stride, widthPx + 2);
      rows += heightPx + 2;
    }
  const features = new Int16Array(stride * rows * FEATURES);
  const usable = new Uint8Array(stride * rows);
  const partOf = new Uint8Array(stride * rows).fill(255);
  const inPiece = sources.some((s) => s.jointed?.pieces) ? new Uint8Array(stride * rows) : null;
  const throughPiece = sources.some((s) => s.jointed?.cutIn) ? new Int16Array(stride * rows) : null;
  const labOf: ReturnType<typeof labPlanes>[] = [];
  for (const { picture } of sources) {
    yield;
    labOf.push(labPlanes(picture));
  }
  for (const [index, part] of parts.entries()) {
    part.first = (part.first + 1) * stride + 1;
    const { widthPx: w, heightPx: h, turn, sourceIndex } = part;
    const { picture, keptOut, held, jointed } = sources[sourceIndex]!;
    const lab = labOf[sourceIndex]!;
    const at = reader(turn, w, h, picture.widthPx);
    for (let y = -1; y <= h; y++) {
      if (y % ROWS_BETWEEN_TURNS === 0) yield;
      for (let x = -1; x <= w; x++) {
        const from = at(x, y);
        const to = part.first + y * stride + x;
        const f = to * FEATURES;
        features[f] = lab[0]![from]!;
        features[f + 1] = lab[1]![from]!;
        features[f + 2] = lab[2]![from]!;
        features[f + 3] = Math.round((EDGE_WEIGHT * (lab[0]![at(x + 1, y)]! - lab[0]![at(x - 1, y)]!)) / 2);
        features[f + 4] = Math.round((EDGE_WEIGHT * (lab[0]![at(x, y + 1)]! - lab[0]![at(x, y - 1)]!)) / 2);
        // Where other samples show pieces, one that shows none is all one piece.
        const joint = jointed?.joints.data[from] ?? 0;
        features[f + 5] = Math.round(
          PER_UNIT * holds(held?.data[from] ?? 0, jointed?.runOn ? joint : 0, held !== null),
        );
        if (inPiece) inPiece[to] = (jointed?.pieces?.data[from] ?? 1) > 0.5 ? 1 : 0;
        if (throughPiece) throughPiece[to] = Math.round(PER_UNIT * PIECE_UNITS * (1 - joint));
        if (x < 0 || y < 0 || x >= w || y >= h) continue;
        usable[to] = keptOut && keptOut.data[from]! > 0.02 ? 0 : 1;
        partOf[to] = index;
      }
    }
  }
  yield;
  const counts = countsOf({ stride, features, usable, parts });
  const hasLines = sources.some((s) => s.held !== null);
  return { stride, features, usable, hasLines, inPiece, throughPiece, partOf, parts, counts };
}

/**
 * Index, in the sample as it lies, of a pixel of the turned one; beyond its edges that of the nearest.
 * @param sampleWidthPx of the sample as it lies
 */
function reader(turn: Turn, w: number, h: number, sampleWidthPx: number): (x: number, y: number) => number {
  const index = (x: number, y: number) => {
    const [u, v] = unturned(turn, x, y, w, h);
    return v * sampleWidthPx + u;
  };
  const first = index(0, 0);
  const [right, down] = [index(1, 0) - first, index(0, 1) - first];
  return (x, y) => first + right * (x < 0 ? 0 : x >= w ? w - 1 : x) + down * (y < 0 ? 0 : y >= h ? h - 1 : y);
}

/** What must run on at a place, in units of L*. */
const holds = (line: number, joint: number, hasLines: boolean) =>
  Math.max(HOLD_UNITS * line, (hasLines ? JOINT_UNITS_BESIDE_LINES : JOINT_UNITS) * joint);

/** A difference counts at most so many times more or less than it would in a finish without grain. */
const MOST_COUNTED = 3;

/**
 * Seams run where they show least: among fibres that differ from one to the next they hardly show, across them they do. After
 * Kwatra et al. 2003, equation 2, which divides by the change of the picture in the seam's direction; taken over the whole
 * sample, so that differences stay a norm and cuts exact.
 */
function countsOf({
  stride,
  features,
  usable,
  parts,
}: Pick<Atlas, 'stride' | 'features' | 'usable' | 'parts'>) {
  const step = (far: number) => {
    let [sum, n] = [0, 1];
    for (const { first, widthPx: w, heightPx: h } of parts)
      for (let y = 0; y + 1 < h; y++)
        for (let x = 0; x + 1 < w; x++) {
          const at = first + y * stride + x;
          if (usable[at] !== 1 || usable[at + far] !== 1) continue;
          sum += apart(features, at, at + far);
          n++;
        }
    return Math.max(1, sum / n);
  };
  const ratio = Math.sqrt(step(stride) / step(1));
  const most = Math.min(MOST_COUNTED, Math.max(1 / MOST_COUNTED, ratio));
  return { beside: Math.round(16 * most), below: Math.round(16 / most) };
}

/** L*, a*, b* in whole steps. */
function labPlanes({ r, g, b }: ColourPicture): [Int16Array, Int16Array, Int16Array] {
  const out: [Int16Array, Int16Array, Int16Array] = [
    new Int16Array(r.length),
    new Int16Array(r.length),
    new Int16Array(r.length),
  ];
  for (let i = 0; i < r.length; i++) {
    const lab = linearToLab([r[i]!, g[i]!, b[i]!]);
    for (let c = 0; c < 3; c++) out[c]![i] = Math.round(lab[c]! * PER_UNIT);
  }
  return out;
}

/** Distance of what stands at two places of the atlas, in steps of features; a norm, so that cuts are exact. */
export function apart(features: Int16Array, a: number, b: number): number {
  const i = a * FEATURES;
  const j = b * FEATURES;
  let sum = 0;
  for (let k = 0; k < FEATURES; k++) {
    const d = features[i + k]! - features[j + k]!;
    sum += d * d;
  }
  return Math.round(Math.sqrt(sum));
}
