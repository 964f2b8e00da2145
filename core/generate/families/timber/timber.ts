import { smoothstep } from '../../../raster';
import { rgbOf, type Canvas } from '../../canvas';
import { family, type SizeMm } from '../../family';
import { endGrain, longGrain, poreAt, rayFleck, rayOfEnd } from './grain';
import { leavesOf, STEP_MM } from './leaves';
import { countOf, settings, type Values } from './settings';

/** Timber from the log: a leaf is a plane through it, and its figure is the rings that the plane meets. */

export const TIMBER = family({
  kind: 'timber',
  name: 'Timber',
  group: 'Timber',
  category: 'timber',
  repeatMm: { width: 2400, height: 840 },
  settings,
  headline: ['cut', 'leafMm', 'ringsPerCm', 'early', 'late', 'pores'],
  unused: ({ cut, pores, sapPercent }) => [
    ...(cut === 'end' ? (['leaves', 'knotsPerM2', 'clusterPercent'] as const) : []),
    ...(sapPercent.value === 0 ? (['sap'] as const) : []),
    ...(pores === 'none' || cut === 'end' ? (['poreMm'] as const) : []),
    ...(cut === 'crown' ? (['raysPercent'] as const) : []),
  ],
  response: { base: 'dielectric', glossGu: 12 },
  parts: () => [
    { id: 'late', name: 'Late wood' },
    { id: 'pore', name: 'Pores' },
  ],
  closing: (values, asked) => {
    refuseTooMany(values, asked);
    const { leafMm, cut } = values;
    return {
      width: cut === 'end' ? leafMm.value * countOf(asked.width, leafMm.value) : asked.width,
      height: leafMm.value * countOf(asked.height, leafMm.value),
    };
  },
  courses: ({ leafMm, cut }, { width, height }) => ({
    across: cut === 'end' ? countOf(width, leafMm.value) : 1,
    up: countOf(height, leafMm.value),
  }),
  faces: ({ leafMm, cut }, sizeMm) => {
    const [columns, rows] = [
      cut === 'end' ? countOf(sizeMm.width, leafMm.value) : 1,
      countOf(sizeMm.height, leafMm.value),
    ];
    const [width, height] = [sizeMm.width / columns, sizeMm.height / rows];
    return Array.from({ length: columns * rows }, (_, k) => ({
      left: (k % columns) * width,
      bottom: Math.floor(k / columns) * height,
      width,
      height,
    }));
  },
  paint,
});

/** Leaves and blocks that one repeat can hold. */
const MOST_LEAVES = 4000;

