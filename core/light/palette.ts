import { squared } from '../exact';
import { linearToLab, linearToOklab, type Triple } from '../colour';
import { seededRandom, type ColourPicture } from '../raster';

/** One colour of a picture's palette. */
export interface PaletteColour {
  /** Mean in linear light over its pixels. */
  linear: Triple;
  lab: Triple;
  /** Share of the area, 0–1. */
  share: number;
}

const PIXELS = 12000;
const TURNS = 24;
/** Colours nearer than this in Oklab are one; about 4 in CIEDE2000. */
const ONE = 0.035;

/**
 * The colours of a picture: k-means in Oklab (Lloyd 1982) from well spread starts (k-means++, Arthur and Vassilvitskii
 * 2007); clusters that look alike are put together, so that there may be fewer than asked for.
 * @param picture linear light
 * @param count at most so many, 1–24
 * @returns sorted by share, largest first
 */
export function paletteOf(picture: ColourPicture, count: number): PaletteColour[] {
  const n = picture.r.length;
  const step = Math.max(1, n / PIXELS);
  const linear: Triple[] = [];
  for (let k = 0; k * step < n; k++) {
    const i = Math.floor(k * step);
    linear.push([picture.r[i]!, picture.g[i]!, picture.b[i]!]);
  }
  const points = linear.map(linearToOklab);
  const distance = (a: Triple, b: Triple) =>
    squared(a[0] - b[0]) + squared(a[1] - b[1]) + squared(a[2] - b[2]);
  const random = seededRandom(7);
  let centres: Triple[] = [points[random.whole(points.length)]!];
  const nearest = points.map((p) => distance(p, centres[0]!));
  while (centres.length < Math.min(Math.max(1, Math.round(count)), 24)) {
    const total = nearest.reduce((a, b) => a + b, 0);
    if (total < 1e-9) break;
    let at = random.next() * total;
    const chosen = nearest.findIndex((d) => (at -= d) <= 0);
    const next = points[Math.max(0, chosen)]!;
    centres.push(next);
    points.forEach((p, i) => (nearest[i] = Math.min(nearest[i]!, distance(p, next))));
  }
  let members = new Int32Array(points.length);
  const assign = () => {
    members = Int32Array.from(points, (p) => {
      let best = 0;
      for (let c = 1; c < centres.length; c++)
        if (distance(p, centres[c]!) < distance(p, centres[best]!)) best = c;
      return best;
    });
  };
  const meansOf = (of: readonly Triple[]) =>
    centres.map((_, c) => {
      const sum = [0, 0, 0];
      let count_ = 0;
      of.forEach((p, i) => {
        if (members[i] !== c) return;
        count_++;
        for (let k = 0; k < 3; k++) sum[k]! += p[k]!;
      });
      return { mean: sum.map((v) => v / Math.max(1, count_)) as unknown as Triple, count: count_ };
    });
  for (let turn = 0; turn < TURNS; turn++) {
    assign();
    const next = meansOf(points);
    const moved = Math.max(...next.map((m, c) => (m.count ? distance(m.mean, centres[c]!) : 0)));
    centres = next.filter((m) => m.count > 0).map((m) => m.mean);
    if (moved < 1e-8) break;
  }
  // The two nearest become one until all are apart.
  for (;;) {
    assign();
    const groups = meansOf(points);
    let pair: [number, number] | null = null;
    let least = squared(ONE);
    for (let a = 0; a < centres.length; a++)
      for (let b = a + 1; b < centres.length; b++)
        if (distance(centres[a]!, centres[b]!) < least) {
          least = distance(centres[a]!, centres[b]!);
          pair = [a, b];
        }
    if (!pair) break;
    const [a, b] = pair;
    const [ga, gb] = [groups[a]!, groups[b]!];
    const all = Math.max(1, ga.count + gb.count);
    centres[a] = ga.mean.map((v, k) => (v * ga.count + gb.mean[k]! * gb.count) / all) as unknown as Triple;
    centres.splice(b, 1);
  }
  return meansOf(linear)
    .filter((m) => m.count > 0)
    .map((m) => ({ linear: m.mean, lab: linearToLab(m.mean), share: m.count / points.length }))
    .sort((a, b) => b.share - a.share);
}
