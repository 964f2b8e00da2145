import { useState } from 'react';
import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import {
  hexOfLab,
  parseColourList,
  type ColourFigure,
  type Colourway,
  type PaletteColour,
} from '@jossel/core/light';
import { printNumber } from '@jossel/core/units';
import { api } from '../../../app/api';
import { Fault } from '../../../app/Fault';
import { useHalfTyped } from '../../../app/half-typed';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OnOff, Quiet, Row, Sentence } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { Field, NumberField, TextBox, TextLine } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { useChange } from '../use-change';
import { Chip, ColourField, printLab } from './parts';

const newId = () => Math.random().toString(36).slice(2, 10);
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  > li {
    display: grid;
    gap: 6px;
    padding: 8px 0 10px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
  }
  > li > .names {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 84px;
    gap: 6px;
  }
`;
const Bar = styled.div`
  display: flex;
  height: 26px;
  border: 1px solid ${({ theme }) => theme.ink};
  > span {
    min-width: 2px;
  }
`;

/** Every part that was found in any of the pictures, once each. */
function partsOf({ sources }: Recipe) {
  const all = sources.flatMap((s) => s.preparation.parts);
  return all.filter((p, k) => all.findIndex((o) => o.id === p.id) === k);
}

/** Colourways: typed, pasted as a list, or drawn from a picture. */
export function WaysPanel({ recipe, finishId }: { recipe: Recipe; finishId: string }) {
  const change = useChange(recipe, 'colour');
  const dispatch = useAppDispatch();
  const way = useAppSelector((s) => s.bench.way);
  const [list, setList] = useHalfTyped(`colourways ${finishId}`);
  const [said, setSaid] = useState('');
  const { ways } = recipe.colour;
  const put = (what: string, next: Colourway[]) => change(`colourways ${what}`, { ways: next });
  const edit = (id: string, next: Partial<Colourway>) =>
    put(
      `${id} changed`,
      ways.map((w) => (w.id === id ? { ...w, ...next } : w)),
    );
  const add = (what: string, more: { name: string; code: string; target: ColourFigure }[]) =>
    put(what, [
      ...ways,
      ...more.map((m, k) => ({ ...m, id: newId(), name: m.name || `Colourway ${ways.length + k + 1}` })),
    ]);

  function takeList() {
    try {
      const colours = parseColourList(list);
      add(
        'from a list',
        colours.map(({ name, code, lab }) => ({
          name,
          code,
          target: {
            lab: lab.map((v) => Number(v.toFixed(2))) as [number, number, number],
            basis: 'published',
          },
        })),
      );
      setList('');
      setSaid('');
    } catch (error) {
      setSaid((error as Error).message);
    }
  }

  const parts = partsOf(recipe);
  return (
    <>
      {ways.length === 0 && (
        <Quiet>
          No colourways yet. They share size, repeat, relief and response; only their colour differs.
        </Quiet>
      )}
      {(parts.length > 0 || recipe.colour.recoloured) && (
        <Choice
          label="Colourways recolour"
          value={recipe.colour.recoloured ?? 'all'}
          options={[
            { value: 'all', name: 'the whole finish' },
            ...parts.map((p) => ({ value: p.id, name: `only: ${p.name}` })),
          ]}
          onChange={(id) => change('recoloured part', { recoloured: id === 'all' ? null : id })}
        />
      )}
      {parts.length === 0 && ways.length > 0 && (
        <Quiet>
          All of the finish is recoloured. To leave joints as they are, separate a part under Sample, parts.
        </Quiet>
      )}
      <List aria-label="Colourways">
        {ways.map((w) => (
          <li key={w.id}>
            <div className="names">
              <TextLine
                label={`Name of colourway ${w.name}`}
                value={w.name}
                onChange={(name) => name.trim() && edit(w.id, { name: name.trim() })}
              />
              <TextLine
                label={`Code of ${w.name}`}
                placeholder="code"
                value={w.code}
                onChange={(code) => edit(w.id, { code: code.trim() })}
              />
            </div>
            <ColourField
              label={`Colour of ${w.name}`}
              value={w.target}
              onChange={(target) => edit(w.id, { target })}
            />
            <Row $gap={4}>
              <OnOff
                name="on the plate"
                value={way === w.id}
                onChange={(on) => dispatch(benchSlice.actions.changed({ way: on ? w.id : null }))}
              />
              <Button
                weight="quiet"
                aria-label={`Remove ${w.name}`}
                onPress={() => {
                  if (way === w.id) dispatch(benchSlice.actions.changed({ way: null }));
                  put(
                    'one taken out',
                    ways.filter((o) => o.id !== w.id),
                  );
                }}
              >
                Remove
              </Button>
            </Row>
          </li>
        ))}
      </List>
      <Row>
        <Button
          onPress={() => add('new', [{ name: '', code: '', target: { lab: [50, 0, 0], basis: 'assumed' } }])}
        >
          Another colourway
        </Button>
      </Row>
      <Field>
        <label htmlFor="colour-list">List, one a line: name; code; colour</label>
        <TextBox
          as="textarea"
          id="colour-list"
          rows={3}
          placeholder={'Moss; M-04; Lab 48 -12 18\nSand; #C8A274'}
          value={list}
          style={{ padding: '4px 7px', resize: 'vertical' }}
          onChange={(e: { target: { value: string } }) => setList(e.target.value)}
        />
      </Field>
      {said && <Sentence>{said}</Sentence>}
      <Row>
        <Button isDisabled={list.trim() === ''} onPress={takeList}>
          Add these colourways
        </Button>
      </Row>
      <FromPicture
        finishId={finishId}
        onAdd={(colours) =>
          add(
            'from a picture',
            colours.map((c, k) => ({
              name: `${c.from} ${k + 1}`,
              code: '',
              target: {
                lab: c.lab.map((v) => Number(v.toFixed(2))) as [number, number, number],
                basis: 'inferred',
                note: `Drawn from ${c.from}`,
              },
            })),
          )
        }
      />
    </>
  );
}

/** The palette of a picture, with the share of each colour. */
function FromPicture({
  onAdd,
}: {
  finishId: string;
  onAdd: (colours: (PaletteColour & { from: string })[]) => void;
}) {
  const { data: samples } = api.useSamplesQuery();
  const [read, { data, error, isLoading }] = api.useReadPaletteMutation();
  const [id, setId] = useState<string | null>(null);
  const [count, setCount] = useState(6);
  const name = samples?.items.find((s) => s.id === id)?.fileName.replace(/\.\w+$/, '') ?? '';
  const colours = data?.colours ?? [];
  const ask = (sample: string, n: number) => void read({ id: sample, count: n });
  return (
    <section aria-label="Palette of a picture" style={{ display: 'grid', gap: 8 }}>
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0,1fr) 70px', gap: 6 }}>
        <Choice
          label="Draw colours from a picture"
          value={id}
          placeholder="choose a picture"
          options={(samples?.items ?? []).map((s) => ({ value: s.id, name: s.fileName }))}
          onChange={(next) => {
            setId(next);
            ask(next, count);
          }}
        />
        <NumberField
          label="At most"
          unit="×"
          whole
          min={1}
          max={24}
          value={count}
          onChange={(n) => {
            setCount(n);
            if (id) ask(id, n);
          }}
        />
      </div>
      {isLoading && <Quiet>Gathering its colours …</Quiet>}
      <Fault error={error} />
      {id && colours.length > 0 && (
        <>
          <Bar
            role="img"
            aria-label={`Shares: ${colours.map((c) => `${printNumber(100 * c.share, 0)} %`).join(', ')}`}
          >
            {colours.map((c, k) => (
              <span key={k} style={{ flexGrow: c.share, background: hexOfLab(c.lab) }} />
            ))}
          </Bar>
          {colours.length < count && (
            <Quiet>
              {colours.length === 1
                ? 'This picture has one colour only.'
                : `Only ${colours.length} colours stand apart in this picture.`}
            </Quiet>
          )}
          {colours.map((c, k) => (
            <Row key={k} $gap={6}>
              <Chip $lab={c.lab} aria-hidden />
              <span style={{ flex: 1 }}>
                Lab {printLab(c.lab)} <Quiet>{printNumber(100 * c.share, 1)} %</Quiet>
              </span>
              <Button weight="quiet" onPress={() => onAdd([{ ...c, from: name }])}>
                Add
              </Button>
            </Row>
          ))}
          <Row>
            <Button onPress={() => onAdd(colours.map((c) => ({ ...c, from: name })))}>Add all</Button>
          </Row>
        </>
      )}
    </section>
  );
}
