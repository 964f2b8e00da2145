import type { HatchLine } from '../layout';

/** A line hatch as SVG, one user unit a millimetre: as lines, and as a pattern that can fill anything. */

const number = (v: number) => String(Math.round(v * 1000) / 1000);

/** Path data; SVG counts y downwards. */
const pathOf = ({ points, closed }: HatchLine, heightMm: number): string =>
  points.map(([x, y], k) => `${k === 0 ? 'M' : 'L'}${number(x)} ${number(heightMm - y)}`).join('') +
  (closed ? 'Z' : '');

/**
 * @param lines of the hatch, y up
 * @param kinds names of the kinds of the blend, the finish itself first; each is a group of its own
 * @param strokeMm width of the lines
 */
export function hatchSvg(
  lines: readonly HatchLine[],
  repeatMm: { width: number; height: number },
  kinds: readonly string[],
  strokeMm = 0.5,
): string {
  const [w, h] = [number(repeatMm.width), number(repeatMm.height)];
  const groups = kinds.map((name, kind) => {
    const paths = lines.filter((line) => line.kind === kind).map((line) => pathOf(line, repeatMm.height));
    return paths.length > 0 ? `<g data-kind="${escaped(name)}"><path d="${paths.join('')}"/></g>` : '';
  });
  const drawn = `<g fill="none" stroke="#000" stroke-width="${number(strokeMm)}">${groups.join('')}</g>`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 0 ${w} ${h}">`,
    `<defs><pattern id="hatch" patternUnits="userSpaceOnUse" width="${w}" height="${h}">${drawn}</pattern></defs>`,
    `<g id="lines">${drawn}</g>`,
    '</svg>',
    '',
  ].join('\n');
}

const escaped = (text: string) =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
