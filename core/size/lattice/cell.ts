import { SHORTEST_PX } from '../comb';
import { scaledCourses, type Courses } from './courses';
import { apartFromLines, type Features } from './features';
import { REACH } from './search';
import { comparison, type Pair } from './fold';

/** Which cell is the period: a part of a structure looks like it, and so does a multiple. */

/** Cells of at most so many times the area are tried, and of as small a part of it. */
const TIMES = 6;
const PARTS = 3;

/** Structures whose cells are made of several of this one's, or are a part of it. */
function family({ acrossPx, upPx, stagger }: Courses): Courses[] {
  const out: Courses[] = [];
  const add = (across: number | null, up: number | null, shift: number) =>
    out.push({ acrossPx: across, upPx: up, stagger: shift - Math.floor(shift + 1e-9) });
  const both = acrossPx !== null && upPx !== null;
  for (let a = 1; a <= TIMES; a++)
    for (let b = 1; a * b <= TIMES; b++) {
      if (a * b === 1 || (!both && b > 1)) continue;
      for (let m = 0; m < (both ? a : 1); m++)
        add(acrossPx && acrossPx * a, upPx && upPx * (both ? b : a), (stagger * b + m) / a);
    }
  // Of one axis the shortest period is known by its lines.
  for (let k = 2; both && k <= PARTS; k++) {
    for (let m = 0; m < k; m++) add(acrossPx, upPx / k, (stagger + m) / k);
    add(acrossPx / k, upPx, stagger * k);
  }
  return out.filter(
    (c) => (c.acrossPx ?? SHORTEST_PX) >= SHORTEST_PX && (c.upPx ?? SHORTEST_PX) >= SHORTEST_PX,
  );
}

export const areaOfCourses = ({ acrossPx, upPx }: Courses) => (acrossPx ?? 1) * (upPx ?? 1);

/** By what share a larger cell has to be more similar to be taken, and by how many standard errors over the windows. */
const LEAST_GAIN = 0.03;
const SURELY = 3.5;
/** So many windows say what one says. */
const WINDOWS_ALIKE = 1;
/** Those side by side along boards see the same boards. */
const WINDOWS_ALIKE_ON_ONE_AXIS = 2;
/** Pieces differ by chance: of n of them, larger cells gain this over the root of n. */
const BY_CHANCE = 0.25;
/** Lightness alone has to gain so much. */
const LIGHTER = 0.12;

/**
 * What a structure of these axes is judged by. What runs all along rows or columns says nothing of the other axis, and pieces
 * are distinguished more clearly without their beds.
 */
export const judgedBy = ({ lightness, edges, usable }: Features, { acrossPx, upPx }: Courses): Pair =>
  acrossPx !== null && upPx !== null
    ? [apartFromLines(lightness, usable), apartFromLines(edges, usable)]
    : [lightness, edges];

/** A cell larger than another has to show so many times on each axis it is larger on: few windows say little. */
const OFTEN = 3;
const showsOften = ({ acrossPx, upPx }: Courses, before: Courses, w: number, h: number) =>
  (acrossPx === null || acrossPx <= 1.001 * before.acrossPx! || OFTEN * acrossPx <= w) &&
  (upPx === null || upPx <= 1.001 * before.upPx! || OFTEN * upPx <= h);

/** Where a larger cell that shows too seldom to be chosen is so much more similar, the one chosen is a part of it. */
const PART_OF_A_LARGER = 0.2;
/** It is sought among cells of so many times the area. */
const LARGER_BY = 3.1;

/**
 * Of cells that are too large to be known in this picture, one of which the structure is clearly a part.
 * @returns how many times it shows; null: there is none
 */
export function partOfALarger(features: Features, cell: Courses): number | null {
  const { usable } = features;
  const { widthPx: w, heightPx: h } = usable;
  const planes = judgedBy(features, cell);
  const compared = comparison(planes, usable, cell);
  const like = (c: Courses) => meanOf(compared(c).flat());
  const least = like(cell) + PART_OF_A_LARGER;
  for (const larger of family(cell)) {
    const [across, up] = [w / (larger.acrossPx ?? 1), h / (larger.upPx ?? 1)];
    if (areaOfCourses(larger) > LARGER_BY * areaOfCourses(cell)) continue;
    if (showsOften(larger, cell, w, h) || Math.min(across, up) * REACH < 1) continue;
    if (like(larger) > least) return Math.min(across, up);
  }
  return null;
}

