import Flatbush from 'flatbush';
import type { Random } from '../../raster';
import type { Steps } from '../../steps';
import type { Cell } from '../cell';
import { CELLS_BETWEEN_TURNS } from '../net';
import { centreOf, cutOff, type Point } from '../polygon';

/** Stones without courses: the room nearest to each of many places, evened out until no joint is too short. */

export interface IrregularOptions {
  repeatMm: { width: number; height: number };
  /** Mean size of a stone with its joint, mm. */
  length: number;
  width: number;
  /** How much sizes differ, 0–1. */
  variety: number;
  jointMm: number;
  random: Random;
}

interface Size {
  width: number;
  height: number;
}

const RELAXED = 4;
/** Times that sites are moved against short joints. */
const PASSES = 40;
/** Distances differ by less through rounding, mm. */
const SLACK = 1e-6;
/** A joint between two corners is at least this share of the width of a stone. */
const SHORTEST_JOINT = 0.16;

export function* irregularSteps(options: IrregularOptions): Steps<Cell[]> {
  const { repeatMm, length, width, jointMm, random } = options;
  // Stones that are longer than wide come of places that are pushed together along.
  const along = length / width;
  const size = { width: repeatMm.width / along, height: repeatMm.height };
  let sites = yield* scatteringSteps(size, width, options.variety, random);
  const relaxed = Math.round(RELAXED * (1.2 - options.variety));
  for (let k = 0; k < relaxed; k++) {
    const { outlines } = yield* Rooms.steps(sites, size);
    sites = sites.flatMap(({ r }, n) => (outlines[n]!.length > 2 ? [{ at: centreOf(outlines[n]!), r }] : []));
  }
  const { outlines } = yield* withoutShortJoints(sites, size, SHORTEST_JOINT * width);
  const rooms = outlines.filter((room) => room.length > 2);
  return rooms.map((room) => {
    const outline = room.map(([x, y]): Point => [x * along, y]);
    return {
      outline,
      jointMm: outline.map(() => jointMm),
      course: 0,
      directionDeg: 0,
      nominalMm: { length: length - jointMm, width: width - jointMm },
      kind: 'stone',
    };
  });
}

/** A place and the radius of the stone that stands there. */
interface Site {
  at: Point;
  r: number;
}

/** Places that keep a distance of their own from each other, large ones first. */
function* scatteringSteps(size: Size, width: number, variety: number, random: Random): Steps<Site[]> {
  const wanted = Math.max(3, Math.round((size.width * size.height) / (width * width)));
  // Few are large, many are small.
  const radii = Array.from({ length: wanted }, () => {
    const t = random.next();
    return width * 0.5 * (1 + variety * (0.95 * t * t - 0.4));
  });
  radii.sort((a, b) => b - a);
  const placed = new Buckets(size, 2 * (radii[0] ?? width));
  for (const [k, r] of radii.entries()) {
    if (k % CELLS_BETWEEN_TURNS === 0) yield;
    placed.add({ at: farFromOthers(placed, r, size, random), r });
  }
  return placed.all;
}

/** Sites by where they lie, so that those near a place are found without looking at all. */
class Buckets {
  readonly all: Site[] = [];
  private readonly columns: number;
  private readonly rows: number;
  private readonly sites: Site[][];

  constructor(
    private readonly size: Size,
    reach: number,
  ) {
    this.columns = Math.max(1, Math.floor(size.width / reach));
    this.rows = Math.max(1, Math.floor(size.height / reach));
    this.sites = Array.from({ length: this.columns * this.rows }, () => []);
  }

  private cell([x, y]: Point): [number, number] {
    return [Math.floor((x / this.size.width) * this.columns), Math.floor((y / this.size.height) * this.rows)];
  }

  add(site: Site): void {
    const [i, j] = this.cell(site.at);
    this.sites[j * this.columns + i]!.push(site);
    this.all.push(site);
  }

  near(at: Point): Site[] {
    if (this.columns < 3 || this.rows < 3) return this.all;
    const [i, j] = this.cell(at);
    const out: Site[] = [];
    for (let dj = -1; dj <= 1; dj++)
      for (let di = -1; di <= 1; di++) {
        const column = (i + di + this.columns) % this.columns;
        const row = (j + dj + this.rows) % this.rows;
        out.push(...this.sites[row * this.columns + column]!);
      }
    return out;
  }
}

/** Of many random places the one that is farthest from those before, relative to the sum of both radii. */
function farFromOthers(placed: Buckets, radius: number, size: Size, random: Random): Point {
  let best: { at: Point; free: number } = { at: [0, 0], free: -Infinity };
  for (let k = 0; k < 24; k++) {
    const at: Point = [random.next() * size.width, random.next() * size.height];
    let free = Infinity;
    for (const other of placed.near(at))
      free = Math.min(free, distance(at, other.at, size) / (radius + other.r));
    if (free > best.free) best = { at, free };
    if (free > 1) break;
  }
  return best.at;
}

function distance(a: Point, b: Point, { width, height }: Size): number {
  const dx = Math.abs(a[0] - b[0]);
  const dy = Math.abs(a[1] - b[1]);
  return Math.hypot(Math.min(dx, width - dx), Math.min(dy, height - dy));
}

/** Spacings of sites beyond the repeat as far as which their copies are needed. */
const MARGIN = 8;

/** Sites, and their copies round the repeat as far as rooms reach, found by their places. */
function round(sites: readonly Site[], { width, height }: Size) {
  const margin = MARGIN * Math.sqrt((width * height) / Math.max(1, sites.length));
  const isNear = (v: number, side: number) => v > -margin && v < side + margin;
  const all: Site[] = [];
  const from: number[] = [];
  for (const i of [-1, 0, 1])
    for (const j of [-1, 0, 1])
      sites.forEach(({ at, r }, k) => {
        const [x, y] = [at[0] + i * width, at[1] + j * height];
        if (!isNear(x, width) || !isNear(y, height)) return;
        all.push({ at: [x, y], r });
        from.push(k);
      });
  const index = new Flatbush(Math.max(1, all.length));
  for (const { at } of all) index.add(at[0], at[1]);
  index.finish();
  return { all, from, index };
}

