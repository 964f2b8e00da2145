import { squared, wholePower } from '../exact';
import type { Triple } from './spaces';

const RAD = Math.PI / 180;

/**
 * CIEDE2000 colour difference with kL = kC = kH = 1.
 * Source: Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula", Color Res. Appl. 30 (2005); equation numbers beside.
 * @param lab1 CIELAB
 * @param lab2 CIELAB
 */
export function ciede2000([l1, a1, b1]: Triple, [l2, a2, b2]: Triple): number {
  const cMean7 = wholePower((Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2, 7); // (2), (3)
  const g = 0.5 * (1 - Math.sqrt(cMean7 / (cMean7 + wholePower(25, 7)))); // (4)
  const ap1 = (1 + g) * a1; // (5)
  const ap2 = (1 + g) * a2;
  const c1 = Math.hypot(ap1, b1); // (6)
  const c2 = Math.hypot(ap2, b2);
  const hue = (a: number, b: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / RAD + 360) % 360); // (7)
  const h1 = hue(ap1, b1);
  const h2 = hue(ap2, b2);
  const dl = l2 - l1; // (8)
  const dc = c2 - c1; // (9)
  let dh = 0; // (10)
  if (c1 * c2 !== 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    else if (dh < -180) dh += 360;
  }
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * RAD); // (11)
  const l = (l1 + l2) / 2; // (12)
  const c = (c1 + c2) / 2; // (13)
  let h = h1 + h2; // (14)
  if (c1 * c2 !== 0) h = Math.abs(h1 - h2) <= 180 ? h / 2 : h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  const t =
    1 -
    0.17 * Math.cos((h - 30) * RAD) +
    0.24 * Math.cos(2 * h * RAD) +
    0.32 * Math.cos((3 * h + 6) * RAD) -
    0.2 * Math.cos((4 * h - 63) * RAD); // (15)
  const theta = 30 * Math.exp(-squared((h - 275) / 25)); // (16)
  const rc = 2 * Math.sqrt(wholePower(c, 7) / (wholePower(c, 7) + wholePower(25, 7))); // (17)
  const sl = 1 + (0.015 * squared(l - 50)) / Math.sqrt(20 + squared(l - 50)); // (18)
  const sc = 1 + 0.045 * c; // (19)
  const sh = 1 + 0.015 * c * t; // (20)
  const rt = -Math.sin(2 * theta * RAD) * rc; // (21)
  return Math.sqrt(squared(dl / sl) + squared(dc / sc) + squared(dH / sh) + rt * (dc / sc) * (dH / sh)); // (22)
}
