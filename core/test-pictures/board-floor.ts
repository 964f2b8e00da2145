import { power, squared } from '../exact';
import { fractalNoise, gradientNoise, hashUnit, seededRandom, smoothstep } from '../raster';
import { cells, mixInto, paint, tone, type Area, type PaintedSurface, type Rgb, type Spot } from './surface';

export interface BoardSettings extends Area {
  /** Width of one board and the joint beside it. */
  boardMm: number;
  jointMm: number;
  /** Boards run along x; their lengths lie between these. */
  shortestMm: number;
  longestMm: number;
  /** The face of one board in each course, without its ends and edges; it does not repeat. */
  face?: boolean;
  early: Rgb;
  late: Rgb;
  /** Pores in a band at the start of each year (ash, oak) instead of scattered (beech, maple). */
  ringPorous: boolean;
  knotsPerM2: number;
}

/** Year rings of a log: for a distance from the pith, how far into its year it lies and which year. */
function makeRings(
  seed: number,
  outMm: number,
): (rMm: number) => { share: number; year: number; widthMm: number } {
  const random = seededRandom(seed);
  const step = 0.05;
  const n = Math.ceil(outMm / step);
  const share = new Float32Array(n);
  const year = new Uint16Array(n);
  const width = new Float32Array(n);
  let at = 0;
  let mm = 2.6;
  for (let k = 0; at < outMm; k++) {
    // Good and bad years follow each other in runs.
    mm = Math.min(5, Math.max(0.8, mm + 0.45 * random.normal() + 0.1 * (2.2 - mm)));
    for (let i = Math.floor(at / step); i < Math.min(n, (at + mm) / step); i++) {
      share[i] = Math.min(1, Math.max(0, (i * step - at) / mm));
      year[i] = k;
      width[i] = mm;
    }
    at += mm;
  }
  const out = { share: 0, year: 0, widthMm: 0 };
  return (rMm) => {
    const i = Math.min(n - 1, Math.max(0, Math.round(rMm / step)));
    out.share = share[i]!;
    out.year = year[i]!;
    out.widthMm = width[i]!;
    return out;
  };
}

interface Board {
  fromMm: number;
  toMm: number;
  seed: number;
  /** Distance of the board's plane from the pith, and where the pith lies across it. */
  offPithMm: number;
  pithMm: number;
  tilt: number;
  tone: number;
  warmth: number;
  rings: ReturnType<typeof makeRings>;
  knots: { x: number; y: number; radiusMm: number; dark: number }[];
}

/**
 * A floor of boards: each a plane cut through its own log. Rings are distance from a wandering pith; within a year pale
 * early wood darkens to late wood and steps back; pores, fibre and knots follow. It repeats along the boards, and across
 * them when the height is a whole number of boards.
 */
