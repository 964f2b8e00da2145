import { useState } from 'react';
import styled from 'styled-components';
import type { Recipe, RenderReport } from '@jossel/core/finish';
import { readColourReference } from '@jossel/core/formats';
import { BALANCES, CARD_REFERENCE, parseColour, type Balance } from '@jossel/core/light';
import { printNumber } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OneOf, Quiet, Row, Sentence } from '../../../controls/basics';
import { Tick } from '../../../controls/amounts';
import { TextLine } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { benchSlice } from '../../bench-slice';
import type { PictureSource } from '@jossel/core/sources';
import { sizeWithCard, withSource } from '../../picture-in-hand';
import { useChangeRecipe, usePictureChange } from '../use-change';
import { lookForCard } from '../sample/look-for-card';
import { PatchChart } from '../charts';
import { OpenText, printLab } from './parts';

const NAMES: Record<Balance, string> = { none: 'as received', grey: 'grey patch', card: 'target card' };
const Patches = styled.table`
  width: 100%;
  th,
  td {
    padding: 2px 0 2px 8px;
    text-align: right;
    font-weight: 400;
  }
  thead th {
    color: ${({ theme }) => theme.quiet};
  }
  th:first-child {
    text-align: left;
    padding-left: 0;
    white-space: nowrap;
  }
  input {
    margin: 0;
    accent-color: ${({ theme }) => theme.ink};
  }
  tr[data-out] td,
  tr[data-out] th {
    color: ${({ theme }) => theme.quiet};
  }
`;

