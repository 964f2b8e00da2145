import {
  VARIES_WITH,
  type GlossVariation,
  type ResponseSettings,
  type VariesWith,
} from '@jossel/core/response';
import { Button, Quiet } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import { newId } from '../../new-id';
import { Entry, Two, WithRemove } from '../columns';
import { Block } from '../size/Block';
import { SpreadLikeChoice } from './SpreadLikeChoice';

const PLACES: Record<VariesWith, string> = {
  hollows: 'hollows of the relief',
  arrises: 'arrises and high places',
  dark: 'darker places',
  light: 'lighter places',
  generated: 'generated waves',
};

/** What is usual for a kind of variation whose figures mean something else than those of places. */
const USUAL: Partial<Record<VariesWith, Pick<GlossVariation, 'byGu' | 'reachMm'>>> = {
  generated: { byGu: 6, reachMm: 200 },
};

/** What the gloss varies with about its mean. */
export function VariationBlock({
  finishId,
  response,
  change,
}: {
  /** The finish in hand. */
  finishId: string;
  response: ResponseSettings;
  change: (what: string, next: Partial<ResponseSettings>) => void;
}) {
  const all = response.variation ?? [];
  const put = (what: string, variation: GlossVariation[]) => change(`gloss variation ${what}`, { variation });
  const replace = (id: string, what: string, next: Partial<GlossVariation>) =>
    put(
      `${what} ${id}`,
      all.map((v) => (v.id === id ? { ...v, ...next } : v)),
    );
  return (
    <Block>
      <h3>Variation</h3>
      {all.map((v, k) => (
        <Entry key={v.id} role="group" aria-label={`Variation ${k + 1}`}>
          <WithRemove>
            <Choice<VariesWith>
              label="With"
              value={v.from}
              options={VARIES_WITH.map((value) => ({ value, name: PLACES[value] }))}
              onChange={(from) => replace(v.id, 'place', { from, ...(USUAL[from] ?? {}) })}
            />
            <Button
              onPress={() =>
                put(
                  `removed ${v.id}`,
                  all.filter(({ id }) => id !== v.id),
                )
              }
            >
              Remove
            </Button>
          </WithRemove>
          <Two>
            <NumberField
              label={v.from === 'generated' ? 'Range' : 'Glossier by'}
              unit="GU"
              value={v.byGu}
              min={-200}
              max={200}
              digits={1}
              onChange={(byGu) => replace(v.id, 'amount', { byGu })}
            />
            <NumberField
              label={v.from === 'generated' ? 'Longest wave' : 'Reach'}
              unit="mm"
              value={v.reachMm}
              min={0.01}
              max={10000}
              onChange={(reachMm) => replace(v.id, 'reach', { reachMm })}
            />
          </Two>
          {v.from === 'generated' && (
            <Button onPress={() => replace(v.id, 'seed', { seed: v.seed + 1 })}>Another one</Button>
          )}
        </Entry>
      ))}
      <div>
        <Button
          onPress={() =>
            put('added', [...all, { id: newId(), from: 'hollows', byGu: -5, reachMm: 5, seed: 1 }])
          }
        >
          Add variation
        </Button>
      </div>
      {(all.length > 0 || response.spreadLike) && (
        <SpreadLikeChoice finishId={finishId} response={response} change={change} />
      )}
      {all.length > 0 && (
        <Quiet>The mean stays at the gloss at 60°. Below 0&nbsp;GU such places are more matt.</Quiet>
      )}
    </Block>
  );
}