/** Sites whose rooms may touch one. */
const NEAR = 26;

/**
 * The rooms of sites, anticlockwise: what is nearer to its circle than to any other, by the length of a tangent (a power
 * diagram), so that large stones have large rooms. A site whose room is empty has none.
 */
class Rooms {
  readonly outlines: Point[][];
  /** As far as sites were looked at for a room: those beyond do not change it. */
  private readonly reach: Float64Array;

  private constructor(
    private readonly sites: readonly Site[],
    private readonly size: Size,
  ) {
    this.outlines = sites.map(() => []);
    this.reach = new Float64Array(sites.length);
  }

  static *steps(sites: readonly Site[], size: Size): Steps<Rooms> {
    const rooms = new Rooms(sites, size);
    yield* rooms.updateSteps(sites.keys(), round(sites, size));
    return rooms;
  }

  private *updateSteps(which: Iterable<number>, { all, index }: ReturnType<typeof round>): Steps<void> {
    const largest = this.sites.reduce((most, { r }) => Math.max(most, r), 0);
    let done = 0;
    for (const k of which) {
      if (done++ % CELLS_BETWEEN_TURNS === 0) yield;
      this.update(k, all, index, largest);
    }
  }

  private update(own: number, all: readonly Site[], index: Flatbush, largest: number): void {
    const { at, r } = this.sites[own]!;
    const side = Math.max(this.size.width, this.size.height);
    let room: Point[] = [
      [at[0] - side, at[1] - side],
      [at[0] + side, at[1] - side],
      [at[0] + side, at[1] + side],
      [at[0] - side, at[1] + side],
    ];
    let reach = 0;
    for (const k of index.neighbors(at[0], at[1], NEAR)) {
      const other = all[k]!;
      const [dx, dy] = [other.at[0] - at[0], other.at[1] - at[1]];
      const far2 = dx * dx + dy * dy;
      reach = Math.sqrt(far2);
      if (far2 === 0) continue;
      // Neighbours come by distance: no line of this one or a later one can be as near as the farthest corner.
      const nearest = (far2 - largest * largest) / 2;
      if (nearest > 0 && nearest * nearest > far2 * farthestOf(room, at)) break;
      // Where both powers are equal, along the line from one site to the other.
      const t = (far2 + r * r - other.r * other.r) / (2 * far2);
      room = cutOff(room, [at[0] + t * dx, at[1] + t * dy], [dx, dy]);
    }
    this.outlines[own] = room;
    this.reach[own] = reach;
  }

  /** Moves sites; only rooms that reach to one of them, before or after, are made anew. */
  *moveSteps(by: readonly (readonly [number, number])[]): Steps<void> {
    const moved = by.flatMap(([dx, dy], k) => (dx !== 0 || dy !== 0 ? [k] : []));
    const stale = new Uint8Array(this.sites.length);
    const farthest = this.reach.reduce((most, v) => Math.max(most, v), 0);
    const mark = ({ all, from, index }: ReturnType<typeof round>) => {
      for (const k of moved) {
        const [x, y] = this.sites[k]!.at;
        for (const near of index.search(x - farthest, y - farthest, x + farthest, y + farthest)) {
          const [nx, ny] = all[near]!.at;
          const own = from[near]!;
          if (Math.hypot(nx - x, ny - y) <= this.reach[own]! + SLACK) stale[own] = 1;
        }
      }
    };
    mark(round(this.sites, this.size));
    for (const k of moved) {
      const at = this.sites[k]!.at as [number, number];
      at[0] += by[k]![0];
      at[1] += by[k]![1];
    }
    const after = round(this.sites, this.size);
    mark(after);
    for (const k of moved) stale[k] = 1;
    yield* this.updateSteps(
      [...this.sites.keys()].filter((k) => stale[k]),
      after,
    );
  }
}

/** Square of the distance of the farthest corner of a room from its site. */
function farthestOf(room: readonly Point[], [x, y]: Point): number {
  let farthest = 0;
  for (const [px, py] of room) farthest = Math.max(farthest, (px - x) * (px - x) + (py - y) * (py - y));
  return farthest;
}

/** Moves sites until no joint between two corners is shorter than a length, so that never four stones meet. */
function* withoutShortJoints(sites: readonly Site[], size: Size, shortest: number): Steps<Rooms> {
  const out = sites.map(({ at, r }): Site => ({ at: [at[0], at[1]], r }));
  const rooms = yield* Rooms.steps(out, size);
  for (let pass = 0; pass < PASSES; pass++) {
    let short = 0;
    const push = out.map((): [number, number] => [0, 0]);
    rooms.outlines.forEach((room, k) =>
      room.forEach((a, n) => {
        const b = room[(n + 1) % room.length]!;
        const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
        if (length >= shortest) return;
        short++;
        // The stone beside a short joint comes closer to it, which makes it longer.
        const [mx, my] = [(a[0] + b[0]) / 2 - out[k]!.at[0], (a[1] + b[1]) / 2 - out[k]!.at[1]];
        const far = Math.hypot(mx, my);
        const by = Math.min(0.2 * far, 0.6 * (shortest - length) + 0.02 * shortest);
        push[k]![0] += (mx / far) * by;
        push[k]![1] += (my / far) * by;
      }),
    );
    if (short === 0) break;
    yield* rooms.moveSteps(push);
  }
  return rooms;
}
