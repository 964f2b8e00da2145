import type { FoundStructure } from '@jossel/core/size';
import type { Point } from '@jossel/core/straighten';
import { pathOf, type PlaceView } from './place-view';

/** The found structure, drawn over the straightened frame: one line per period, so that one sees whether it is right. */
export function StructureLines({
  structure,
  view,
  place,
}: {
  structure: FoundStructure;
  view: PlaceView;
  place: (at: Point) => Point;
}) {
  const lines: string[] = [];
  for (const axis of ['across', 'up'] as const) {
    const found = structure[axis];
    if (!found) continue;
    // Where periods are finer than a finger's width of the screen, every second, third … line is drawn.
    const [a, b] = [view.toScreen(place([0, 0])), view.toScreen(place(axis === 'across' ? [1, 0] : [0, 1]))];
    const apartPx = Math.hypot(b[0] - a[0], b[1] - a[1]) * found.period;
    const step = found.period * Math.max(1, Math.ceil(12 / Math.max(0.01, apartPx)));
    for (let at = found.first; at <= 1; at += step)
      lines.push(
        pathOf(view, axis === 'across' ? [place([at, 0]), place([at, 1])] : [place([0, at]), place([1, at])]),
      );
  }
  return (
    <g data-testid="structure">
      <path d={lines.join('')} stroke="#FFFFFF" strokeWidth="2.4" opacity="0.5" fill="none" />
      <path d={lines.join('')} stroke="#A6281C" strokeWidth="1" strokeDasharray="8 3" fill="none" />
    </g>
  );
}
