import { seededRandom, type Random } from '../../../raster';
import type { Steps } from '../../../steps';
import { printMm } from '../../../units';

/** Chips of a terrazzo, packed over a repeat. */

/** One stone: the sieves its chips lie between, and how much of the surface they cover. */
export interface StoneToPack {
  leastMm: number;
  mostMm: number;
  /** Share of the whole surface, 0–1. */
  share: number;
}

/** A section through a chip: a convex polygon on the repeat, which it may run over. */
export interface Chip {
  stone: number;
  /** Middle, mm from the left and upper edge. */
  xMm: number;
  yMm: number;
  /** Corners about the middle, mm. */
  corners: readonly (readonly [number, number])[];
  /** Farthest corner from the middle, mm. */
  reachMm: number;
  /** Nearest edge from the middle, mm. */
  roundMm: number;
  areaMm2: number;
  seed: number;
}

export interface Packing {
  chips: readonly Chip[];
  /** Share of the surface that each stone covers, 0–1. */
  covered: readonly number[];
}

/** Cells of the raster on which places are found free, over the smallest chip. */
const CELLS_PER_CHIP = 4;
const MOST_CELLS = 4_000_000;
/** Places tried at random for a chip before the free ones are searched. */
const TRIES = 24;
/** Orientations that are tried where it does not fit. */
const TURNS = 3;
/** A chip that fits nowhere is broken smaller by this, down to its lower sieve. */
const BROKEN_TO = 0.86;
/** Chips that are tried before others may have their turn. */
const TRIED_BETWEEN_TURNS = 32;
/** More chips than this are too many to place. */
const MOST_CHIPS = 120_000;

/**
 * Packs chips largest first, so that none overlap, on a repeat that closes (random sequential packing). What is seen are
 * sections through angular stones: convex, of all sizes from the upper sieve down to half of the lower one, as a grinding plane
 * meets stones near their ends too.
 * @throws RangeError when a chip is larger than the repeat, or there would be too many
 */
export function* packingSteps(
  stones: readonly StoneToPack[],
  sizeMm: { width: number; height: number },
  gapMm: number,
  seed: number,
): Steps<Packing> {
  const area = sizeMm.width * sizeMm.height;
  const least = Math.min(...stones.map((s) => s.leastMm));
  for (const { mostMm } of stones)
    if (mostMm > 0.5 * Math.min(sizeMm.width, sizeMm.height))
      throw new RangeError(
        `Chips of ${printMm(mostMm)} mm need a repeat of at least ${printMm(2 * mostMm)} mm on both sides. Make the repeat larger or the chips smaller.`,
      );
  const number = stones.reduce(
    (sum, s) => sum + (s.share * area) / (0.45 * meanSquare(s.leastMm, s.mostMm)),
    0,
  );
  if (number > MOST_CHIPS)
    throw new RangeError(
      `About ${Math.round(number / 1000)} 000 chips would lie in this repeat; at most ${MOST_CHIPS / 1000} 000 can be packed. Make the repeat smaller, or the smallest chips larger.`,
    );
  const cellMm = Math.max(least / CELLS_PER_CHIP, Math.sqrt(area / MOST_CELLS));
  const grid = new Occupancy(sizeMm, cellMm);
  const random = seededRandom(seed);
  const covered = stones.map(() => 0);
  const chips: Chip[] = [];
  for (const [k, { stone, diameterMm }] of drawn(stones, area, random).entries()) {
    if (k % TRIED_BETWEEN_TURNS === 0) yield;
    const { share, leastMm } = stones[stone]!;
    let diameter = diameterMm;
    while (covered[stone]! < share * area) {
      const chip = shapeOf(stone, diameter, random);
      // The last chip of a stone is made to fill its share exactly.
      const left = share * area - covered[stone]!;
      const fitted = chip.areaMm2 > left ? scaled(chip, Math.sqrt(left / chip.areaMm2)) : chip;
      const placed = placedOn(grid, fitted, gapMm, random);
      if (placed) {
        covered[stone]! += placed.areaMm2;
        chips.push(placed);
        break;
      }
      diameter *= BROKEN_TO;
      if (diameter < 0.5 * leastMm) break;
    }
  }
  for (const [stone, { share, leastMm }] of stones.entries()) {
    // What is still missing is filled up with the smallest that the sieves let through.
    for (let failed = 0, tried = 0; covered[stone]! < share * area && failed < MOST_FAILED; tried++) {
      if (tried % TRIED_BETWEEN_TURNS === 0) yield;
      const chip = shapeOf(stone, leastMm * (0.5 + 0.5 * random.next()), random);
      const left = share * area - covered[stone]!;
      const fitted = chip.areaMm2 > left ? scaled(chip, Math.sqrt(left / chip.areaMm2)) : chip;
      const placed = placedOn(grid, fitted, gapMm, random);
      if (!placed) {
        failed++;
        continue;
      }
      covered[stone]! += placed.areaMm2;
      chips.push(placed);
    }
  }
  return { chips, covered: covered.map((mm2) => mm2 / area) };
}

