import type { CalibrationReport } from '../light';
import type { BoardsLaid } from './boards';
import type { SeamFigures } from './seam';

/** What the repeat stage came to. */
export interface RepeatReport {
  repeatMm: { width: number; height: number };
  /** How many copies of the sample a cut or composed repeat is made of; null: blended, mirrored or as it is. */
  copies: number | null;
  /** Boards of a repeat that is laid of them, and how many of these are as long as the sample shows them; null: it is not. */
  boards: BoardsLaid | null;
  /** Number of the arrangement of a repeat composed anew; null otherwise. */
  arrangement: number | null;
  /** What each picture or area it is made from was multiplied by, per channel, to be of one tone. */
  joined: readonly { gain: readonly [number, number, number] }[];
  /** Over what length continuity lines are broken where copies meet; 0 where all run on. */
  brokenHoldMm: number;
  /** By how much, as a share, the sample is stretched on each axis so that its structure closes. */
  stretch: { across: number; up: number };
  /** The stretch that would be needed on an axis, where it is more than may be. */
  stretchNeeded: { across?: number | undefined; up?: number | undefined };
  /** How far the size of the repeat may be off: what the size of the sample may be off, and the stretch. */
  repeatToleranceMm: { width: number; height: number };
  /** How many times finer than the picture its detail is; more than 1 is inferred. */
  inferred: number;
  sampleMm: { width: number; height: number };
  /** Size of what the repeat is made from: the frame, or an area picked out of it. */
  usedMm: { width: number; height: number };
  /** Share of the used part of the sample that keep-outs cover, 0–1; none of it is in the repeat. */
  keptOut: number;
  pxPerMm: { x: number; y: number };
  seam: SeamFigures;
  calibration: CalibrationReport;
}
