import type { Random } from '../raster';
import { atOnce, type Steps } from '../steps';
import type { LaidPiece, LayoutGeometry } from './lay';
import type { LayoutSettings } from './settings';

/** Which kind of a blend every piece is: 0 is the finish itself, 1 the first of the others, and so on. */

type Blend = LayoutSettings['blend'];

/** Assigns a kind of the blend to every piece. @returns for each piece the number of its kind */
export function* assigningKinds(
  { rule, others }: Blend,
  geometry: LayoutGeometry,
  random: Random,
): Steps<Uint8Array> {
  const { pieces } = geometry;
  const kindOf = new Uint8Array(pieces.length);
  if (others.length === 0) return kindOf;
  const byShare = others.map((o, k) => ({ ...o, number: k + 1 })).filter((o) => o.kind === null);
  const free = pieces.filter(({ kind }) => !others.some((o) => o.kind === kind));
  for (const piece of pieces) {
    const own = others.findIndex((o) => o.kind === piece.kind);
    if (own >= 0) kindOf[piece.id] = own + 1;
  }
  if (byShare.length === 0 || free.length === 0) return kindOf;
  const numbers = byShare.map((o) => o.number);
  if (rule === 'scattered') scatter(kindOf, free, byShare, geometry, random);
  else if (rule === 'intervals') atIntervals(kindOf, free, byShare);
  else if (rule === 'courses') inCourses(kindOf, free, byShare, geometry.courses);
  else if (rule === 'border') border(kindOf, free, numbers, geometry);
  else yield* chequer(kindOf, free, numbers, geometry, random);
  return kindOf;
}

interface Shared {
  number: number;
  share: number;
}

/** Whole numbers of pieces that come nearest to shares. */
export function wholeNumbers(shares: readonly number[], pieces: number): number[] {
  const exact = shares.map((share) => (share * pieces) / 100);
  const whole = exact.map(Math.floor);
  const wanted = Math.round(exact.reduce((sum, v) => sum + v, 0));
  const rest = exact.map((v, k) => ({ k, rest: v - whole[k]! })).sort((a, b) => b.rest - a.rest);
  for (let left = wanted - whole.reduce((sum, v) => sum + v, 0), k = 0; left > 0; left--, k++)
    whole[rest[k % rest.length]!.k]!++;
  return whole;
}

const CANDIDATES = 16;

/** By shares, each piece far from others of its kind. */
function scatter(
  kindOf: Uint8Array,
  free: readonly LaidPiece[],
  shares: readonly Shared[],
  { repeatMm }: LayoutGeometry,
  random: Random,
): void {
  const counts = wholeNumbers(
    shares.map((s) => s.share),
    free.length,
  );
  const left = [...free];
  // The rarest first: they have most to choose from.
  const order = shares.map((_, k) => k).sort((a, b) => counts[a]! - counts[b]!);
  for (const k of order) {
    const laid: LaidPiece[] = [];
    for (let n = 0; n < counts[k]!; n++) {
      let best = { at: 0, far: -1 };
      for (let c = 0; c < CANDIDATES; c++) {
        const at = random.whole(left.length);
        const far = farthest(left[at]!, laid, repeatMm);
        if (far > best.far) best = { at, far };
      }
      const [piece] = left.splice(best.at, 1);
      kindOf[piece!.id] = shares[k]!.number;
      laid.push(piece!);
    }
  }
}

function farthest(
  piece: LaidPiece,
  from: readonly LaidPiece[],
  { width, height }: LayoutGeometry['repeatMm'],
) {
  let least = Infinity;
  for (const other of from) {
    const dx = Math.abs(piece.centre[0] - other.centre[0]) % width;
    const dy = Math.abs(piece.centre[1] - other.centre[1]) % height;
    least = Math.min(least, Math.hypot(Math.min(dx, width - dx), Math.min(dy, height - dy)));
  }
  return least;
}

