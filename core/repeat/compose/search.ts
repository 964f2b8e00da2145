import { squared } from '../../exact';
import { nextPowerOfTwo, fft2d, type Spectrum } from '../../raster';
import type { Steps } from '../../steps';
import { FEATURES, type Atlas } from './atlas';
import type { ToroidalCanvas, Window } from './toroidal-canvas';

/**
 * Where in the sample something fits what already lies in a window: the sum of squared differences for every place at
 * once, by Fourier transform (Kwatra et al. 2003, section 3.1; the masked form after Kaspar et al. 2015).
 */
export interface Searcher {
  /**
   * @param window of the torus
   * @param weights how much each pixel of the window counts, row by row; unset pixels count 0 whatever is given
   * @param most how many places are wanted
   * @param options which places are allowed, what is added to the mean squared difference of each, and chance, 0–1, which
   * decides among what fits nearly as well
   * @returns steps; in the end the best places, apart from each other; empty when the window fits nowhere
   */
  find(
    torus: ToroidalCanvas,
    window: Window,
    weights: Float32Array,
    most: number,
    options: {
      allowed: (partIndex: number, x: number, y: number) => boolean;
      penalty: (partIndex: number, x: number, y: number) => number;
      random: () => number;
    },
  ): Steps<Found[]>;
}

export interface Found {
  partIndex: number;
  x: number;
  y: number;
  cost: number;
}

/** Features that are compared: L*, a*, b* and continuity line. */
const COMPARED = [0, 1, 2, 5] as const;

