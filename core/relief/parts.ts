import { distanceSteps, makePlane, type Plane } from '../raster';
import { spans, type Steps } from '../steps';

/**
 * Height of a part that lies below or above the rest: half the depth below and above the middle, with a smooth step between
 * them centred on its outline.
 * @param weight of the part, 0–1
 * @returns mm
 */
export function* reliefOfPartSteps(
  { widthPx: w, heightPx: h, data: weight }: Plane,
  mmPerPx: { x: number; y: number },
  { depthMm, raised, edgeMm }: { depthMm: number; raised: boolean; edgeMm: number },
): Steps<Plane> {
  const sign = raised ? 1 : -1;
  const out = makePlane(w, h);
  const inside = new Uint8Array(w * h);
  let count = 0;
  for (let i = 0; i < inside.length; i++) if (weight[i]! >= 0.5) count += inside[i] = 1;
  if (count === 0 || count === inside.length)
    return { ...out, data: out.data.fill(count === 0 ? -sign * 0.5 * depthMm : sign * 0.5 * depthMm) };
  const { data: outwards } = yield* distanceSteps(inside, w, h, mmPerPx, true);
  const { data: inwards } = yield* distanceSteps(
    inside.map((v) => 1 - v),
    w,
    h,
    mmPerPx,
    true,
  );
  const pixelMm = Math.sqrt(mmPerPx.x * mmPerPx.y);
  // Below a pixel's width the weight itself says where within the pixel the outline runs.
  const width = Math.max(edgeMm, pixelMm);
  for (const { from, to } of spans(inside.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const near = inside[i]! ? inwards[i]! <= pixelMm : outwards[i]! <= pixelMm;
      const mm = near
        ? (weight[i]! - 0.5) * pixelMm
        : inside[i]!
          ? inwards[i]! - 0.5 * pixelMm
          : 0.5 * pixelMm - outwards[i]!;
      const t = Math.min(1, Math.max(0, mm / width + 0.5));
      out.data[i] = sign * depthMm * (t * t * (3 - 2 * t) - 0.5);
    }
  }
  return out;
}
