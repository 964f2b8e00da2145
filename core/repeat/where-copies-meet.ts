import { runsOn, type Cells, type Layer, type PlacementMap } from './placement';

/** Copies are mixed where the second of them has so much weight. */
const MIXED = 0.08;

/**
 * Where copies of the sample meet in a repeat: 1 for pixels beside the line between two copies, or where copies are mixed.
 * The edges of the repeat are such lines unless one copy runs on over them.
 */
export function whereCopiesMeet({ cells, layers, repeatMm }: PlacementMap, w: number, h: number): Uint8Array {
  return cells ? whereCellsMeet(cells, repeatMm, w, h) : whereLayersMix(layers, repeatMm, w, h);
}

function whereCellsMeet(
  cells: Cells,
  repeatMm: { width: number; height: number },
  w: number,
  h: number,
): Uint8Array {
  const meet = new Uint8Array(w * h);
  const at = (x: number, y: number) =>
    cells.placements[
      cells.copy[
        Math.floor(((y + 0.5) * cells.heightPx) / h) * cells.widthPx +
          Math.floor(((x + 0.5) * cells.widthPx) / w)
      ]!
    ]!;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const here = at(x, y);
      const [right, below] = [(x + 1) % w, (y + 1) % h];
      const over = (wrapped: boolean, mm: number) => (wrapped ? mm : 0);
      if (!runsOn(here, at(right, y), over(right === 0, repeatMm.width), 0))
        meet[y * w + x] = meet[y * w + right] = 1;
      if (!runsOn(here, at(x, below), 0, over(below === 0, repeatMm.height)))
        meet[y * w + x] = meet[below * w + x] = 1;
    }
  return meet;
}

function whereLayersMix(
  layers: readonly Layer[],
  repeatMm: { width: number; height: number },
  w: number,
  h: number,
): Uint8Array {
  const meet = new Uint8Array(w * h);
  const weightsOf = (ramp: Layer['across'], n: number, mm: number) =>
    Float64Array.from({ length: n }, (_, k) => weightAt(ramp, ((k + 0.5) * mm) / n));
  const weights = layers.map(({ across, up }) => ({
    x: weightsOf(across, w, repeatMm.width),
    y: weightsOf(up, h, repeatMm.height),
  }));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [all, most] = [0, 0];
      for (const { x: across, y: up } of weights) {
        const weight = across[x]! * up[y]!;
        all += weight;
        most = Math.max(most, weight);
      }
      const atEdge = x === 0 || y === 0 || x === w - 1 || y === h - 1;
      if (atEdge || all - most > MIXED * all) meet[y * w + x] = 1;
    }
  return meet;
}

/** Weight of a ramp at a place: straight between its knots. */
export function weightAt({ atMm, weight }: Layer['across'], mm: number): number {
  let k = 0;
  while (k < atMm.length - 2 && mm >= atMm[k + 1]!) k++;
  const span = atMm[k + 1]! - atMm[k]!;
  return weight[k]! + (weight[k + 1]! - weight[k]!) * (span > 0 ? Math.min(1, (mm - atMm[k]!) / span) : 1);
}
