import { ChevronDown, ChevronUp } from 'lucide-react';
import styled from 'styled-components';
import type { PickedArea } from '@jossel/core/sample';
import { areaSizeMm } from '@jossel/core/size';
import { toPicture, type Point } from '@jossel/core/straighten';
import { printArea } from '@jossel/core/units';
import { useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OnOff, Quiet, Row } from '../../../controls/basics';
import { TextLine } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { infoOf } from '../../use-drawn';
import { sampleWorker } from '../../use-sample';
import { usedAreaOf, withSource, withUsedArea } from '../../picture-in-hand';
import { refitted, useChangeRecipe } from '../use-change';
import type { PanelProps } from './panel-props';

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
  li {
    display: grid;
    gap: 3px;
    padding: 6px 6px 6px 8px;
    border-left: 3px solid transparent;
    background: ${({ theme }) => theme.page};
  }
  li[data-selected='true'] {
    border-left-color: ${({ theme }) => theme.mark};
  }
  .line {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto auto;
    gap: 4px;
    align-items: center;
  }
`;
const newId = () => Math.random().toString(36).slice(2, 10);
/** More cells than this are not taken over at once. */
const MOST = 120;

/** Areas picked out of the picture, each straightened by itself. */
export function AreasPanel({ recipe, source, sample, geometry }: PanelProps) {
  const change = useChangeRecipe();
  const dispatch = useAppDispatch();
  const units = useAppSelector((s) => s.settings.units);
  const { selected, drawing } = useAppSelector((s) => s.bench);
  const [said, setSaid] = useState('');
  const { areas } = source.preparation;
  const used = usedAreaOf(recipe, source);
  const frameMm = geometry && { width: geometry.size.width.mm, height: geometry.size.height.mm };

  const put = (what: string, next: PickedArea[], nextUsed = used) => {
    const preparation = { ...source.preparation, areas: next };
    const usable = next.some((a) => a.id === nextUsed && !a.leftOut) ? nextUsed : null;
    const changed = withUsedArea(withSource(recipe, source.id, { preparation }), source.id, usable);
    change(`preparation ${what}`, refitted(recipe, changed, source, sample));
  };
  const edit = (id: string, part: Partial<PickedArea>) =>
    put(
      `area ${id}`,
      areas.map((a) => (a.id === id ? { ...a, ...part } : a)),
    );
  const swap = (i: number, j: number) => {
    if (j < 0 || j >= areas.length) return;
    const next = [...areas];
    [next[i], next[j]] = [next[j]!, next[i]!];
    put('order of areas', next);
  };

  /** One area for each module that Jossel finds. */
  async function fromStructure() {
    if (!geometry) return;
    setSaid('Looking for a structure …');
    const { bowLines, frame, keepOuts } = source.preparation;
    const found = await sampleWorker().structure(infoOf(sample), { bowLines, frame, keepOuts });
    const cells = (axis: 'across' | 'up'): [number, number][] => {
      const f = found[axis];
      if (!f) return [[0, 1]];
      const out: [number, number][] = [];
      for (
        let at = f.first - (f.first > 0.35 * f.period ? f.period : 0);
        at < 1 - 0.2 * f.period;
        at += f.period
      ) {
        const [from, to] = [Math.max(0, at), Math.min(1, at + f.period)];
        // What is cut off at the frame's edge is left to be picked by hand.
        if (to - from > 0.8 * f.period) out.push([from, to]);
      }
      return out.length > 0 ? out : [[0, 1]];
    };
    if (!found.across && !found.up)
      return setSaid('No regular structure is found in this frame. Draw the areas by hand.');
    const [columns, rows] = [cells('across'), cells('up')];
    if (columns.length * rows.length > MOST)
      return setSaid(
        `${columns.length * rows.length} modules are found, more than the ${MOST} that are picked at once. Straighten a smaller frame first.`,
      );
    const shift =
      found.across && found.stagger !== null && found.stagger > 0.03 && found.stagger < 0.97
        ? found.stagger * found.across.period
        : 0;
    const next: PickedArea[] = [];
    rows.forEach(([t, b], row) =>
      columns.forEach(([l, r]) => {
        const by = row % 2 === 1 ? shift : 0;
        if (l + by < 0 || r + by > 1.0001) return;
        next.push({
          id: newId(),
          name: `${rows.length > 1 && columns.length > 1 ? `Piece ${next.length + 1}` : rows.length > 1 ? `Board ${next.length + 1}` : `Piece ${next.length + 1}`}`,
          leftOut: false,
          corners: (
            [
              [l + by, t],
              [r + by, t],
              [r + by, b],
              [l + by, b],
            ] as Point[]
          ).map((p) => [...toPicture(geometry.frame, p)]) as never,
        });
      }),
    );
    setSaid(`${next.length} areas picked from the structure found.`);
    put('areas from structure', next, null);
  }

  return (
    <>
      <Row>
        <Button
          weight="main"
          onPress={() =>
            dispatch(benchSlice.actions.changed({ drawing: drawing === 'area' ? null : 'area' }))
          }
          aria-pressed={drawing === 'area'}
        >
          {drawing === 'area' ? 'Draw it on the plate now' : 'Draw an area'}
        </Button>
        <Button onPress={() => void fromStructure().catch((e: Error) => setSaid(e.message))}>
          From the structure
        </Button>
      </Row>
      {said && <p role="status">{said}</p>}
      {areas.length === 0 && <Quiet>No area is picked; the whole frame is used.</Quiet>}
      <List aria-label="Picked areas">
        {areas.map((area, i) => {
          const mm = geometry && frameMm && areaSizeMm(geometry.frame, frameMm, area.corners);
          return (
            <li
              key={area.id}
              data-selected={selected === area.id}
              onFocus={() =>
                selected !== area.id && dispatch(benchSlice.actions.changed({ selected: area.id }))
              }
            >
              <div className="line">
                <TextLine
                  label={`Name of area ${i + 1}`}
                  value={area.name}
                  onChange={(name) => name.trim() && edit(area.id, { name: name.trim() })}
                />
                <Button
                  weight="quiet"
                  aria-label={`${area.name} up`}
                  isDisabled={i === 0}
                  onPress={() => swap(i, i - 1)}
                >
                  <ChevronUp aria-hidden />
                </Button>
                <Button
                  weight="quiet"
                  aria-label={`${area.name} down`}
                  isDisabled={i === areas.length - 1}
                  onPress={() => swap(i, i + 1)}
                >
                  <ChevronDown aria-hidden />
                </Button>
              </div>
              <Row $gap={4}>
                <OnOff
                  name="used"
                  value={used === area.id}
                  onChange={(on) =>
                    put(
                      'used area',
                      areas.map((a) => (a.id === area.id ? { ...a, leftOut: false } : a)),
                      on ? area.id : null,
                    )
                  }
                />
                <OnOff
                  name="left out"
                  value={area.leftOut}
                  onChange={(leftOut) => edit(area.id, { leftOut })}
                />
                <Button
                  weight="quiet"
                  onPress={() =>
                    put(
                      'area taken out',
                      areas.filter((a) => a.id !== area.id),
                    )
                  }
                >
                  Remove
                </Button>
                {mm && <Quiet style={{ marginLeft: 'auto', fontSize: 12 }}>{printArea(mm, units)}</Quiet>}
              </Row>
            </li>
          );
        })}
      </List>
      {areas.length > 0 && (
        <Quiet>
          {used
            ? 'The repeat is made from the used area.'
            : 'The repeat is made from the whole frame until an area is used.'}
        </Quiet>
      )}
    </>
  );
}
