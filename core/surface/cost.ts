import { printNumber } from '../units';
import { Refusal } from './refusal';

/** What computing something takes, estimated from the settings before any of it is done. */
export interface Cost {
  /** What is done, to go on after "for": 'generating the finish at 4096 × 3072 px'. */
  what: string;
  /** What a person can change for less of it, as an order: 'Make the repeat smaller'. */
  less: string;
  /** The setting that it grows with, as a path in the recipe. */
  where: string;
  /** On the machine of docs/measured.md, one core. */
  seconds: number;
  /** Memory that is held at once. */
  bytes: number;
}

/** What may be spent. */
export interface Budget {
  seconds?: number;
  bytes?: number;
}

/**
 * Refuses work that costs more than may be spent on it.
 * @throws Refusal that says what most of it is, and what makes it less
 */
export function refuseBeyond(budget: Budget, costs: readonly Cost[]): void {
  refuseSum(costs, 'seconds', budget.seconds, printTime, 'time');
  refuseSum(costs, 'bytes', budget.bytes, printBytes, 'memory');
}

function refuseSum(
  costs: readonly Cost[],
  of: 'seconds' | 'bytes',
  most: number | undefined,
  print: (amount: number) => string,
  name: string,
): void {
  const sum = costs.reduce((all, cost) => all + cost[of], 0);
  if (most === undefined || sum <= most) return;
  const largest = costs.reduce((a, b) => (b[of] > a[of] ? b : a));
  const part =
    largest[of] < 0.98 * sum ? `, ${print(largest[of])} of it for ${largest.what}` : ` for ${largest.what}`;
  throw new Refusal(
    `too-much-${name}`,
    `This would take about ${print(sum)}${name === 'memory' ? ' of memory' : ''}${part}; at most ${print(most)} can be spent on it. ${largest.less}.`,
    largest.where,
  );
}

/** A duration as a person says it. */
export function printTime(seconds: number): string {
  if (seconds < 90)
    return `${printNumber(Math.max(1, seconds), 0)} seconds`.replace(/^1 seconds/, '1 second');
  if (seconds < 5400) return `${printNumber(seconds / 60, 0)} minutes`;
  return `${printNumber(seconds / 3600, seconds < 36000 ? 1 : 0)} hours`;
}

const printBytes = (bytes: number) => `${printNumber(bytes / 1e9, 1)}\u2009GB`;