export function boardFloor(settings: BoardSettings): PaintedSurface {
  const { widthMm, boardMm, jointMm, seed } = settings;
  const pitch = boardMm + jointMm;
  const random = seededRandom(seed);
  const rows = Math.max(1, Math.round(settings.heightMm / pitch));
  const courses: Board[][] = [];
  for (let row = 0; row < rows; row++) {
    const boards: Board[] = [];
    // Lengths that fill the row exactly, so that the floor repeats: the last board runs on at the other side.
    const lengths: number[] = [];
    let total = 0;
    if (settings.face) lengths.push((total = widthMm));
    while (total < widthMm - 0.5 * settings.shortestMm) {
      lengths.push(random.between(settings.shortestMm, settings.longestMm));
      total += lengths.at(-1)!;
    }
    const butt = Math.min(1, jointMm);
    let x = settings.face ? 0 : (random.next() - 1) * widthMm * 0.9;
    for (const share of lengths) {
      const length = (share / total) * widthMm - butt;
      const flat = random.next() < 0.6;
      const board: Board = {
        fromMm: x,
        toMm: x + length,
        seed: seed * 977 + row * 131 + boards.length * 17,
        offPithMm: flat ? random.between(12, 70) : random.between(60, 160),
        pithMm: flat ? boardMm * random.between(0.2, 0.8) : boardMm * random.between(-1.6, -0.6),
        tilt: random.between(-0.022, 0.022),
        tone: 1 + 0.13 * random.normal() * 0.7,
        warmth: 0.03 * random.normal(),
        rings: makeRings(Math.floor(random.next() * 1e9), 420),
        knots: [],
      };
      const expected = (settings.knotsPerM2 * length * boardMm) / 1e6;
      for (let k = 0; k < 3; k++) {
        if (random.next() < expected / 3)
          board.knots.push({
            x: x + random.between(0.1, 0.9) * length,
            y: random.between(0.15, 0.85) * boardMm,
            radiusMm: random.between(3, 11),
            dark: random.between(0.5, 1),
          });
      }
      boards.push(board);
      x += length + butt;
    }
    courses.push(boards);
  }

  function wood(board: Board, x: number, y: number, spot: Spot): void {
    const s = board.seed;
    const along = x / 4000;
    // The pith wanders along the log; the wobble of the rings changes slowly.
    const lift = 9 * gradientNoise(along, 0.31, 9, 1, s) + 4 * gradientNoise(along, 0.7, 23, 1, s + 1);
    const sway = 14 * gradientNoise(along, 0.13, 7, 1, s + 2);
    let yy = y - board.pithMm - sway;
    let zz = board.offPithMm + board.tilt * (x - board.fromMm) + lift;
    let knot = 0;
    let knotRing = 0;
    for (const k of board.knots) {
      const dx = (x - k.x) / 1.5;
      const dy = y - k.y;
      const d = Math.sqrt(dx * dx + dy * dy) / k.radiusMm;
      if (d > 7) continue;
      // Rings bend around the branch; inside it has rings of its own.
      const bend = Math.exp(-0.5 * squared(d / 1.9));
      zz += 1.7 * k.radiusMm * bend;
      yy += 0.25 * dy * bend;
      const wobble = 1 + 0.12 * gradientNoise(dx / 60 + 0.5, dy / 60 + 0.5, 9, 9, s + 7);
      const inside = 1 - smoothstep(0.82, 1.12, d * wobble);
      if (inside > knot) {
        knot = inside * k.dark;
        knotRing = 0.5 + 0.5 * Math.sin(d * k.radiusMm * 2.1 * wobble);
      }
    }
    const r = Math.sqrt(yy * yy + zz * zz) * (1 + 0.015 * gradientNoise(along, y / 400 + 0.5, 40, 3, s + 3));
    const ring = board.rings(r + 0.5 * gradientNoise(x / 4000, y / 500, 160, 80, s + 4));
    const t = ring.share;
    const year = hashUnit(ring.year, 0, 0, s);
    // Late wood: a slow rise, then a sharp step back at the year's end.
    const late = power(smoothstep(0.25, 0.97, t), 1.6) * (0.62 + 0.38 * year);
    // Fibre: noise stretched along the grain at three widths.
    const fibre =
      0.5 * gradientNoise(x / 4000, y / 200, 44, 130, s + 5) +
      0.35 * gradientNoise(x / 4000, y / 200, 90, 420, s + 6) +
      0.3 * gradientNoise(x / 4000, y / 200, 260, 900, s + 8);
    // Pores: short dark dashes, in the early wood where the timber is ring-porous.
    const band = settings.ringPorous ? 1 - smoothstep(0.12, 0.42, t) : 0.45;
    const row = Math.floor(y / 0.42);
    const shift = hashUnit(row, 3, 1, s) * 9;
    const cell = Math.floor((x + shift) / 7);
    const within = (x + shift) / 7 - cell;
    const present = hashUnit(cell, row, 2, s) < 0.75 * band ? 1 : 0;
    const pore =
      present *
      smoothstep(0, 0.15, within) *
      (1 - smoothstep(0.55, 0.95, within)) *
      (0.5 + 0.5 * hashUnit(cell, row, 4, s));
    const cloud = fractalNoise(x / 4000, y / 600, 11, 7, 3, 0.6, s + 9);
    mixInto(spot, settings.early, settings.late, Math.min(1, Math.max(0, 0.9 * late + 0.16 * fibre + 0.08)));
    tone(spot, board.tone * (1 + 0.07 * cloud + 0.05 * fibre) * (1 - 0.5 * pore));
    spot.r *= 1 + board.warmth;
    spot.b *= 1 - board.warmth;
    if (knot > 0) {
      const dark = knot * (0.55 + 0.3 * knotRing);
      spot.r *= 1 - 0.8 * dark;
      spot.g *= 1 - 0.88 * dark;
      spot.b *= 1 - 0.92 * dark;
    }
    spot.heightMm = -0.09 * pore + 0.03 * fibre + 0.05 * late;
    spot.glossGu = 12 - 7 * pore + 2 * late;
  }

  return paint(settings, (x, y, spot) => {
    const row = Math.min(rows - 1, Math.floor(y / pitch));
    const inRow = y - row * pitch;
    const there = (at: number) =>
      courses[row]!.find((b) => at >= b.fromMm && at < b.toMm + Math.min(1, jointMm));
    let board = there(x);
    if (!board) {
      board = there(x - widthMm);
      x -= widthMm;
    }
    // Distance to the board's edge decides joint, arris and face.
    const edge = !board
      ? -1
      : settings.face
        ? boardMm
        : Math.min(inRow, boardMm - inRow, x - board.fromMm, board.toMm - x);
    if (!board || edge <= 0) {
      mixInto(spot, settings.late, settings.late, 0);
      tone(
        spot,
        0.16 +
          0.04 *
            fractalNoise(
              x / widthMm,
              y / settings.heightMm,
              cells(widthMm, 20),
              cells(settings.heightMm, 4),
              3,
              0.6,
              seed,
            ),
      );
      spot.heightMm = -1.6;
      spot.glossGu = 1;
      return;
    }
    wood(board, x, inRow, spot);
    const arris = smoothstep(0, 1.4, edge);
    tone(spot, 0.72 + 0.28 * arris);
    spot.heightMm -= 0.5 * squared(1 - arris);
  });
}
