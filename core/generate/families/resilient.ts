import { hashUnit, smoothstep } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { cellsAt } from '../noise';
import { choice, colour, size, type ValuesOf } from '../setting';
import { meetsShares } from '../version';

/** Hide, linoleum and smooth rubber, cork. */

const hideSettings = {
  lab: colour('Hide', [38, 14, 22], 'mean colour of the finished hide'),
  crease: colour('Creases', [24, 10, 14], 'colour in the creases'),
  grainMm: size('Grain', 'mm', [1.6, 0.3, 12], 'mean diameter of the cells of the grain'),
  depthMm: size('Depth of the creases', 'mm', [0.14, 0, 2], 'between the cells'),
  pullPercent: size('Pull-up', '%', [20, 0, 100], 'how much the colour shifts where it is stretched'),
} as const;

export const HIDE = family({
  kind: 'hide',
  name: 'Hide',
  group: 'Resilient',
  category: 'other',
  repeatMm: { width: 300, height: 300 },
  settings: hideSettings,
  headline: ['lab', 'crease', 'grainMm', 'depthMm', 'pullPercent'],
  response: { base: 'dielectric', glossGu: 9 },
  parts: () => [{ id: 'crease', name: 'Creases' }],
  paint: paintHide,
});

/** Cells of several sizes, domed, with creases between them; long folds run through. */
async function paintHide(canvas: Canvas, values: ValuesOf<typeof hideSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [base, creased] = [rgbOf(values.lab.lab), rgbOf(values.crease.lab)];
  const mm = values.grainMm.value;
  const count = (cell: number) =>
    [Math.max(3, Math.round(sizeMm.width / cell)), Math.max(3, Math.round(sizeMm.height / cell))] as const;
  const large = cellsAt(...count(1.5 * mm), 1, canvas.seed);
  const small = cellsAt(...count(0.7 * mm), 1, canvas.seed + 3);
  const [bend, bendY] = [canvas.waves(1, 1.1 * mm, 3, 0.55), canvas.waves(2, 1.1 * mm, 3, 0.55)];
  const where = canvas.waves(3, 24 * mm, 4, 0.55);
  const fold = canvas.ridges(4, { x: 16 * mm, y: 34 * mm }, 3, 0.5);
  const cloud = canvas.waves(5, 60, 4, 0.6);
  const fine = canvas.waves(6, 0.16, 2, 0.8);
  const part = canvas.part('crease');
  await canvas.rows((y, first) => {
    const [bx, by, wh, fo, cl, fi] = [
      bend.row(y),
      bendY.row(y),
      where.row(y),
      fold.row(y),
      cloud.row(y),
      fine.row(y),
    ];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const u = (x + 0.5) / px.width + (0.2 * mm * bx[x]!) / sizeMm.width;
      const v = (y + 0.5) / px.height + (0.2 * mm * by[x]!) / sizeMm.height;
      const a = large(u, v).edge * 1.5;
      const fineness = smoothstep(-0.3, 0.4, wh[x]!);
      const b = fineness > 0 ? small(u, v).edge * 0.7 : 0;
      const edge = (1 - 0.6 * fineness) * Math.min(a, 0.45) + 0.75 * fineness * Math.min(b, 0.3);
      const dome = smoothstep(0, 0.2, edge);
      const deep = smoothstep(0.78, 0.99, fo[x]!);
      const low = Math.min(1, (1 - dome) * 0.8 + 0.7 * deep);
      canvas.mix(
        i,
        base,
        creased,
        0.6 * low,
        1 + 0.05 * cl[x]! + 0.035 * fi[x]! + (values.pullPercent.value / 100) * 0.25 * cl[x]! * dome,
      );
      part[i] = low;
      canvas.height.data[i] =
        values.depthMm.value *
        (dome * (1 - 0.4 * deep) - 1 + 0.5 * (0.3 * cl[x]!) - 0.6 * deep + 0.03 * fi[x]!);
      canvas.gloss.data[i] = 3 * dome - 5 * low + 1.5 * cl[x]!;
    }
  });
}

const linoleumSettings = {
  lab: colour('Ground', [62, 3, 18], 'commonest colour'),
  second: colour('Second colour', [52, 4, 20], 'of the marbling'),
  third: colour('Third colour', [72, 2, 14], 'of fine flecks'),
  stretch: size('Stretch', '1', [5, 1, 40], 'how many times longer flecks are along the calender'),
  fleckMm: size('Flecks', 'mm', [3, 0.3, 60], 'width of a fleck'),
  secondPercent: size('Second colour', '%', [35, 0, 100], 'how much of it there is'),
} as const;

export const LINOLEUM = family({
  kind: 'linoleum',
  name: 'Linoleum and rubber',
  group: 'Resilient',
  category: 'resilient',
  repeatMm: { width: 600, height: 600 },
  settings: linoleumSettings,
  headline: ['lab', 'second', 'third', 'fleckMm', 'stretch', 'secondPercent'],
  response: { base: 'dielectric', glossGu: 9 },
  parts: () => [{ id: 'second', name: 'Second colour' }],
  paint: paintLinoleum,
});

