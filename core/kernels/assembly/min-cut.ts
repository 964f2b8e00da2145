// AssemblyScript, compiled by `npm run kernels` to ../min-cut.wasm.ts; core/repeat/compose/min-cut.ts fills its memory.
//
// Source: Boykov, Kolmogorov, "An Experimental Comparison of Min-Cut/Max-Flow Algorithms for Energy Minimization in
// Vision", 2004: two search trees, one from the source and one from the sink, that are repaired instead of grown anew.

/** Which tree a node is in. */
const FREE: u8 = 0;
const SOURCE: u8 = 1;
const SINK: u8 = 2;
/** Parents are directions (0–3) or one of these. */
const NO_PARENT: i8 = -1;
/** The parent is source or sink itself. */
const TERMINAL: i8 = -2;
const ORPHAN: i8 = -3;
const FAR: i32 = 0x7fffffff;

// Addresses of the arrays, one element for each node; four for `arcs`.
let nodes: i32 = 0;
let right: i32 = 0;
let below: i32 = 0;
let arcs: usize = 0;
let ends: usize = 0;
let tree: usize = 0;
let parent: usize = 0;
let stamp: usize = 0;
let distance: usize = 0;
let queue: usize = 0;
let queued: usize = 0;
let orphans: usize = 0;

let queueHead: i32 = 0;
let queueLength: i32 = 0;
let orphanHead: i32 = 0;
let orphanCount: i32 = 0;

/** Bytes of memory that a grid needs, from `start` on; `arcs` and `ends` lie first. */
export function bytesFor(count: i32): i32 {
  return 39 * ((count + 15) & ~15);
}

/** Lays the arrays out; `arcs` and `ends` are then filled. */
export function begin(start: usize, widthPx: i32, heightPx: i32): void {
  nodes = widthPx * heightPx;
  right = 1;
  below = widthPx;
  const n = <usize>((nodes + 15) & ~15);
  arcs = start;
  ends = arcs + 16 * n;
  stamp = ends + 4 * n;
  distance = stamp + 4 * n;
  queue = distance + 4 * n;
  orphans = queue + 4 * n;
  tree = orphans + 4 * n;
  parent = tree + n;
  queued = parent + n;
  memory.fill(arcs, 0, 20 * n);
}

function stepOf(d: i32): i32 {
  const step = d < 2 ? right : below;
  return (d & 1) == 0 ? step : -step;
}
function arcAt(node: i32, d: i32): usize {
  return arcs + ((<usize>(4 * node + d)) << 2);
}
function at4(array: usize, node: i32): usize {
  return array + ((<usize>node) << 2);
}

let flow: f64 = 0;
let time: i32 = 0;
let current: i32 = -1;

/** Makes the trees ready for `cut`. */
export function plant(): void {
  queueHead = queueLength = orphanHead = orphanCount = 0;
  memory.fill(queued, 0, <usize>nodes);
  memory.fill(stamp, 0, (<usize>nodes) << 2);
  for (let i = 0; i < nodes; i++) {
    const room = load<i32>(at4(ends, i));
    store<i32>(at4(distance, i), 1);
    store<u8>(tree + <usize>i, room == 0 ? FREE : room > 0 ? SOURCE : SINK);
    store<i8>(parent + <usize>i, room == 0 ? NO_PARENT : TERMINAL);
    if (room != 0) enqueue(i);
  }
  flow = 0;
  time = 0;
  current = -1;
}

/** Cuts on, for so many rounds at most. @returns whether it is done: `tree` then tells the sides */
export function cut(rounds: i32): bool {
  for (let round = 0; round < rounds; round++) {
    let node = current;
    if (node < 0 || isLoose(node)) {
      node = dequeue();
      if (node < 0) return true;
    }
    const direction = grow(node);
    time++;
    current = -1;
    if (direction < 0) continue;
    current = node;
    const other = node + stepOf(direction);
    flow +=
      load<u8>(tree + <usize>node) == SOURCE
        ? <f64>augment(node, other, direction)
        : <f64>augment(other, node, direction ^ 1);
    adopt(time);
  }
  return false;
}

/** What flows through the cut. */
export function flowThrough(): f64 {
  return flow;
}

/** Whether a node lies on the side of the sink; nodes that might lie on either are on that of the source. */
export function isOnSinkSide(node: i32): bool {
  return load<u8>(tree + <usize>node) == SINK;
}

function isLoose(node: i32): bool {
  return load<u8>(tree + <usize>node) == FREE || load<i8>(parent + <usize>node) == NO_PARENT;
}

function enqueue(node: i32): void {
  if (load<u8>(queued + <usize>node)) return;
  store<u8>(queued + <usize>node, 1);
  let place = queueHead + queueLength;
  if (place >= nodes) place -= nodes;
  store<i32>(at4(queue, place), node);
  queueLength++;
}

function dequeue(): i32 {
  while (queueLength > 0) {
    const node = load<i32>(at4(queue, queueHead));
    queueHead = queueHead + 1 == nodes ? 0 : queueHead + 1;
    queueLength--;
    store<u8>(queued + <usize>node, 0);
    if (!isLoose(node)) return node;
  }
  return -1;
}

/** An orphan waits only once, so that no more than all nodes wait. */
function orphan(node: i32): void {
  store<i8>(parent + <usize>node, ORPHAN);
  let place = orphanHead + orphanCount;
  if (place >= nodes) place -= nodes;
  store<i32>(at4(orphans, place), node);
  orphanCount++;
}

