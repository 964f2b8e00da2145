import { squared } from '../../exact';
import { fractalNoise, gradientNoise, hashUnit, seededRandom, smoothstep } from '../../raster';
import { paint, rgb, type Area, type GeneratedSurface, type Rgb } from './surface';

/** Rows of a draft: x where the warp lies on top. */
export const DRAFTS = {
  plain: ['x.', '.x'],
  hopsack: ['xx..', 'xx..', '..xx', '..xx'],
  twill22: ['xx..', '.xx.', '..xx', 'x..x'],
  satin5: ['x....', '..x..', '....x', '.x...', '...x.'],
  herringbone: ['xx..x..x', '.xx...xx', '..xx.xx.', 'x..xxx..'],
} as const;
export type Draft = keyof typeof DRAFTS;

export interface WeaveSettings extends Area {
  draft: Draft;
  warpPerCm: number;
  weftPerCm: number;
  /** Thickness of the yarn over the space it has; above 1 the yarns crowd. */
  cover: number;
  warp: readonly Rgb[];
  weft: readonly Rgb[];
  strayFibresPerCm2: number;
  /** How far the whole cloth is pulled out of square, as a share of what handling usually does; 1 if left out. */
  pulled?: number;
}

/** Woven cloth: yarns with a round section that pass over and under, twist, swell and leave gaps. */
export function weave(settings: WeaveSettings): GeneratedSurface {
  const { widthMm, heightMm, seed } = settings;
  const draft = DRAFTS[settings.draft];
  const fit = (n: number, period: number) => Math.max(period, Math.round(n / period) * period);
  const warps = fit((widthMm * settings.warpPerCm) / 10, draft[0].length);
  const wefts = fit((heightMm * settings.weftPerCm) / 10, draft.length);
  const pitchX = widthMm / warps;
  const pitchY = heightMm / wefts;
  const over = (i: number, j: number) =>
    draft[((j % draft.length) + draft.length) % draft.length]![
      ((i % draft[0].length) + draft[0].length) % draft[0].length
    ] === 'x';

  /** How high a yarn rides at a place along it, between −1 (under) and 1 (over), eased from crossing to crossing. */
  const ride = (along: number, up: (k: number) => boolean) => {
    const k = Math.floor(along - 0.5);
    const t = smoothstep(0.1, 0.9, along - 0.5 - k);
    return (up(k) ? 1 : -1) * (1 - t) + (up(k + 1) ? 1 : -1) * t;
  };

  /** One yarn at a place: across it in −1…1, along it in mm. */
  const yarn = { height: 0, across: 0, r: 0, g: 0, b: 0, shade: 0 };
  function evaluate(
    index: number,
    kind: number,
    acrossMm: number,
    alongMm: number,
    lengthMm: number,
    pitch: number,
    level: number,
    palette: readonly Rgb[],
  ): boolean {
    const s = seed + kind * 5000 + index * 13;
    const slub =
      1 +
      0.1 * gradientNoise(alongMm / lengthMm, 0.5, Math.max(2, Math.round(lengthMm / 9)), 1, s) +
      0.16 *
        smoothstep(
          0.45,
          0.9,
          gradientNoise(alongMm / lengthMm, 0.5, Math.max(2, Math.round(lengthMm / 28)), 1, s + 1),
        );
    const stagger =
      0.11 * pitch * gradientNoise(alongMm / lengthMm, 0.5, Math.max(2, Math.round(lengthMm / 6)), 1, s + 2);
    const radius = (pitch / 2) * settings.cover * slub;
    const q = (acrossMm + stagger) / radius;
    const hairy =
      1 + 0.08 * gradientNoise(alongMm / lengthMm, q * 0.2 + 0.5, Math.round(lengthMm / 0.35), 3, s + 3);
    if (Math.abs(q) >= hairy) return false;
    const section = Math.sqrt(Math.max(0, 1 - squared(q / hairy)));
    // Twist: strands wind round at about 25°, so their lines run slantwise over the round section.
    const around = Math.asin(Math.max(-1, Math.min(1, q / hairy)));
    const turn = alongMm / (radius * 4.3) + around / Math.PI;
    const strand =
      0.5 +
      0.5 *
        Math.sin(
          2 * Math.PI * turn +
            0.8 * gradientNoise(alongMm / lengthMm, 0.5, Math.round(lengthMm / 2), 1, s + 4),
        );
    const fibre = gradientNoise(
      (alongMm + around * radius * 0.9) / lengthMm,
      around / 6 + 0.5,
      Math.round(lengthMm / 0.9),
      26,
      s + 5,
    );
    const melange = gradientNoise(alongMm / lengthMm, turn / 40 + 0.5, Math.round(lengthMm / 3.2), 40, s + 6);
    const n = palette.length;
    const place = Math.max(0, Math.min(n - 1.001, (0.5 + 0.55 * melange + 0.25 * fibre) * (n - 1)));
    const k = Math.floor(place);
    const t = smoothstep(0.2, 0.8, place - k);
    const a = palette[k]!;
    const b = palette[Math.min(n - 1, k + 1)]!;
    const own = 1 + 0.1 * (hashUnit(index, kind, 9, seed) - 0.5);
    yarn.r = (a[0] + (b[0] - a[0]) * t) * own;
    yarn.g = (a[1] + (b[1] - a[1]) * t) * own;
    yarn.b = (a[2] + (b[2] - a[2]) * t) * own;
    yarn.shade = (0.72 + 0.28 * section) * (0.84 + 0.16 * strand) * (1 + 0.12 * fibre);
    yarn.height = 0.62 * radius * level + radius * (section - 0.4) + radius * 0.09 * strand;
    return true;
  }

  const { pulled = 1 } = settings;
  const ground = rgb('#15130f');
  const cloth = paint(settings, (x, y, spot) => {
    // The whole cloth is pulled a little out of square.
    const wx = x + pulled * 0.18 * pitchX * fractalNoise(x / widthMm, y / heightMm, 5, 4, 2, 0.5, seed + 1);
    const wy = y + pulled * 0.22 * pitchY * fractalNoise(x / widthMm, y / heightMm, 4, 5, 2, 0.5, seed + 2);
    let top = -pitchX;
    spot.r = ground[0];
    spot.g = ground[1];
    spot.b = ground[2];
    spot.glossGu = 0.3;
    const along = wy / pitchY;
    const across = wx / pitchX;
    const showIfOnTop = () => {
      if (yarn.height <= top) return;
      top = yarn.height;
      spot.r = yarn.r * yarn.shade;
      spot.g = yarn.g * yarn.shade;
      spot.b = yarn.b * yarn.shade;
      spot.glossGu = 1.4;
    };
    for (let n = -1; n <= 1; n++) {
      const i = Math.floor(across) + n;
      const above = ride(along, (k) => over(i, k));
      const warp = ((i % warps) + warps) % warps;
      if (evaluate(warp, 1, (across - i - 0.5) * pitchX, wy, heightMm, pitchX, above, settings.warp))
        showIfOnTop();
      const j = Math.floor(along) + n;
      const below = ride(across, (k) => !over(k, j));
      const weft = ((j % wefts) + wefts) % wefts;
      if (evaluate(weft, 2, (along - j - 0.5) * pitchY, wx, widthMm, pitchY, below, settings.weft))
        showIfOnTop();
    }
    // Deep between the yarns little light arrives.
    const sunk = smoothstep(-0.75 * pitchX, 0.55 * pitchX, top);
    const light = 0.22 + 0.78 * sunk;
    spot.r *= light;
    spot.g *= light;
    spot.b *= light;
    spot.heightMm = Math.max(top, -0.6 * pitchX);
  });
  layFibres(settings, cloth);
  return cloth;
}

