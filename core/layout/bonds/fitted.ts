import type { Random } from '../../raster';
import type { Steps } from '../../steps';
import { rectangle, type Cell, type LaidCells } from '../cell';

/**
 * Rectangles of several sizes fitted together without a gap on a repeat of square modules, as ashlar and opus patterns
 * are: no four meet in one point, and no joint runs on for long. They begin as small squares; places are then laid anew by
 * chance, again and again, and what is worse is taken less and less often (simulated annealing).
 */

export interface StoneSize {
  /** Modules along and up. */
  along: number;
  up: number;
  /** Share of the area, 0–1. */
  share: number;
}

export interface FittedOptions {
  columns: number;
  rows: number;
  /** One of them is a single module. */
  sizes: readonly StoneSize[];
  /** Longest straight joint, in modules. */
  longestJoint: { upright: number; level: number };
  moduleMm: { width: number; height: number };
  joint: { alongMm: number; acrossMm: number };
  random: Random;
}

/** Places laid anew for each module. */
const ROUNDS = 45;
const BEGIN_HEAT = 6;
/** Times that the crosses left are laid anew, and how much worse a place may become by it. */
const CROSS_ROUNDS = 100;
const AT_EACH_CROSS = 40;
const CROSS_HEAT = 4;
const RESTARTS = 3;
/** Places laid anew before others may have their turn. */
const LAID_BETWEEN_TURNS = 500;
/** More modules than this take minutes. */
const MOST_MODULES = 40_000;

const printMm = (mm: number) => Number(mm.toPrecision(3));

/** @throws RangeError where there are too many modules, or the sizes do not fill the repeat without cross joints */
export function* fittingSteps(options: FittedOptions): Steps<LaidCells> {
  const { columns, rows, moduleMm } = options;
  if (columns * rows > MOST_MODULES)
    throw new RangeError(
      `Stones would be fitted on ${columns} × ${rows} modules of ${printMm(moduleMm.width)} × ${printMm(moduleMm.height)} mm; at most ${MOST_MODULES} can be. Ask for a smaller repeat, or larger pieces.`,
    );
  const wall = yield* settledWall(options);
  if (!wall)
    throw new RangeError(
      `Pieces of these sizes do not fill ${columns} × ${rows} modules without a cross joint. Ask for a repeat of another size.`,
    );
  return {
    repeatMm: { width: columns * moduleMm.width, height: rows * moduleMm.height },
    cells: wall.laid().map((stone) => cellOf(stone, options)),
    courses: rows,
  };
}

/** Begun anew where crosses are left; of a large wall there are always some, which are then laid anew by themselves. */
function* settledWall(options: FittedOptions): Steps<Wall | null> {
  let wall: Wall | null = null;
  for (let attempt = 0; attempt < RESTARTS; attempt++) {
    wall = new Wall(options);
    yield* wall.settle();
    if (wall.crosses() === 0) return wall;
  }
  return wall && (yield* wall.settleCrosses()) ? wall : null;
}

interface Stone {
  x: number;
  y: number;
  size: StoneSize;
}

const cellOf = ({ x, y, size }: Stone, { moduleMm, joint }: FittedOptions): Cell =>
  rectangle(
    [x * moduleMm.width, y * moduleMm.height],
    { width: size.along * moduleMm.width, height: size.up * moduleMm.height },
    { ...joint, course: y, kind: `${size.along} × ${size.up}` },
  );

/** Part of the repeat, in modules; it may begin left of it or below. */
interface Reach {
  left: number;
  bottom: number;
  columns: number;
  rows: number;
}

const CROSS = 40;
const RUN_ON = 4;
const LACK = 60;

class Wall {
  /** Number of the stone on every module. */
  private at: Int32Array;
  private stones: (Stone | null)[] = [];
  private free: number[] = [];
  /** Modules of each size. */
  private readonly area: Float64Array;
  private readonly number: Map<StoneSize, number>;
  private readonly count: number;
  private readonly single: StoneSize;

  constructor(private readonly o: FittedOptions) {
    this.count = o.columns * o.rows;
    this.single = o.sizes.find((s) => s.along === 1 && s.up === 1)!;
    this.area = new Float64Array(o.sizes.length);
    this.number = new Map(o.sizes.map((s, k) => [s, k]));
    this.at = new Int32Array(this.count).fill(-1);
    for (let y = 0; y < o.rows; y++)
      for (let x = 0; x < o.columns; x++) this.lay({ x, y, size: this.single });
  }