/** Prepares an atlas for searching. */
export function makeSearcher(atlas: Atlas): Searcher {
  const { stride, features, parts } = atlas;
  const prepared = parts.map((part) => {
    const [w, h] = [nextPowerOfTwo(part.widthPx), nextPowerOfTwo(part.heightPx)];
    const plane = (value: (f: number) => readonly [number, number]) => {
      const data = new Float64Array(2 * w * h);
      for (let y = 0; y < part.heightPx; y++)
        for (let x = 0; x < part.widthPx; x++) {
          const f = (part.first + y * stride + x) * FEATURES;
          const to = 2 * (y * w + x);
          [data[to], data[to + 1]] = value(f);
        }
      return fft2d({ widthPx: w, heightPx: h, data }).data;
    };
    const [c0, c1, c2, c3] = COMPARED;
    return {
      part,
      w,
      h,
      first: plane((f) => [features[f + c0]!, features[f + c1]!]),
      second: plane((f) => [features[f + c2]!, features[f + c3]!]),
      squares: plane((f) => [
        squared(features[f + c0]!) +
          squared(features[f + c1]!) +
          squared(features[f + c2]!) +
          squared(features[f + c3]!),
        0,
      ]),
    };
  });

  return {
    *find(torus, window, weights, most, { allowed, penalty, random }) {
      const { widthPx: W, heightPx: H, place } = torus;
      const { x: x0, y: y0, widthPx: ww, heightPx: wh } = window;
      const n = ww * wh;
      const now = new Int32Array(n);
      let total = 0;
      let own = 0;
      for (let v = 0; v < wh; v++)
        for (let u = 0; u < ww; u++) {
          const i = v * ww + u;
          const p = place[((((y0 + v) % H) + H) % H) * W + ((((x0 + u) % W) + W) % W)]!;
          now[i] = weights[i]! > 0 ? p : -1;
          if (now[i]! < 0) continue;
          const f = p * FEATURES;
          total += weights[i]!;
          for (const c of COMPARED) own += weights[i]! * squared(features[f + c]!);
        }
      const best: Found[] = [];
      const scores: { partIndex: number; score: Float64Array; across: number; down: number }[] = [];
      for (const [partIndex, { part, w, h, first, second, squares }] of prepared.entries()) {
        const across = part.widthPx - ww + 1;
        const down = part.heightPx - wh + 1;
        if (across < 1 || down < 1) continue;
        // Infinity: not allowed.
        const score = new Float64Array(across * down);
        let some = false;
        for (let i = 0; i < score.length; i++) {
          if (allowed(partIndex, i % across, Math.floor(i / across))) some = true;
          else score[i] = Infinity;
        }
        if (!some) continue;
        yield;
        if (total > 0) {
          const plane = (value: (i: number, f: number) => readonly [number, number]): Spectrum => {
            const data = new Float64Array(2 * w * h);
            for (let v = 0; v < wh; v++)
              for (let u = 0; u < ww; u++) {
                const i = v * ww + u;
                if (now[i]! < 0) continue;
                const to = 2 * (v * w + u);
                [data[to], data[to + 1]] = value(i, now[i]! * FEATURES);
              }
            return fft2d({ widthPx: w, heightPx: h, data });
          };
          const [c0, c1, c2, c3] = COMPARED;
          const a = plane((i, f) => [weights[i]! * features[f + c0]!, weights[i]! * features[f + c1]!]).data;
          const b = plane((i, f) => [weights[i]! * features[f + c2]!, weights[i]! * features[f + c3]!]).data;
          const m = plane((i) => [weights[i]!, 0]).data;
          yield;
          const sum = new Float64Array(2 * w * h);
          // Real part of the inverse: Σ m·s² − 2 Σ m·c·s.
          for (let k = 0; k < sum.length; k += 2) {
            sum[k] =
              m[k]! * squares[k]! +
              m[k + 1]! * squares[k + 1]! -
              2 *
                (a[k]! * first[k]! +
                  a[k + 1]! * first[k + 1]! +
                  b[k]! * second[k]! +
                  b[k + 1]! * second[k + 1]!);
            sum[k + 1] =
              m[k]! * squares[k + 1]! -
              m[k + 1]! * squares[k]! -
              2 *
                (a[k]! * first[k + 1]! -
                  a[k + 1]! * first[k]! +
                  b[k]! * second[k + 1]! -
                  b[k + 1]! * second[k]!);
          }
          const back = fft2d({ widthPx: w, heightPx: h, data: sum }, true).data;
          yield;
          for (let y = 0; y < down; y++)
            for (let x = 0; x < across; x++)
              score[y * across + x]! += Math.max(0, back[2 * (y * w + x)]! + own) / total;
        }
        for (let y = 0; y < down; y++)
          for (let x = 0; x < across; x++) {
            const i = y * across + x;
            if (score[i] !== Infinity) score[i]! += penalty(partIndex, x, y);
          }
        scores.push({ partIndex, score, across, down });
      }
      yield;
      let least = Infinity;
      for (const { score } of scores) for (const v of score) if (v < least) least = v;
      if (least === Infinity) return [];
      // Chance decides among what fits nearly as well.
      const room = 0.15 * least + 40;
      for (const s of scores)
        for (let i = 0; i < s.score.length; i++)
          if (s.score[i]! < least + 6 * room) s.score[i]! += room * random();
      for (let k = 0; k < most; k++) {
        let found: Found | null = null;
        let cost = Infinity;
        for (const { partIndex, score, across } of scores)
          for (let i = 0; i < score.length; i++)
            if (score[i]! < cost) {
              cost = score[i]!;
              found = { partIndex, x: i % across, y: Math.floor(i / across), cost };
            }
        if (!found) break;
        best.push(found);
        // The next ones lie elsewhere.
        const { score, across, down } = scores.find((s) => s.partIndex === found.partIndex)!;
        const reach = Math.max(2, Math.floor(Math.min(ww, wh) / 6));
        for (let y = Math.max(0, found.y - reach); y <= Math.min(down - 1, found.y + reach); y++)
          for (let x = Math.max(0, found.x - reach); x <= Math.min(across - 1, found.x + reach); x++)
            score[y * across + x] = Infinity;
      }
      return best;
    },
  };
}