/** So many of the smallest chips that find no place are enough to say that no more fit. */
const MOST_FAILED = 400;

const meanSquare = (a: number, b: number) => (a * a + a * b + b * b) / 3;

/** Chips of all stones in order of size, rather too many: those that come when a share is filled are left out. */
function drawn(stones: readonly StoneToPack[], area: number, random: Random) {
  const out: { stone: number; diameterMm: number }[] = [];
  stones.forEach(({ leastMm, mostMm, share }, stone) => {
    let left = 1.5 * share * area;
    while (left > 0) {
      // Even shares of the mass between the sieves, as sieve curves are drawn: on a logarithmic scale.
      const diameterMm = sectioned(
        leastMm * Math.exp(massAt(random.next()) * Math.log(mostMm / leastMm)),
        leastMm,
        random,
      );
      out.push({ stone, diameterMm });
      left -= 0.62 * diameterMm * diameterMm;
    }
  });
  return out.sort((a, b) => b.diameterMm - a.diameterMm);
}

/** Equal areas in equal steps of log size mean many more small chips than large ones. @param t 0–1, even */
const massAt = (t: number): number => t * t;

/** A plane meets a stone at any height: its section is smaller than the stone, seldom very small. */
function sectioned(diameterMm: number, leastMm: number, random: Random): number {
  const z = random.next();
  return Math.max(0.5 * leastMm, diameterMm * Math.sqrt(1 - 0.9 * z * z));
}

/** An angular convex section: an ellipse broken off by straight cuts. */
function shapeOf(stone: number, diameterMm: number, random: Random): Chip {
  const long = 1 + 0.55 * random.next() * random.next();
  const turn = random.next() * Math.PI;
  const [a, b] = [0.5 * diameterMm * Math.sqrt(long), (0.5 * diameterMm) / Math.sqrt(long)];
  let corners: [number, number][] = Array.from({ length: 16 }, (_, k) => {
    const angle = (2 * Math.PI * k) / 16;
    const [x, y] = [a * Math.cos(angle), b * Math.sin(angle)];
    return [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)];
  });
  const cuts = 4 + random.whole(4);
  const start = random.next() * 2 * Math.PI;
  for (let k = 0; k < cuts; k++) {
    const angle = start + (2 * Math.PI * (k + 0.7 * (random.next() - 0.5))) / cuts;
    const normal: [number, number] = [Math.cos(angle), Math.sin(angle)];
    const reach = Math.max(...corners.map(([x, y]) => x * normal[0] + y * normal[1]));
    corners = cutOff(corners, normal, reach * (0.55 + 0.33 * random.next()));
  }
  return centred({
    stone,
    xMm: 0,
    yMm: 0,
    corners,
    reachMm: 0,
    roundMm: 0,
    areaMm2: 0,
    seed: random.whole(1 << 30),
  });
}

/** What of a convex polygon lies below a line. */
function cutOff(
  corners: readonly [number, number][],
  [nx, ny]: readonly [number, number],
  at: number,
): [number, number][] {
  const out: [number, number][] = [];
  corners.forEach((p, k) => {
    const q = corners[(k + 1) % corners.length]!;
    const [dp, dq] = [p[0] * nx + p[1] * ny - at, q[0] * nx + q[1] * ny - at];
    if (dp <= 0) out.push(p);
    if (dp * dq < 0) {
      const t = dp / (dp - dq);
      out.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
    }
  });
  return out.length >= 3 ? out : [...corners];
}

/** The same about its centre of area, with its area and reach. */
function centred(chip: Chip): Chip {
  let [area, cx, cy] = [0, 0, 0];
  chip.corners.forEach(([x, y], k) => {
    const [u, v] = chip.corners[(k + 1) % chip.corners.length]!;
    const cross = x * v - u * y;
    area += cross / 2;
    cx += ((x + u) * cross) / 6;
    cy += ((y + v) * cross) / 6;
  });
  const corners = chip.corners.map(([x, y]) => [x - cx / area, y - cy / area] as const);
  const reachMm = Math.max(...corners.map(([x, y]) => Math.hypot(x, y)));
  return { ...chip, corners, areaMm2: area, reachMm, roundMm: insideBy(edgesOf({ corners }), 0, 0) };
}

