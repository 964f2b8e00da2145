import { makeColourPicture, seededRandom, type ColourPicture } from '../raster';

/** A floor of boards whose joints are known. */

/** Joints across the boards of each course begin at these places, mm. */
export const FLOOR_ENDS: readonly (readonly number[])[] = [[310, 905], [120, 640], [470], [], [250, 820]];
export const FLOOR_MM = { widthMm: 1000, pitchMm: 80, firstMm: 17, jointMm: 2, perMm: 1.25 } as const;

/** How its courses lie, px. */
export const coursesOfFloor = () => ({
  along: 'across' as const,
  pitchPx: FLOOR_MM.pitchMm * FLOOR_MM.perMm,
  firstPx: FLOOR_MM.firstMm * FLOOR_MM.perMm,
});

/** Grain runs along; every board has a tone of its own; knots lie here and there. @param toneOf a board of a course; default: any */
export function knownFloor(
  ends: readonly (readonly number[])[] = FLOOR_ENDS,
  toneOf?: (course: number, board: number) => number,
): ColourPicture {
  const { widthMm, pitchMm, firstMm, jointMm, perMm } = FLOOR_MM;
  const heightMm = firstMm + FLOOR_ENDS.length * pitchMm + 30;
  const p = makeColourPicture(Math.round(widthMm * perMm), Math.round(heightMm * perMm));
  const random = seededRandom(5);
  const grain = Float64Array.from({ length: p.heightPx }, () => 0.03 * random.normal());
  const tones = FLOOR_ENDS.map((own) =>
    Array.from({ length: own.length + 1 }, () => random.between(0.2, 0.3)),
  );
  for (let y = 0; y < p.heightPx; y++)
    for (let x = 0; x < p.widthPx; x++) {
      const [xMm, yMm] = [(x + 0.5) / perMm, (y + 0.5) / perMm - firstMm];
      const course = Math.floor(yMm / pitchMm);
      const own = ends[course] ?? [];
      const inJoint =
        yMm - course * pitchMm < jointMm || own.some((end) => xMm >= end && xMm < end + jointMm);
      const board = own.filter((end) => xMm >= end).length;
      const tone = toneOf?.(course, board) ?? tones[course]?.[board] ?? 0.25;
      const knot = Math.hypot((xMm % 230) - 60, (yMm % pitchMm) - 40) < 9 ? 0.5 : 1;
      const i = y * p.widthPx + x;
      p.r[i] = inJoint ? 0.01 : knot * (tone + grain[y]!);
      p.g[i] = inJoint ? 0.01 : knot * (0.8 * tone + grain[y]!);
      p.b[i] = 0.8 * p.g[i]!;
    }
  return p;
}

/** The same picture with its axes exchanged. */
export function standing(picture: ColourPicture): ColourPicture {
  const { widthPx: w, heightPx: h } = picture;
  const out = makeColourPicture(h, w);
  for (const c of ['r', 'g', 'b'] as const)
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) out[c][x * h + y] = picture[c][y * w + x]!;
  return out;
}
