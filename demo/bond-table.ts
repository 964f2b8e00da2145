import { writeFileSync } from 'node:fs';
import { initialLayout, BONDS, hatchOf, solveLayout } from '@jossel/core/layout';

/** Draws the table of all bonds in docs/bonds.svg, by the geometry that lays them: bond-table. */

const CELL = { width: 180, height: 150, columns: 6, drawn: 116 };
/** Corners that can be told apart when they are drawn. */
function seen(points: readonly (readonly [number, number])[], scale: number) {
  let last = points[0]!;
  return points.filter((p, k) => {
    const shown =
      k === 0 || k === points.length - 1 || Math.hypot(p[0] - last[0], p[1] - last[1]) * scale > 0.9;
    if (shown) last = p;
    return shown;
  });
}
const number = (v: number) => Math.round(v * 10) / 10;

const cells = BONDS.map(({ kind, name, family }, k) => {
  const { geometry, kindOf } = solveLayout(initialLayout(kind));
  const { width, height } = geometry.repeatMm;
  const scale = Math.min((CELL.width - 14) / width, CELL.drawn / height);
  const path = hatchOf(geometry, kindOf, 'full')
    .map(
      ({ points, closed }) =>
        seen(points, scale)
          .map(([x, y], n) => `${n === 0 ? 'M' : 'L'}${number(x * scale)} ${number((height - y) * scale)}`)
          .join('') + (closed ? 'Z' : ''),
    )
    .join('');
  const [x, y] = [(k % CELL.columns) * CELL.width, Math.floor(k / CELL.columns) * CELL.height];
  const size = `${Math.round(width)} × ${Math.round(height)} mm`;
  return [
    `<g transform="translate(${x + 6} ${y + 4})">`,
    `<text y="11" font-weight="600">${name}</text>`,
    `<text y="24" fill="#585858" font-size="9">${family}, ${size}</text>`,
    `<g transform="translate(0 28)"><rect width="${number(width * scale)}" height="${number(height * scale)}" fill="#f7f7f7"/>`,
    `<path d="${path}" fill="none" stroke="#1b1b1b" stroke-width="0.6"/></g></g>`,
  ].join('');
});
const rows = Math.ceil(BONDS.length / CELL.columns);
const [width, height] = [CELL.columns * CELL.width, rows * CELL.height];
writeFileSync(
  'docs/bonds.svg',
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="11">\n<rect width="${width}" height="${height}" fill="#fff"/>\n${cells.join('\n')}\n</svg>\n`,
);
console.log(`docs/bonds.svg: ${BONDS.length} bonds`);