const scaled = (chip: Chip, by: number): Chip => ({
  ...chip,
  corners: chip.corners.map(([x, y]) => [by * x, by * y] as const),
  reachMm: by * chip.reachMm,
  roundMm: by * chip.roundMm,
  areaMm2: by * by * chip.areaMm2,
});

const turned = (chip: Chip, angle: number): Chip => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return { ...chip, corners: chip.corners.map(([x, y]) => [c * x - s * y, s * x + c * y] as const) };
};

/** The chip at a free place; null: there is none for it. */
function placedOn(grid: Occupancy, chip: Chip, gapMm: number, random: Random): Chip | null {
  const { roundMm } = chip;
  for (let turn = 0; turn < TURNS; turn++) {
    const way = turn === 0 ? chip : turned(chip, random.next() * 2 * Math.PI);
    const edges = edgesOf(way);
    for (let k = 0; k < TRIES; k++) {
      const at = grid.roomyPlace(roundMm + gapMm, random);
      if (!at) return null;
      const placed = { ...way, xMm: at[0], yMm: at[1] };
      if (!grid.isFree(placed, edges, gapMm)) continue;
      grid.take(placed, edges, roundMm + gapMm);
      return placed;
    }
  }
  return null;
}

/** The list of free places is rebuilt when chips have become this much smaller. */
const LISTED_AGAIN = 0.93;

/** A raster over the repeat: which cells chips reach into, and how far the others are from them. */
class Occupancy {
  private readonly w: number;
  private readonly h: number;
  private readonly mm: { x: number; y: number };
  /** Half of the diagonal of a cell: what comes closer to its middle may touch it. */
  private readonly rimMm: number;
  /** 1: the middle of the cell lies so deep inside of a chip that all of the cell does. */
  private readonly solid: Uint8Array;
  /** Chips that may reach into a cell, at most `MOST_IN_CELL`; 0: none, else its number from 1. */
  private readonly owners: Int32Array;
  private readonly placed: { chip: Chip; edges: Float64Array }[] = [];
  /** From the middle of a cell to the nearest chip, mm, at most; right up to what the chips in hand need. */
  private readonly clearMm: Float32Array;
  /** Cells that had room for a chip when they were listed, in no order. */
  private readonly roomy: Int32Array;
  private roomyCount = 0;
  private listedMm = Infinity;

  constructor(sizeMm: { width: number; height: number }, cellMm: number) {
    this.w = Math.max(4, Math.round(sizeMm.width / cellMm));
    this.h = Math.max(4, Math.round(sizeMm.height / cellMm));
    this.mm = { x: sizeMm.width / this.w, y: sizeMm.height / this.h };
    this.rimMm = 0.5 * Math.hypot(this.mm.x, this.mm.y);
    this.solid = new Uint8Array(this.w * this.h);
    this.owners = new Int32Array(MOST_IN_CELL * this.solid.length);
    this.clearMm = new Float32Array(this.solid.length).fill(Infinity);
    this.roomy = new Int32Array(this.solid.length);
  }

  /** A random place with room for a circle; null: there is none. */
  roomyPlace(radiusMm: number, random: Random): readonly [number, number] | null {
    if (radiusMm < LISTED_AGAIN * this.listedMm) this.list(radiusMm);
    while (this.roomyCount > 0) {
      const k = random.whole(this.roomyCount);
      const cell = this.roomy[k]!;
      if (this.clearMm[cell]! >= radiusMm)
        return [
          ((cell % this.w) + random.next()) * this.mm.x,
          (Math.floor(cell / this.w) + random.next()) * this.mm.y,
        ];
      // It may have room for smaller chips still: then it is listed again.
      this.roomy[k] = this.roomy[--this.roomyCount]!;
    }
    return null;
  }

  private list(radiusMm: number): void {
    this.listedMm = radiusMm;
    this.roomyCount = 0;
    for (let cell = 0; cell < this.clearMm.length; cell++)
      if (this.clearMm[cell]! >= LISTED_AGAIN * radiusMm) this.roomy[this.roomyCount++] = cell;
  }

  isFree(chip: Chip, edges: Float64Array, gapMm: number): boolean {
    // Most places fail at a corner.
    for (const [x, y] of chip.corners) if (this.solid[this.cellAt(chip.xMm + x, chip.yMm + y)]) return false;
    const near = new Set<number>();
    const roomy = this.each(chip, edges, this.rimMm + gapMm, (cell, inside) => {
      if (inside > 0 && this.solid[cell]) return false;
      for (let k = 0; k < MOST_IN_CELL; k++) {
        const owner = this.owners[MOST_IN_CELL * cell + k]!;
        if (owner === 0) break;
        near.add(owner);
      }
      return this.owners[MOST_IN_CELL * cell + MOST_IN_CELL - 1] === 0;
    });
    if (!roomy) return false;
    for (const owner of near) if (!this.apart(chip, edges, this.placed[owner - 1]!, gapMm)) return false;
    return true;
  }

