import { labToXyz, linearToLab, xyzToLinear, type Triple } from '../colour';
import { gradientNoise, seededRandom, type ColourPicture, type Random } from '../raster';
import { rowSpans, type Steps } from '../steps';
import type { Cover } from './cover';
import type { LayoutGeometry } from './lay';
import type { ColourPlanes } from './from-others';
import { arrisWeight } from './relief';
import { coverage } from './sampling';
import type { LayoutSettings } from './settings';

/** Colour of the laid pieces: shade variation, the kinds of a blend, joints. */

const linearOf = ([l, a, b]: readonly [number, number, number]): Triple => xyzToLinear(labToXyz([l, a, b]));

/** What every piece does to the colour of its face: a factor per channel, or a plain colour in its place. */
export interface PieceColour {
  gain: Triple;
  plain: Triple | null;
}

const LEAST_GAIN = 0.1;
const MOST_GAIN = 6;

/**
 * Tone of every piece. A shift in CIELAB is made as a factor that takes the mean of the faces there, so that grain and
 * contrast of a face stay as they are.
 * @param kindOf kind of the blend of every piece
 * @param means of the faces of every kind, linear light, that of the finish itself first; null: those of the finish itself
 */
export function pieceColours(
  { pieces, repeatMm }: LayoutGeometry,
  { shade, blend, seed }: LayoutSettings,
  kindOf: Uint8Array,
  means: readonly [Triple, ...(Triple | null)[]],
): PieceColour[] {
  const random = seededRandom(seed + 211);
  const labs = means.map((tone) => linearToLab(tone ?? means[0]));
  return pieces.map((piece) => {
    const kind = kindOf[piece.id]!;
    const other = kind > 0 ? blend.others[kind - 1]! : null;
    const mean = means[kind] ?? means[0];
    const plain = other && !other.finish ? other.lab : null;
    const base = plain ?? labs[kind] ?? labs[0]!;
    const shift = other && !other.lab && !other.finish ? other.shift : [0, 0, 0];
    const from: [number, number, number] = [base[0] + shift[0]!, base[1] + shift[1]!, base[2] + shift[2]!];
    const chance = [bounded(random), bounded(random), bounded(random)] as const;
    // Up the repeat and back again.
    const run = Math.sin((2 * Math.PI * piece.centre[1]) / repeatMm.height);
    from[0] += (shade.drift / 2) * run;
    const toned = varied(from, shade, chance);
    if (plain) return { gain: [1, 1, 1], plain: linearOf(toned) };
    const wanted = linearOf(toned);
    const gain = wanted.map((v, k) =>
      Math.max(LEAST_GAIN, Math.min(MOST_GAIN, mean[k]! > 0 ? v / mean[k]! : 1)),
    ) as unknown as Triple;
    return { gain, plain: null };
  });
}

/** A single piece far from all others would show the repeat from afar. */
const MOST_DEVIATIONS = 1.9;

const bounded = (random: Random) => Math.max(-MOST_DEVIATIONS, Math.min(MOST_DEVIATIONS, random.normal()));

/** A colour varied in lightness, chroma and hue. */
function varied(
  [l, a, b]: readonly [number, number, number],
  { lightness, chroma, hueDeg }: LayoutSettings['shade'],
  [dl, dc, dh]: readonly [number, number, number],
): [number, number, number] {
  const c = Math.max(0, Math.hypot(a, b) + chroma * dc);
  const hue = Math.atan2(b, a) + (hueDeg * dh * Math.PI) / 180;
  return [Math.max(0, Math.min(100, l + lightness * dl)), c * Math.cos(hue), c * Math.sin(hue)];
}

/** How much the tone of a joint varies by its grain. */
const JOINT_GRAIN = 0.07;

/**
 * Puts tones and joints over the laid faces, in place.
 * @param laid faces as laid, linear light
 * @param joints what joints are made of, laid; null: they are of a plain colour
 */
export function* colouringSteps(
  laid: ColourPicture,
  geometry: LayoutGeometry,
  cover: Cover,
  settings: LayoutSettings,
  colours: readonly PieceColour[],
  joints: ColourPlanes | null = null,
): Steps<ColourPicture> {
  const { r, g, b, widthPx: w, heightPx: h } = laid;
  const { repeatMm } = geometry;
  const mmPx = Math.max(repeatMm.width / w, repeatMm.height / h);
  const joint = linearOf(settings.joint.lab);
  const cells = {
    x: Math.max(1, Math.round(repeatMm.width / 2.2)),
    y: Math.max(1, Math.round(repeatMm.height / 2.2)),
  };
  const grained = settings.joint.grainMm > 0;
  const { bodyLab } = settings.arris;
  const body = bodyLab && linearOf(bodyLab);
  const worn = body && arrisWeight(settings, geometry);
  const colourFace = (i: number, { gain, plain }: PieceColour): void => {
    r[i] = plain ? plain[0] : r[i]! * gain[0];
    g[i] = plain ? plain[1] : g[i]! * gain[1];
    b[i] = plain ? plain[2] : b[i]! * gain[2];
    const bare = worn ? worn(i, cover) : 0;
    if (body && bare > 0) {
      r[i] = (1 - bare) * r[i]! + bare * body[0];
      g[i] = (1 - bare) * g[i]! + bare * body[1];
      b[i] = (1 - bare) * b[i]! + bare * body[2];
    }
  };
  for (const { from, to } of rowSpans(h, 2 * w)) {
    yield;
    for (let row = from, i = from * w; row < to; row++)
      for (let x = 0; x < w; x++, i++) {
        const id = cover.piece[i]!;
        const share = id < 0 ? 0 : coverage(cover.distanceMm[i]!, mmPx);
        if (share > 0) colourFace(i, colours[id]!);
        if (share < 1 && joints && id >= 0) {
          r[i] = share * r[i]! + (1 - share) * joints[0][i]!;
          g[i] = share * g[i]! + (1 - share) * joints[1][i]!;
          b[i] = share * b[i]! + (1 - share) * joints[2][i]!;
        } else if (share < 1) {
          const tone = grained
            ? 1 +
              JOINT_GRAIN *
                gradientNoise((x + 0.5) / w, (row + 0.5) / h, cells.x, cells.y, settings.seed + 53)
            : 1;
          r[i] = share * r[i]! + (1 - share) * joint[0] * tone;
          g[i] = share * g[i]! + (1 - share) * joint[1] * tone;
          b[i] = share * b[i]! + (1 - share) * joint[2] * tone;
        }
      }
  }
  return laid;
}
