import type { PlaceView } from './place-view';

/** A name in the middle of some places. */
export function Label({
  view,
  places,
  text,
}: {
  view: PlaceView;
  places: readonly (readonly [number, number])[];
  text: string;
}) {
  const on = places.map((p) => view.toScreen(p));
  const [x, y] = [0, 1].map((k) => on.reduce((s, p) => s + p[k]!, 0) / on.length) as [number, number];
  return (
    <text x={x} y={y} textAnchor="middle" dominantBaseline="middle">
      {text}
    </text>
  );
}
