import { memo, useEffect, useMemo } from 'react';
import styled from 'styled-components';
import { Button as Plain } from 'react-aria-components';
import { BONDS, FAMILIES, type LayoutSettings } from '@jossel/core/layout';
import { useAppDispatch } from '../../../app/store';
import { benchSlice } from '../../bench-slice';
import { useLayoutLines } from '../../layout-worker';
import { layoutFor } from './layout-for';

const Sheet = styled.div`
  display: grid;
  gap: 10px;
  h4 {
    margin: 0 0 4px;
    font-size: 12px;
    font-weight: 600;
    color: ${({ theme }) => theme.quiet};
  }
  .row {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(84px, 1fr));
    gap: 6px;
  }
`;
const Detail = styled(Plain)`
  display: grid;
  grid-template-rows: 60px auto;
  gap: 3px;
  padding: 4px;
  text-align: left;
  background: ${({ theme }) => theme.field};
  border: 1px solid ${({ theme }) => theme.line};
  font-size: 11px;
  line-height: 1.25;
  cursor: pointer;
  svg {
    width: 100%;
    height: 60px;
    background: ${({ theme }) => theme.field};
  }
  path {
    fill: none;
    stroke: ${({ theme }) => theme.ink};
    vector-effect: non-scaling-stroke;
    stroke-width: 0.8px;
  }
  &[data-hovered],
  &[data-focus-visible] {
    border-color: ${({ theme }) => theme.ink};
  }
  &[aria-pressed='true'] {
    border-color: ${({ theme }) => theme.mark};
    box-shadow: inset 0 0 0 1px ${({ theme }) => theme.mark};
    font-weight: 600;
  }
`;

/** All bonds drawn to one scale with the pieces and joints of this finish; the one under the pointer is drawn on the plate. */
export function BondSheet({
  layout,
  onChoose,
}: {
  /** The layout as it is; null: the finish is not laid yet, and each bond shows its usual pieces. */
  layout: LayoutSettings | null;
  onChoose: (kind: string) => void;
}) {
  const dispatch = useAppDispatch();
  const show = (kind: string | null) => dispatch(benchSlice.actions.changed({ bondOver: kind }));
  // A sheet that is gone is not looked at any more, wherever the pointer was.
  useEffect(() => () => void dispatch(benchSlice.actions.changed({ bondOver: null })), [dispatch]);
  return (
    <Sheet role="group" aria-label="Bonds" onMouseLeave={() => show(null)}>
      {FAMILIES.map((family) => (
        <section key={family}>
          <h4>{family}</h4>
          <div className="row">
            {BONDS.filter((b) => b.family === family).map((b) => (
              <Detail
                key={b.kind}
                aria-pressed={layout?.bond.kind === b.kind}
                onHoverStart={() => show(b.kind)}
                onFocus={() => show(b.kind)}
                onBlur={() => show(null)}
                onPress={() => onChoose(b.kind)}
              >
                <BondDrawing kind={b.kind} layout={layout} />
                {b.name}
              </Detail>
            ))}
          </div>
        </section>
      ))}
    </Sheet>
  );
}

/** A part of a bond, large enough to see how it goes on. */
const BondDrawing = memo(function BondDrawing({
  kind,
  layout,
}: {
  kind: string;
  layout: LayoutSettings | null;
}) {
  const detail = useMemo(() => detailOf(kind, layout), [kind, layout]);
  const lines = useLayoutLines(detail.settings);
  const { width, height } = detail.windowMm;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="xMidYMid slice" aria-hidden>
      {lines &&
        [0, 1, 2].flatMap((j) =>
          [0, 1, 2].map((i) => (
            <path
              key={`${i} ${j}`}
              d={lines.path}
              transform={`translate(${i * lines.repeatMm.width} ${j * lines.repeatMm.height})`}
            />
          )),
        )}
    </svg>
  );
});

function detailOf(kind: string, layout: LayoutSettings | null) {
  const settings = layoutFor(kind, layout);
  const length = settings.piece.lengthMm.value;
  const width = settings.piece.widthMm.value;
  // One scale for all where the pieces are known: two long pieces side by side, or three short ones.
  const lengths = length > LONG * width ? 1.5 : 3;
  const bays = Math.max(Number(settings.bond['fanMm'] ?? 0), Number(settings.bond['bayMm'] ?? 0));
  const across = Math.max(lengths * Math.max(length, width), layout ? 0 : bays);
  const windowMm = { width: across, height: ASPECT * across };
  return { settings: { ...settings, repeatMm: windowMm }, windowMm };
}

/** Pieces are long from this ratio of length to width on. */
const LONG = 4;
/** Height of a drawing by its width. */
const ASPECT = 0.72;
