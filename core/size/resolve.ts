import { weakestBasis, type Basis, type Figure } from '../units';

/** How the length of one axis of a sample is known. */
export type AxisSize =
  | { by: 'overall'; overallMm: Figure<'mm'> }
  | { by: 'count'; modules: number; moduleMm: Figure<'mm'>; jointMm: number; ends: CountEnds }
  | { by: 'follows' };

/**
 * Where a counted picture begins and ends: `flush` from the first edge of the first module to the last edge of the last
 * (n modules, n − 1 joints), `joint` from the middle of a joint to the middle of a joint (n modules, n joints).
 */
export const COUNT_ENDS = ['flush', 'joint'] as const;
export type CountEnds = (typeof COUNT_ENDS)[number];

export interface SizeSettings {
  across: AxisSize;
  up: AxisSize;
}

/** A length with what it rests on. */
export interface ResolvedLength {
  mm: number;
  basis: Basis;
  toleranceMm: number;
  /** How it came about, in words. */
  from: string;
  /** Pitch and count, when the axis was counted. */
  module?: { pitchMm: number; count: number };
}

/** The one size of a sample, which all its maps share. */
export interface ResolvedSize {
  width: ResolvedLength;
  height: ResolvedLength;
  pxPerMm: { x: number; y: number };
  /** Scale of the height relative to the width, less one: 0.03 when the axes differ by 3 %. */
  axesDiffer: number;
}

/**
 * Length of counted modules: n·m + (n − 1)·j when flush, n·(m + j) from joint to joint.
 * @throws RangeError when the count is not a whole number from 1 to 100 000 or a length is not sensible
 */
export function countedLength(modules: number, moduleMm: number, jointMm: number, ends: CountEnds): number {
  if (!Number.isInteger(modules) || modules < 1 || modules > 100000)
    throw new RangeError(`A count of ${modules} is not a whole number from 1 to 100 000.`);
  if (!(moduleMm > 0) || !(jointMm >= 0))
    throw new RangeError('A module must be longer than 0 mm, and a joint 0 mm or more.');
  return ends === 'flush' ? modules * moduleMm + (modules - 1) * jointMm : modules * (moduleMm + jointMm);
}

/**
 * Works out the size of a sample from its settings and its pixels.
 *
 * When one axis follows the other, pixels are taken to be square. When both follow, nothing is known: 1000 mm of width
 * are assumed, and the basis says so.
 *
 * @param settings per axis
 * @param widthPx pixels of the sample
 * @param heightPx pixels of the sample
 */
export function resolveSize(settings: SizeSettings, widthPx: number, heightPx: number): ResolvedSize {
  const known = (axis: AxisSize, lengthPx: number): ResolvedLength | null => {
    if (axis.by === 'overall') {
      const { value, basis, tolerance } = axis.overallMm;
      return { mm: value, basis, toleranceMm: tolerance ?? value / lengthPx, from: 'overall size' };
    }
    if (axis.by === 'count') {
      const mm = countedLength(axis.modules, axis.moduleMm.value, axis.jointMm, axis.ends);
      return {
        mm,
        basis: axis.moduleMm.basis,
        toleranceMm:
          axis.moduleMm.tolerance !== undefined ? axis.modules * axis.moduleMm.tolerance : mm / lengthPx,
        from: `${axis.modules} × ${axis.moduleMm.value} mm with ${axis.jointMm} mm joints`,
        module: { pitchMm: axis.moduleMm.value + axis.jointMm, count: axis.modules },
      };
    }
    return null;
  };
  const follow = (other: ResolvedLength, share: number, otherName: string): ResolvedLength => ({
    mm: other.mm * share,
    basis: weakestBasis(other.basis, 'inferred'),
    toleranceMm: other.toleranceMm * share,
    from: `follows the ${otherName}, square pixels`,
  });
  let width = known(settings.across, widthPx);
  let height = known(settings.up, heightPx);
  if (!width && !height)
    width = { mm: 1000, basis: 'assumed', toleranceMm: 500, from: 'nothing is known yet' };
  width ??= follow(height!, widthPx / heightPx, 'height');
  height ??= follow(width, heightPx / widthPx, 'width');
  const pxPerMm = { x: widthPx / width.mm, y: heightPx / height.mm };
  return { width, height, pxPerMm, axesDiffer: pxPerMm.x / pxPerMm.y - 1 };
}
