/**
 * Least cut of a grid graph: each node is joined to its four neighbours and to two ends. The work arrays are kept from
 * cut to cut.
 *
 * Source: Boykov, Kolmogorov, "An Experimental Comparison of Min-Cut/Max-Flow Algorithms for Energy Minimization in
 * Vision", 2004 — two search trees that are mended instead of grown anew. Capacities are whole numbers, so that the
 * result is the same on every machine.
 */

/** Directions of arcs: right, left, down, up; the opposite of `d` is `d ^ 1`. */
export const RIGHT = 0;
export const DOWN = 2;

const FREE = 0;
const FROM = 1;
const TO = 2;
const NO_PARENT = -1;
/** Parent is the end itself. */
const END = -2;
const ORPHAN = -3;

export class GridCut {
  private size = 0;
  /** Room left on the arc from node i in direction d, at 4·i + d. Arcs that leave the grid must hold 0. */
  arcs = new Int32Array(0);
  /** Room from the first end (positive) or to the second end (negative). */
  ends = new Int32Array(0);
  private tree = new Uint8Array(0);
  private parent = new Int8Array(0);
  private stamp = new Int32Array(0);
  private distance = new Int32Array(0);
  private queue = new Int32Array(0);
  private queued = new Uint8Array(0);
  private readonly orphans: number[] = [];
  private head = 0;
  private tail = 0;
  private waiting = 0;

  /** Empties the graph and makes room for widthPx · heightPx nodes. */
  begin(widthPx: number, heightPx: number): void {
    this.size = widthPx * heightPx;
    if (this.tree.length < this.size) {
      const n = Math.ceil(this.size * 1.25);
      this.arcs = new Int32Array(4 * n);
      this.ends = new Int32Array(n);
      this.tree = new Uint8Array(n);
      this.parent = new Int8Array(n);
      this.stamp = new Int32Array(n);
      this.distance = new Int32Array(n);
      this.queue = new Int32Array(n);
      this.queued = new Uint8Array(n);
    } else {
      this.arcs.fill(0, 0, 4 * this.size);
      this.ends.fill(0, 0, this.size);
    }
  }

  /**
   * Cuts.
   * @param widthPx the width given to `begin`
   * @returns the flow; afterwards `onSecondSide` tells the sides
   */
  solve(widthPx: number): number {
    const { size: n, ends, arcs, tree, parent, stamp, distance } = this;
    const steps = [1, -1, widthPx, -widthPx];
    this.head = this.tail = this.waiting = 0;
    this.orphans.length = 0;
    this.queued.fill(0, 0, n);
    for (let i = 0; i < n; i++) {
      const room = ends[i]!;
      stamp[i] = 0;
      distance[i] = 1;
      if (room === 0) {
        tree[i] = FREE;
        parent[i] = NO_PARENT;
      } else {
        tree[i] = room > 0 ? FROM : TO;
        parent[i] = END;
        this.enqueue(i);
      }
    }
    let flow = 0;
    let time = 0;
    let current = -1;
    for (;;) {
      let node = current;
      if (node < 0 || tree[node] === FREE || parent[node] === NO_PARENT) {
        node = this.dequeue();
        if (node < 0) break;
      }
      current = -1;
      // Grow.
      let meet = -1;
      let meetDirection = 0;
      const own = tree[node]!;
      for (let d = 0; d < 4; d++) {
        const arc = 4 * node + d;
        const j = node + steps[d]!;
        if (own === FROM ? arcs[arc]! <= 0 : j < 0 || j >= n || arcs[4 * j + (d ^ 1)]! <= 0) continue;
        if (tree[j] === FREE) {
          tree[j] = own;
          parent[j] = d ^ 1;
          stamp[j] = stamp[node]!;
          distance[j] = distance[node]! + 1;
          this.enqueue(j);
        } else if (tree[j] !== own) {
          meet = own === FROM ? node : j;
          meetDirection = own === FROM ? d : d ^ 1;
          break;
        } else if (stamp[j]! <= stamp[node]! && distance[j]! > distance[node]!) {
          // A shorter way to the end.
          parent[j] = d ^ 1;
          stamp[j] = stamp[node]!;
          distance[j] = distance[node]! + 1;
        }
      }
      time++;
      if (meet < 0) continue;
      current = node;
      flow += this.augment(meet, meetDirection, steps);
      this.adopt(time, steps);
    }
    return flow;
  }

  /** Whether a node lies on the side of the second end; nodes that might lie on either are on the first. */
  onSecondSide(node: number): boolean {
    return this.tree[node] === TO;
  }

