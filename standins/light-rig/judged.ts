import { ciede2000, linearToXyz, xyzToLab, type Triple } from '@jossel/core/colour';
import type { PhysicalSurface } from '../physical/surface';
import type { MeasuredSurface } from '@jossel/core/photometric';
import { blurWrapped, halve, makePlane, type Plane } from '@jossel/core/raster';
import {
  bandsOfPictureSteps,
  heightOfBandsSteps,
  normalsOfHeight,
  summedBandsSteps,
} from '@jossel/core/relief';
import type { PhotographTruth } from '../camera/photograph';
import { atOnce } from '@jossel/core/steps';

/** What a measured relief differs by from the sample that was photographed. */
export interface Judged {
  meanNormalDeg: number;
  /** Root mean square of the difference of heights, both without waves longer than a third of the sample, mm. */
  heightMm: number;
  /** 95th percentile of these differences, mm. */
  within95Mm: number;
  /** Their root mean square for a height read from lightness, of the true depth. */
  lightnessMm: number;
  /** Standard deviation of the true height, mm. */
  trueMm: number;
  /** How deep it is measured for what it is: the slope of measured over true heights. */
  depth: number;
  /** CIEDE2000 of the mean colour. */
  deltaE: number;
}

/** Blur of the rig's lens and of the picture's pixels, px. */
const CAMERA_BLUR_PX = 0.7;
/** Share of the sample that is left out at its edges. */
const MARGIN = 0.05;

export function judgedRelief(
  surface: PhysicalSurface,
  truth: PhotographTruth,
  measured: Pick<MeasuredSurface, 'height' | 'colour'>,
): Judged {
  const { widthPx, heightPx } = measured.height;
  // The truth as finely as the camera could see it.
  const perMm = Math.abs(truth.place(10, 0)[0] - truth.place(0, 0)[0]) * widthPx * 0.1;
  let height = surface.heightMmPlane;
  let colour = surface.colour;
  while (height.widthPx / surface.widthMm > 0.95 * perMm) {
    height = halve(height);
    const half = (data: Float32Array) => halve({ widthPx: colour.widthPx, heightPx: colour.heightPx, data });
    const [r, g, b] = [half(colour.r), half(colour.g), half(colour.b)];
    colour = { widthPx: r.widthPx, heightPx: r.heightPx, r: r.data, g: g.data, b: b.data };
  }
  height = blurWrapped(height, CAMERA_BLUR_PX, CAMERA_BLUR_PX);
  const { widthPx: w, heightPx: h } = height;
  const mm = { x: surface.widthMm / w, y: surface.heightMm / h };
  const seen = makePlane(w, h);
  const [meanTrue, meanSeen] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  const sample = (plane: Plane, x: number, y: number) => {
    const [fx, fy] = [x * widthPx - 0.5, y * heightPx - 0.5];
    const [x0, y0] = [
      Math.min(widthPx - 2, Math.max(0, Math.floor(fx))),
      Math.min(heightPx - 2, Math.max(0, Math.floor(fy))),
    ];
    const [tx, ty] = [fx - x0, fy - y0];
    const at = y0 * widthPx + x0;
    const d = plane.data;
    return (
      (d[at]! * (1 - tx) + d[at + 1]! * tx) * (1 - ty) +
      (d[at + widthPx]! * (1 - tx) + d[at + widthPx + 1]! * tx) * ty
    );
  };
  const planes = (['r', 'g', 'b'] as const).map((c) => ({ widthPx, heightPx, data: measured.colour[c] }));
  const inside = (x: number, y: number) =>
    x > MARGIN * w && y > MARGIN * h && x < (1 - MARGIN) * w && y < (1 - MARGIN) * h;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const [u, v] = truth.place((x + 0.5) * mm.x, (y + 0.5) * mm.y);
      seen.data[y * w + x] = sample(measured.height, u, v);
      if (!inside(x, y)) continue;
      (['r', 'g', 'b'] as const).forEach((c, k) => {
        meanTrue[k]! += colour[c][y * w + x]!;
        meanSeen[k]! += sample(planes[k]!, u, v);
      });
    }
  const broadMm = Math.max(surface.widthMm, surface.heightMm) / 3;
  const short = (plane: Plane): Float32Array => {
    const flat = { ...plane, data: level(plane, inside) };
    const sigma = 0.1874 * broadMm;
    const broad = blurWrapped(flat, sigma / mm.x, sigma / mm.y).data;
    return flat.data.map((v, i) => v - broad[i]!);
  };
  const [a, b] = [normalsOfHeight(height, mm), normalsOfHeight(seen, mm)];
  const [ta, sa] = [short(height), short(seen)];
  const shape = {
    broad: 1,
    middle: 1,
    fine: 1,
    broadFromMm: broadMm,
    fineBelowMm: broadMm / 50,
    smoothMm: 0,
    invert: false,
  };
  const depthMm = depthOf(ta, w, h, inside, 0.005);
  const bands = atOnce(summedBandsSteps(atOnce(bandsOfPictureSteps(colour, mm, shape)), mm, shape));
  const la = short(atOnce(heightOfBandsSteps(bands, { ...shape, depthMm })));
  const differences: number[] = [];
  let [angle, n, squares, own, byLightness, both] = [0, 0, 0, 0, 0, 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (!inside(x, y)) continue;
      const i = y * w + x;
      const cos = a.x[i]! * b.x[i]! + a.y[i]! * b.y[i]! + a.z[i]! * b.z[i]!;
      angle += Math.acos(Math.min(1, cos));
      squares += (ta[i]! - sa[i]!) ** 2;
      differences.push(Math.abs(ta[i]! - sa[i]!));
      byLightness += (ta[i]! - la[i]!) ** 2;
      own += ta[i]! ** 2;
      both += ta[i]! * sa[i]!;
      n++;
    }
  const lab = (sum: number[]) => xyzToLab(linearToXyz(sum.map((v) => v / n) as unknown as Triple));
  return {
    meanNormalDeg: ((angle / n) * 180) / Math.PI,
    heightMm: Math.sqrt(squares / n),
    within95Mm: differences.sort((p, q) => p - q)[Math.floor(0.95 * n)]!,
    lightnessMm: Math.sqrt(byLightness / n),
    trueMm: Math.sqrt(own / n),
    depth: both / own,
    deltaE: ciede2000(lab(meanTrue), lab(meanSeen)),
  };
}

/** Heights less the plane that fits them. */
function level(
  { widthPx: w, heightPx: h, data }: Plane,
  inside: (x: number, y: number) => boolean,
): Float32Array {
  let [n, sum, sx, sy, xx, yy] = [0, 0, 0, 0, 0, 0];
  const [cx, cy] = [(w - 1) / 2, (h - 1) / 2];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (!inside(x, y)) continue;
      n++;
      sum += data[y * w + x]!;
      sx += (x - cx) * data[y * w + x]!;
      sy += (y - cy) * data[y * w + x]!;
      xx += (x - cx) ** 2;
      yy += (y - cy) ** 2;
    }
  return data.map((v, i) => v - sum / n - (sx / xx) * ((i % w) - cx) - (sy / yy) * (Math.floor(i / w) - cy));
}

function depthOf(
  data: Float32Array,
  w: number,
  h: number,
  inside: (x: number, y: number) => boolean,
  tail: number,
): number {
  const kept: number[] = [];
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) if (inside(x, y)) kept.push(data[y * w + x]!);
  kept.sort((p, q) => p - q);
  return kept[Math.floor((1 - tail) * (kept.length - 1))]! - kept[Math.floor(tail * kept.length)]!;
}
