import compiled from '../../kernels/min-cut.wasm';
import { atOnce, type Steps } from '../../steps';
import { KernelModule, makeRoom, type Kernel } from '../../kernels/web-assembly';

/** See core/kernels/assembly/min-cut.ts. */
interface Functions {
  bytesFor(count: number): number;
  begin(start: number, widthPx: number, heightPx: number): void;
  plant(): void;
  cut(rounds: number): number;
  flowThrough(): number;
  isOnSinkSide(node: number): number;
}
const KERNEL = new KernelModule<Functions>(compiled);
/** Rounds that take a few milliseconds. */
const ROUNDS_OF_A_STEP = 20_000;
/** The first of a kernel's memory is left to its compiler. */
const START = 1024;

/** Directions of arcs: right, left, down, up; the opposite of `d` is `d ^ 1`. */
export const RIGHT = 0;
export const DOWN = 2;

/**
 * Least cut of a grid graph: each node is joined to its four neighbours, to a source and to a sink. Capacities are whole
 * numbers, so that the result is the same on every machine. Memory is kept from cut to cut.
 *
 * Source: Boykov, Kolmogorov, "An Experimental Comparison of Min-Cut/Max-Flow Algorithms for Energy Minimization in
 * Vision", 2004.
 */
export class GridCut {
  private kernel: Kernel<Functions> | undefined;
  /** Room left on the arc from node i in direction d, at 4·i + d. Arcs that leave the grid must hold 0. */
  arcs = new Int32Array(0);
  /** Room from the source (positive) or to the sink (negative). */
  ends = new Int32Array(0);

  /** Empties the graph and makes room for widthPx · heightPx nodes. */
  begin(widthPx: number, heightPx: number): void {
    const count = widthPx * heightPx;
    this.kernel ??= KERNEL.ofItsOwn();
    const { memory } = this.kernel;
    makeRoom(this.kernel, START + this.kernel.bytesFor(count));
    this.kernel.begin(START, widthPx, heightPx);
    this.arcs = new Int32Array(memory.buffer, START, 4 * count);
    this.ends = new Int32Array(memory.buffer, START + 16 * ((count + 15) & ~15), count);
  }

  /** Cuts what was filled in since `begin`. @returns the flow; afterwards `isOnSinkSide` tells the sides */
  solve(): number {
    return atOnce(this.solving());
  }

  /** The same in steps. Until they end nobody else may use this memory. */
  *solving(): Steps<number> {
    const { kernel } = this;
    kernel!.plant();
    while (!kernel!.cut(ROUNDS_OF_A_STEP)) yield;
    return kernel!.flowThrough();
  }

  /** Whether a node lies on the side of the sink; nodes that might lie on either are on that of the source. */
  isOnSinkSide(node: number): boolean {
    return this.kernel!.isOnSinkSide(node) !== 0;
  }
}
