import { ChevronDown, ChevronUp } from 'lucide-react';
import styled from 'styled-components';
import type { PickedArea } from '@jossel/core/sample';
import { areaSizeMm } from '@jossel/core/size';
import { printArea } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OnOff, Quiet, Row } from '../../../controls/basics';
import { TextLine } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { usePickedPieces } from '../../use-picked-pieces';
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

/** Areas picked out of the picture, each straightened by itself. */
export function AreasPanel({
  recipe,
  source,
  sample,
  samples,
  geometry,
}: PanelProps & { samples: readonly Sample[] }) {
  const change = useChangeRecipe();
  const dispatch = useAppDispatch();
  const units = useAppSelector((s) => s.settings.units);
  const { selected, drawing } = useAppSelector((s) => s.bench);
  const { pick, picking, said } = usePickedPieces(recipe, samples);
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

  async function pickAll() {
    const next = await pick(source.id);
    if (next) change('preparation picked pieces', refitted(next.before, next.picked, source, sample));
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
        <Button isDisabled={picking} onPress={() => void pickAll()}>
          {picking ? 'Looking for pieces …' : 'Pick all pieces'}
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
