import type { ColourPicture, Plane } from '../raster';
import { shareRows } from '../shared-rows';
import { inTurns } from '../steps';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import { emptyReadings, planesOfPixels, READINGS, TALLIED } from './pixel-reader';

/** Normal times luminous reflectance of every pixel, and how well the readings agree. */
export interface Readings {
  x: Plane;
  y: Plane;
  z: Plane;
  colour: ColourPicture;
  /** Sum of the weights of the readings that were used. */
  used: Plane;
  /** Root mean square of the differences of the used readings, over the largest of them. */
  residual: Plane;
  ofLights: { gain: number; residual: number; used: number }[];
}

/**
 * What every pixel of a set of pictures reads.
 * @param turn lets others in between rows; may throw to stop
 * @param every reads one pixel of so many; the others say nothing
 */
export async function readPixels(
  set: readonly LitPicture[],
  brightness: Brightness,
  mmPerPx: { x: number; y: number },
  known: Surroundings | null,
  turn: () => Promise<void>,
  every = 1,
): Promise<Readings> {
  const { widthPx, heightPx } = set[0]!.picture;
  const n = set.length;
  const out = emptyReadings(widthPx, heightPx, n);
  const steps = shareRows(READINGS, {
    settings: {
      ...{ widthPx, heightPx, mmPerPx, every },
      brightness,
      lights: set.map(({ light }) => light),
      reflectedPx: known && {
        width: known.reflected.enclosed.widthPx,
        height: known.reflected.enclosed.heightPx,
      },
    },
    whole: known ? { light: known.reflected.light, enclosed: known.reflected.enclosed.data } : {},
    byRow: planesOfPixels(set, known),
    out,
    rows: heightPx,
  });
  await inTurns(steps, turn);
  const plane = (data: Float32Array): Plane => ({ widthPx, heightPx, data });
  return {
    x: plane(out.x),
    y: plane(out.y),
    z: plane(out.z),
    used: plane(out.used),
    residual: plane(out.residual),
    colour: { widthPx, heightPx, r: out.r, g: out.g, b: out.b },
    ofLights: set.map((_, k) => {
      let [squares, weight, used] = [0, 0, 0];
      for (let at = TALLIED * k; at < out.tally.length; at += TALLIED * n) {
        squares += out.tally[at]!;
        weight += out.tally[at + 1]!;
        used += out.tally[at + 2]!;
      }
      return {
        gain: brightness.gains[k]!,
        residual: weight > 0 ? Math.sqrt(squares / weight) : 1,
        used: used / (widthPx * heightPx),
      };
    }),
  };
}