/** Crumbs of several colours that the calender drew out. */
async function paintLinoleum(canvas: Canvas, values: ValuesOf<typeof linoleumSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [a, b, c] = [rgbOf(values.lab.lab), rgbOf(values.second.lab), rgbOf(values.third.lab)];
  const mm = values.fleckMm.value;
  const long = values.stretch.value;
  const [nx, ny] = [
    Math.max(3, Math.round(sizeMm.width / (mm * long))),
    Math.max(3, Math.round(sizeMm.height / mm)),
  ];
  const crumbs = cellsAt(nx, ny, 1, canvas.seed);
  const bend = canvas.waves(1, { x: 2.5 * mm * long, y: 2.5 * mm }, 4, 0.6);
  const bendX = canvas.waves(2, { x: 0.5 * mm * long, y: 0.5 * mm }, 3, 0.6);
  const marble = canvas.waves(3, { x: 8 * mm * long, y: 7 * mm }, 4, 0.6);
  const fleck = canvas.waves(4, { x: 0.35 * mm * long, y: 0.3 * mm }, 2, 0.7);
  const fine = canvas.waves(5, 0.4, 3, 0.75);
  const part = canvas.part('second');
  const share = values.secondPercent.value / 100;
  // Where crumbs meet, both colours mix.
  const between = meetsShares(canvas.version) ? 1 : 0.5;
  await canvas.rows((y, first) => {
    const [be, bx, ma, fl, fi] = [bend.row(y), bendX.row(y), marble.row(y), fleck.row(y), fine.row(y)];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const cell = crumbs(
        (x + 0.5) / px.width + (0.5 * mm * long * bx[x]!) / sizeMm.width,
        (y + 0.5) / px.height + (1.1 * mm * be[x]! + 0.3 * mm * bx[x]!) / sizeMm.height,
      );
      const pick = hashUnit(cell.id, 1, 0, canvas.seed);
      const own = hashUnit(cell.id, 2, 0, canvas.seed) - 0.5;
      const second = smoothstep(0.12, -0.12, pick - share * (1 + 0.9 * ma[x]!));
      const inside = smoothstep(0, 0.12, cell.edge);
      const soft = second * inside + share * between * (1 - inside);
      canvas.mix(i, a, b, soft, 1 + 0.06 * own + 0.03 * fi[x]!);
      const third = 0.7 * smoothstep(0.38, 0.6, fl[x]! + 0.2 * own);
      if (third > 0) canvas.over(i, c, third);
      part[i] = soft;
      canvas.height.data[i] = 0.006 * fi[x]! + 0.004 * own;
      canvas.gloss.data[i] = 0.8 * fi[x]! + own;
    }
  });
}

const corkSettings = {
  lab: colour('Granules', [60, 10, 28], 'mean colour of the cork'),
  skin: colour('Skins', [40, 10, 20], 'dark borders of the granules'),
  granuleMm: size('Granules', 'mm', [5, 0.5, 40], 'mean diameter'),
  spread: size('Spread of L*', '1', [6, 0, 25], 'how much granules differ, standard deviation'),
  lie: choice('Make', { granulate: 'granulate', veneer: 'veneer in strips' }, 'how granules lie'),
} as const;

export const CORK = family({
  kind: 'cork',
  name: 'Cork',
  group: 'Resilient',
  category: 'resilient',
  repeatMm: { width: 400, height: 400 },
  settings: corkSettings,
  headline: ['lab', 'skin', 'granuleMm', 'lie', 'spread'],
  response: { base: 'dielectric', glossGu: 6 },
  parts: () => [{ id: 'skin', name: 'Skins' }],
  paint: paintCork,
});

/** Granules pressed against each other, each with its own tone, cell rows and dark skin; voids where corners did not fill. */
async function paintCork(canvas: Canvas, values: ValuesOf<typeof corkSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [base, skin] = [rgbOf(values.lab.lab), rgbOf(values.skin.lab)];
  const mm = values.granuleMm.value;
  const long = values.lie === 'veneer' ? 4 : 1.2;
  const [nx, ny] = [
    Math.max(3, Math.round(sizeMm.width / (mm * long))),
    Math.max(3, Math.round(sizeMm.height / mm)),
  ];
  const granules = cellsAt(nx, ny, 1, canvas.seed);
  const [bend, bendY] = [canvas.waves(1, 0.6 * mm, 4, 0.6), canvas.waves(2, 0.6 * mm, 4, 0.6)];
  const rowsOf = [0, 1, 2, 3].map((k) =>
    canvas.waves(10 + k, k % 2 ? { x: 0.18, y: 0.9 } : { x: 0.9, y: 0.18 }, 2, 0.7),
  );
  const grain = canvas.waves(3, 1.1, 3, 0.7);
  const part = canvas.part('skin');
  await canvas.rows((y, first) => {
    const [bx, by, gr] = [bend.row(y), bendY.row(y), grain.row(y)];
    const cellRows = rowsOf.map((r) => r.row(y));
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      const g = granules(
        (x + 0.5) / px.width + (0.22 * mm * long * bx[x]!) / sizeMm.width,
        (y + 0.5) / px.height + (0.22 * mm * by[x]!) / sizeMm.height,
      );
      const own = hashUnit(g.id, 1, 0, canvas.seed) - 0.5;
      const wide = hashUnit(g.id, 2, 0, canvas.seed);
      const cellRow = cellRows[Math.floor(hashUnit(g.id, 3, 0, canvas.seed) * 4)]![x]!;
      const border = 1 - smoothstep(0.01, 0.05 + 0.09 * wide, g.edge);
      const gap = (1 - smoothstep(0, 0.03, g.edge)) * smoothstep(0.6, 0.9, wide);
      const tone = Math.exp(0.085 * values.spread.value * own) * (1 + 0.09 * cellRow + 0.07 * gr[x]!);
      canvas.mix(i, base, skin, 0.7 * border, tone);
      canvas.tone(i, 1 - 0.45 * gap);
      part[i] = border;
      canvas.height.data[i] = 0.05 * own - 0.05 * border - 0.3 * gap + 0.02 * gr[x]!;
      canvas.gloss.data[i] = 1.5 * own - 3 * gap;
    }
  });
}