  private enqueue(node: number): void {
    if (this.queued[node]) return;
    this.queued[node] = 1;
    this.queue[this.tail] = node;
    this.tail = this.tail + 1 === this.queue.length ? 0 : this.tail + 1;
    this.waiting++;
  }

  private dequeue(): number {
    while (this.waiting > 0) {
      const node = this.queue[this.head]!;
      this.head = this.head + 1 === this.queue.length ? 0 : this.head + 1;
      this.waiting--;
      this.queued[node] = 0;
      if (this.tree[node] !== FREE && this.parent[node] !== NO_PARENT) return node;
    }
    return -1;
  }

  /** Sends as much as fits along the two trees and the arc where they meet. */
  private augment(node: number, direction: number, steps: readonly number[]): number {
    const { arcs, ends, parent, orphans } = this;
    const other = node + steps[direction]!;
    let least = arcs[4 * node + direction]!;
    let i = node;
    while (parent[i] !== END) {
      const d = parent[i]!;
      i += steps[d]!;
      least = Math.min(least, arcs[4 * i + (d ^ 1)]!);
    }
    least = Math.min(least, ends[i]!);
    i = other;
    while (parent[i] !== END) {
      const d = parent[i]!;
      least = Math.min(least, arcs[4 * i + d]!);
      i += steps[d]!;
    }
    least = Math.min(least, -ends[i]!);

    arcs[4 * node + direction]! -= least;
    arcs[4 * other + (direction ^ 1)]! += least;
    i = node;
    while (parent[i] !== END) {
      const d = parent[i]!;
      const above = i + steps[d]!;
      arcs[4 * i + d]! += least;
      arcs[4 * above + (d ^ 1)]! -= least;
      if (arcs[4 * above + (d ^ 1)] === 0) {
        parent[i] = ORPHAN;
        orphans.push(i);
      }
      i = above;
    }
    ends[i]! -= least;
    if (ends[i] === 0) {
      parent[i] = ORPHAN;
      orphans.push(i);
    }
    i = other;
    while (parent[i] !== END) {
      const d = parent[i]!;
      const above = i + steps[d]!;
      arcs[4 * above + (d ^ 1)]! += least;
      arcs[4 * i + d]! -= least;
      if (arcs[4 * i + d] === 0) {
        parent[i] = ORPHAN;
        orphans.push(i);
      }
      i = above;
    }
    ends[i]! += least;
    if (ends[i] === 0) {
      parent[i] = ORPHAN;
      orphans.push(i);
    }
    return least;
  }

  /** Nodes that lost their way to the end look for another, nearest first; else they become free. */
  private adopt(time: number, steps: readonly number[]): void {
    const { size: n, arcs, tree, parent, stamp, distance, orphans } = this;
    for (let k = 0; k < orphans.length; k++) {
      const node = orphans[k]!;
      const own = tree[node]!;
      let best = NO_PARENT;
      let bestDistance = Infinity;
      for (let d = 0; d < 4; d++) {
        const j = node + steps[d]!;
        if (j < 0 || j >= n || tree[j] !== own || parent[j] === NO_PARENT) continue;
        if ((own === FROM ? arcs[4 * j + (d ^ 1)]! : arcs[4 * node + d]!) <= 0) continue;
        // Does the neighbour still hang on the end?
        let i = j;
        let far = 0;
        for (;;) {
          if (stamp[i] === time) {
            far += distance[i]!;
            break;
          }
          const p = parent[i]!;
          far++;
          if (p === END) {
            stamp[i] = time;
            distance[i] = 1;
            break;
          }
          if (p === ORPHAN || p === NO_PARENT) {
            far = Infinity;
            break;
          }
          i += steps[p]!;
        }
        if (far === Infinity) continue;
        if (far < bestDistance) {
          best = d;
          bestDistance = far;
        }
        for (i = j; stamp[i] !== time; i += steps[parent[i]!]!) {
          stamp[i] = time;
          distance[i] = far--;
        }
      }
      parent[node] = best;
      if (best !== NO_PARENT) {
        stamp[node] = time;
        distance[node] = bestDistance + 1;
        continue;
      }
      for (let d = 0; d < 4; d++) {
        const j = node + steps[d]!;
        if (j < 0 || j >= n || tree[j] !== own || parent[j] === NO_PARENT) continue;
        if ((own === FROM ? arcs[4 * j + (d ^ 1)]! : arcs[4 * node + d]!) > 0) this.enqueue(j);
        if (parent[j]! >= 0 && j + steps[parent[j]!]! === node) {
          parent[j] = ORPHAN;
          orphans.push(j);
        }
      }
      tree[node] = FREE;
    }
    orphans.length = 0;
  }
}