/** A few stray fibres, thin bent hairs that lie above the cloth. */
function layFibres(settings: WeaveSettings, cloth: GeneratedSurface): void {
  const random = seededRandom(settings.seed + 77);
  const { widthPx: w, heightPx: h } = cloth.colour;
  const count = Math.round((settings.strayFibresPerCm2 * settings.widthMm * settings.heightMm) / 100);
  for (let f = 0; f < count; f++) {
    let x = random.next() * w;
    let y = random.next() * h;
    let heading = random.next() * 2 * Math.PI;
    const bend = random.normal() * 0.012;
    const length = random.between(1.5, 6) * settings.pxPerMm;
    const colour = settings.weft[random.whole(settings.weft.length)]!;
    const opacity = random.between(0.2, 0.5);
    for (let k = 0; k < length; k++) {
      x += Math.cos(heading);
      y += Math.sin(heading);
      heading += bend + 0.03 * random.normal();
      const i = (((Math.round(y) % h) + h) % h) * w + (((Math.round(x) % w) + w) % w);
      cloth.colour.r[i] = cloth.colour.r[i]! * (1 - opacity) + 1.25 * colour[0] * opacity;
      cloth.colour.g[i] = cloth.colour.g[i]! * (1 - opacity) + 1.25 * colour[1] * opacity;
      cloth.colour.b[i] = cloth.colour.b[i]! * (1 - opacity) + 1.25 * colour[2] * opacity;
      cloth.heightMmPlane.data[i]! += 0.04;
    }
  }
}