/** Takes free neighbours into the node's tree. @returns the direction in which it meets the other tree; −1: it does not */
function grow(node: i32): i32 {
  const own = load<u8>(tree + <usize>node);
  const depth = load<i32>(at4(distance, node)) + 1;
  const mark = load<i32>(at4(stamp, node));
  for (let d = 0; d < 4; d++) {
    const j = node + stepOf(d);
    if (
      own == SOURCE ? load<i32>(arcAt(node, d)) <= 0 : j < 0 || j >= nodes || load<i32>(arcAt(j, d ^ 1)) <= 0
    )
      continue;
    const other = load<u8>(tree + <usize>j);
    if (other == FREE) {
      store<u8>(tree + <usize>j, own);
      enqueue(j);
    } else if (other != own) return d;
    else if (load<i32>(at4(stamp, j)) > mark || load<i32>(at4(distance, j)) < depth) continue;
    // A new node, or one with a shorter way to its end.
    store<i8>(parent + <usize>j, <i8>(d ^ 1));
    store<i32>(at4(stamp, j), mark);
    store<i32>(at4(distance, j), depth);
  }
  return -1;
}

/** Sends as much as fits along both trees and the arc between them. @param node in the tree of the source */
function augment(node: i32, other: i32, direction: i32): i32 {
  let least = load<i32>(arcAt(node, direction));
  let i = node;
  for (let d = load<i8>(parent + <usize>i); d >= 0; d = load<i8>(parent + <usize>i)) {
    i += stepOf(d);
    least = min(least, load<i32>(arcAt(i, d ^ 1)));
  }
  least = min(least, load<i32>(at4(ends, i)));
  i = other;
  for (let d = load<i8>(parent + <usize>i); d >= 0; d = load<i8>(parent + <usize>i)) {
    least = min(least, load<i32>(arcAt(i, d)));
    i += stepOf(d);
  }
  least = min(least, -load<i32>(at4(ends, i)));

  pass(arcAt(node, direction), arcAt(other, direction ^ 1), least);
  i = node;
  for (let d = load<i8>(parent + <usize>i); d >= 0; d = load<i8>(parent + <usize>i)) {
    const above = i + stepOf(d);
    if (pass(arcAt(above, d ^ 1), arcAt(i, d), least)) orphan(i);
    i = above;
  }
  take(i, -least);
  i = other;
  for (let d = load<i8>(parent + <usize>i); d >= 0; d = load<i8>(parent + <usize>i)) {
    const above = i + stepOf(d);
    if (pass(arcAt(i, d), arcAt(above, d ^ 1), least)) orphan(i);
    i = above;
  }
  take(i, least);
  return least;
}

/** Sends a flow along an arc. @returns whether it is full then */
function pass(along: usize, back: usize, flow: i32): bool {
  const room = load<i32>(along) - flow;
  store<i32>(along, room);
  store<i32>(back, load<i32>(back) + flow);
  return room == 0;
}

function take(node: i32, flow: i32): void {
  const room = load<i32>(at4(ends, node)) + flow;
  store<i32>(at4(ends, node), room);
  if (room == 0) orphan(node);
}

/** Orphans look for another way to their end, the shortest there is; without one they become free. */
function adopt(time: i32): void {
  while (orphanCount > 0) {
    const node = load<i32>(at4(orphans, orphanHead));
    orphanHead = orphanHead + 1 == nodes ? 0 : orphanHead + 1;
    orphanCount--;
    const own = load<u8>(tree + <usize>node);
    let best = <i32>NO_PARENT;
    let shortest = FAR;
    for (let d = 0; d < 4; d++) {
      const j = node + stepOf(d);
      if (!isOfTree(j, own) || !hasRoom(node, j, d, own)) continue;
      const far = lengthToEnd(j, time);
      if (far == FAR) continue;
      if (far < shortest) {
        best = d;
        shortest = far;
      }
      markPath(j, far, time);
    }
    store<i8>(parent + <usize>node, <i8>best);
    if (best != <i32>NO_PARENT) {
      store<i32>(at4(stamp, node), time);
      store<i32>(at4(distance, node), shortest + 1);
    } else free(node, own);
  }
}

/** Children of a node that becomes free are orphans; neighbours may grow into it later. */
function free(node: i32, own: u8): void {
  for (let d = 0; d < 4; d++) {
    const j = node + stepOf(d);
    if (!isOfTree(j, own)) continue;
    if (hasRoom(node, j, d, own)) enqueue(j);
    const up = <i32>load<i8>(parent + <usize>j);
    if (up >= 0 && j + stepOf(up) == node) orphan(j);
  }
  store<u8>(tree + <usize>node, FREE);
}

function isOfTree(j: i32, own: u8): bool {
  return j >= 0 && j < nodes && load<u8>(tree + <usize>j) == own && load<i8>(parent + <usize>j) != NO_PARENT;
}

/** Whether flow may run between a node and its neighbour, towards the sink. */
function hasRoom(node: i32, j: i32, d: i32, own: u8): bool {
  return load<i32>(own == SOURCE ? arcAt(j, d ^ 1) : arcAt(node, d)) > 0;
}

/** Steps from a node to its end; FAR where it does not hang on it any more. */
function lengthToEnd(node: i32, time: i32): i32 {
  let steps = 0;
  let i = node;
  while (load<i32>(at4(stamp, i)) != time) {
    const up = <i32>load<i8>(parent + <usize>i);
    steps++;
    if (up == <i32>TERMINAL) {
      store<i32>(at4(stamp, i), time);
      store<i32>(at4(distance, i), 1);
      return steps;
    }
    if (up < 0) return FAR;
    i += stepOf(up);
  }
  return steps + load<i32>(at4(distance, i));
}

/** Writes down how far the nodes of a path are from their end. */
function markPath(node: i32, far: i32, time: i32): void {
  for (let i = node; load<i32>(at4(stamp, i)) != time; i += stepOf(load<i8>(parent + <usize>i))) {
    store<i32>(at4(stamp, i), time);
    store<i32>(at4(distance, i), far--);
  }
}