  laid(): Stone[] {
    return this.stones.filter((s) => s !== null).sort((a, b) => a.y - b.y || a.x - b.x);
  }

  *settle(): Steps<void> {
    const { random, columns, rows } = this.o;
    const steps = ROUNDS * this.count;
    for (let step = 0; step < steps; step++) {
      const heat = BEGIN_HEAT * Math.max(0, 1 - (1.25 * step) / steps);
      this.layAnew(random.whole(columns), random.whole(rows), heat);
      if (step % LAID_BETWEEN_TURNS === 0) yield;
    }
  }

  /** Lays places anew about the crosses that are left: of a large repeat there are always some. @returns whether none is */
  *settleCrosses(): Steps<boolean> {
    const { random } = this.o;
    for (let round = 0; round < CROSS_ROUNDS; round++) {
      const left = this.crossPlaces();
      if (left.length === 0) return true;
      for (const [x, y] of left) {
        for (let k = 0; k < AT_EACH_CROSS; k++)
          this.layAnew(x - random.whole(4), y - random.whole(3), CROSS_HEAT);
        yield;
      }
    }
    return false;
  }

  /** Lays the stones of a window anew by chance, and keeps what is better, or by chance what is not much worse. */
  private layAnew(x: number, y: number, heat: number): void {
    const { random } = this.o;
    const [wide, high] = [2 + random.whole(3), 1 + random.whole(3)];
    const box = this.reach(x, y, wide, high);
    const before = this.cost(box);
    const removed = this.clear(x, y, wide, high);
    const added = this.refill(removed);
    const after = this.cost(box);
    const worse = after - before;
    if (worse > 0 && !(heat > 0 && random.next() < Math.exp(-worse / heat))) this.restore(added, removed);
  }

  private crossPlaces(): [number, number][] {
    const { columns } = this.o;
    return Array.from({ length: this.count }, (_, k): [number, number] => [
      k % columns,
      Math.floor(k / columns),
    ]).filter(([left, bottom]) => this.crosses({ left, bottom, columns: 1, rows: 1 }) > 0);
  }

  private index(x: number, y: number): number {
    const { columns, rows } = this.o;
    return ((y + rows) % rows) * columns + ((x + columns) % columns);
  }

  private lay(stone: Stone): number {
    const id = this.free.pop() ?? this.stones.length;
    this.stones[id] = stone;
    const { along, up } = stone.size;
    for (let j = 0; j < up; j++)
      for (let i = 0; i < along; i++) this.at[this.index(stone.x + i, stone.y + j)] = id;
    this.area[this.number.get(stone.size)!]! += along * up;
    return id;
  }

  private take(id: number): Stone {
    const stone = this.stones[id]!;
    const { along, up } = stone.size;
    for (let j = 0; j < up; j++)
      for (let i = 0; i < along; i++) this.at[this.index(stone.x + i, stone.y + j)] = -1;
    this.area[this.number.get(stone.size)!]! -= along * up;
    this.stones[id] = null;
    this.free.push(id);
    return stone;
  }

  /** Takes away every stone that touches a window. */
  private clear(x: number, y: number, wide: number, high: number): Stone[] {
    const removed: Stone[] = [];
    for (let j = 0; j < high; j++)
      for (let i = 0; i < wide; i++) {
        const id = this.at[this.index(x + i, y + j)]!;
        if (id >= 0) removed.push(this.take(id));
      }
    return removed;
  }

  /** Fills the room of stones that were taken away. @returns numbers of the new ones */
  private refill(removed: readonly Stone[]): number[] {
    const { sizes, random } = this.o;
    const added: number[] = [];
    for (const { x, y, size } of removed)
      for (let j = 0; j < size.up; j++)
        for (let i = 0; i < size.along; i++) {
          if (this.at[this.index(x + i, y + j)]! >= 0) continue;
          const fits = sizes.filter((s) => this.fits(x + i, y + j, s));
          const drawn = fits[random.whole(fits.length)] ?? this.single;
          added.push(this.lay({ x: this.folded(x + i, true), y: this.folded(y + j, false), size: drawn }));
        }
    return added;
  }

