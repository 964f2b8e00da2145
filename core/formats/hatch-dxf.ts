import Drawing from 'dxf-writer';
import type { HatchLine } from '../layout';
import { fileName } from './names';

/**
 * A line hatch as DXF in millimetres, y up, with a layer for each kind of piece.
 * @param kinds names of the kinds of the blend, the finish itself first
 */
export function hatchDxf(lines: readonly HatchLine[], kinds: readonly string[]): string {
  const drawing = new Drawing();
  drawing.setUnits('Millimeters');
  const layers = kinds.map((name, k) => `${k}-${fileName(name)}`);
  for (const layer of layers) drawing.addLayer(layer, Drawing.ACI.WHITE, 'CONTINUOUS');
  for (const { points, closed, kind } of lines) {
    drawing.setActiveLayer(layers[kind]!);
    drawing.drawPolyline(
      points.map(([x, y]) => [x, y] as [number, number]),
      closed,
    );
  }
  return drawing.toDxfString();
}
