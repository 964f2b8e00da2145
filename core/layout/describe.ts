import type { SolvedLayout } from './solved';
import type { LayoutSettings } from './settings';
import { takeOffOf, type TakeOff } from './take-off';

/** A layout as data for other programs: mm, y up. */
export interface LayoutDescription {
  repeatMm: { width: number; height: number };
  pieces: {
    id: number;
    /** Kind of the blend; 0: the finish itself. */
    finish: number;
    course: number;
    angleDeg: number;
    widthMm: number;
    heightMm: number;
    outline: [number, number][];
  }[];
  /** Names of the kinds of the blend. */
  finishes: string[];
  jointAreaMm2: number;
  takeOff: TakeOff;
}

/** Names of the kinds of the blend, the finish itself first. */
export const kindNames = ({ blend }: Pick<LayoutSettings, 'blend'>): string[] => [
  'finish',
  ...blend.others.map((o) => o.name),
];

export function describeLayout(
  settings: LayoutSettings,
  { geometry, kindOf }: SolvedLayout,
): LayoutDescription {
  const { repeatMm, pieces } = geometry;
  const finishes = kindNames(settings);
  return {
    repeatMm,
    pieces: pieces.map((p) => ({
      id: p.id,
      finish: kindOf[p.id]!,
      course: p.course,
      angleDeg: p.directionDeg,
      widthMm: p.nominalMm.length,
      heightMm: p.nominalMm.width,
      outline: p.outline.map(([x, y]) => [x, y]),
    })),
    finishes,
    jointAreaMm2: repeatMm.width * repeatMm.height - pieces.reduce((sum, p) => sum + p.areaMm2, 0),
    takeOff: takeOffOf(geometry, kindOf, finishes.length),
  };
}
