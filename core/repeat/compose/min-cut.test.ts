import fc from 'fast-check';
import { DOWN, GridCut, RIGHT } from './min-cut';

/** Cost of a division of a grid: what is cut between the two sides, and between nodes and ends. */
function costOf(side: boolean[], w: number, ends: number[], rights: number[], downs: number[]): number {
  let cost = 0;
  for (let i = 0; i < side.length; i++) {
    // Room from the source is lost when the node is on the side of the sink, and the other way round.
    if (ends[i]! > 0 && side[i]) cost += ends[i]!;
    if (ends[i]! < 0 && !side[i]) cost -= ends[i]!;
    if ((i + 1) % w !== 0 && !side[i] && side[i + 1]) cost += rights[i]!;
    if (i + w < side.length && !side[i] && side[i + w]) cost += downs[i]!;
  }
  return cost;
}

test('the cut is the least of all divisions, on every small grid', () => {
  const cutter = new GridCut();
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 4 }),
      fc.integer({ min: 1, max: 3 }),
      fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 12, maxLength: 12 }),
      fc.array(fc.integer({ min: 0, max: 15 }), { minLength: 12, maxLength: 12 }),
      fc.array(fc.integer({ min: 0, max: 15 }), { minLength: 12, maxLength: 12 }),
      (w, h, ends, rights, downs) => {
        const n = w * h;
        cutter.begin(w, h);
        for (let i = 0; i < n; i++) {
          cutter.ends[i] = ends[i]!;
          if ((i + 1) % w !== 0) cutter.arcs[4 * i + RIGHT] = rights[i]!;
          if (i + w < n) cutter.arcs[4 * i + DOWN] = downs[i]!;
        }
        const flow = cutter.solve();
        const found = Array.from({ length: n }, (_, i) => cutter.isOnSinkSide(i));
        let least = Infinity;
        for (let bits = 0; bits < 2 ** n; bits++)
          least = Math.min(
            least,
            costOf(
              Array.from({ length: n }, (_, i) => ((bits >> i) & 1) === 1),
              w,
              ends,
              rights,
              downs,
            ),
          );
        expect(costOf(found, w, ends, rights, downs)).toBe(least);
        // Source: Ford, Fulkerson 1956: the largest flow is the least cut.
        expect(flow).toBe(least);
      },
    ),
    { numRuns: 300 },
  );
});