/** Every so many pieces of a course, as many as the share asks for; every second course is shifted by half an interval. */
function atIntervals(kindOf: Uint8Array, free: readonly LaidPiece[], shares: readonly Shared[]): void {
  const courses = new Map<number, LaidPiece[]>();
  for (const piece of free) courses.set(piece.course, [...(courses.get(piece.course) ?? []), piece]);
  for (const [course, pieces] of courses) {
    pieces.sort((a, b) => a.centre[0] - b.centre[0]);
    shares.forEach(({ number, share }, k) => {
      if (share === 0) return;
      const every = Math.round(100 / share);
      const first = k + (course % 2) * Math.floor(every / 2);
      for (let at = first % every; at < pieces.length; at += every)
        if (kindOf[pieces[at]!.id] === 0) kindOf[pieces[at]!.id] = number;
    });
  }
}

/** Whole courses, as evenly one after another as their shares allow. */
function inCourses(
  kindOf: Uint8Array,
  free: readonly LaidPiece[],
  shares: readonly Shared[],
  courses: number,
): void {
  const counts = wholeNumbers(
    shares.map((s) => s.share),
    courses,
  );
  const ofCourse = new Uint8Array(courses);
  shares.forEach(({ number }, k) => {
    for (let n = 0; n < counts[k]!; n++) {
      const wanted = Math.floor(((n + 0.5) * courses) / counts[k]!);
      for (let step = 0; step < courses; step++) {
        const course = (wanted + step) % courses;
        if (ofCourse[course] !== 0) continue;
        ofCourse[course] = number;
        break;
      }
    }
  });
  for (const piece of free) kindOf[piece.id] = ofCourse[piece.course % courses]!;
}

/** One kind after another from the edges of the repeat inwards, each as wide as a piece. */
function border(
  kindOf: Uint8Array,
  free: readonly LaidPiece[],
  numbers: readonly number[],
  { repeatMm, pieces }: LayoutGeometry,
): void {
  const widths = pieces.map((p) => p.nominalMm.width).sort((a, b) => a - b);
  const step = widths[widths.length >> 1]!;
  for (const { id, centre } of free) {
    const inside = (v: number, side: number) => {
      const at = v - side * Math.floor(v / side);
      return Math.min(at, side - at);
    };
    const ring = Math.floor(
      Math.min(inside(centre[0], repeatMm.width), inside(centre[1], repeatMm.height)) / step,
    );
    if (ring < numbers.length) kindOf[id] = numbers[ring]!;
  }
}

/** All kinds in even shares, none beside its own where that can be. */
function* chequer(
  kindOf: Uint8Array,
  free: readonly LaidPiece[],
  numbers: readonly number[],
  { neighbours, pieces }: LayoutGeometry,
  random: Random,
): Steps<void> {
  const kinds = [0, ...numbers];
  const { numbers: colours } = yield* distinctNeighboursSteps(
    pieces.length,
    neighbours,
    kinds.length,
    random,
  );
  for (const { id } of free) kindOf[id] = kinds[colours[id]!]!;
}

/** Steps of the search per item, and for how many steps a number that was given up is not assigned again. */
const STEPS_EACH = 60;
const LEFT_FOR = 9;
/** What speaks against a number counts so much of a pair of equal neighbours. */
const UNSUITED = 0.05;

interface Neighbours {
  a: number;
  b: number;
  itself: boolean;
}

/** Numbers of items, and the number of each. */
interface Numbered {
  numbers: Uint16Array;
  /** How many pairs of neighbours are equal all the same. */
  equal: number;
}

/**
 * Assigns numbers so that neighbours differ and all are used equally often: first each gets the least used one that fits,
 * then by tabu search (Hertz, de Werra 1987) as long as neighbours are equal.
 * @param count how many items get a number
 * @param of how many numbers there are
 * @param unsuited what speaks against a number for an item: 0 nothing; 1 as much as that it was used once more than others
 */
