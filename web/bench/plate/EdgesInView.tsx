import styled from 'styled-components';
import type { RenderReport } from '@jossel/core/finish';
import { OverPlate } from './OverPlate';
import type { Placed } from './RuledView';
import { WorstMarks } from './WorstPlaces';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Over = styled(OverPlate)`
  pointer-events: none;
  g.edge {
    pointer-events: all;
    outline: none;
    touch-action: none;
  }
  g.edge:focus-visible path.line {
    stroke-width: 2.5;
  }
`;

/** The edges of the repeat, moved into view: each can be dragged anywhere; where each shows most is marked on it. */
export function EdgesInView({
  placed,
  fieldMm,
  repeatMm,
  edgesAt,
  seam,
  onMove,
}: {
  placed: Placed;
  /** Size of all that is shown: the lines end with it, so that line A–A can be taken beside it. */
  fieldMm: { width: number; height: number };
  repeatMm: { width: number; height: number };
  edgesAt: readonly [number, number];
  seam: RenderReport['seam'] | null;
  onMove: (edgesAt: [number, number]) => void;
}) {
  const { left, top, pxPerMm } = placed;
  const [w, h] = [repeatMm.width * pxPerMm, repeatMm.height * pxPerMm];
  const x = left + edgesAt[0] * w;
  const y = top + edgesAt[1] * h;
  const within = (v: number) => Math.min(0.98, Math.max(0.02, v));
  const put = (upright: boolean, v: number) =>
    onMove(upright ? [within(v), edgesAt[1]] : [edgesAt[0], within(v)]);
  const drag = usePointerDrag({
    begin: (_press, upright: boolean) => ({ upright, from: edgesAt[upright ? 0 : 1] }),
    move: ({ upright, from }, by) => put(upright, from + (upright ? by[0] / w : by[1] / h)),
  });
  const edge = (upright: boolean) => {
    const at = upright ? edgesAt[0] : edgesAt[1];
    const to = (v: number) => put(upright, v);
    const line = upright
      ? `M${x} ${top}V${top + fieldMm.height * pxPerMm}`
      : `M${left} ${y}H${left + fieldMm.width * pxPerMm}`;
    const length = upright ? w : h;
    const keys = upright ? (['ArrowLeft', 'ArrowRight'] as const) : (['ArrowUp', 'ArrowDown'] as const);
    return (
      <g
        className="edge"
        role="slider"
        tabIndex={0}
        aria-label={upright ? 'Left and right edge' : 'Top and bottom edge'}
        aria-orientation={upright ? 'horizontal' : 'vertical'}
        aria-valuemin={2}
        aria-valuemax={98}
        aria-valuenow={Math.round(100 * at)}
        aria-valuetext={`at ${Math.round(100 * at)} % of the repeat`}
        style={{ cursor: upright ? 'col-resize' : 'row-resize' }}
        {...drag(upright)}
        onKeyDown={(e) => {
          const sign = e.key === keys[0] ? -1 : e.key === keys[1] ? 1 : 0;
          if (sign === 0) return;
          e.preventDefault();
          e.stopPropagation();
          to(at + (sign * (e.shiftKey ? 20 : 2)) / length);
        }}
      >
        <path d={line} stroke="transparent" strokeWidth="13" />
        <path d={line} stroke="#F7F7F7" strokeWidth="2.6" opacity="0.6" />
        <path className="line" d={line} stroke="#1B1B1B" strokeWidth="1" strokeDasharray="2 5" />
      </g>
    );
  };
  return (
    <Over>
      {edge(true)}
      {edge(false)}
      {seam && <WorstMarks {...{ placed, repeatMm, edgesAt, seam }} />}
    </Over>
  );
}
