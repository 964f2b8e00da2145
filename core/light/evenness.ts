import { squared } from '../exact';
import { halve, mapChannels, type ColourPicture } from '../raster';
import { cellsOfPicture, fitLight, termsAt, type LightCell } from './field';

/** Side of the picture that is judged, px. */
const JUDGED_PX = 700;
/** Light that falls off to one side, and light that falls off towards the edges or bends. */
const ORDERS = [1, 2] as const;
/** Places along each side at which the light is compared; at the very edge a polynomial says least. */
const PLACES = 7;
const FROM_EDGE = 0.05;
/** Fields along each side that are left out in turn, to see how far the fall depends on what lies there. */
const FIELDS = 3;
/** A fall counts when it is so many standard errors, by the order of the polynomial: one that bends fits chance better. */
const SURELY = [0, 3, 4];

/** How light falls off over a picture. */
export interface Evenness {
  /** Share of the light that is lost from the brightest to the darkest place, 0–1; 0: no fall is certain. */
  fall: number;
  /** Natural logarithm of relative light at a place, in shares of the picture. */
  logLightAt: (at: readonly [number, number]) => number;
}

const EVEN: Evenness = { fall: 0, logLightAt: () => 0 };

/**
 * How evenly a picture is lit, by the levelling model: what of its broad changes of lightness is light and not the surface. It
 * is certain where the fall hardly depends on which ninth of the picture is left out (jackknife, Quenouille 1956); a few pale
 * and dark pieces make it depend on each of them.
 * @param picture linear light, any size
 */
export function evennessOf(picture: ColourPicture): Evenness {
  let small = picture;
  while (Math.max(small.widthPx, small.heightPx) > JUDGED_PX) small = mapChannels(small, halve);
  const cells = cellsOfPicture(small);
  let best = EVEN;
  for (const order of ORDERS) {
    const whole = fallOf(cells, order);
    if (!whole) continue;
    const parts = Array.from({ length: FIELDS * FIELDS }, (_, k) =>
      fallOf(
        cells.filter((c) => fieldOf(c) !== k),
        order,
      ),
    ).filter((part) => part !== null);
    const falls = parts.map((part) => Math.log(1 - part.fall));
    const mean = falls.reduce((a, b) => a + b, 0) / falls.length;
    const variance =
      falls.reduce((sum, f) => sum + squared(f - mean), 0) * ((falls.length - 1) / falls.length);
    if (-Math.log(1 - whole.fall) > SURELY[order]! * Math.sqrt(variance) && whole.fall > best.fall)
      best = whole;
  }
  return best;
}

const fieldOf = ({ at: [x, y] }: LightCell): number =>
  Math.min(FIELDS - 1, Math.floor(x * FIELDS)) + FIELDS * Math.min(FIELDS - 1, Math.floor(y * FIELDS));

/** The fall by a polynomial of one order; null: there is too little to judge it by. */
function fallOf(cells: readonly LightCell[], order: number): Evenness | null {
  if (cells.length < 4 * termsAt([0, 0], order).length) return null;
  const coefficients = fitLight({ surfaces: [cells], known: [] }, order);
  const logLightAt = ([x, y]: readonly [number, number]) =>
    termsAt([x, y], order).reduce((sum, t, k) => sum + coefficients[k]! * t, 0);
  const place = (k: number) => FROM_EDGE + ((1 - 2 * FROM_EDGE) * k) / (PLACES - 1);
  let [least, most] = [Infinity, -Infinity];
  for (let y = 0; y < PLACES; y++)
    for (let x = 0; x < PLACES; x++) {
      const log = logLightAt([place(x), place(y)]);
      least = Math.min(least, log);
      most = Math.max(most, log);
    }
  return { fall: 1 - Math.exp(least - most), logLightAt };
}
