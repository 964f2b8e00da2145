import { squared } from '../exact';
import { blurWrapped, luminanceOf, makePlane, mapChannels, type ColourPicture, type Plane } from '../raster';
import type { Frame } from '../straighten';
import { applyFills } from './glare';
import { lightOver, type LightField } from './field';
import { NO_MATRIX, type ColourMatrix, type TargetFit } from './target';
import type { LightSettings, Levelling } from './settings';

/** How a photograph's light becomes the finish's own: what is divided by, and which matrix follows. */
export interface Calibration {
  light: LightField | null;
  matrix: ColourMatrix;
  report: CalibrationReport;
}

/** What the levelling and the balance came to. */
export interface CalibrationReport {
  /** Light over the sample: least over most, as a fall in percent; profiles through its middle, 1 = mean. */
  light: {
    fallPercent: number;
    across: number[];
    up: number[];
    map: { widthPx: number; data: number[] };
  } | null;
  target: TargetFit | null;
  /** Gains of a grey patch. */
  grey: { gains: readonly [number, number, number] } | null;
}

export const NO_CALIBRATION: Calibration = {
  light: null,
  matrix: NO_MATRIX,
  report: { light: null, target: null, grey: null },
};

const PROFILE = 33;

/** The light over a frame in figures: its fall, two profiles and a small map. */
export function describeLight(field: LightField, frame: Frame): NonNullable<CalibrationReport['light']> {
  const map = lightOver(field, frame, PROFILE, PROFILE);
  const sum = map.data.reduce((a, v) => a + v, 0) / map.data.length;
  const data = Array.from(map.data, (v) => Number((v / sum).toFixed(4)));
  const middle = PROFILE >> 1;
  return {
    fallPercent: 100 * (1 - Math.min(...data) / Math.max(...data)),
    across: data.slice(middle * PROFILE, (middle + 1) * PROFILE),
    up: Array.from({ length: PROFILE }, (_, y) => data[y * PROFILE + middle]!),
    map: { widthPx: PROFILE, data },
  };
}

/** Whether a calibration changes nothing. */
export const isPlain = (c: Calibration, settings: Pick<LightSettings, 'fills' | 'levelling'>): boolean =>
  !c.light && c.matrix === NO_MATRIX && settings.fills.length === 0 && !settings.levelling?.shading;

/**
 * Brings a straightened part of the photograph to the finish's own light.
 * @param picture the part, linear light as received
 * @param frame where it lies
 * @param mmPerPx of the part
 */
export function calibrate(
  picture: ColourPicture,
  calibration: Calibration,
  settings: Pick<LightSettings, 'fills' | 'levelling'>,
  frame: Frame,
  mmPerPx: { x: number; y: number },
): ColourPicture {
  if (isPlain(calibration, settings)) return picture;
  const filled = applyFills(picture, frame, settings.fills);
  const { light, matrix } = calibration;
  const over = light && lightOver(light, frame, picture.widthPx, picture.heightPx);
  const [m0, m1, m2] = matrix.rows;
  const [o0, o1, o2] = matrix.offset;
  const n = picture.r.length;
  const out = { ...picture, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
  for (let i = 0; i < n; i++) {
    const k = over ? 1 / over.data[i]! : 1;
    const r = filled.r[i]! * k;
    const g = filled.g[i]! * k;
    const b = filled.b[i]! * k;
    out.r[i] = m0[0] * r + m0[1] * g + m0[2] * b + o0;
    out.g[i] = m1[0] * r + m1[1] * g + m1[2] * b + o1;
    out.b[i] = m2[0] * r + m2[1] * g + m2[2] * b + o2;
  }
  return settings.levelling && settings.levelling.shading > 0
    ? withoutShading(out, settings.levelling, mmPerPx)
    : out;
}

/**
 * Takes out, gently, what the relief shades: fine differences of brightness that come without a difference of colour.
 * A change of material changes its colour as well and is left alone; the mean of every neighbourhood stays.
 */
export function withoutShading(
  picture: ColourPicture,
  { shading, shadingMm }: Pick<Levelling, 'shading' | 'shadingMm'>,
  mmPerPx: { x: number; y: number },
): ColourPicture {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const n = w * h;
  const light = makePlane(w, h);
  const hue1 = makePlane(w, h);
  const hue2 = makePlane(w, h);
  for (let i = 0; i < n; i++) {
    const y = Math.max(1e-4, luminanceOf(r[i]!, g[i]!, b[i]!));
    light.data[i] = Math.log(y);
    hue1.data[i] = (r[i]! - g[i]!) / y;
    hue2.data[i] = (b[i]! - g[i]!) / y;
  }
  const [sx, sy] = [shadingMm / mmPerPx.x, shadingMm / mmPerPx.y];
  const broad = (p: Plane) => blurWrapped(p, sx, sy);
  const [l0, h1, h2] = [broad(light), broad(hue1), broad(hue2)];
  const factor = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const d = light.data[i]! - l0.data[i]!;
    const coloured = Math.hypot(hue1.data[i]! - h1.data[i]!, hue2.data[i]! - h2.data[i]!);
    // As much colour as brightness changes: it is the material, not the light.
    const achromatic = d === 0 ? 1 : 1 / (1 + squared((2 * coloured) / (Math.abs(d) + 0.02)));
    factor[i] = Math.exp(-shading * achromatic * d);
  }
  const times = (p: Plane): Plane => ({ ...p, data: p.data.map((v, i) => v * factor[i]!) });
  return mapChannels(picture, times);
}
