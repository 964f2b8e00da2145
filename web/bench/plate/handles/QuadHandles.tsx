import type { Point, Quad } from '@jossel/core/straighten';
import { Handle } from './Handle';
import { pathOf, type PlaceView } from './place-view';

const CORNERS = ['top left', 'top right', 'bottom right', 'bottom left'] as const;
const EDGES = ['top', 'right', 'bottom', 'left'] as const;

/** Four corners and four edges that are dragged; an edge takes its two corners along. */
export function QuadHandles({
  name,
  quad,
  view,
  onMove,
  onDone,
  onHold,
}: {
  name: string;
  quad: Quad;
  view: PlaceView;
  onMove: (quad: Quad) => void;
  onDone: (quad: Quad) => void;
  onHold: (place: Point | null) => void;
}) {
  const moved = (i: number, place: Point) => quad.map((p, k) => (k === i ? place : p)) as unknown as Quad;
  const middle = (i: number): Point => {
    const [a, b] = [quad[i]!, quad[(i + 1) % 4]!];
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  };
  const shifted = (i: number, place: Point) => {
    const [mx, my] = middle(i);
    return quad.map((p, k) =>
      k === i || k === (i + 1) % 4 ? [p[0] + place[0] - mx, p[1] + place[1] - my] : p,
    ) as unknown as Quad;
  };
  return (
    <>
      <path d={pathOf(view, quad, true)} fill="none" stroke="#FFFFFF" strokeWidth="3" opacity="0.6" />
      <path d={pathOf(view, quad, true)} fill="none" stroke="#A6281C" strokeWidth="1.2" />
      {EDGES.map((edge, i) => (
        <Handle
          key={edge}
          small
          name={`${name}, ${edge} edge`}
          place={middle(i)}
          view={view}
          onMove={(p) => onMove(shifted(i, p))}
          onDone={(p) => onDone(shifted(i, p))}
        />
      ))}
      {CORNERS.map((corner, i) => (
        <Handle
          key={corner}
          name={`${name}, ${corner} corner`}
          place={quad[i]!}
          view={view}
          onMove={(p) => onMove(moved(i, p))}
          onDone={(p) => onDone(moved(i, p))}
          onHold={onHold}
        />
      ))}
    </>
  );
}
