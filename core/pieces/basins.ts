import { Neighbours } from './neighbours';

/** Basins are one piece when the saddle between them is so high, as a share of the lower of their middles. */
const ONE_PIECE = 0.72;

/** Distances are sorted by so many steps a pixel. */
const STEPS = 16;

/** Pixels of a positive distance, the farthest first: sorted by sixteenths of a pixel, then by place. */
function fromFarthest(far: Float32Array): Uint32Array {
  let most = 0;
  for (const d of far) most = Math.max(most, Math.round(STEPS * d));
  const starts = new Uint32Array(most + 2);
  for (const d of far) if (d > 0) starts[most - Math.round(STEPS * d) + 1]!++;
  for (let k = 1; k < starts.length; k++) starts[k]! += starts[k - 1]!;
  const order = new Uint32Array(starts[most + 1]!);
  for (let i = 0; i < far.length; i++)
    if (far[i]! > 0) order[starts[most - Math.round(STEPS * far[i]!)]!++] = i;
  return order;
}

/**
 * Basins of a distance, flooded from their middles down (watershed, Meyer 1994); basins over a high saddle are one.
 * @param far distance of every pixel; 0 where there is no piece
 * @returns a number of its basin for every pixel, −1 where the distance is 0
 */
export function basins(far: Float32Array, around: Neighbours): Int32Array {
  const order = fromFarthest(far);
  const label = new Int32Array(far.length).fill(-1);
  // A basin for each peak; those that were united point at the higher one.
  const parent = new Int32Array(order.length);
  const peak = new Float64Array(order.length);
  let count = 0;
  const root = (k: number): number => {
    while (parent[k] !== k) {
      parent[k] = parent[parent[k]!]!;
      k = parent[k]!;
    }
    return k;
  };
  for (const i of order) {
    const here = far[i]!;
    let mine = -1;
    const beside = around.of(i);
    for (let k = 0; k < beside; k++) {
      const there = label[around.at[k]!]!;
      if (there < 0) continue;
      const other = root(there);
      if (mine < 0) mine = other;
      else if (other !== mine) {
        const lower = peak[other]! < peak[mine]!;
        const low = lower ? other : mine;
        mine = lower ? mine : other;
        if (here >= ONE_PIECE * peak[low]!) parent[low] = mine;
      }
    }
    if (mine < 0) {
      mine = count++;
      parent[mine] = mine;
      peak[mine] = here;
    }
    label[i] = mine;
  }
  for (let i = 0; i < label.length; i++) if (label[i]! >= 0) label[i] = root(label[i]!);
  return label;
}