function refuseTooMany({ leafMm, cut }: Values, asked: SizeMm): void {
  const count =
    countOf(asked.height, leafMm.value) * (cut === 'end' ? countOf(asked.width, leafMm.value) : 1);
  if (count > MOST_LEAVES)
    throw new RangeError(
      `The repeat would hold ${count} ${cut === 'end' ? 'blocks' : 'leaves'}, each of its own log; at most ${MOST_LEAVES} can be sawn. Make it smaller, or the ${cut === 'end' ? 'blocks' : 'leaves'} larger.`,
    );
}

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const { sizeMm, px, mm } = canvas;
  const leafMm = values.leafMm.value;
  const end = values.cut === 'end';
  const leaves = leavesOf(values, sizeMm, canvas.seed);
  const columns = end ? countOf(sizeMm.width, leafMm) : 1;
  const [early, late] = [rgbOf(values.early.lab), rgbOf(values.late.lab)];
  const sapTimes = rgbOf(values.sap.lab).map((v, k) => v / early[k]!) as [number, number, number];
  const [latePart, porePart] = [canvas.part('late'), canvas.part('pore')];
  // Fibres run with the leaf; across end grain there are none.
  const long = end ? 1 : 60;
  const fibre = [
    canvas.waves(1, { x: 1.6 * long, y: 1.5 }, 2, 0.7),
    canvas.waves(2, { x: 0.5 * long, y: 0.32 }, 2, 0.8),
    canvas.waves(3, { x: 5 * long, y: 7 }, 2, 0.6),
  ] as const;
  const cloud = canvas.waves(4, { x: end ? 60 : 500, y: 60 }, 3, 0.6);
  const wobble = canvas.waves(5, { x: end ? 30 : 55, y: end ? 30 : 9 }, 2, 0.5);
  const pixelMm = Math.max(mm.x, mm.y);
  const poreSeen = smoothstep(0.12, 0.5, 0.3 / pixelMm);
  const rowPx = px.height / countOf(sizeMm.height, leafMm);
  await canvas.rows((y, first) => {
    const [wide, fine, broad, clouds, wobbles] = [
      fibre[0].row(y),
      fibre[1].row(y),
      fibre[2].row(y),
      cloud.row(y),
      wobble.row(y),
    ];
    const row = Math.min(countOf(sizeMm.height, leafMm) - 1, Math.floor((y + 0.5) / rowPx));
    const inRow = (y + 0.5) * mm.y - row * leafMm;
    for (let x = 0; x < px.width; x++) {
      const xMm = (x + 0.5) * mm.x;
      const column = Math.min(columns - 1, Math.floor(xMm / leafMm));
      const leaf = leaves[row * columns + (end ? column : 0)]!;
      const across = leaf.mirrored ? leafMm - inRow : inRow;
      const k = (x + Math.floor(leaf.shift * px.width)) % px.width;
      const i = first + x;
      const at = end
        ? endGrain(leaf, xMm - column * leafMm, across, leafMm)
        : longGrain(leaf, xMm, across, sizeMm.width, wobbles[k]!);
      const { rings } = leaf;
      const r = Math.min(rings.outMm, at.r * (1 + 0.003 * wobbles[k]!)) / STEP_MM;
      const t = rings.share[Math.floor(r)]!;
      const lateHere = lateOver(rings.lateTo, r, (0.5 * pixelMm * Math.max(0.05, at.steep)) / STEP_MM);
      const pore = poreSeen * poreAt(values, leaf.seed, xMm, across, t, end, pixelMm);
      const ray = end
        ? rayOfEnd(at, leaf.seed, pixelMm)
        : values.cut === 'quarter' || values.cut === 'rift'
          ? rayFleck(leaf.seed, xMm, across, sizeMm.width, values.cut === 'quarter')
          : 0;
      const fibres = 0.6 * wide[k]! + 0.9 * fine[k]! + 0.45 * broad[k]!;
      const mixed = Math.min(1, Math.max(0, 0.85 * lateHere + 0.24 * fibres + 0.06));
      const tone = leaf.tone * (1 + 0.04 * clouds[k]! + 0.07 * fibres) * (1 - 0.42 * pore) * (end ? 0.78 : 1);
      canvas.mix(i, early, late, mixed, tone);
      canvas.colour.r[i]! *= 1 + leaf.warm;
      canvas.colour.b[i]! *= 1 - leaf.warm;
      if (at.r > leaf.heartMm - 0.4 - pixelMm) {
        const sap = smoothstep(leaf.heartMm - 0.4 - pixelMm, leaf.heartMm + 0.4 + pixelMm, at.r);
        canvas.colour.r[i]! *= 1 + sap * (sapTimes[0] - 1);
        canvas.colour.g[i]! *= 1 + sap * (sapTimes[1] - 1);
        canvas.colour.b[i]! *= 1 + sap * (sapTimes[2] - 1);
      }
      const flecked = (values.raysPercent.value / 100) * ray;
      if (flecked > 0)
        canvas.over(
          i,
          [Math.min(1, 1.12 * early[0]), Math.min(1, 1.1 * early[1]), Math.min(1, 1.04 * early[2])],
          0.6 * flecked,
        );
      if (at.knot > 0) paintKnot(canvas, i, at.knot, at.knotRing);
      latePart[i] = lateHere;
      porePart[i] = pore;
      canvas.height.data[i] =
        -0.07 * pore +
        0.012 * fibres -
        values.brushedMm.value * (1 - Math.min(1, lateHere * 1.6)) * (1 - at.knot);
      canvas.gloss.data[i] = 2.5 * lateHere - 6 * pore + 3 * flecked;
    }
  });
}

/** Mean of the late wood from so many steps before a distance to as many after it. */
function lateOver(lateTo: Float64Array, r: number, half: number): number {
  const sumTo = (x: number) => {
    const held = Math.min(lateTo.length - 1.001, Math.max(0, x));
    const k = Math.floor(held);
    return lateTo[k]! + (lateTo[k + 1]! - lateTo[k]!) * (held - k);
  };
  const reach = Math.max(0.5, half);
  const from = Math.max(0, r - reach);
  return (sumTo(r + reach) - sumTo(from)) / (r + reach - from);
}

function paintKnot(canvas: Canvas, i: number, knot: number, ring: number): void {
  const dark = knot * (0.5 + 0.3 * ring);
  canvas.colour.r[i]! *= 1 - 0.78 * dark;
  canvas.colour.g[i]! *= 1 - 0.86 * dark;
  canvas.colour.b[i]! *= 1 - 0.9 * dark;
}