/** White balance and exposure: from a grey patch, or from the target card with the error that is left. */
export function BalancePanel({
  recipe,
  source,
  sample,
  report,
}: {
  recipe: Recipe;
  source: PictureSource;
  sample: Sample;
  report: RenderReport | null;
}) {
  const change = usePictureChange(recipe, source, 'light');
  const put = useChangeRecipe();
  const dispatch = useAppDispatch();
  const drawing = useAppSelector((s) => s.bench.drawing);
  const [said, setSaid] = useState('');
  const { balance, grey, target } = source.light;
  const fit = report?.calibration.target ?? null;
  const gains = report?.calibration.grey?.gains ?? null;
  const setTarget = (what: string, next: Partial<typeof target>) =>
    change(`target ${what}`, { target: { ...target, ...next } });

  async function choose(next: Balance) {
    setSaid('');
    if (next === 'grey' && !grey) {
      dispatch(benchSlice.actions.changed({ drawing: 'grey', look: 'received' }));
      return setSaid('Draw round the grey patch on the plate, from its middle outwards.');
    }
    if (next === 'card' && !source.size?.card) {
      const card = await lookForCard(sample, 'balance by a grey patch', setSaid);
      if (!card) return;
      const size = sizeWithCard(source.size, card.marks);
      const light = { ...source.light, balance: 'card' as const };
      return put('target card', withSource(recipe, source.id, { size, light }));
    }
    change('balance', { balance: next });
  }

  function readReference(text: string, fileName: string) {
    try {
      const { name, patches } = readColourReference(text, fileName);
      const known = CARD_REFERENCE.filter((c) =>
        patches.some((p) => p.name.toLowerCase() === c.name.toLowerCase()),
      );
      if (known.length < 6)
        throw new RangeError(
          `${fileName} names ${known.length} of the card’s patches; they are called ${CARD_REFERENCE[0]!.name}, ${CARD_REFERENCE[7]!.name} … ${CARD_REFERENCE.at(-1)!.name}.`,
        );
      setSaid('');
      setTarget('reference', {
        reference: { name, patches: patches.map((p) => ({ ...p, lab: [...p.lab] as never })) },
      });
    } catch (error) {
      setSaid(`${fileName}: ${(error as Error).message}`);
    }
  }

  /** A patch whose value is known better than the list says. */
  function editReference(name: string, text: string) {
    try {
      const { lab } = parseColour(text);
      const now = target.reference ?? {
        name: 'Values of the card, corrected by hand',
        patches: CARD_REFERENCE.map((p) => ({ ...p, lab: [...p.lab] as [number, number, number] })),
      };
      setSaid('');
      setTarget(`value of ${name}`, {
        reference: {
          ...now,
          patches: now.patches.map((p) =>
            p.name.toLowerCase() === name.toLowerCase()
              ? { ...p, lab: lab.map((v) => Number(v.toFixed(2))) as [number, number, number] }
              : p,
          ),
        },
      });
    } catch (error) {
      setSaid(`${name}: ${(error as Error).message}`);
    }
  }

  return (
    <>
      <OneOf
        label="What the balance rests on"
        value={balance}
        options={BALANCES.map((value) => ({ value, name: NAMES[value] }))}
        onChange={(next) => void choose(next).catch((e: Error) => setSaid(e.message))}
      />
      {said && <Sentence>{said}</Sentence>}
      {balance === 'none' && (
        <Quiet>
          White and exposure are those of the picture. A match can still bring the mean to a figure.
        </Quiet>
      )}
      {balance === 'grey' && grey && (
        <>
          <FigureField
            label="Reflectance of the grey"
            figure={grey.lrv}
            unit="LRV"
            min={0.5}
            max={100}
            digits={1}
            onChange={(lrv) => change('grey reflectance', { grey: { ...grey, lrv } })}
          />
          {gains && (
            <Quiet>
              Gains in linear light: red {printNumber(gains[0], 3)}, green {printNumber(gains[1], 3)}, blue{' '}
              {printNumber(gains[2], 3)}.
            </Quiet>
          )}
          <Button
            aria-pressed={drawing === 'grey'}
            onPress={() =>
              dispatch(
                benchSlice.actions.changed({ drawing: drawing === 'grey' ? null : 'grey', look: 'received' }),
              )
            }
          >
            {drawing === 'grey' ? 'Draw it on the plate now' : 'Another place'}
          </Button>
        </>
      )}
      {balance === 'card' && fit && (
        <>
          <p>
            Residual: mean ΔE00 <strong>{printNumber(fit.meanError, 2)}</strong>, worst{' '}
            <strong>{printNumber(fit.worst.error, 2)}</strong> at {fit.worst.name}.{' '}
            <Quiet>
              Leave-one-out: mean {printNumber(fit.expected.mean, 2)}, worst{' '}
              {printNumber(fit.expected.worst, 2)}.
            </Quiet>
          </p>
          <PatchChart patches={fit.patches} />
          <Tick
            name="Subtract flare"
            value={target.offset}
            onChange={(offset) => setTarget('stray light', { offset })}
          />
          <Row>
            <OpenText
              name="Open reference values"
              accept=".txt,.cgats,.it8,.csv,.tsv,text/plain,text/csv"
              onText={readReference}
            />
            {target.reference && (
              <Button
                weight="quiet"
                onPress={() => setTarget('reference taken out', { reference: null, leftOut: [] })}
              >
                Use the card’s own
              </Button>
            )}
          </Row>
          <Quiet>
            {target.reference
              ? `Reference: ${target.reference.name}, ${target.reference.patches.length} patches.`
              : 'Reference: the card’s nominal values. CGATS.17 text and tables with a heading can be opened.'}
          </Quiet>
          <details>
            <summary>Patches, {target.leftOut.length} left out</summary>
            <Patches aria-label="Patches of the target card">
              <thead>
                <tr>
                  <th>Patch</th>
                  <th>is, Lab</th>
                  <th>before</th>
                  <th>after</th>
                  <th>used</th>
                </tr>
              </thead>
              <tbody>
                {fit.patches.map((p) => (
                  <tr key={p.name} data-out={p.leftOut ? '' : undefined}>
                    <th scope="row">{p.name}</th>
                    <td>
                      <TextLine
                        label={`${p.name} is, Lab`}
                        value={printLab(p.lab)}
                        onChange={(text) => editReference(p.name, text)}
                      />
                    </td>
                    <td>{printNumber(p.before, 1)}</td>
                    <td>{printNumber(p.after, 2)}</td>
                    <td>
                      {p.leftOut === 'clipped' ? (
                        'clipped'
                      ) : (
                        <input
                          type="checkbox"
                          aria-label={`${p.name} takes part in the fit`}
                          checked={!target.leftOut.includes(p.name)}
                          onChange={(e) =>
                            setTarget(`patch ${p.name}`, {
                              leftOut: e.target.checked
                                ? target.leftOut.filter((n) => n !== p.name)
                                : [...target.leftOut, p.name],
                            })
                          }
                        />
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Patches>
          </details>
        </>
      )}
    </>
  );
}
