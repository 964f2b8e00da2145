import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import { printArea, printNumber } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Quiet } from '../../controls/basics';
import { benchSlice } from '../bench-slice';
import { FillSheet } from '../FillSheet';
import { Picture } from '../ledger/colour/parts';
import { infoOf, renderWorker, widthForLongSide, type Drawing } from '../use-drawn';
import { useLatest } from '../use-sample';

const Frame = styled.section`
  display: grid;
  grid-template-rows: 36px minmax(0, 1fr);
  min-height: 0;
  min-width: 0;
  > header {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 0 8px 0 10px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    overflow: hidden;
    white-space: nowrap;
  }
  .end {
    margin-left: auto;
    flex: none;
    display: flex;
    gap: 8px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 14px;
    overflow: auto;
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
    gap: 14px;
    align-content: start;
  }
  li button {
    display: grid;
    width: 100%;
    padding: 0;
    border: 1px solid transparent;
    background: ${({ theme }) => theme.sheet};
    text-align: left;
    cursor: pointer;
  }
  li button:hover {
    border-color: ${({ theme }) => theme.ink};
  }
  .words {
    padding: 5px 8px 7px;
    display: grid;
  }
  .ground {
    height: 150px;
    overflow: hidden;
    position: relative;
  }
  canvas {
    position: absolute;
    inset: 0;
    height: 100%;
    object-fit: cover;
  }
`;

/** All colourways side by side, each with the same stretch of the repeat. */
export function WaysView({
  recipe,
  samples,
  drawing,
  looks,
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  drawing: Drawing;
  looks?: React.ReactNode;
}) {
  const dispatch = useAppDispatch();
  const surround = useAppSelector((s) => s.settings.surround);
  const units = useAppSelector((s) => s.settings.units);
  const repeat = drawing.drawn?.report.repeatMm;
  const { value, sentence } = useLatest(
    repeat ? `ways ${JSON.stringify([recipe.sources, recipe.colour, recipe.repeat])}` : null,
    () => renderWorker().ways(recipe, samples.map(infoOf), widthForLongSide(repeat!, 360)),
  );
  return (
    <Frame aria-label="Colourways">
      <header>
        <h2>Colourways</h2>
        <Quiet>{repeat && `each ${printArea(repeat, units)}`}</Quiet>
        <div className="end">
          {looks}
          <FillSheet view="plate" />
        </div>
      </header>
      <ul style={{ background: SURROUNDS[surround]! }}>
        {(value ?? []).map((w) => {
          const way = recipe.colour.ways.find((o) => o.id === w.id);
          if (w.id !== null && !way) return null;
          const name = way?.name ?? 'The finish itself';
          return (
            <li key={w.id ?? 'itself'}>
              <button
                type="button"
                onClick={() => dispatch(benchSlice.actions.changed({ way: w.id, look: 'repeat' }))}
              >
                <span className="ground">
                  {!w.sentence && (
                    <Picture about={name} widthPx={w.widthPx} heightPx={w.heightPx} rgba={w.rgba} />
                  )}
                </span>
                <span className="words">
                  <strong>{name}</strong>
                  <Quiet>
                    {w.sentence ||
                      [
                        way?.code,
                        `LRV ${printNumber(w.lrv, 1)}`,
                        w.off !== null && `ΔE00 ${printNumber(w.off, 1)}`,
                        w.clipped > 0.001 && `${printNumber(100 * w.clipped, 1)} % clipped`,
                      ]
                        .filter(Boolean)
                        .join(', ')}
                  </Quiet>
                </span>
              </button>
            </li>
          );
        })}
        {!value && <li>{sentence || 'Computing the colourways …'}</li>}
      </ul>
    </Frame>
  );
}
