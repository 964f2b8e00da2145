import type { Plane } from '../../raster';
import type { Piece, Pieces } from '../../pieces';

/** Pieces with the picture that they were segmented from: L*, a*, b*. */
export interface TonedPieces {
  pieces: Pieces;
  lab: readonly Plane[];
}

/** The outline of a piece is left out: so many pixels at its edge are half joint. */
const RIM_PX = 2;
/** A side of a piece has so many pixels, and at least this share of it, to be compared with the other. */
const LEAST_PX = 12;
const LEAST_SHARE = 0.04;
/** Sides that differ by less look like one piece, ΔE*ab … */
const LEAST_SEEN = 2;
/** … and so do those that differ by up to so many times what 95 of 100 sides in pieces of the sample do. */
const OWN_SPREAD = 1.3;
const NEARLY_ALL = 0.95;
/** Sides of pieces of the sample are compared at these shares of their length. */
const SHARES = [0.05, 0.12, 0.25, 0.5] as const;
/** A side is compared with the largest of these that it has so much of. */
const NEARLY = 0.8;

/**
 * Numbers of the pieces of a repeat that are made of parts of several pieces of the sample whose tones differ: their outlines may
 * be whole, but along the line where the copies meet the tone changes as it does inside no piece of the sample.
 * @param whole pieces of the sample that are whole
 * @param met numbers of the pieces of the repeat in which copies meet
 * @param meet 1 where copies meet, one for each pixel of the repeat
 */
export function piecesOfMixedTones(
  sample: TonedPieces,
  whole: readonly Piece[],
  repeat: TonedPieces,
  met: ReadonlySet<number>,
  meet: Uint8Array,
): number[] {
  const limits = ownDifferences(sample, whole);
  const sides = sidesOf(repeat, met, meet);
  return [...sides].flatMap(([k, [first, second]]) => {
    if (!second || second.count < LEAST_PX) return [];
    const share = second.count / (first!.count + second.count);
    const limit = limits[SHARES.findLastIndex((s) => share >= NEARLY * s)];
    return share >= LEAST_SHARE && limit !== undefined && apart(first!, second) > limit ? [k] : [];
  });
}

/** Sums of the tones of one side of a piece. */
class Side {
  count = 0;
  private readonly sums = [0, 0, 0];

  constructor(private readonly lab: readonly Plane[]) {}

  add(i: number): void {
    this.count++;
    for (let c = 0; c < 3; c++) this.sums[c]! += this.lab[c]!.data[i]!;
  }

  mean(channel: number): number {
    return this.sums[channel]! / this.count;
  }
}

/** Difference of the mean tones of two sides, ΔE*ab. */
const apart = (a: Side, b: Side) =>
  Math.hypot(a.mean(0) - b.mean(0), a.mean(1) - b.mean(1), a.mean(2) - b.mean(2));

/** The sides that the lines where copies meet divide pieces into, the largest first; only of pieces that have been met. */
function sidesOf({ pieces, lab }: TonedPieces, met: ReadonlySet<number>, meet: Uint8Array) {
  const { widthPx: w, heightPx: h, label } = pieces;
  const isInside = insideOf(pieces, true);
  const seen = new Uint8Array(label.length);
  const out = new Map<number, Side[]>();
  const open: number[] = [];
  for (let start = 0; start < label.length; start++) {
    const piece = label[start]!;
    if (seen[start] || meet[start] || !met.has(piece) || !isInside(start)) continue;
    const side = new Side(lab);
    const visit = (i: number) => {
      if (seen[i] || meet[i] || label[i] !== piece || !isInside(i)) return;
      seen[i] = 1;
      open.push(i);
    };
    visit(start);
    for (let i = open.pop(); i !== undefined; i = open.pop()) {
      side.add(i);
      const [x, row] = [i % w, i - (i % w)];
      visit(row + ((x + 1) % w));
      visit(row + ((x + w - 1) % w));
      visit((i + w) % (w * h));
      visit((i + w * (h - 1)) % (w * h));
    }
    out.set(piece, [...(out.get(piece) ?? []), side]);
  }
  for (const sides of out.values()) sides.sort((a, b) => b.count - a.count);
  return out;
}

/** Whether all pixels about a pixel are of its piece. */
function insideOf({ widthPx: w, heightPx: h, label }: Pieces, wraps: boolean): (i: number) => boolean {
  const at = (x: number, y: number) =>
    wraps
      ? label[((y + h) % h) * w + ((x + w) % w)]!
      : x < 0 || y < 0 || x >= w || y >= h
        ? -1
        : label[y * w + x]!;
  return (i) => {
    const [x, y] = [i % w, Math.floor(i / w)];
    const piece = label[i]!;
    return (
      at(x - RIM_PX, y) === piece &&
      at(x + RIM_PX, y) === piece &&
      at(x, y - RIM_PX) === piece &&
      at(x, y + RIM_PX) === piece
    );
  };
}

/** For each of the shares: sides of pieces of the sample that are so long differ by less from the rest of them, ΔE*ab. */
function ownDifferences({ pieces, lab }: TonedPieces, whole: readonly Piece[]): (number | undefined)[] {
  const numbers = new Set(whole.map((p) => pieces.pieces.indexOf(p)));
  const inside = pixelsInside(pieces, numbers);
  return SHARES.map((share) => {
    const differences = [...inside].flatMap(([k, pixels]) =>
      splitsOf(pieces.pieces[k]!, share).flatMap((isFirst) => {
        const [first, second] = [new Side(lab), new Side(lab)];
        for (const i of pixels)
          (isFirst(i % pieces.widthPx, Math.floor(i / pieces.widthPx)) ? first : second).add(i);
        return Math.min(first.count, second.count) < LEAST_PX ? [] : [apart(first, second)];
      }),
    );
    if (differences.length === 0) return undefined;
    differences.sort((a, b) => a - b);
    return Math.max(LEAST_SEEN, OWN_SPREAD * differences[Math.floor(NEARLY_ALL * differences.length)]!);
  });
}

function pixelsInside(pieces: Pieces, numbers: ReadonlySet<number>): Map<number, number[]> {
  const isInside = insideOf(pieces, false);
  const out = new Map<number, number[]>([...numbers].map((k) => [k, []]));
  for (let i = 0; i < pieces.label.length; i++) {
    const pixels = out.get(pieces.label[i]!);
    if (pixels && isInside(i)) pixels.push(i);
  }
  return out;
}

/** Parts of a share of a piece at its four ends. */
function splitsOf(
  { left, top, widthPx, heightPx }: Piece,
  share: number,
): ((x: number, y: number) => boolean)[] {
  const [x1, x2] = [left + share * widthPx, left + (1 - share) * widthPx];
  const [y1, y2] = [top + share * heightPx, top + (1 - share) * heightPx];
  return [(x) => x < x1, (x) => x >= x2, (_, y) => y < y1, (_, y) => y >= y2];
}
