import type { Canvas } from '../generate';

/** Distance along one axis over which a plane loses half of its likeness to itself, mm. */
export function halfLikeMm(
  { px: { width: w, height: h }, mm: pixel }: Canvas,
  data: Float32Array,
  axis: 'x' | 'y',
) {
  const mean = data.reduce((sum, v) => sum + v, 0) / data.length;
  const likeness = (d: number) => {
    let sum = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const other = axis === 'x' ? y * w + ((x + d) % w) : ((y + d) % h) * w + x;
        sum += (data[y * w + x]! - mean) * (data[other]! - mean);
      }
    return sum;
  };
  const half = likeness(0) / 2;
  let d = 1;
  while (likeness(d) > half) d++;
  const [before, after] = [likeness(d - 1), likeness(d)];
  return (d - 1 + (before - half) / (before - after)) * pixel[axis];
}
