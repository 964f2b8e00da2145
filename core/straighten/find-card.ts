import { squared } from '../exact';
import { blurWrapped, luminancePlane, resample, type ColourPicture, type Plane } from '../raster';
import { CARD_MARKS_MM, CARD_MM, MARK_MM } from './card';
import {
  faultOfQuad,
  invert,
  project,
  solveHomography,
  type Homography,
  type Point,
  type Quad,
} from './homography';

/** The card's corner marks as found in a picture. */
export interface FoundCard {
  /** Centres of the four marks, in shares of the picture, in the card's own order. */
  marks: Quad;
  /** Pixels of the searched picture per mm of the card, in its middle. */
  pxPerMm: number;
}

interface Blob {
  dark: boolean;
  area: number;
  x: number;
  y: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Running sums, one row and column larger than the plane. */
function sums({ widthPx: w, heightPx: h, data }: Plane): Float64Array {
  const out = new Float64Array((w + 1) * (h + 1));
  for (let y = 0; y < h; y++) {
    let row = 0;
    for (let x = 0; x < w; x++) {
      row += data[y * w + x]!;
      out[(y + 1) * (w + 1) + x + 1] = out[y * (w + 1) + x + 1]! + row;
    }
  }
  return out;
}

/** Dark where a pixel is much darker than the mean of its neighbourhood (after Bradley, Roth 2007). */
function darkPixels(plane: Plane, reachPx: number, share: number): Uint8Array {
  const { widthPx: w, heightPx: h, data } = plane;
  const s = sums(plane);
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const y0 = Math.max(0, y - reachPx);
    const y1 = Math.min(h, y + reachPx + 1);
    for (let x = 0; x < w; x++) {
      const x0 = Math.max(0, x - reachPx);
      const x1 = Math.min(w, x + reachPx + 1);
      const sum =
        s[y1 * (w + 1) + x1]! - s[y0 * (w + 1) + x1]! - s[y1 * (w + 1) + x0]! + s[y0 * (w + 1) + x0]!;
      out[y * w + x] = data[y * w + x]! * (x1 - x0) * (y1 - y0) < share * sum ? 1 : 0;
    }
  }
  return out;
}

/** Areas of one kind that hang together (by edges), within a range of sizes. */
function blobsOf(dark: Uint8Array, w: number, h: number, mostPx: number): Blob[] {
  const label = new Int32Array(w * h).fill(-1);
  const stack = new Int32Array(w * h);
  const blobs: Blob[] = [];
  let top = 0;
  const take = (i: number, kind: number) => {
    if (label[i]! >= 0 || dark[i] !== kind) return;
    label[i] = 1;
    stack[top++] = i;
  };
  for (let start = 0; start < w * h; start++) {
    if (label[start]! >= 0) continue;
    const kind = dark[start]!;
    const blob: Blob = { dark: kind === 1, area: 0, x: 0, y: 0, left: w, top: h, right: 0, bottom: 0 };
    take(start, kind);
    while (top > 0) {
      const i = stack[--top]!;
      const x = i % w;
      const y = (i - x) / w;
      blob.area++;
      blob.x += x;
      blob.y += y;
      if (x < blob.left) blob.left = x;
      if (x > blob.right) blob.right = x;
      if (y < blob.top) blob.top = y;
      if (y > blob.bottom) blob.bottom = y;
      if (x > 0) take(i - 1, kind);
      if (x < w - 1) take(i + 1, kind);
      if (y > 0) take(i - w, kind);
      if (y < h - 1) take(i + w, kind);
    }
    blob.x /= blob.area;
    blob.y /= blob.area;
    const size = Math.max(blob.right - blob.left, blob.bottom - blob.top) + 1;
    if (blob.area >= 4 && size <= mostPx) blobs.push(blob);
  }
  return blobs;
}

const sizeOf = (b: Blob) => Math.sqrt((b.right - b.left + 1) * (b.bottom - b.top + 1));

interface Mark {
  x: number;
  y: number;
  /** Diameter of the black disc, px. */
  sizePx: number;
  /** Dot over white disc, in diameters. */
  dotShare: number;
}

