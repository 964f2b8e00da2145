/** Periods of a correlation along one axis: peaks at whole multiples of one length. */

/** Shortest period that is looked for, px of the searched picture. */
export const SHORTEST_PX = 4;

export interface Comb {
  periodPx: number;
  /** Mean height of the peaks at whole periods over the level between them. */
  lift: number;
  /** The same over every second, and over two of three peaks: low when the true period is twice or three times as long. */
  weakest: number;
  peaks: number;
}

const at = (p: Float64Array, x: number): number => {
  const k = Math.floor(x);
  if (k < 0 || k + 1 >= p.length) return p[Math.min(p.length - 1, Math.max(0, k))]!;
  return p[k]! + (p[k + 1]! - p[k]!) * (x - k);
};

/** Highest place within a reach, with a parabola through it. */
function peakNear(p: Float64Array, x: number, reach: number): { x: number; value: number } {
  let best = Math.max(1, Math.round(x - reach));
  for (let k = best; k <= Math.min(p.length - 2, Math.round(x + reach)); k++) if (p[k]! > p[best]!) best = k;
  if (best <= 0 || best >= p.length - 1) return { x: best, value: p[best]! };
  const [a, b, c] = [p[best - 1]!, p[best]!, p[best + 1]!];
  const bend = a - 2 * b + c;
  const shift = bend < 0 ? Math.min(0.5, Math.max(-0.5, (0.5 * (a - c)) / bend)) : 0;
  return { x: best + shift, value: b };
}

/** Takes the slow fall of a correlation away: a running median over about a quarter of its length. */
export function withoutTrend(p: Float64Array, reach: number): Float64Array {
  const out = new Float64Array(p.length);
  const window: number[] = [];
  const step = Math.max(1, Math.floor(reach / 24));
  for (let d = 0; d < p.length; d++) {
    window.length = 0;
    for (let k = Math.max(1, d - reach); k <= Math.min(p.length - 1, d + reach); k += step)
      window.push(p[k]!);
    window.sort((a, b) => a - b);
    out[d] = p[d]! - (window[window.length >> 1] ?? 0);
  }
  return out;
}

/** How well a period fits a profile: its peaks are followed from one to the next, and the period is fitted through them. */
function combAt(p: Float64Array, start: number): Comb | null {
  let period = start;
  let [sumKX, sumKK] = [0, 0];
  const lifts: number[] = [];
  for (let k = 1; k * period < p.length - 2; k++) {
    const found = peakNear(p, k * period, Math.max(1.5, 0.06 * period));
    sumKX += k * found.x;
    sumKK += k * k;
    lifts.push(found.value - at(p, (k - 0.5) * period));
    period = sumKX / sumKK;
    // A comb that slips from its start follows chance.
    if (Math.abs(period / start - 1) > 0.1) return null;
  }
  if (lifts.length === 0) return null;
  const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  const lift = mean(lifts);
  const without = (m: number) => mean(lifts.filter((_, i) => (i + 1) % m !== 0));
  return { periodPx: period, lift, weakest: Math.min(lift, without(2), without(3)), peaks: lifts.length };
}

/** The shortest period whose comb is about as good as the best. */
export function bestComb(p: Float64Array): Comb | null {
  const combs: Comb[] = [];
  for (let d = SHORTEST_PX; d < p.length - 2; d++) {
    if (!(p[d]! >= p[d - 1]! && p[d]! >= p[d + 1]! && p[d]! > 0.005)) continue;
    // The shoulder of a higher peak is no peak of its own.
    if (Math.abs(peakNear(p, d, Math.max(2, 0.06 * d)).x - d) > 1) continue;
    const comb = combAt(p, peakNear(p, d, 1).x);
    if (comb) combs.push(comb);
  }
  const worth = (c: Comb) => c.lift * Math.min(1, c.peaks / 2);
  const best = Math.max(0, ...combs.map(worth));
  combs.sort((a, b) => a.periodPx - b.periodPx);
  return combs.find((c) => worth(c) >= 0.45 * best && c.weakest >= 0.5 * c.lift) ?? null;
}

/** Least lift of edges that is taken for a structure: with one peak, with two, with more. */
const LEAST_LIFT = [0.15, 0.05, 0.045] as const;

/** How far a comb stands above chance, as x/(1 + x) of its lift over the least. One peak alone may be chance much sooner than several. */
export function confidenceOf(comb: Comb): number {
  const [alone, two, more] = LEAST_LIFT;
  const x = Math.max(0, comb.lift) / (comb.peaks > 2 ? more : comb.peaks === 2 ? two : alone);
  return x / (1 + x);
}
