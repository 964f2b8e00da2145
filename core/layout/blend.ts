import type { Random } from '../raster';
import type { LaidPiece, LayoutGeometry } from './lay';
import type { LayoutSettings } from './settings';

/** Which kind of a blend every piece is: 0 is the finish itself, 1 the first of the others, and so on. */

type Blend = LayoutSettings['blend'];

/** Assigns a kind of the blend to every piece. @returns for each piece the number of its kind */
export function assignedKinds({ rule, others }: Blend, geometry: LayoutGeometry, random: Random): Uint8Array {
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
  else chequer(kindOf, free, numbers, geometry, random);
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
function chequer(
  kindOf: Uint8Array,
  free: readonly LaidPiece[],
  numbers: readonly number[],
  { neighbours, pieces }: LayoutGeometry,
  random: Random,
): void {
  const kinds = [0, ...numbers];
  const { numbers: colours } = distinctNeighbours(pieces.length, neighbours, kinds.length, random);
  for (const { id } of free) kindOf[id] = kinds[colours[id]!]!;
}

/** Steps of the search per item, and for how many steps a number that was given up is not assigned again. */
const STEPS_EACH = 60;
const LEFT_FOR = 9;
/** What speaks against a number counts so much of a pair of equal neighbours. */
const UNSUITED = 0.05;

/**
 * Assigns numbers so that neighbours differ and all are used equally often: first each gets the least used one that fits,
 * then by tabu search (Hertz, de Werra 1987) as long as neighbours are equal.
 * @param count how many items get a number
 * @param of how many numbers there are
 * @param unsuited what speaks against a number for an item: 0 nothing; 1 as much as that it was used once more than others
 * @returns the number of each, and how many pairs of neighbours are equal all the same
 */
export function distinctNeighbours(
  count: number,
  neighbours: readonly { a: number; b: number; itself: boolean }[],
  of: number,
  random: Random,
  unsuited: (k: number, number: number) => number = () => 0,
): { numbers: Uint16Array; equal: number } {
  const beside: number[][] = Array.from({ length: count }, () => []);
  for (const { a, b, itself } of neighbours)
    if (!itself) {
      beside[a]!.push(b);
      beside[b]!.push(a);
    }
  const numbers = new Uint16Array(count).fill(NONE);
  const used = new Uint32Array(of);
  const equalAt = (k: number, number: number) =>
    beside[k]!.reduce((sum, other) => sum + (numbers[other] === number ? 1 : 0), 0);
  for (let k = 0; k < count; k++) {
    let best = { number: 0, cost: Infinity };
    for (let number = 0; number < of; number++) {
      const cost = 2 * count * equalAt(k, number) + used[number]! + unsuited(k, number) + 0.9 * random.next();
      if (cost < best.cost) best = { number, cost };
    }
    numbers[k] = best.number;
    used[best.number]!++;
  }
  const until = new Map<number, number>();
  for (let step = 0; step < STEPS_EACH * count; step++) {
    const bad = [...numbers.keys()].filter((k) => equalAt(k, numbers[k]!) > 0);
    if (bad.length === 0) break;
    let best = { k: -1, number: 0, gain: -Infinity };
    for (const k of bad)
      for (let number = 0; number < of; number++) {
        if (number === numbers[k] || (until.get(k * of + number) ?? 0) > step) continue;
        const gain =
          equalAt(k, numbers[k]!) -
          equalAt(k, number) +
          UNSUITED * (unsuited(k, numbers[k]!) - unsuited(k, number)) +
          0.5 * random.next();
        if (gain > best.gain) best = { k, number, gain };
      }
    if (best.k < 0) continue;
    until.set(best.k * of + numbers[best.k]!, step + LEFT_FOR + random.whole(LEFT_FOR));
    numbers[best.k] = best.number;
  }
  const equal = neighbours.filter(({ a, b, itself }) => !itself && numbers[a] === numbers[b]).length;
  return { numbers, equal };
}

const NONE = 0xffff;
