import { hashUnit, smoothstep } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { family } from '../family';
import { cellsAt } from '../noise';
import { choice, colour, size, type ValuesOf } from '../setting';

/** The building blocks by themselves: for a finish of two colours, or to vary another one. */

const settings = {
  pattern: choice(
    'Pattern',
    { clouds: 'clouds', cells: 'cells', veins: 'veins', ripple: 'ripple', streaks: 'streaks' },
    'the building block',
  ),
  first: colour('First colour', [70, 0, 0], 'where it is low'),
  second: colour('Second colour', [40, 0, 0], 'where it is high'),
  scaleMm: size('Scale', 'mm', [40, 0.2, 5000], 'from one element to the next'),
  octaves: size('Octaves', '1', [4, 1, 8], 'each half as large as the one before', true),
  gain: size('Detail', '1', [0.55, 0.1, 0.95], 'strength of each octave over that of the one before'),
  sharpPercent: size('Sharpness', '%', [0, 0, 100], 'from a smooth passage to a sharp edge'),
  stretch: size('Stretch', '1', [1, 1, 100], 'how many times longer elements are across the width'),
  depthMm: size('Relief', 'mm', [0, 0, 50], 'from low to high'),
} as const;
type Values = ValuesOf<typeof settings>;

export const VARIATION = family({
  kind: 'variation',
  name: 'Noise, cells, veins, ripple, streaks',
  group: 'Variation',
  category: 'other',
  repeatMm: { width: 600, height: 600 },
  settings,
  headline: ['pattern', 'first', 'second', 'scaleMm', 'stretch', 'sharpPercent', 'depthMm'],
  response: { base: 'dielectric', glossGu: 10 },
  parts: () => [{ id: 'second', name: 'Second colour' }],
  paint,
});

async function paint(canvas: Canvas, values: Values): Promise<void> {
  const [a, b] = [rgbOf(values.first.lab), rgbOf(values.second.lab)];
  const field = fieldOf(canvas, values);
  const part = canvas.part('second');
  const soft = 0.5 * (1 - 0.97 * (values.sharpPercent.value / 100));
  await canvas.rows((y, first) => {
    const level = field(y);
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const t = smoothstep(0.5 - soft, 0.5 + soft, level[x]!);
      canvas.mix(i, a, b, t, 1);
      part[i] = t;
      canvas.height.data[i] = values.depthMm.value * (t - 0.5);
    }
  });
}

/** The pattern in a row, 0–1. */
function fieldOf(canvas: Canvas, values: Values): (y: number) => Float32Array {
  const { px, sizeMm } = canvas;
  const [mm, octaves, gain] = [values.scaleMm.value, values.octaves.value, values.gain.value];
  const cell = { x: 0.5 * mm * values.stretch.value, y: 0.5 * mm };
  const out = new Float32Array(px.width);
  const waves = canvas.waves(
    1,
    values.pattern === 'streaks' ? { x: 12 * cell.x, y: cell.y } : cell,
    octaves,
    gain,
  );
  if (values.pattern === 'veins') {
    const crests = canvas.ridges(2, cell, octaves, gain);
    return (y) => crests.row(y);
  }
  if (values.pattern === 'cells') {
    const [nx, ny] = [
      Math.max(3, Math.round(sizeMm.width / (2 * cell.x))),
      Math.max(3, Math.round(sizeMm.height / mm)),
    ];
    const cells = cellsAt(nx, ny, 1, canvas.seed);
    return (y) => {
      const bent = waves.row(y);
      for (let x = 0; x < px.width; x++) {
        const found = cells(
          (x + 0.5) / px.width + (0.08 * mm * bent[x]!) / sizeMm.width,
          (y + 0.5) / px.height + (0.08 * mm * bent[x]!) / sizeMm.height,
        );
        out[x] = Math.min(
          1,
          0.8 * hashUnit(found.id, 0, 0, canvas.seed) + 0.2 * smoothstep(0, 0.3, found.edge),
        );
      }
      return out;
    };
  }
  if (values.pattern === 'ripple') {
    const turns = Math.max(1, Math.round(sizeMm.height / mm));
    return (y) => {
      const bent = waves.row(y);
      for (let x = 0; x < px.width; x++)
        out[x] = 0.5 + 0.5 * Math.sin(2 * Math.PI * ((turns * (y + 0.5)) / px.height + 0.35 * bent[x]!));
      return out;
    };
  }
  return (y) => {
    const level = waves.row(y);
    for (let x = 0; x < px.width; x++) out[x] = Math.min(1, Math.max(0, 0.5 + 0.75 * level[x]!));
    return out;
  };
}
