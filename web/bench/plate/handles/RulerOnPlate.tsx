import { useState } from 'react';
import type { RulerLine } from '@jossel/core/size';
import type { Point } from '@jossel/core/straighten';
import { Handle } from './Handle';
import type { PlaceView } from './place-view';

/** A ruler line with its two ends and its length. */
export function RulerOnPlate({
  name,
  line,
  view,
  text,
  onChange,
  onHold,
}: {
  name: string;
  line: RulerLine;
  view: PlaceView;
  text: string;
  onChange: (change: { from?: [number, number]; to?: [number, number] }) => void;
  onHold: (place: Point | null) => void;
}) {
  const [live, setLive] = useState<{ from?: Point; to?: Point }>({});
  const from = live.from ?? line.from;
  const to = live.to ?? line.to;
  const [a, b] = [view.toScreen(from), view.toScreen(to)];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const [nx, ny] = [(-(b[1] - a[1]) / length) * 7, ((b[0] - a[0]) / length) * 7];
  const tick = (p: readonly [number, number]) => `M${p[0] - nx} ${p[1] - ny}L${p[0] + nx} ${p[1] + ny}`;
  return (
    <g>
      {[
        ['#FFFFFF', 3.5],
        ['#A6281C', 1.3],
      ].map(([stroke, width]) => (
        <path
          key={stroke}
          d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}${tick(a)}${tick(b)}`}
          stroke={String(stroke)}
          strokeWidth={width}
          fill="none"
        />
      ))}
      <text
        x={(a[0] + b[0]) / 2 - nx * 1.6}
        y={(a[1] + b[1]) / 2 - ny * 1.6}
        textAnchor="middle"
        dominantBaseline="middle"
      >
        {text}
      </text>
      {(['from', 'to'] as const).map((end) => (
        <Handle
          key={end}
          small
          name={`${name}, ${end === 'from' ? 'first' : 'second'} end`}
          place={end === 'from' ? from : to}
          view={view}
          onHold={onHold}
          onMove={(p) => setLive({ [end]: p })}
          onDone={(p) => {
            setLive({});
            onChange({ [end]: [...p] });
          }}
        />
      ))}
    </g>
  );
}
