import { framePx, toFrame, type Frame } from '../straighten';
import { printNumber, weakestBasis, type Basis } from '../units';
import { sizeOfCard } from './card';
import { lensSpread } from './lens-spread';
import { sizeOfLines } from './lines';
import type { CountedAxis, SizeSettings, SizeWay } from './settings';

/** What one way of knowing says about the length of an axis. */
export interface SizeClaim {
  way: SizeWay;
  mm: number;
  basis: Basis;
  toleranceMm: number;
  /** How it came about, in words. */
  from: string;
  /** Share of the tolerance that is owed to what is not known of the lens: its distortion, or its focal length. */
  lens?: number;
  /** Pitch and count, when the axis was counted. */
  module?: { pitchMm: number; count: number };
}

/**
 * A length with what it rests on, and what other ways say. Its module is the ruling way's own, or that of another way
 * that agrees with it, fitted to this length.
 */
export interface ResolvedLength extends SizeClaim {
  /** All ways that say something, the ruling one first. */
  claims: readonly SizeClaim[];
}

/** The one size of a sample's frame, which all its maps share. */
export interface ResolvedSize {
  width: ResolvedLength;
  height: ResolvedLength;
  /** Pixels of the picture as received, on average over the frame. */
  pxPerMm: { x: number; y: number };
  /** How much wider the pixels are sampled across than up, less one; 0 when the true proportions hold or are not known. */
  axesDiffer: number;
}

export type Axis = 'across' | 'up';

/**
 * Length of counted modules: n·m + (n − 1)·j when flush, n·(m + j) from joint to joint; with parts of a module cut off
 * at the ends, each part adds itself and one joint.
 * @throws RangeError when the count is not a whole number from 1 to 100 000 or a length is not sensible
 */
export function countedLength(
  axis: Pick<CountedAxis, 'modules' | 'jointMm' | 'ends'> & {
    moduleMm: number;
    before?: number;
    after?: number;
  },
): number {
  const { modules, moduleMm, jointMm, ends, before = 0, after = 0 } = axis;
  if (!Number.isInteger(modules) || modules < 1 || modules > 100000)
    throw new RangeError(`A count of ${modules} is not a whole number from 1 to 100 000.`);
  if (!(moduleMm > 0) || !(jointMm >= 0))
    throw new RangeError('A module must be longer than 0 mm, and a joint 0 mm or more.');
  if (ends === 'joint') return modules * (moduleMm + jointMm);
  const flush = modules * moduleMm + (modules - 1) * jointMm;
  if (ends === 'flush') return flush;
  const part = (share: number) => {
    if (!(share >= 0 && share <= 1)) throw new RangeError(`A part of ${share} is not between 0 and 1.`);
    return share > 0 ? share * moduleMm + jointMm : 0;
  };
  return flush + part(before) + part(after);
}

const counted = (axis: CountedAxis, lengthPx: number): SizeClaim => {
  const mm = countedLength({ ...axis, moduleMm: axis.moduleMm.value });
  const parts = axis.ends === 'inside' ? axis.before + axis.after : 0;
  const pitchMm = axis.moduleMm.value + axis.jointMm;
  return {
    way: 'count',
    mm,
    basis: axis.moduleMm.basis,
    toleranceMm:
      axis.moduleMm.tolerance !== undefined
        ? Math.max((axis.modules + parts) * axis.moduleMm.tolerance, mm / lengthPx)
        : mm / lengthPx,
    from: `${axis.modules}${parts > 0 ? ` + ${printNumber(axis.before)} + ${printNumber(axis.after)}` : ''} × ${printNumber(axis.moduleMm.value)} mm with ${printNumber(axis.jointMm)} mm joints`,
    module: { pitchMm, count: Math.floor(mm / pitchMm + 1e-6) || 1 },
  };
};