/** The same picture at a smaller scale. */
export interface Coarse {
  features: Features;
  /** Its pixels over those of the picture. */
  scale: number;
}

/** Of cells of one size so many are compared at full scale. */
const COMPARED = 2;

/** Of cells of each size those most similar at a smaller scale, where a wrong shift of courses shows as clearly. */
function shortlisted(cells: readonly Courses[], now: Courses, coarse: Coarse): Courses[] {
  const planes = judgedBy(coarse.features, now);
  const scaled = (c: Courses) => scaledCourses(c, coarse.scale);
  const compared = comparison(planes, coarse.features.usable, scaled(now));
  const likes = new Map<number, { courses: Courses; like: number }[]>();
  for (const courses of cells) {
    const size = Math.round(areaOfCourses(courses));
    const like = meanOf(compared(scaled(courses)).flat());
    likes.set(size, [...(likes.get(size) ?? []), { courses, like }]);
  }
  return [...likes.values()].flatMap((ofSize) =>
    ofSize
      .sort((a, b) => b.like - a.like)
      .slice(0, COMPARED)
      .map((l) => l.courses),
  );
}

/**
 * Of a structure and its family the smallest cell that is as like the picture as any.
 * @param coarse the same picture at a smaller scale that still shows the structure; null: there is none
 */
export function rightCell(features: Features, start: Courses, coarse: Coarse | null): Courses {
  const { usable } = features;
  const planes = judgedBy(features, start);
  const { widthPx: w, heightPx: h } = usable;
  const alike = start.acrossPx !== null && start.upPx !== null ? WINDOWS_ALIKE : WINDOWS_ALIKE_ON_ONE_AXIS;
  let now = start;
  for (let round = 0; round < 3; round++) {
    const shown = family(now).filter((c) => showsOften(c, now, w, h));
    const all = [now, ...(coarse ? shortlisted(shown, now, coarse) : shown)];
    const compared = comparison(planes, usable, now);
    const likes = all.map((c) => {
      const [light, edge] = compared(c);
      return { courses: c, edge, like: light.map((v, k) => (v + edge[k]!) / 2) };
    });
    // Of cells of one size the most similar; of larger ones only what is surely more similar.
    const sizes = new Map<number, (typeof likes)[number]>();
    for (const l of likes) {
      const size = Math.round(areaOfCourses(l.courses));
      const other = sizes.get(size);
      if (!other || meanOf(l.like) > meanOf(other.like)) sizes.set(size, l);
    }
    const bySize = [...sizes.entries()].sort(([a], [b]) => a - b).map(([, l]) => l);
    let best = bySize[0]!;
    for (const next of bySize.slice(1)) {
      const pieces = (w * h) / areaOfCourses(best.courses) / (alike === WINDOWS_ALIKE ? 1 : Math.max(w, h));
      const chance = BY_CHANCE / Math.sqrt(pieces);
      if (
        surelyMoreSimilar(next.edge, best.edge, alike, chance) ||
        (surelyMoreSimilar(next.like, best.like, alike, chance) &&
          meanOf(next.like) > meanOf(best.like) + LIGHTER)
      )
        best = next;
    }
    if (best.courses === now) break;
    now = best.courses;
  }
  return now;
}

export const meanOf = (values: readonly number[]) =>
  values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

function surelyMoreSimilar(
  a: readonly number[],
  b: readonly number[],
  alike: number,
  chance: number,
): boolean {
  const gains = a.map((v, k) => v - b[k]!);
  const gain = meanOf(gains);
  const scatter = Math.sqrt(meanOf(gains.map((g) => (g - gain) * (g - gain))) * (alike / gains.length));
  return gain > LEAST_GAIN * meanOf(b) + chance && gain > SURELY * scatter;
}
