import { squared } from '../exact';
import {
  blurWrapped,
  fillPolygon,
  luminanceOf,
  makePlane,
  mapChannels,
  type ColourPicture,
  type Plane,
} from '../raster';
import { toFrame, toPicture, type Frame, type Point } from '../straighten';
import type { GlareFill } from './settings';

/** One place of glare. */
export interface GlarePlace {
  /** Outline in shares of the picture as received, a little larger than what was found. */
  points: [number, number][];
  /** Share of the frame, 0–1. */
  share: number;
  /** How much brighter than its surround, as a factor. */
  times: number;
  /** From where its detail can be taken, a step in shares of the frame; null: too large, or nothing fits. */
  from: [number, number] | null;
}

const CLIPPED = 0.985;
/** Up to this share of the frame a place counts as small enough to be filled. */
const FILLABLE = 0.012;
const LEAST = 0.00012;
/** How much of its hull a place of glare fills. */
const SPOT = 0.45;

const lum = ({ r, g, b }: ColourPicture, i: number) => luminanceOf(r[i]!, g[i]!, b[i]!);

/** Mirrors a plane to twice its size, so that a wrapping blur sees no step at its edges. */
function softMirrored(plane: Plane, weight: Plane, sigmaPx: number): Plane {
  const { widthPx: w, heightPx: h } = plane;
  const unfold = (p: Plane, times: Plane | null): Plane => {
    const out = makePlane(2 * w, 2 * h);
    for (let y = 0; y < 2 * h; y++)
      for (let x = 0; x < 2 * w; x++) {
        const i = (y < h ? y : 2 * h - 1 - y) * w + (x < w ? x : 2 * w - 1 - x);
        out.data[y * 2 * w + x] = p.data[i]! * (times ? times.data[i]! : 1);
      }
    return out;
  };
  const v = blurWrapped(unfold(plane, weight), sigmaPx, sigmaPx);
  const n = blurWrapped(unfold(weight, null), sigmaPx, sigmaPx);
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const k = y * 2 * w + x;
      out.data[y * w + x] = n.data[k]! > 1e-4 ? v.data[k]! / n.data[k]! : 0;
    }
  return out;
}

/**
 * Finds glare in a straightened sample: places that are clipped, or much brighter than what lies round them and at the
 * same time lower in colour, as a mirrored lamp is. A pale chip keeps its colour; a lamp adds white.
 *
 * @param picture the straightened frame, linear light as received, some hundred pixels
 * @param frame of it
 * @param keptOut 1 where the picture is not used anyway
 */
export function findGlare(picture: ColourPicture, frame: Frame, keptOut?: Plane): GlarePlace[] {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const n = w * h;
  const bright = makePlane(w, h);
  const grey = makePlane(w, h);
  const usable = makePlane(w, h, 1);
  const clipped = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const [most, least] = [Math.max(r[i]!, g[i]!, b[i]!), Math.min(r[i]!, g[i]!, b[i]!)];
    bright.data[i] = Math.log(Math.max(1e-4, lum(picture, i)));
    grey.data[i] = most > 1e-4 ? Math.max(0, least) / most : 1;
    clipped[i] = least > CLIPPED ? 1 : 0;
    if (clipped[i] || (keptOut && keptOut.data[i]! > 0.5)) usable.data[i] = 0;
  }
  const sigma = Math.max(w, h) / 10;
  // Twice: what was found at first does not lift the surround the second time.
  let found = new Uint8Array(n);
  for (let turn = 0; turn < 2; turn++) {
    const [base, tone] = [softMirrored(bright, usable, sigma), softMirrored(grey, usable, sigma)];
    let [squares, count] = [0, 0];
    for (let i = 0; i < n; i++)
      if (usable.data[i]! > 0) {
        squares += Math.min(0.25, squared(bright.data[i]! - base.data[i]!));
        count++;
      }
    // The finish's own spread decides what is much.
    const much = Math.max(0.3, 2.6 * Math.sqrt(squares / Math.max(1, count)));
    const strong = new Uint8Array(n);
    const weak = new Uint8Array(n);
    for (let i = 0; i < n; i++) {
      if (keptOut && keptOut.data[i]! > 0.5) continue;
      const over = bright.data[i]! - base.data[i]!;
      // How far the colour went towards white; of a grey finish it says nothing, so more brightness is asked.
      const room = 1 - tone.data[i]!;
      const paled = room > 0.08 ? (grey.data[i]! - tone.data[i]!) / room : 0;
      const asked = room > 0.08 ? much : 1.6 * much;
      if (clipped[i] || (over > asked && (room <= 0.08 || paled > 0.25))) strong[i] = 1;
      if (clipped[i] || (over > 0.4 * asked && (room <= 0.08 || paled > 0.1))) weak[i] = 1;
    }
    found = grown(strong, weak, w, h);
    for (let i = 0; i < n; i++) if (found[i]) usable.data[i] = 0;
  }
  return placesOf(found, picture, frame, keptOut);
}

