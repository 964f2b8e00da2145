import type { FoundStructure, ResolvedSize, SizeSettings, SizeWay } from '@jossel/core/size';
import { figure } from '@jossel/core/units';

/** What happens to the settings of the size when a way is chosen or taken out. No interface here. */

export type AxisKey = 'across' | 'up';
export const otherAxis = (axis: AxisKey): AxisKey => (axis === 'across' ? 'up' : 'across');

/** What is known beside the settings. */
export interface KnownBeside {
  size: ResolvedSize | null;
  found: FoundStructure | null;
  /** What the file says of its resolution. */
  filePxPerMm: number | null;
}

/** What a length rests on that a method starts from: pressing a method does not make it known any better. */
const basisNow = (size: ResolvedSize | null, axis: AxisKey) =>
  (axis === 'across' ? size?.width.basis : size?.height.basis) ?? 'assumed';
const lengthMm = (size: ResolvedSize | null, axis: AxisKey) =>
  Number(((axis === 'across' ? size?.width.mm : size?.height.mm) ?? 1000).toFixed(2));

/**
 * Settings in which a way rules an axis. Where the way has no figures yet, it starts from what is known, so that the
 * size stays as it is until something is typed.
 * @returns the change, or what has to be found or drawn first
 */
export function rulingBy(
  settings: SizeSettings,
  axis: AxisKey,
  way: SizeWay,
  { size, found, filePxPerMm }: KnownBeside,
): Partial<SizeSettings> | { needs: 'structure' | 'lines' | 'card' } {
  const ruling = { ...settings.ruling, [axis]: way };
  const now = lengthMm(size, axis);
  switch (way) {
    case 'overall':
      return {
        ruling,
        overall: {
          ...settings.overall,
          [axis]: settings.overall[axis] ?? figure(now, 'mm', basisNow(size, axis)),
        },
      };
    case 'count': {
      const count = settings.count[axis] ?? {
        modules: 1,
        moduleMm: figure(now, 'mm', basisNow(size, axis)),
        jointMm: 0,
        ends: 'flush' as const,
        before: 0,
        after: 0,
      };
      return { ruling, count: { ...settings.count, [axis]: count } };
    }
    case 'structure': {
      const period = found?.[axis];
      if (!settings.structure[axis] && !period) return { needs: 'structure' };
      const structure = settings.structure[axis] ?? {
        periods: Number(period!.count.toFixed(3)),
        pitchMm: figure(Number((now / period!.count).toFixed(1)), 'mm', 'assumed'),
      };
      return { ruling, structure: { ...settings.structure, [axis]: structure } };
    }
    case 'lines':
      return settings.lines.length === 0 ? { needs: 'lines' } : { ruling };
    case 'card':
      return settings.card ? { ruling } : { needs: 'card' };
    case 'resolution': {
      const value = filePxPerMm ?? size?.pxPerMm.x ?? 1;
      const basis = filePxPerMm ? 'inferred' : 'assumed';
      return {
        ruling,
        resolution: settings.resolution ?? figure(Number(value.toFixed(4)), 'px/mm', basis),
      };
    }
    case 'follows': {
      const other = otherAxis(axis);
      if (settings.ruling[other] !== 'follows') return { ruling };
      // One axis at least has a length of its own.
      const overall = settings.overall[other] ?? figure(lengthMm(size, other), 'mm', 'assumed');
      return {
        ruling: { ...ruling, [other]: 'overall' },
        overall: { ...settings.overall, [other]: overall },
      };
    }
  }
}

/** Settings without a way; an axis that it ruled follows the other one, or keeps its length as assumed. */
export function without(
  settings: SizeSettings,
  change: Partial<SizeSettings>,
  way: SizeWay,
  size: ResolvedSize | null,
  axes: readonly AxisKey[] = ['across', 'up'],
): Partial<SizeSettings> {
  const ruling = { ...settings.ruling };
  const overall = { ...(change.overall ?? settings.overall) };
  for (const axis of axes) {
    if (ruling[axis] !== way) continue;
    const other = ruling[otherAxis(axis)];
    if (other !== 'follows' && other !== way) ruling[axis] = 'follows';
    else {
      ruling[axis] = 'overall';
      overall[axis] ??= figure(lengthMm(size, axis), 'mm', 'assumed');
    }
  }
  return { ...change, ruling, overall };
}

/** A size that was only assumed is given up once something better rules. */
export function withoutAssumed(settings: SizeSettings, change: Partial<SizeSettings>): Partial<SizeSettings> {
  const after = { ...settings, ...change };
  const overall = { ...after.overall };
  for (const axis of ['across', 'up'] as const)
    if (
      settings.ruling[axis] === 'overall' &&
      after.ruling[axis] !== 'overall' &&
      overall[axis]?.basis === 'assumed'
    )
      overall[axis] = null;
  return { ...change, overall };
}
