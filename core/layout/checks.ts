import { open, wrong, type Check } from '../surface';
import { printNumber } from '../units';
import { ALMOST } from './faces';
import type { LaidReport } from './report';
import type { LayoutSettings } from './settings';

const mm = (v: number, digits = 1) => `${printNumber(v, digits)}\u2009mm`;

/** What of a layout does not hold. */
export function checkLayout({ piece, joint }: LayoutSettings, report: LaidReport): Check[] {
  const checks: Check[] = [];
  const { laid } = report;
  for (const [what, asked, got] of [
    ['length', piece.lengthMm.value, laid.lengthMm],
    ['width', piece.widthMm.value, laid.widthMm],
  ] as const)
    if (Math.abs(asked - got) > 0.005)
      checks.push(
        open(
          'layout',
          `layout-${what}-changed`,
          `${report.bond} does not close with pieces ${mm(asked)} in ${what}; ${mm(got, 2)} is laid, the nearest that does.`,
        ),
      );
  if (report.equalNeighbours > 0)
    checks.push(
      open(
        'layout',
        'equal-neighbours',
        `${report.equalNeighbours} ${report.equalNeighbours === 1 ? 'pair' : 'pairs'} of neighbouring pieces show the same face. Pick more areas, or allow a half turn.`,
      ),
    );
  if (report.continuedMm > Math.max(LEAST_BEYOND_MM, ALMOST * laid.lengthMm))
    checks.push(
      open(
        'layout',
        'piece-continued',
        `The longest piece is ${mm(report.continuedMm, 0)} longer than its picture, which is continued from itself across the least visible cut.`,
      ),
    );
  if (report.mirroredMm > LEAST_BEYOND_MM && report.mirroredShare > MOST_MIRRORED)
    checks.push(
      wrong(
        'layout',
        'piece-beyond-picture',
        `Pieces are ${mm(report.mirroredMm, 0)} larger than the picture they are cut from, which is mirrored at its edge. Lay smaller pieces, or cut them from the repeat.`,
      ),
    );
  if (report.timesEach !== null && report.timesEach > MOST_TIMES)
    checks.push(
      open(
        'layout',
        'faces-repeat',
        `Each face is shown ${printNumber(report.timesEach, 1)} times in the repeat. More pictures, or a smaller repeat, would show it less often.`,
      ),
    );
  if (report.turnHeldDeg !== null)
    checks.push(
      open(
        'layout',
        'turn-held',
        `Rotation is limited to ${printNumber(report.turnHeldDeg, 2)}°, so that no pieces touch across joints of ${mm(Math.min(joint.alongMm.value, joint.acrossMm.value))}.`,
      ),
    );
  if (piece.lengthMm.basis === 'assumed' || piece.widthMm.basis === 'assumed')
    checks.push(
      open(
        'layout',
        'piece-assumed',
        `The size of the pieces, ${printNumber(laid.lengthMm, 1)} × ${mm(laid.widthMm)}, is assumed.`,
      ),
    );
  return checks;
}

/** What is larger by less is a matter of where the edge of the picture was seen, mm. */
const LEAST_BEYOND_MM = 3;
/** So narrow a strip at the edge of a face is not seen to be mirrored, as a share of it. */
const MOST_MIRRORED = 0.12;
/** A face that comes back more often is noticed. */
const MOST_TIMES = 6;