/** Everything the settings say about both axes, without regard to which rules. */
export function sizeClaims(settings: SizeSettings, frame: Frame): Record<Axis, SizeClaim[]> {
  const px = framePx(frame);
  const claims: Record<Axis, SizeClaim[]> = { across: [], up: [] };
  for (const axis of ['across', 'up'] as const) {
    const overall = settings.overall[axis];
    if (overall)
      claims[axis].push({
        way: 'overall',
        mm: overall.value,
        basis: overall.basis,
        toleranceMm: overall.tolerance ?? overall.value / px[axis],
        from: 'overall size',
      });
    const count = settings.count[axis];
    if (count) claims[axis].push(counted(count, px[axis]));
    const structure = settings.structure[axis];
    if (structure) {
      const { periods, pitchMm } = structure;
      const mm = periods * pitchMm.value;
      claims[axis].push({
        way: 'structure',
        mm,
        basis: pitchMm.basis,
        toleranceMm: Math.max(periods * (pitchMm.tolerance ?? 0), 0.003 * mm),
        from: `${printNumber(periods, 2)} periods of ${printNumber(pitchMm.value)} mm found in the picture`,
        module: { pitchMm: pitchMm.value, count: Math.max(1, Math.floor(periods + 1e-6)) },
      });
    }
  }
  if (settings.lines.length > 0) {
    const ruled = sizeOfLines(settings.lines, frame);
    const lens = lensSpread(frame, (other) => sizeOfLines(settings.lines, other));
    for (const [axis, mm] of [
      ['across', ruled.widthMm],
      ['up', ruled.heightMm],
    ] as const)
      if (ruled.knows[axis])
        claims[axis].push({
          way: 'lines',
          mm,
          basis: ruled.basis,
          toleranceMm: mm * Math.hypot(ruled.tolerance[axis], lens[axis]),
          lens: lens[axis],
          from:
            settings.lines.length === 1
              ? 'one ruler line'
              : `best fit of ${settings.lines.length} ruler lines, spread ${printNumber(100 * Math.max(...ruled.residuals.map(Math.abs)), 2)} %`,
        });
  }
  if (settings.resolution) {
    const { value, basis, tolerance } = settings.resolution;
    for (const axis of ['across', 'up'] as const)
      claims[axis].push({
        way: 'resolution',
        mm: px[axis] / value,
        basis,
        toleranceMm: Math.max((px[axis] / value) * ((tolerance ?? 0) / value), 1 / value),
        from: `${printNumber(value, 3)} px per mm`,
      });
  }
  if (settings.card) {
    const { marks } = settings.card;
    const on = sizeOfCard(marks, frame);
    const lens = lensSpread(frame, (other) => sizeOfCard(marks, other));
    for (const [axis, mm] of [
      ['across', on.widthMm],
      ['up', on.heightMm],
    ] as const)
      claims[axis].push({
        way: 'card',
        mm,
        basis: 'measured',
        toleranceMm: mm * Math.hypot(on.tolerance, lens[axis]),
        lens: lens[axis],
        from: 'corner marks of the target card',
      });
  }
  return claims;
}

/** How far two ways may differ and still speak of the same modules. */
const SAME_MODULES = 0.02;

/** What repeats along an axis by the other ways, fitted to the ruling length; of those that agree, the nearest. */
function moduleFrom(others: readonly SizeClaim[], rulingMm: number): SizeClaim['module'] {
  const off = (claim: SizeClaim) => Math.abs(claim.mm / rulingMm - 1);
  const nearest = others.filter((c) => c.module && off(c) <= SAME_MODULES).sort((a, b) => off(a) - off(b))[0];
  return nearest && { ...nearest.module!, pitchMm: (nearest.module!.pitchMm * rulingMm) / nearest.mm };
}

/**
 * Works out the size of a sample's frame from all that is known of it. Of several ways the ruling one gives the size,
 * the others stay as claims to check against.
 *
 * An axis that follows has the frame's own proportions. When both follow, nothing is known: 1000 mm of width are
 * assumed, and the basis says so.
 *
 * @param settings all that is known
 * @param frame the straightened frame
 * @throws RangeError with a sentence when what is given cannot be (lines without length, marks on one line)
 */
export function resolveSize(settings: SizeSettings, frame: Frame): ResolvedSize {
  const claims = sizeClaims(settings, frame);
  const { ratio, spread } = frame.aspect;
  const rule = (axis: Axis): SizeClaim | null =>
    claims[axis].find((c) => c.way === settings.ruling[axis]) ?? null;
  const follow = (other: SizeClaim, share: number, name: string): SizeClaim => ({
    way: 'follows',
    mm: other.mm * share,
    basis: weakestBasis(other.basis, 'inferred'),
    toleranceMm: Math.hypot(other.toleranceMm * share, other.mm * share * spread),
    lens: spread,
    from: `follows the ${name}, ${frame.aspect.by === 'parallel' ? 'square pixels' : `proportions by ${frame.aspect.by}`}`,
  });
  let width = rule('across');
  let height = rule('up');
  if (!width && !height)
    width = { way: 'follows', mm: 1000, basis: 'assumed', toleranceMm: 500, from: 'nothing is known yet' };
  width ??= follow(height!, ratio, 'height');
  height ??= follow(width, 1 / ratio, 'width');
  const withClaims = (ruling: SizeClaim, axis: Axis): ResolvedLength => {
    const others = claims[axis].filter((c) => c.way !== ruling.way);
    const module = ruling.module ?? moduleFrom(others, ruling.mm);
    return { ...ruling, ...(module ? { module } : {}), claims: [ruling, ...others] };
  };
  const px = framePx(frame);
  return {
    width: withClaims(width, 'across'),
    height: withClaims(height, 'up'),
    pxPerMm: { x: px.across / width.mm, y: px.up / height.mm },
    axesDiffer: frame.aspect.by === 'ordinary lens' ? 0 : (ratio * height.mm) / width.mm - 1,
  };
}

/** Size in mm of an area picked out of a frame: mean of its opposite edges, in the frame's own millimetres. */
export function areaSizeMm(
  frame: Frame,
  frameMm: { width: number; height: number },
  corners: readonly (readonly [number, number])[],
): { width: number; height: number } {
  const mm = corners.map((c) => {
    const [u, v] = toFrame(frame, c);
    return [u * frameMm.width, v * frameMm.height] as const;
  });
  const edge = (i: number, j: number) => Math.hypot(mm[i]![0] - mm[j]![0], mm[i]![1] - mm[j]![1]);
  return { width: (edge(0, 1) + edge(3, 2)) / 2, height: (edge(0, 3) + edge(1, 2)) / 2 };
}