/** All of the weak that hangs together with something strong. */
function grown(strong: Uint8Array, weak: Uint8Array, w: number, h: number): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(w * h);
  const stack: number[] = [];
  for (let i = 0; i < w * h; i++) if (strong[i]) stack.push(i);
  while (stack.length > 0) {
    const i = stack.pop()!;
    if (out[i]) continue;
    out[i] = 1;
    const x = i % w;
    for (const j of [x > 0 ? i - 1 : -1, x < w - 1 ? i + 1 : -1, i - w, i + w])
      if (j >= 0 && j < w * h && weak[j] && !out[j]) stack.push(j);
  }
  return out;
}

function placesOf(
  found: Uint8Array,
  picture: ColourPicture,
  frame: Frame,
  keptOut: Plane | undefined,
): GlarePlace[] {
  const { widthPx: w, heightPx: h } = picture;
  const seen = new Uint8Array(w * h);
  const places: GlarePlace[] = [];
  for (let start = 0; start < w * h; start++) {
    if (!found[start] || seen[start]) continue;
    const members: number[] = [];
    const stack = [start];
    seen[start] = 1;
    while (stack.length > 0) {
      const i = stack.pop()!;
      members.push(i);
      const x = i % w;
      for (let dy = -2; dy <= 2; dy++)
        for (let dx = -2; dx <= 2; dx++) {
          const j = i + dy * w + dx;
          if (x + dx < 0 || x + dx >= w || j < 0 || j >= w * h || seen[j] || !found[j]) continue;
          seen[j] = 1;
          stack.push(j);
        }
    }
    const share = members.length / (w * h);
    if (share < LEAST) continue;
    const hull = hullOf(members.map((i) => [i % w, Math.floor(i / w)] as const));
    // A mirrored lamp is a spot; what is thin and far-flung is drawn on the finish: joints, veins, threads.
    if (members.length < SPOT * areaOf(hull)) continue;
    const [cx, cy] = [0, 1].map((k) => hull.reduce((s, p) => s + p[k]!, 0) / hull.length) as [number, number];
    // A margin: the edge of a reflex is soft.
    const margin = 2 + 0.06 * Math.sqrt(members.length);
    const outline = hull.map(([x, y]) => {
      const d = Math.hypot(x - cx, y - cy) || 1;
      return [x + ((x - cx) / d) * margin, y + ((y - cy) / d) * margin] as const;
    });
    const mask = makePlane(w, h);
    fillPolygon(
      mask,
      outline.map(([x, y]) => [x + 0.5, y + 0.5]),
      1,
    );
    const inside = members.reduce((s, i) => s + lum(picture, i), 0) / members.length;
    places.push({
      points: outline.map(
        ([x, y]) => [...toPicture(frame, [(x + 0.5) / w, (y + 0.5) / h])] as [number, number],
      ),
      share,
      times: inside / Math.max(1e-4, ringMean(mask, picture)),
      from: share <= FILLABLE ? stepFor(mask, found, picture, keptOut) : null,
    });
  }
  return places.sort((a, b) => b.share - a.share).slice(0, 100);
}

/** Area of a polygon of pixels, borders included. */
const areaOf = (hull: readonly (readonly [number, number])[]) => {
  let sum = 0;
  let round = 0;
  hull.forEach(([x, y], i) => {
    const [u, v] = hull[(i + 1) % hull.length]!;
    sum += x * v - u * y;
    round += Math.hypot(u - x, v - y);
  });
  return Math.abs(sum) / 2 + round / 2 + 1;
};

