import { luminancePlane, type ColourPicture, type Plane } from '../raster';
import { hashOf, type Pending, type RenderContext, type Surface } from '../surface';
import type { OpennessSettings } from './settings';

/**
 * Where a woven finish is open: between its threads, which are its lowest places, or its darkest. So many of them are open
 * that their share of the area, through which light passes straight, is the one asked for.
 */
export function openPlaces(
  ctx: RenderContext,
  { openPercent, between }: OpennessSettings,
  { fields }: Surface,
): Pending<Plane> {
  const from = between === 'hollows' ? fields.height! : fields.colour!;
  const share = openPercent.value / 100;
  return ctx.later([hashOf('openness', share, between), from.key], async () =>
    opacityOf(
      between === 'hollows' ? await fields.height!.get() : luminancePlane(await fields.colour!.get()),
      share,
    ),
  );
}

/**
 * Colour of the threads everywhere: in the openings their mean, so that what lies behind does not show at their edges.
 */
export function threadsAlone(colour: ColourPicture, { data: opacity }: Plane): ColourPicture {
  const out = { ...colour };
  for (const c of ['r', 'g', 'b'] as const) {
    let [sum, all] = [0, 0];
    for (let i = 0; i < opacity.length; i++) {
      sum += opacity[i]! * colour[c][i]!;
      all += opacity[i]!;
    }
    const mean = all > 0 ? sum / all : 0;
    out[c] = colour[c].map((v, i) => opacity[i]! * v + (1 - opacity[i]!) * mean);
  }
  return out;
}

/** Share of the values over which an edge between thread and opening goes, on either side. */
const EDGE_SHARE = 0.02;
const HALVINGS = 40;

/**
 * Opacity 0–1 that is least where a plane is lowest, and 1 − `open` on average.
 * @param open share of the area, 0–1
 */
export function opacityOf(plane: Plane, open: number): Plane {
  const { data } = plane;
  if (open <= 0) return { ...plane, data: new Float32Array(data.length).fill(1) };
  const sorted = data.slice().sort();
  const valueAt = (share: number) =>
    sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))]!;
  const width = Math.max(1e-9, valueAt(open + EDGE_SHARE) - valueAt(open - EDGE_SHARE));
  const opacityAt = (value: number, threshold: number) =>
    Math.min(1, Math.max(0, (value - threshold) / width + 0.5));
  let [low, high] = [sorted[0]! - width, sorted[sorted.length - 1]! + width];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (low + high) / 2;
    let sum = 0;
    for (let i = 0; i < data.length; i++) sum += opacityAt(data[i]!, middle);
    if (1 - sum / data.length < open) low = middle;
    else high = middle;
  }
  const threshold = (low + high) / 2;
  return { ...plane, data: data.map((v) => opacityAt(v, threshold)) };
}