/** Three discs in one another about one middle: black, white, black. */
function marksAmong(blobs: readonly Blob[], plane: Plane): Mark[] {
  const cell = 16;
  const grid = new Map<number, Blob[]>();
  const key = (x: number, y: number) => Math.floor(x / cell) + 10000 * Math.floor(y / cell);
  for (const b of blobs)
    if (b.dark) {
      const k = key(b.x, b.y);
      grid.set(k, [...(grid.get(k) ?? []), b]);
    }
  const marks: Mark[] = [];
  for (const white of blobs) {
    if (white.dark) continue;
    const size = sizeOf(white);
    if (size < 4) continue;
    const ratio = (white.right - white.left + 1) / (white.bottom - white.top + 1);
    if (ratio < 0.35 || ratio > 2.9) continue;
    const near: Blob[] = [];
    for (const dx of [-cell, 0, cell])
      for (const dy of [-cell, 0, cell]) near.push(...(grid.get(key(white.x + dx, white.y + dy)) ?? []));
    const same = near.filter((b) => Math.hypot(b.x - white.x, b.y - white.y) < Math.max(1.2, 0.14 * size));
    const ring = same.find((b) => {
      const share = size / sizeOf(b);
      return (
        share > 0.5 &&
        share < 0.82 &&
        b.left < white.left &&
        b.right > white.right &&
        b.top < white.top &&
        b.bottom > white.bottom
      );
    });
    const dot = same.find((b) => {
      const share = sizeOf(b) / size;
      return (
        share > 0.2 &&
        share < 0.85 &&
        b.left > white.left &&
        b.right < white.right &&
        b.top > white.top &&
        b.bottom < white.bottom
      );
    });
    if (!ring || !dot) continue;
    // The disc within the ring's middle line is full: as large as its box says.
    const outer = sizeOf(ring);
    const full = (white.area + dot.area) / ((Math.PI / 4) * size * size);
    if (full < 0.72 || full > 1.3) continue;
    const [x, y] = middleOf(plane, white, outer);
    marks.push({ x, y, sizePx: outer, dotShare: Math.sqrt(dot.area / (white.area + dot.area)) });
  }
  return marks;
}

/** Middle of the white disc to a fraction of a pixel: brightness over black as weight, within the black ring. */
function middleOf({ widthPx: w, data }: Plane, white: Blob, outerPx: number): Point {
  const grow = 0.5 * (outerPx / sizeOf(white) - 1);
  const [rx, ry] = [
    ((white.right - white.left + 1) / 2) * (1 + grow),
    ((white.bottom - white.top + 1) / 2) * (1 + grow),
  ];
  const [cx, cy] = [(white.left + white.right) / 2, (white.top + white.bottom) / 2];
  const inside: number[] = [];
  const visit = (use: (x: number, y: number, v: number) => void) => {
    for (let y = Math.ceil(cy - ry); y <= cy + ry; y++)
      for (let x = Math.ceil(cx - rx); x <= cx + rx; x++)
        if (squared((x - cx) / rx) + squared((y - cy) / ry) <= 1) use(x, y, data[y * w + x] ?? 0);
  };
  visit((_x, _y, v) => inside.push(v));
  inside.sort((a, b) => a - b);
  const low = inside[Math.floor(inside.length * 0.08)] ?? 0;
  const high = inside[Math.floor(inside.length * 0.9)] ?? 1;
  let [sum, sx, sy] = [0, 0, 0];
  visit((x, y, v) => {
    const k = Math.min(1, Math.max(0, (v - low) / (high - low || 1)));
    sum += k;
    sx += k * x;
    sy += k * y;
  });
  return [sx / sum, sy / sum];
}

/** Diameter that a mark has in the picture under a card's position. */
function seenSize(h: Homography, [x, y]: Point): number {
  const r = MARK_MM.black;
  const points = [0, 1, 2, 3].map((k) =>
    project(h, [x + r * Math.cos((k * Math.PI) / 4), y + r * Math.sin((k * Math.PI) / 4)]),
  );
  const across = [0, 1, 2, 3].map((k) => {
    const back = project(h, [x - r * Math.cos((k * Math.PI) / 4), y - r * Math.sin((k * Math.PI) / 4)]);
    return Math.hypot(points[k]![0] - back[0], points[k]![1] - back[1]);
  });
  return Math.sqrt((Math.max(...across) * Math.min(...across) + across[0]! * across[2]!) / 2);
}

/** Up to this length of the longer side, marks of a few pixels are looked for in the picture at twice its size. */
const SMALL_PX = 2400;

/**
 * Finds the target card by its ring marks: dark and light areas that lie in one another about one middle, whose four
 * positions and sizes fit one flat card in perspective, the right way up.
 *
 * Marks of few pixels run together under blur; when none is seen, the picture is doubled, sharpened and looked at again.
 *
 * @param picture linear light, any size; marks of at least about 8 pixels are found
 * @param doubled whether a picture in which none is seen is doubled and looked at again
 * @returns null when there is no card, or less than all four of its marks show
 */
export function findCard(picture: ColourPicture, doubled = true): FoundCard | null {
  const plane = luminancePlane(picture);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.sqrt(Math.max(0, plane.data[i]!));
  const found = cardIn(plane);
  if (found || !doubled || Math.max(plane.widthPx, plane.heightPx) > SMALL_PX) return found;
  const twice = cardIn(sharpened(resample(plane, DOUBLE, 2 * plane.widthPx, 2 * plane.heightPx), 2.5));
  return twice && { ...twice, pxPerMm: twice.pxPerMm / 2 };
}

