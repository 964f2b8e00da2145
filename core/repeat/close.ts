import type { Layer, PlacementMap, Ramp } from './placement';
import type { Closing } from './settings';

/** One axis of the sample and how it is to close. */
export interface AxisToClose {
  /** Length of the sample on this axis. */
  lengthMm: number;
  closing: Closing;
  /** Width of the overlap when blending or cutting. */
  overlapMm: number;
  /** Module and joint when the sample's size was counted: the repeat is then a whole number of them. */
  module?: { pitchMm: number; count: number } | undefined;
  /** Where the first line between modules lies, when a cut has to run along one: it then lies in the overlap. */
  lineMm?: number | undefined;
}

/** One axis as it closes: its repeat, and which stretch of the sample lies where with what weight. */
export interface ClosedAxis {
  repeatMm: number;
  /** Overlap in which two copies mix. */
  mixedMm: number;
  /** Overlap in which two copies may be cut. */
  cutMm: number;
  strips: readonly { sign: 1 | -1; offsetMm: number; ramp: Ramp }[];
  /** Whole modules in the repeat, when counted. */
  modules?: number;
  /** By how much, as a share, the sample is stretched so that whole periods fill the repeat asked for. */
  stretch?: number;
  /** The stretch that would be needed, where it is more than may be. */
  stretchNeeded?: number;
}

/** Raised from 0 to 1 with level ends, as knots. */
function ease(fromMm: number, toMm: number, rising: boolean): { atMm: number[]; weight: number[] } {
  const atMm: number[] = [];
  const weight: number[] = [];
  const steps = 16;
  for (let k = 0; k <= steps; k++) {
    const t = k / steps;
    const w = t * t * (3 - 2 * t);
    atMm.push(fromMm + (toMm - fromMm) * t);
    weight.push(rising ? w : 1 - w);
  }
  return { atMm, weight };
}

/** With fewer modules left a repeat is too short. */
const LEAST_LEFT = 2;
/** A line between rows wavers by so much of a row at most: it has to lie within the overlap all along. */
const WAVERS = 0.12;

/** Whether the overlap that is left beside so many modules holds a line to be cut along, or has to do without. */
function isCutAlongLine({ lengthMm, lineMm }: AxisToClose, pitchMm: number, modules: number): boolean {
  if (lineMm === undefined || modules <= LEAST_LEFT) return true;
  const [first, overlapMm] = [lineMm % pitchMm, lengthMm - modules * pitchMm];
  return first >= WAVERS * pitchMm && first <= overlapMm - WAVERS * pitchMm;
}

/**
 * Closes one axis.
 *
 * A counted axis is cut to whole modules first, so that joints meet; the overlap then lies within the module left over.
 * @throws RangeError when lengths are not above zero
 */
export function closeAxis(axis: AxisToClose): ClosedAxis {
  const { lengthMm, closing } = axis;
  if (!(lengthMm > 0))
    throw new RangeError(`The sample's length on this axis is ${lengthMm} mm; it must be above 0.`);
  const whole = (repeatMm: number): Ramp => ({ atMm: [0, repeatMm], weight: [1, 1] });
  if (closing === 'mirror') {
    const r = 2 * lengthMm;
    return {
      repeatMm: r,
      mixedMm: 0,
      cutMm: 0,
      strips: [
        { sign: 1, offsetMm: 0, ramp: { atMm: [0, lengthMm, lengthMm, r], weight: [1, 1, 0, 0] } },
        { sign: -1, offsetMm: r, ramp: { atMm: [0, lengthMm, lengthMm, r], weight: [0, 0, 1, 1] } },
      ],
    };
  }
  const pitch = axis.module?.pitchMm ?? 0;
  const overlaps = closing === 'blend' || closing === 'cut';
  const wanted = overlaps ? Math.min(Math.max(0, axis.overlapMm), lengthMm / 2) : 0;
  let repeatMm = lengthMm - wanted;
  let modules: number | undefined;
  if (axis.module && pitch > 0) {
    // A hair of slack so that n·pitch computed two ways counts as n.
    modules = Math.floor((lengthMm - (overlaps ? Math.min(wanted, pitch / 8) : 0)) / pitch + 1e-6);
    if (closing === 'cut' && !isCutAlongLine(axis, pitch, modules)) modules--;
    if (modules >= 1) repeatMm = modules * pitch;
    else modules = undefined;
  }
  const mixedMm = closing === 'blend' ? Math.min(wanted, lengthMm - repeatMm) : 0;
  if (mixedMm <= 0)
    return {
      repeatMm,
      mixedMm: 0,
      cutMm: closing === 'cut' ? lengthMm - repeatMm : 0,
      strips: [{ sign: 1, offsetMm: 0, ramp: whole(repeatMm) }],
      ...(modules ? { modules } : {}),
    };
  const rise = ease(0, mixedMm, true);
  const fall = ease(0, mixedMm, false);
  return {
    repeatMm,
    mixedMm,
    cutMm: 0,
    strips: [
      { sign: 1, offsetMm: 0, ramp: { atMm: [...rise.atMm, repeatMm], weight: [...rise.weight, 1] } },
      { sign: 1, offsetMm: repeatMm, ramp: { atMm: [...fall.atMm, repeatMm], weight: [...fall.weight, 0] } },
    ],
    ...(modules ? { modules } : {}),
  };
}

