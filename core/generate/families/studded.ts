import { hashUnit, smoothstep } from '../../raster';
import { printMm } from '../../units';
import { rgbOf, type Canvas } from '../canvas';
import { family, type SizeMm } from '../family';
import { cellsAt } from '../noise';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Rubber flooring with raised studs or ribs. */

const settings = {
  lab: colour('Rubber', [34, -1, -5], 'mean colour'),
  stud: choice('Profile', { round: 'round studs', square: 'square studs', ribs: 'ribs' }, 'what is raised'),
  lay: choice('Order', { rows: 'in rows', staggered: 'staggered' }, 'how studs follow each other'),
  pitchMm: size('Pitch', 'mm', [33, 2, 200], 'from the middle of one stud or rib to that of the next'),
  studMm: size('Stud', 'mm', [25, 1, 190], 'diameter or side at half its height; width of a rib'),
  heightMm: size('Height', 'mm', [0.6, 0, 6], 'of the raised face above the base'),
  flankMm: size('Flank', 'mm', [0.8, 0.05, 20], 'width of the slope between base and raised face'),
  granules: colour('Granules', [58, 2, 6], 'colour of the granules in the rubber'),
  granulePercent: size('Granules', '%', [0, 0, 60], 'how much of the face they are'),
  granuleMm: size('Size of granules', 'mm', [1.6, 0.3, 12], 'mean diameter'),
} as const;
type Values = ValuesOf<typeof settings>;

export const STUDDED = family({
  kind: 'studded-rubber',
  name: 'Studded rubber',
  group: 'Resilient',
  category: 'resilient',
  repeatMm: { width: 500, height: 500 },
  settings,
  headline: ['lab', 'stud', 'lay', 'pitchMm', 'studMm', 'heightMm'],
  unused: ({ stud, granulePercent }) => [
    ...(stud === 'ribs' ? (['lay'] as const) : []),
    ...(granulePercent.value === 0 ? (['granules', 'granuleMm'] as const) : []),
  ],
  response: { base: 'dielectric', glossGu: 7 },
  parts: () => [{ id: 'stud', name: 'Raised faces' }],
  closing: (values, asked) => {
    refuseOverlap(values);
    const { rows, columns, rowMm } = rowsOf(values, asked);
    return {
      width: values.stud === 'ribs' ? asked.width : columns * values.pitchMm.value,
      height: rows * rowMm,
    };
  },
  courses: (values, sizeMm) => {
    const { rows, columns } = rowsOf(values, sizeMm);
    return { across: values.stud === 'ribs' ? 1 : columns, up: rows };
  },
  paint,
});

function refuseOverlap({ pitchMm, studMm, stud }: Values): void {
  if (studMm.value < pitchMm.value) return;
  const one = stud === 'ribs' ? 'Ribs' : 'Studs';
  throw new RangeError(
    `${one} of ${printMm(studMm.value)} mm leave nothing between them at a pitch of ${printMm(pitchMm.value)} mm. Make them narrower than the pitch.`,
  );
}

/** Staggered rows lie closer, so that all neighbours are equally far; there is an even number of them. */
function rowsOf({ pitchMm, lay, stud }: Values, { width, height }: SizeMm) {
  const pitch = pitchMm.value;
  const staggered = lay === 'staggered' && stud !== 'ribs';
  const rowMm = staggered ? (pitch * Math.sqrt(3)) / 2 : pitch;
  const group = staggered ? 2 : 1;
  const rows = group * Math.max(1, Math.round(height / rowMm / group));
  return { rows, columns: Math.max(1, Math.round(width / pitch)), rowMm, staggered };
}

/** Distance to the outline of the nearest stud or rib, mm: above 0 on it. */
function outlineOf(values: Values, sizeMm: SizeMm): (xMm: number, yMm: number) => number {
  const { stud } = values;
  const [pitch, half] = [values.pitchMm.value, values.studMm.value / 2];
  const { rowMm, staggered } = rowsOf(values, sizeMm);
  const away = (mm: number, step: number) => Math.abs(mm - step * Math.round(mm / step));
  if (stud === 'ribs') return (_x, y) => half - away(y - pitch / 2, pitch);
  const ofRow = (row: number, x: number, y: number) => {
    const shift = staggered && row % 2 !== 0 ? pitch / 2 : 0;
    const dx = away(x - pitch / 2 - shift, pitch);
    const dy = Math.abs(y - (row + 0.5) * rowMm);
    return stud === 'round' ? half - Math.sqrt(dx * dx + dy * dy) : half - Math.max(dx, dy);
  };
  return (x, y) => {
    const row = Math.floor(y / rowMm);
    const here = ofRow(row, x, y);
    // A stud may reach over the border of its row.
    return staggered ? Math.max(here, ofRow(row - 1, x, y), ofRow(row + 1, x, y)) : here;
  };
}

/** Raised faces with a rounded flank, granules that the press smeared a little, and a fine matt skin. */
async function paint(canvas: Canvas, values: Values): Promise<void> {
  const { px, mm, sizeMm } = canvas;
  const [base, granule] = [rgbOf(values.lab.lab), rgbOf(values.granules.lab)];
  const outline = outlineOf(values, sizeMm);
  const flank = Math.max(values.flankMm.value, Math.max(mm.x, mm.y)) / 2;
  const share = values.granulePercent.value / 100;
  const cell = values.granuleMm.value;
  const count = (lengthMm: number) => Math.max(3, Math.round(lengthMm / cell));
  const granules = share > 0 ? cellsAt(count(sizeMm.width), count(sizeMm.height), 1, canvas.seed + 3) : null;
  const [fine, cloud, bend] = [
    canvas.waves(1, 0.35, 3, 0.75),
    canvas.waves(2, 90, 4, 0.6),
    canvas.waves(3, cell, 3, 0.6),
  ];
  const studs = canvas.part('stud');
  await canvas.rows((y, first) => {
    const [fi, cl, be] = [fine.row(y), cloud.row(y), bend.row(y)];
    const yMm = (y + 0.5) * mm.y;
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const xMm = (x + 0.5) * mm.x;
      const raised = smoothstep(-flank, flank, outline(xMm, yMm));
      canvas.put(i, base, 1 + 0.02 * fi[x]! + 0.02 * cl[x]!);
      if (granules) {
        const g = granules(
          (xMm + 0.25 * cell * be[x]!) / sizeMm.width,
          (yMm + 0.25 * cell * be[x]!) / sizeMm.height,
        );
        const own = hashUnit(g.id, 2, 0, canvas.seed) - 0.5;
        if (hashUnit(g.id, 1, 0, canvas.seed) < share)
          canvas.over(
            i,
            [granule[0] * (1 + 0.2 * own), granule[1] * (1 + 0.2 * own), granule[2] * (1 + 0.2 * own)],
            smoothstep(0, 0.04, g.edge),
          );
      }
      studs[i] = raised;
      canvas.height.data[i] = values.heightMm.value * (raised - 1) + 0.008 * fi[x]!;
      canvas.gloss.data[i] = 1.6 * raised + 0.5 * fi[x]!;
    }
  });
}
