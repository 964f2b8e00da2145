/**
 * Value of a table of even steps at any place, by the cubic through the four nearest entries (Lagrange, as CIE 167:2005
 * recommends for steps of 10 nm and less); the first and last entries hold beyond its ends.
 * @param values entries from `fromNm` on
 * @param nm wavelength
 */
export function valueAt(values: readonly number[], fromNm: number, stepNm: number, nm: number): number {
  const last = values.length - 1;
  const place = (nm - fromNm) / stepNm;
  if (place <= 0) return values[0]!;
  if (place >= last) return values[last]!;
  if (last < 3) {
    const k = Math.min(last - 1, Math.floor(place));
    return values[k]! + (values[k + 1]! - values[k]!) * (place - k);
  }
  const first = Math.min(last - 3, Math.max(0, Math.floor(place) - 1));
  let sum = 0;
  for (let i = first; i < first + 4; i++) {
    let weight = 1;
    for (let j = first; j < first + 4; j++) if (j !== i) weight *= (place - j) / (i - j);
    sum += weight * values[i]!;
  }
  return sum;
}