/** Puts two closed axes together to a placement map of one sample. */
export function placeClosed(across: ClosedAxis, up: ClosedAxis): PlacementMap {
  const layers: Layer[] = [];
  for (const y of up.strips)
    for (const x of across.strips)
      layers.push({
        placement: {
          sourceIndex: 0,
          signX: x.sign,
          signY: y.sign,
          offsetXMm: x.offsetMm,
          offsetYMm: y.offsetMm,
        },
        across: x.ramp,
        up: y.ramp,
      });
  return { repeatMm: { width: across.repeatMm, height: up.repeatMm }, layers };
}

/** A repeat may be at most so many times as long as its sample. */
export const MOST_TIMES_SAMPLE = 200;

/**
 * One axis of a repeat that is composed anew.
 *
 * @param name of the axis, for sentences
 * @param wantedMm length asked for; null: that of the sample
 * @param sampleMm length of the sample
 * @param pitchMm period of a regular structure: the repeat is then the nearest whole number of it
 * @param closes whether the edges are to meet
 * @param stretchMost share by which the sample may be stretched so that whole periods fill the length asked for
 * @throws RangeError with a sentence when the repeat would be shorter than a period, or too long for the sample
 */
export function composedAxis(
  name: 'wide' | 'high',
  wantedMm: number | null,
  sampleMm: number,
  pitchMm: number | null,
  closes: boolean,
  stretchMost = 0,
): ClosedAxis {
  const asked = wantedMm ?? sampleMm;
  const mm = (v: number) => `${Number(v.toPrecision(4))}\u2009mm`;
  if (asked > MOST_TIMES_SAMPLE * sampleMm)
    throw new RangeError(
      `A repeat ${mm(asked)} ${name} is more than ${MOST_TIMES_SAMPLE} times as long as the sample. At most ${mm(MOST_TIMES_SAMPLE * sampleMm)} can be composed.`,
    );
  if (pitchMm && closes && asked < 0.5 * pitchMm)
    throw new RangeError(
      `A repeat ${mm(asked)} ${name} is smaller than one period of its structure. It must be at least ${mm(pitchMm)}.`,
    );
  const modules = pitchMm && closes ? Math.max(1, Math.round(asked / pitchMm)) : undefined;
  const plain = { mixedMm: 0, cutMm: 0, strips: [] };
  if (!modules) return { ...plain, repeatMm: asked };
  const repeatMm = modules * pitchMm!;
  const needed = wantedMm === null ? 0 : asked / repeatMm - 1;
  if (Math.abs(needed) < 1e-9 || stretchMost === 0) return { ...plain, repeatMm, modules };
  return Math.abs(needed) <= stretchMost
    ? { ...plain, repeatMm: asked, modules, stretch: needed }
    : { ...plain, repeatMm, modules, stretchNeeded: needed };
}
