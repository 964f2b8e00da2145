import { power } from '../exact';
import { srgbToLinear } from './srgb';
import { multiply, xyzToLinear, type Triple } from './spaces';

/**
 * Embedded ICC profiles of the matrix and curve kind (ICC.1:2022, annex F.3), which nearly all cameras and
 * scanners write. They are applied in floating point, so colours outside the sRGB gamut are kept.
 */
export interface MatrixProfile {
  description: string;
  /** Encoded channel value 0–1 to linear 0–1, per channel. */
  curves: readonly [(v: number) => number, (v: number) => number, (v: number) => number];
  /** Linear device RGB to linear sRGB primaries (D65). */
  toLinear: readonly Triple[];
}

/** Bradford-adapted D50 (profile connection space) to D65. Source: ICC.1:2022 annex E, inverted. */
const D50_TO_D65: readonly Triple[] = [
  [0.9555766, -0.0230393, 0.0631636],
  [-0.0282895, 1.0099416, 0.0210077],
  [0.0122982, -0.020483, 1.3299098],
];

/**
 * Reads a matrix profile.
 * @param bytes the whole ICC profile
 * @returns the profile, or null when it is of another kind (tables, grey, print inks)
 */
export function readMatrixProfile(bytes: Uint8Array): MatrixProfile | null {
  if (bytes.length < 132) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const text = (at: number, n: number) => String.fromCharCode(...bytes.subarray(at, at + n));
  if (text(36, 4) !== 'acsp' || text(16, 4) !== 'RGB ') return null;
  const tags = new Map<string, { at: number; size: number }>();
  const count = Math.min(view.getUint32(128), 200);
  for (let i = 0; i < count; i++) {
    const at = 132 + 12 * i;
    if (at + 12 > bytes.length) return null;
    const entry = { at: view.getUint32(at + 4), size: view.getUint32(at + 8) };
    if (entry.at + entry.size <= bytes.length) tags.set(text(at, 4), entry);
  }
  const fixed = (at: number) => view.getInt32(at) / 65536;
  const xyz = (tag: string): Triple | null => {
    const t = tags.get(tag);
    return t ? [fixed(t.at + 8), fixed(t.at + 12), fixed(t.at + 16)] : null;
  };
  const columns = [xyz('rXYZ'), xyz('gXYZ'), xyz('bXYZ')];
  const curves = ['rTRC', 'gTRC', 'bTRC'].map((tag) => {
    const t = tags.get(tag);
    return t ? readCurve(view, t.at, text(t.at, 4)) : null;
  });
  if (columns.some((c) => !c) || curves.some((c) => !c)) return null;
  const toLinear = [0, 1, 2].map((row) =>
    [0, 1, 2].map((column) => xyzToLinear(multiply(D50_TO_D65, columns[column]!))[row]!),
  ) as unknown as Triple[];
  return {
    description: describe(bytes, view, tags.get('desc'), text),
    curves: curves as unknown as MatrixProfile['curves'],
    toLinear,
  };
}

function describe(
  bytes: Uint8Array,
  view: DataView,
  tag: { at: number; size: number } | undefined,
  text: (at: number, n: number) => string,
): string {
  if (!tag) return 'unnamed profile';
  if (text(tag.at, 4) === 'desc')
    return text(tag.at + 12, Math.min(80, Math.max(0, view.getUint32(tag.at + 8) - 1)));
  if (text(tag.at, 4) === 'mluc' && tag.size >= 28) {
    const length = Math.min(160, view.getUint32(tag.at + 20));
    const start = tag.at + view.getUint32(tag.at + 24);
    let out = '';
    for (let i = 0; i + 1 < length && start + i + 1 < bytes.length; i += 2)
      out += String.fromCharCode(view.getUint16(start + i));
    return out;
  }
  return 'unnamed profile';
}

function readCurve(view: DataView, at: number, kind: string): ((v: number) => number) | null {
  if (kind === 'curv') {
    const n = view.getUint32(at + 8);
    if (n === 0) return (v) => v;
    if (n === 1) {
      const gamma = view.getUint16(at + 12) / 256;
      return (v) => power(Math.max(0, v), gamma);
    }
    const table = Float64Array.from({ length: n }, (_, i) => view.getUint16(at + 12 + 2 * i) / 65535);
    return (v) => {
      const x = Math.min(1, Math.max(0, v)) * (n - 1);
      const i = Math.min(n - 2, Math.floor(x));
      return table[i]! + (table[i + 1]! - table[i]!) * (x - i);
    };
  }
  if (kind === 'para') {
    const type = view.getUint16(at + 8);
    const p = (i: number) => view.getInt32(at + 12 + 4 * i) / 65536;
    const [g, a, b, c, d, e, f] = [
      p(0),
      ...(type > 0 ? [p(1), p(2)] : [1, 0]),
      type > 1 ? p(3) : 0,
      type > 2 ? p(4) : 0,
      type > 3 ? p(5) : 0,
      type > 3 ? p(6) : 0,
    ] as number[];
    // ICC.1:2022, table 68.
    if (type === 0) return (v) => power(Math.max(0, v), g!);
    if (type === 1 || type === 2)
      return (v) => (v >= -b! / a! ? power(Math.max(0, a! * v + b!), g!) + c! : c!);
    if (type === 3 || type === 4)
      return (v) => (v >= d! ? power(Math.max(0, a! * v + b!), g!) + e! : c! * v + f!);
  }
  return null;
}

/** The profile taken when a picture carries none: sRGB. */
export const SRGB_PROFILE: MatrixProfile = {
  description: 'sRGB (assumed, none embedded)',
  curves: [srgbToLinear, srgbToLinear, srgbToLinear],
  toLinear: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
};

/**
 * Decodes interleaved pixels to linear planes through a profile.
 * @param pixels interleaved channels, 8 or 16 bit
 * @param channels 1–4; one or two are taken as grey; the last of two or four is alpha and is left out
 */
export function decodePixels(
  pixels: Uint8Array | Uint16Array,
  widthPx: number,
  heightPx: number,
  channels: number,
  profile: MatrixProfile,
): { widthPx: number; heightPx: number; r: Float32Array; g: Float32Array; b: Float32Array } {
  const top = pixels instanceof Uint16Array ? 65535 : 255;
  const tables = profile.curves.map((curve) =>
    Float32Array.from({ length: top + 1 }, (_, i) => curve(i / top)),
  );
  const n = widthPx * heightPx;
  const out = { widthPx, heightPx, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
  const m = profile.toLinear;
  const plain = profile === SRGB_PROFILE;
  const grey = channels < 3;
  for (let i = 0, k = 0; i < n; i++, k += channels) {
    const r = tables[0]![pixels[k]!]!;
    const g = tables[1]![pixels[grey ? k : k + 1]!]!;
    const b = tables[2]![pixels[grey ? k : k + 2]!]!;
    if (plain) {
      out.r[i] = r;
      out.g[i] = g;
      out.b[i] = b;
    } else {
      out.r[i] = m[0]![0] * r + m[0]![1] * g + m[0]![2] * b;
      out.g[i] = m[1]![0] * r + m[1]![1] * g + m[1]![2] * b;
      out.b[i] = m[2]![0] * r + m[2]![1] * g + m[2]![2] * b;
    }
  }
  return out;
}
