import type { FilmSettings, PartMetal, ResponseSettings } from '@jossel/core/response';
import type { RenderReport } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import styled from 'styled-components';
import { Button, Quiet } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { Entry, WithRemove } from '../columns';
import type { NamedPart } from '../parts';
import { Block } from '../size/Block';
import type { ChangeResponse } from './change';
import { cssOf, FilmBlock } from './FilmBlock';
import { MetalChoice } from './MetalChoice';

const Swatch = styled.span`
  display: inline-block;
  width: 28px;
  height: 14px;
  margin-right: 8px;
  vertical-align: -2px;
  border: 1px solid ${({ theme }) => theme.strong};
`;

/** Films with the one on a part, or on the whole finish, changed or taken away. */
const withFilm = (films: readonly FilmSettings[], part: string | null, film: FilmSettings | null) => [
  ...films.filter((f) => f.part !== part),
  ...(film ? [{ ...film, part }] : []),
];

/** The colour that follows of a metal. */
function MetalColourLine({ colour }: { colour: RenderReport['metals']['base'] }) {
  if (!colour) return <Quiet>The colour is the metal’s reflectance, as pictured or matched.</Quiet>;
  const [l, a, b] = colour.lab;
  return (
    <Quiet>
      <Swatch style={{ background: cssOf(colour.linear) }} />
      Reflects LRV {printNumber(colour.lrv, 1)}, L* {printNumber(l, 1)} a* {printNumber(a, 1)} b*{' '}
      {printNumber(b, 1)} at normal incidence, by its optical constants under D65. The finish takes this
      colour; what was matched in Colour does not count.
    </Quiet>
  );
}

/** Metal of the whole finish: which one, and the film on it. */
export function BaseMetalBlock({
  response,
  report,
  change,
}: {
  response: ResponseSettings;
  report: RenderReport | null;
  change: ChangeResponse;
}) {
  const of = (response.base.kind === 'metal' && response.base.of) || ({ from: 'picture' } as const);
  const films = response.films ?? [];
  return (
    <Block>
      <MetalChoice of={of} onChange={(next) => change('metal', { base: { kind: 'metal', of: next } })} />
      <MetalColourLine colour={report?.metals.base ?? null} />
      <FilmBlock
        film={films.find((f) => f.part === null) ?? null}
        on={of}
        what=""
        onChange={(what, film) => change(what, { films: withFilm(films, null, film) })}
      />
    </Block>
  );
}

/** Parts that are of bare metal in a finish that is not, or of another metal: chips, inlays, threads. */
export function PartMetalBlock({
  response,
  parts: all,
  change,
}: {
  response: ResponseSettings;
  parts: readonly NamedPart[];
  change: ChangeResponse;
}) {
  const metals = response.metals ?? [];
  const films = response.films ?? [];
  const free = all.filter(({ id }) => !metals.some((m) => m.part === id));
  const nameOf = (id: string) => all.find((p) => p.id === id)?.name ?? id;
  const replace = (index: number, what: string, next: PartMetal) => {
    const was = metals[index]!.part;
    change(`${what} ${was}`, {
      metals: metals.map((m, k) => (k === index ? next : m)),
      films: films.map((f) => (f.part === was ? { ...f, part: next.part } : f)),
    });
  };
  if (all.length === 0 && metals.length === 0) return null;
  return (
    <Block>
      <h3>Parts of metal</h3>
      {metals.map((metal, index) => (
        <Entry key={metal.part} role="group" aria-label={`Metal of ${nameOf(metal.part)}`}>
          <WithRemove>
            <Choice
              label="Part"
              value={metal.part}
              options={[metal.part, ...free.map(({ id }) => id)].map((id) => ({
                value: id,
                name: nameOf(id),
              }))}
              onChange={(part) => replace(index, 'metal part', { ...metal, part })}
            />
            <Button
              onPress={() =>
                change(`metal removed ${metal.part}`, {
                  metals: metals.filter((_, k) => k !== index),
                  films: withFilm(films, metal.part, null),
                })
              }
            >
              Remove
            </Button>
          </WithRemove>
          <MetalChoice of={metal.of} onChange={(of) => replace(index, 'metal', { ...metal, of })} />
          <FilmBlock
            film={films.find((f) => f.part === metal.part) ?? null}
            on={metal.of}
            what={` on ${nameOf(metal.part)}`}
            onChange={(what, film) =>
              change(`${what} ${metal.part}`, { films: withFilm(films, metal.part, film) })
            }
          />
        </Entry>
      ))}
      {free.length > 0 && (
        <div>
          <Button
            onPress={() =>
              change('part of metal added', {
                metals: [...metals, { part: free[0]!.id, of: { from: 'constants', metal: 'copper' } }],
              })
            }
          >
            Add a part of metal
          </Button>
        </div>
      )}
    </Block>
  );
}