  private folded(v: number, across: boolean): number {
    const side = across ? this.o.columns : this.o.rows;
    return ((v % side) + side) % side;
  }

  private fits(x: number, y: number, { along, up }: StoneSize): boolean {
    if (along > this.o.columns || up > this.o.rows) return false;
    for (let j = 0; j < up; j++)
      for (let i = 0; i < along; i++) if (this.at[this.index(x + i, y + j)]! >= 0) return false;
    return true;
  }

  private restore(added: readonly number[], removed: readonly Stone[]): void {
    for (const id of added) this.take(id);
    for (const stone of removed) this.lay(stone);
  }

  /** What is wrong with the joints that a box touches, and with the shares. */
  private cost(box: Reach): number {
    let lack = 0;
    for (let k = 0; k < this.area.length; k++)
      lack += Math.abs(this.area[k]! / this.count - this.o.sizes[k]!.share);
    return CROSS * this.crosses(box) + RUN_ON * this.runsOn(box) + LACK * lack;
  }

  /** Modules and their lines that change when the stones of a window are laid anew. */
  private reach(x: number, y: number, wide: number, high: number): Reach {
    let [left, right, bottom, top] = [x, x + wide, y, y + high];
    for (let j = 0; j < high; j++)
      for (let i = 0; i < wide; i++) {
        const stone = this.stones[this.at[this.index(x + i, y + j)]!]!;
        // The stone may begin on the other side of the repeat.
        const dx = this.folded(x + i - stone.x, true);
        const dy = this.folded(y + j - stone.y, false);
        left = Math.min(left, x + i - dx);
        right = Math.max(right, x + i - dx + stone.size.along);
        bottom = Math.min(bottom, y + j - dy);
        top = Math.max(top, y + j - dy + stone.size.up);
      }
    return {
      left,
      bottom,
      columns: Math.min(this.o.columns, right - left + 1),
      rows: Math.min(this.o.rows, top - bottom + 1),
    };
  }

  /** Points where four stones meet. */
  crosses(box: Reach = { left: 0, bottom: 0, columns: this.o.columns, rows: this.o.rows }): number {
    const { columns: w, rows: h } = this.o;
    let count = 0;
    for (let j = 0; j < box.rows; j++) {
      const y = (box.bottom + j + h) % h;
      const below = (y === 0 ? h - 1 : y - 1) * w;
      for (let i = 0; i < box.columns; i++) {
        const x = (box.left + i + w) % w;
        const left = x === 0 ? w - 1 : x - 1;
        const [a, b] = [this.at[below + left]!, this.at[below + x]!];
        const [c, d] = [this.at[y * w + left]!, this.at[y * w + x]!];
        if (a !== b && c !== d && a !== c && b !== d) count++;
      }
    }
    return count;
  }

  /** Modules by which the straight joints that a box touches are longer than they may be. */
  private runsOn({ left, bottom, columns, rows }: Reach): number {
    const { columns: w, rows: h, longestJoint } = this.o;
    const { at } = this;
    let over = 0;
    for (let i = 0; i < columns; i++) {
      const x = (left + i + w) % w;
      const beside = x === 0 ? w - 1 : x - 1;
      over += beyond(h, longestJoint.upright, bottom, rows, (y) => at[y * w + x] !== at[y * w + beside]);
    }
    for (let j = 0; j < rows; j++) {
      const y = (bottom + j + h) % h;
      const below = y === 0 ? h - 1 : y - 1;
      over += beyond(w, longestJoint.level, left, columns, (x) => at[y * w + x] !== at[below * w + x]);
    }
    return over;
  }
}

/**
 * By how much runs on a closed line are longer than they may be: those that touch a window of it. Outside of the window nothing
 * changes, so that runs which begin or end there are followed to their ends and no farther.
 */
function beyond(
  length: number,
  most: number,
  from: number,
  count: number,
  parted: (k: number) => boolean,
): number {
  let first = from - 1;
  while (from - first <= length && parted((first + 2 * length) % length)) first--;
  if (from - first > length) return length;
  let [over, run] = [0, 0];
  for (let k = first + 1; k - first <= length; k++) {
    if (parted((k + 2 * length) % length)) {
      if (++run > most) over++;
    } else if (k >= from + count) break;
    else run = 0;
  }
  return over;
}
