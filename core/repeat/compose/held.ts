import { FEATURES } from './atlas';
import { neighbour, type ToroidalCanvas } from './toroidal-canvas';

/** A continuity line counts where its feature differs by so much, in steps of features: about half of what a line has, and more than a joint beside lines has. */
const BROKEN = 500;

/**
 * Over how many pixels continuity lines are broken in a repeat: along outlines where a line of one copy meets none of the other.
 * @returns 0 where all run on, or there are none
 */
export function brokenHoldPx(torus: ToroidalCanvas): number {
  const { widthPx: W, heightPx: H, place, atlas } = torus;
  const { features, stride, hasLines } = atlas;
  if (!hasLines) return 0;
  const held = (at: number) => features[at * FEATURES + 5]!;
  let broken = 0;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      for (const [down, step] of [
        [false, 1],
        [true, stride],
      ] as const) {
        const next = neighbour(torus, x, y, down);
        if (next < 0) continue;
        const [a, b] = [place[y * W + x]!, place[next]!];
        if (a + step === b) continue;
        // What each copy would have on the other side of the outline.
        if (Math.abs(held(a + step) - held(b)) > BROKEN || Math.abs(held(a) - held(b - step)) > BROKEN)
          broken++;
      }
  return broken;
}