/** Convex hull (Andrew 1979). */
function hullOf(points: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: typeof sorted) => {
    const out: (readonly [number, number])[] = [];
    for (const p of list) {
      while (out.length >= 2) {
        const [a, b] = [out[out.length - 2]!, out[out.length - 1]!];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  const hull = [...half(sorted), ...half(sorted.reverse())];
  // A point or a line has no inside: it gets one.
  if (hull.length >= 3) return hull;
  const [x, y] = sorted[0]!;
  const last = sorted[sorted.length - 1]!;
  return [
    [Math.min(x, last[0]) - 1, Math.min(y, last[1]) - 1],
    [Math.max(x, last[0]) + 1, Math.min(y, last[1]) - 1],
    [Math.max(x, last[0]) + 1, Math.max(y, last[1]) + 1],
    [Math.min(x, last[0]) - 1, Math.max(y, last[1]) + 1],
  ];
}

const boxOf = (mask: Plane) => {
  let [l, t, r, b] = [mask.widthPx, mask.heightPx, -1, -1];
  for (let i = 0; i < mask.data.length; i++) {
    if (mask.data[i]! < 0.5) continue;
    const [x, y] = [i % mask.widthPx, Math.floor(i / mask.widthPx)];
    [l, t, r, b] = [Math.min(l, x), Math.min(t, y), Math.max(r, x), Math.max(b, y)];
  }
  return { l, t, r, b };
};

function ringMean(mask: Plane, picture: ColourPicture): number {
  const { widthPx: w, heightPx: h } = mask;
  const { l, t, r, b } = boxOf(mask);
  const reach = Math.max(3, Math.round(0.4 * Math.max(r - l, b - t)));
  let [sum, n] = [0, 0];
  for (let y = Math.max(0, t - reach); y <= Math.min(h - 1, b + reach); y++)
    for (let x = Math.max(0, l - reach); x <= Math.min(w - 1, r + reach); x++)
      if (mask.data[y * w + x]! < 0.5) {
        sum += lum(picture, y * w + x);
        n++;
      }
  return n > 0 ? sum / n : meanOfAll(picture);
}

const meanOfAll = (picture: ColourPicture) => {
  let sum = 0;
  for (let i = 0; i < picture.r.length; i++) sum += lum(picture, i);
  return sum / picture.r.length;
};

/** The step to a place as large that has no glare and whose rim looks most like this one's. */
function stepFor(
  mask: Plane,
  found: Uint8Array,
  picture: ColourPicture,
  keptOut: Plane | undefined,
): [number, number] | null {
  const { widthPx: w, heightPx: h } = mask;
  const { l, t, r, b } = boxOf(mask);
  const rim = 3;
  let best: { cost: number; step: [number, number] } | null = null;
  for (const far of [1.15, 1.6, 2.2, 3])
    for (let k = 0; k < 16; k++) {
      const dx = Math.round(far * (r - l + 2 * rim) * Math.cos((k * Math.PI) / 8));
      const dy = Math.round(far * (b - t + 2 * rim) * Math.sin((k * Math.PI) / 8));
      if (l + dx - rim < 0 || r + dx + rim >= w || t + dy - rim < 0 || b + dy + rim >= h) continue;
      let [cost, n, bad] = [0, 0, 0];
      for (let y = t - rim; y <= b + rim; y++)
        for (let x = l - rim; x <= r + rim; x++) {
          if (x < 0 || y < 0 || x >= w || y >= h) continue;
          const j = (y + dy) * w + x + dx;
          if (found[j] || (keptOut && keptOut.data[j]! > 0.5)) bad++;
          if (mask.data[y * w + x]! > 0.5 || found[y * w + x]) continue;
          cost += squared(Math.log(lum(picture, y * w + x) + 0.01) - Math.log(lum(picture, j) + 0.01));
          n++;
        }
      if (bad > 0 || n === 0) continue;
      if (!best || cost / n < best.cost) best = { cost: cost / n, step: [dx / w, dy / h] };
    }
  return best?.step ?? null;
}

/**
 * Fills places of glare: the broad run of light and colour comes from the rim (pull and push through halvings, Gortler
 * et al. 1996), the detail from a place of the same finish.
 * @param picture the straightened frame or an area of it, at any density
 * @param frame of it
 */
export function applyFills(picture: ColourPicture, frame: Frame, fills: readonly GlareFill[]): ColourPicture {
  if (fills.length === 0) return picture;
  const { widthPx: w, heightPx: h } = picture;
  const out = mapChannels(picture, (p) => ({ ...p, data: p.data.slice() }));
  for (const fill of fills) {
    const track = fill.points.map((p): Point => {
      const [u, v] = toFrame(frame, p);
      return [u * w, v * h];
    });
    const mask = makePlane(w, h);
    fillPolygon(mask, track, 1);
    const { l, t, r, b } = boxOf(mask);
    if (r < l) continue;
    const size = Math.max(r - l, b - t) + 1;
    const pad = Math.max(4, Math.round(0.5 * size));
    const [x0, y0, x1, y1] = [
      Math.max(0, l - pad),
      Math.max(0, t - pad),
      Math.min(w, r + pad + 1),
      Math.min(h, b + pad + 1),
    ];
    const [bw, bh] = [x1 - x0, y1 - y0];
    const known = makePlane(bw, bh);
    for (let y = 0; y < bh; y++)
      for (let x = 0; x < bw; x++) known.data[y * bw + x] = mask.data[(y + y0) * w + x + x0]! > 0.5 ? 0 : 1;
    const soft = blurWrapped({ ...known, data: known.data.map((v) => 1 - v) }, size / 24, size / 24);
    const [dx, dy] = [Math.round(fill.from[0] * w), Math.round(fill.from[1] * h)];
    const sigma = Math.max(1, size / 6);
    for (const plane of ['r', 'g', 'b'] as const) {
      const piece = makePlane(bw, bh);
      const source = makePlane(bw, bh);
      for (let y = 0; y < bh; y++)
        for (let x = 0; x < bw; x++) {
          piece.data[y * bw + x] = picture[plane][(y + y0) * w + x + x0]!;
          const sx = Math.min(w - 1, Math.max(0, x + x0 + dx));
          const sy = Math.min(h - 1, Math.max(0, y + y0 + dy));
          source.data[y * bw + x] = Math.max(1e-5, picture[plane][sy * w + sx]!);
        }
      const broad = pullPush(piece, known);
      const base = softMirrored(source, makePlane(bw, bh, 1), sigma);
      for (let i = 0; i < bw * bh; i++) {
        // Full inside the outline, fading out just beyond it.
        const weight = known.data[i]! > 0.5 ? Math.min(1, 2 * soft.data[i]!) : 1;
        if (weight < 0.02) continue;
        const value = broad.data[i]! * (source.data[i]! / Math.max(1e-5, base.data[i]!));
        const at = (Math.floor(i / bw) + y0) * w + (i % bw) + x0;
        out[plane][at] = weight * value + (1 - weight) * picture[plane][at]!;
      }
    }
  }
  return out;
}

/** Unknown pixels from known ones, through halvings and back. */
function pullPush(plane: Plane, known: Plane): Plane {
  const { widthPx: w, heightPx: h } = plane;
  if (w <= 2 && h <= 2) {
    let [sum, n] = [0, 0];
    for (let i = 0; i < w * h; i++) {
      sum += plane.data[i]! * known.data[i]!;
      n += known.data[i]!;
    }
    return makePlane(w, h, n > 0 ? sum / n : 0);
  }
  const [hw, hh] = [(w + 1) >> 1, (h + 1) >> 1];
  const small = makePlane(hw, hh);
  const smallKnown = makePlane(hw, hh);
  for (let y = 0; y < hh; y++)
    for (let x = 0; x < hw; x++) {
      let [sum, n] = [0, 0];
      for (const [sx, sy] of [
        [2 * x, 2 * y],
        [2 * x + 1, 2 * y],
        [2 * x, 2 * y + 1],
        [2 * x + 1, 2 * y + 1],
      ] as const) {
        if (sx >= w || sy >= h) continue;
        const k = known.data[sy * w + sx]!;
        sum += k * plane.data[sy * w + sx]!;
        n += k;
      }
      small.data[y * hw + x] = n > 0 ? sum / n : 0;
      smallKnown.data[y * hw + x] = Math.min(1, n);
    }
  const from = pullPush(small, smallKnown);
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const k = known.data[i]!;
      const fx = Math.min(hw - 1, Math.max(0, (x - 0.5) / 2));
      const fy = Math.min(hh - 1, Math.max(0, (y - 0.5) / 2));
      const [ix, iy] = [
        Math.min(Math.max(0, hw - 2), Math.floor(fx)),
        Math.min(Math.max(0, hh - 2), Math.floor(fy)),
      ];
      const [tx, ty] = [fx - ix, fy - iy];
      const at = (xx: number, yy: number) => from.data[Math.min(hh - 1, yy) * hw + Math.min(hw - 1, xx)]!;
      const value =
        (at(ix, iy) * (1 - tx) + at(ix + 1, iy) * tx) * (1 - ty) +
        (at(ix, iy + 1) * (1 - tx) + at(ix + 1, iy + 1) * tx) * ty;
      out.data[i] = k * plane.data[i]! + (1 - k) * value;
    }
  return out;
}
