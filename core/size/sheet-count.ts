/** One piece as a data sheet gives it, with its joint. */
export interface SheetPiece {
  widthMm: number;
  heightMm: number;
  jointMm: number;
}

/** How many pieces a picture shows, by the sheet's size of one piece. */
export interface SheetCount {
  across: number;
  up: number;
  /** The piece lies with its height across. */
  turned: boolean;
  /** Size of what the picture shows, from joint to joint. */
  sizeMm: { width: number; height: number };
  /** By how much, as a share, the proportions of the picture differ from that size. */
  off: number;
}

/** Proportions that differ by more speak against the count. */
const MOST_OFF = 0.06;

/**
 * Counts the pieces of a picture from the size of one piece and the number of them on at least one axis: the other
 * number follows from the proportions of the picture.
 *
 * @param piece from the data sheet, mm
 * @param aspect width over height of the frame, in pixels that are as wide as high
 * @param known pieces across and up, counted or detected, need not be whole; null: not known
 * @returns the count whose proportions fit best, the piece lying either way; null: no number is known, or nothing fits
 */
export function countBySheet(
  piece: SheetPiece,
  aspect: number,
  known: { across: number | null; up: number | null },
): SheetCount | null {
  const counts = [false, true].flatMap((turned): SheetCount[] => {
    const [w, h] = turned ? [piece.heightMm, piece.widthMm] : [piece.widthMm, piece.heightMm];
    const pitch = { across: w + piece.jointMm, up: h + piece.jointMm };
    const across = known.across ?? (known.up && (known.up * pitch.up * aspect) / pitch.across);
    const up = known.up ?? (known.across && (known.across * pitch.across) / aspect / pitch.up);
    if (!across || !up) return [];
    const [n, m] = [Math.max(1, Math.round(across)), Math.max(1, Math.round(up))];
    const sizeMm = { width: n * pitch.across, height: m * pitch.up };
    return [{ across: n, up: m, turned, sizeMm, off: aspect / (sizeMm.width / sizeMm.height) - 1 }];
  });
  const best = counts.sort((a, b) => Math.abs(a.off) - Math.abs(b.off))[0];
  return best && Math.abs(best.off) <= MOST_OFF ? best : null;
}
