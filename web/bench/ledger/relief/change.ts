import type { ReliefContribution } from '@jossel/core/relief';

/** Puts a changed contribution in place of the one that is open; `what` names the change. */
export type Change = (what: string, next: ReliefContribution, dragged?: boolean) => void;