export const distinctNeighbours = (...of: Parameters<typeof distinctNeighboursSteps>): Numbered =>
  atOnce(distinctNeighboursSteps(...of));

/** The same in steps. */
export function* distinctNeighboursSteps(
  count: number,
  neighbours: readonly Neighbours[],
  of: number,
  random: Random,
  unsuited: (k: number, number: number) => number = () => 0,
): Steps<Numbered> {
  const colouring = new Colouring(count, neighbours, of);
  const used = new Uint32Array(of);
  for (let k = 0; k < count; k++) {
    yield;
    let best = { number: 0, cost: Infinity };
    for (let number = 0; number < of; number++) {
      const equal = colouring.besideOf(k, number);
      const cost = 2 * count * equal + used[number]! + unsuited(k, number) + 0.9 * random.next();
      if (cost < best.cost) best = { number, cost };
    }
    colouring.assign(k, best.number);
    used[best.number]!++;
  }
  const until = new Map<number, number>();
  for (let step = 0; step < STEPS_EACH * count && colouring.equal.length > 0; step++) {
    yield;
    let best = { k: -1, number: 0, gain: -Infinity };
    for (const k of colouring.equal) {
      const own = colouring.numbers[k]!;
      for (let number = 0; number < of; number++) {
        if (number === own || (until.get(k * of + number) ?? 0) > step) continue;
        const gain =
          colouring.besideOf(k, own) -
          colouring.besideOf(k, number) +
          UNSUITED * (unsuited(k, own) - unsuited(k, number)) +
          0.5 * random.next();
        if (gain > best.gain) best = { k, number, gain };
      }
    }
    if (best.k < 0) continue;
    until.set(best.k * of + colouring.numbers[best.k]!, step + LEFT_FOR + random.whole(LEFT_FOR));
    colouring.assign(best.k, best.number);
  }
  const { numbers } = colouring;
  const equal = neighbours.filter(({ a, b, itself }) => !itself && numbers[a] === numbers[b]).length;
  return { numbers, equal };
}

const NONE = 0xffff;

/** Numbers of items as they are assigned, with how often each number is beside each item. */
class Colouring {
  readonly numbers: Uint16Array;
  /** Items that have a neighbour of their own number, in ascending order. */
  readonly equal: number[] = [];
  private readonly beside: number[][];
  private readonly counts: Uint16Array;

  constructor(
    count: number,
    neighbours: readonly Neighbours[],
    private readonly of: number,
  ) {
    this.numbers = new Uint16Array(count).fill(NONE);
    this.counts = new Uint16Array(count * of);
    this.beside = Array.from({ length: count }, () => []);
    for (const { a, b, itself } of neighbours)
      if (!itself) {
        this.beside[a]!.push(b);
        this.beside[b]!.push(a);
      }
  }

  /** How many neighbours of an item have a number. */
  besideOf(k: number, number: number): number {
    return this.counts[k * this.of + number]!;
  }

  assign(k: number, number: number): void {
    const before = this.numbers[k]!;
    this.numbers[k] = number;
    for (const other of this.beside[k]!) {
      if (before !== NONE) this.counts[other * this.of + before]!--;
      this.counts[other * this.of + number]!++;
    }
    for (const item of [k, ...this.beside[k]!]) this.note(item);
  }

  /** Keeps the list of equal items. */
  private note(k: number): void {
    const own = this.numbers[k]!;
    const isEqual = own !== NONE && this.besideOf(k, own) > 0;
    let [from, to] = [0, this.equal.length];
    while (from < to) {
      const middle = (from + to) >> 1;
      if (this.equal[middle]! < k) from = middle + 1;
      else to = middle;
    }
    const isListed = this.equal[from] === k;
    if (isEqual && !isListed) this.equal.splice(from, 0, k);
    else if (!isEqual && isListed) this.equal.splice(from, 1);
  }
}
