import { hatchOf, kindNames, solveLayout, describeLayout, type LayoutSettings } from '../layout';
import { hatchDxf } from './hatch-dxf';
import { hatchSvg } from './hatch-svg';

/** What is handed over of a layout beside its maps: the line hatch, and its pieces. */
export function layoutFiles(
  layout: LayoutSettings,
): { map: 'hatch' | 'layout'; fileName: string; text: string }[] {
  const solved = solveLayout(layout);
  const { geometry, kindOf } = solved;
  const kinds = kindNames(layout);
  const lines = hatchOf(geometry, kindOf, 'full');
  return [
    { map: 'hatch', fileName: 'hatch.svg', text: hatchSvg(lines, geometry.repeatMm, kinds) },
    { map: 'hatch', fileName: 'hatch.dxf', text: hatchDxf(lines, kinds) },
    { map: 'layout', fileName: 'layout.json', text: JSON.stringify(describeLayout(layout, solved)) },
  ];
}