  /** Whether an edge of one of two chips has the other beyond it, by a gap. */
  private apart(
    chip: Chip,
    edges: Float64Array,
    other: { chip: Chip; edges: Float64Array },
    gapMm: number,
  ): boolean {
    const [w, h] = [this.w * this.mm.x, this.h * this.mm.y];
    let dx = other.chip.xMm - chip.xMm;
    let dy = other.chip.yMm - chip.yMm;
    dx -= w * Math.round(dx / w);
    dy -= h * Math.round(dy / h);
    return (
      beyond(edges, other.chip.corners, dx, dy, gapMm) || beyond(other.edges, chip.corners, -dx, -dy, gapMm)
    );
  }

  /** @param roomMm farthest distance from it that matters to chips that come after it */
  take(chip: Chip, edges: Float64Array, roomMm: number): void {
    const rim = this.rimMm;
    this.placed.push({ chip, edges });
    const number = this.placed.length;
    this.each(chip, edges, rim + roomMm, (cell, inside) => {
      if (inside >= rim) this.solid[cell] = 1;
      if (inside >= -rim)
        for (let k = MOST_IN_CELL * cell; k < MOST_IN_CELL * (cell + 1); k++)
          if (this.owners[k] === 0) {
            this.owners[k] = number;
            break;
          }
      if (-inside < this.clearMm[cell]!) this.clearMm[cell] = -inside;
      return true;
    });
  }

  private cellAt(xMm: number, yMm: number): number {
    const [x, y] = [Math.floor(xMm / this.mm.x), Math.floor(yMm / this.mm.y)];
    return (((y % this.h) + this.h) % this.h) * this.w + (((x % this.w) + this.w) % this.w);
  }

  /** Visits every cell whose middle is within a distance of a chip, until a visit says no. */
  private each(
    chip: Chip,
    edges: Float64Array,
    withinMm: number,
    visit: (cell: number, insideMm: number) => boolean,
  ): boolean {
    const reach = chip.reachMm + withinMm;
    const [x0, x1] = [Math.floor((chip.xMm - reach) / this.mm.x), Math.ceil((chip.xMm + reach) / this.mm.x)];
    const [y0, y1] = [Math.floor((chip.yMm - reach) / this.mm.y), Math.ceil((chip.yMm + reach) / this.mm.y)];
    for (let y = y0; y < y1; y++) {
      const dy = (y + 0.5) * this.mm.y - chip.yMm;
      const row = (((y % this.h) + this.h) % this.h) * this.w;
      for (let x = x0; x < x1; x++) {
        const inside = insideBy(edges, (x + 0.5) * this.mm.x - chip.xMm, dy);
        if (inside < -withinMm) continue;
        if (!visit(row + (((x % this.w) + this.w) % this.w), inside)) return false;
      }
    }
    return true;
  }
}

/** Chips that may reach into one cell. */
const MOST_IN_CELL = 3;

/** Whether all corners of another chip lie beyond one of the edges, by a gap. @param dx, dy of its middle */
function beyond(
  edges: Float64Array,
  corners: Chip['corners'],
  dx: number,
  dy: number,
  gapMm: number,
): boolean {
  for (let k = 0; k < edges.length; k += 3) {
    const [nx, ny, at] = [edges[k]!, edges[k + 1]!, edges[k + 2]! + gapMm];
    let all = true;
    for (const [x, y] of corners)
      if (nx * (x + dx) + ny * (y + dy) < at) {
        all = false;
        break;
      }
    if (all) return true;
  }
  return false;
}

/** Edges of a chip as unit normals pointing out, and how far from its middle they lie: nx, ny, distance. */
export function edgesOf({ corners }: Pick<Chip, 'corners'>): Float64Array {
  const out = new Float64Array(3 * corners.length);
  corners.forEach(([x, y], k) => {
    const [u, v] = corners[(k + 1) % corners.length]!;
    const length = Math.max(1e-9, Math.hypot(u - x, v - y));
    const [nx, ny] = [(v - y) / length, -(u - x) / length];
    out.set([nx, ny, nx * x + ny * y], 3 * k);
  });
  return out;
}

/** How far a place lies inside of all edges, mm; below 0: outside. */
export function insideBy(edges: Float64Array, dx: number, dy: number): number {
  let least = Infinity;
  for (let k = 0; k < edges.length; k += 3) {
    const d = edges[k + 2]! - (edges[k]! * dx + edges[k + 1]! * dy);
    if (d < least) least = d;
  }
  return least;
}
