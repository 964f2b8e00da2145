import type { PartGloss, ResponseSettings } from '@jossel/core/response';
import { figure } from '@jossel/core/units';
import { Button, Quiet } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { FigureField } from '../../../controls/figure-field';
import { Entry, WithRemove } from '../columns';
import type { NamedPart } from '../parts';
import { Block } from '../size/Block';

/** Parts that have a gloss of their own: glaze and joint, board and knot. */
export function PartGlossBlock({
  response,
  parts: all,
  change,
}: {
  response: ResponseSettings;
  parts: readonly NamedPart[];
  change: (what: string, next: Partial<ResponseSettings>) => void;
}) {
  const given = response.parts ?? [];
  const free = all.filter(({ id }) => !given.some((p) => p.part === id));
  const nameOf = (id: string) => all.find((p) => p.id === id)?.name ?? id;
  const put = (what: string, parts: PartGloss[]) => change(`part gloss ${what}`, { parts });
  const replace = (index: number, what: string, next: Partial<PartGloss>) =>
    put(
      `${what} ${given[index]!.part}`,
      given.map((p, k) => (k === index ? { ...p, ...next } : p)),
    );
  return (
    <Block>
      <h3>Parts</h3>
      {given.map((own, index) => (
        <Entry key={own.part} role="group" aria-label={`Gloss of ${nameOf(own.part)}`}>
          <WithRemove>
            <Choice
              label="Part"
              value={own.part}
              options={[own.part, ...free.map(({ id }) => id)].map((id) => ({ value: id, name: nameOf(id) }))}
              onChange={(part) => replace(index, 'part', { part })}
            />
            <Button
              onPress={() =>
                put(
                  `removed ${own.part}`,
                  given.filter((_, k) => k !== index),
                )
              }
            >
              Remove
            </Button>
          </WithRemove>
          <FigureField
            label={`Gloss of ${nameOf(own.part)}`}
            figure={own.glossGu}
            unit="GU"
            min={0}
            max={2000}
            digits={1}
            onChange={(glossGu) => replace(index, 'gloss', { glossGu })}
          />
        </Entry>
      ))}
      {free.length > 0 ? (
        <div>
          <Button
            onPress={() =>
              put('added', [
                ...given,
                { part: free[0]!.id, glossGu: figure(response.glossGu.value, 'GU', 'assumed') },
              ])
            }
          >
            Add a part
          </Button>
        </div>
      ) : (
        given.length === 0 && <Quiet>Mark parts by colour in Sample to give them a gloss of their own.</Quiet>
      )}
    </Block>
  );
}