const DOUBLE = { leftPx: 0, topPx: 0, stepX: 0.5, stepY: 0.5 };

/** Takes out about the blur of a lens: adds what a Gaussian blur takes away (unsharp masking). */
function sharpened(plane: Plane, sigmaPx: number): Plane {
  const soft = blurWrapped(plane, sigmaPx, sigmaPx);
  for (let i = 0; i < soft.data.length; i++)
    soft.data[i] = Math.max(0, 2.5 * plane.data[i]! - 1.5 * soft.data[i]!);
  return soft;
}

/** The card in a plane of about even steps of brightness. */
function cardIn(plane: Plane): FoundCard | null {
  const { widthPx: w, heightPx: h } = plane;
  const long = Math.max(w, h);
  for (const [reach, share] of [
    [long / 40, 0.7],
    [long / 80, 0.75],
    [long / 16, 0.6],
    [long / 120, 0.82],
  ] as const) {
    const blobs = blobsOf(darkPixels(plane, Math.max(6, Math.round(reach)), share), w, h, long / 4);
    const marks = marksAmong(blobs, plane).slice(0, 40);
    const card = cardAmong(marks, plane);
    if (card) return card;
  }
  return null;
}

function cardAmong(marks: readonly Mark[], plane: Plane): FoundCard | null {
  if (marks.length < 4) return null;
  const { widthPx: w, heightPx: h, data } = plane;
  // The larger dot is 0.68 of the white disc, the others 0.41; blur and threshold make both seem smaller.
  const firsts = marks.filter((m) => m.dotShare > 0.4);
  const others = marks.filter((m) => m.dotShare < 0.58);
  let best: { error: number; card: FoundCard } | null = null;
  /** Whether a mark lies about as far from the first, in its own diameters, as on the card; perspective shortens. */
  const apart = (first: Mark, m: Mark, mm: number): boolean => {
    const size = Math.sqrt(first.sizePx * m.sizePx);
    const share = Math.hypot(m.x - first.x, m.y - first.y) / size / (mm / (2 * MARK_MM.black));
    const ratio = m.sizePx / first.sizePx;
    return (
      m !== first &&
      first.dotShare >= 1.2 * m.dotShare &&
      share > 0.4 &&
      share < 1.7 &&
      ratio > 0.45 &&
      ratio < 2.2
    );
  };
  const [across, down] = [
    CARD_MARKS_MM[1]![0] - CARD_MARKS_MM[0]![0],
    CARD_MARKS_MM[3]![1] - CARD_MARKS_MM[0]![1],
  ];
  for (const first of firsts) {
    const rights = others.filter((m) => apart(first, m, across));
    const opposites = others.filter((m) => apart(first, m, Math.hypot(across, down)));
    const lowers = others.filter((m) => apart(first, m, down));
    for (const right of rights)
      for (const opposite of opposites)
        for (const lower of lowers) {
          const four = [first, right, opposite, lower];
          if (new Set(four).size < 4) continue;
          const at = four.map((m) => [m.x, m.y] as Point);
          const marksAt = at.map(([x, y]) => [(x + 0.5) / w, (y + 0.5) / h] as Point) as unknown as Quad;
          if (faultOfQuad(marksAt)) continue;
          let toPicture: Homography;
          try {
            toPicture = solveHomography(CARD_MARKS_MM, at);
            invert(toPicture);
          } catch {
            continue;
          }
          const error = Math.max(
            ...four.map((m, n) => Math.abs(Math.log(m.sizePx / seenSize(toPicture, CARD_MARKS_MM[n]!)))),
          );
          if (!(error < 0.22) || (best && error >= best.error)) continue;
          // White paper round the marks, in front of the camera.
          const paper = ([x, y]: Point): number => {
            const [px, py] = project(toPicture, [x, y]);
            return data[Math.round(py) * w + Math.round(px)] ?? 0;
          };
          const bright = [
            [60, 2.2],
            [60, CARD_MM.height - 2.2],
            [2, 40],
            [CARD_MM.width - 2, 40],
          ].map((p) => paper(p as unknown as Point));
          const black = Math.max(...CARD_MARKS_MM.map(([x, y]) => paper([x + 4.6, y])));
          if (Math.min(...bright) < 1.25 * black) continue;
          const middle = [59, 61].map((x) => project(toPicture, [x, 40]));
          best = {
            error,
            card: {
              marks: marksAt,
              pxPerMm: Math.hypot(middle[1]![0] - middle[0]![0], middle[1]![1] - middle[0]![1]) / 2,
            },
          };
        }
  }
  return best?.card ?? null;
}
