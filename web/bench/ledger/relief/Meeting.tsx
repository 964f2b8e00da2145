import {
  COMBININGS,
  MASK_PLACES,
  type Combining,
  type ReliefContribution,
  type ReliefMask,
} from '@jossel/core/relief';
import { Tick } from '../../../controls/amounts';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import type { Change } from './change';
import { Three, Two } from '../columns';
import type { NamedPart } from '../parts';

const COMBINED: Record<Combining, string> = {
  add: 'added to it',
  replace: 'in place of it',
  highest: 'where higher',
  lowest: 'where lower',
};
const EVERYWHERE = 'everywhere';
const PLACES: Record<ReliefMask['place'], string> = {
  part: 'on a part',
  hollows: 'in hollows',
  arrises: 'on arrises',
  faces: 'on faces',
};

/** How a contribution meets what is below it, and where it counts. */
export function Meeting({
  contribution: c,
  parts,
  onChange,
}: {
  contribution: ReliefContribution;
  parts: readonly NamedPart[];
  onChange: Change;
}) {
  const { mask } = c;
  const setMask = (what: string, next: ReliefMask | null) => {
    const { mask: _, ...rest } = c;
    onChange(what, next ? { ...c, mask: next } : (rest as ReliefContribution));
  };
  const places = MASK_PLACES.filter(
    (place) => place !== 'part' || parts.length > 0 || mask?.place === 'part',
  );
  return (
    <>
      <Two>
        <Choice<Combining>
          label="Over what is below"
          value={c.combine ?? 'add'}
          options={COMBININGS.map((value) => ({ value, name: COMBINED[value] }))}
          onChange={(combine) => onChange('combine', { ...c, combine })}
        />
        <Choice<ReliefMask['place'] | typeof EVERYWHERE>
          label="Applies"
          value={mask?.place ?? EVERYWHERE}
          options={[
            { value: EVERYWHERE, name: EVERYWHERE },
            ...places.map((value) => ({ value, name: PLACES[value] })),
          ]}
          onChange={(place) =>
            setMask(
              'mask',
              place === EVERYWHERE
                ? null
                : {
                    reachMm: 5,
                    softenMm: 0,
                    except: false,
                    ...mask,
                    place,
                    ...(place === 'part' ? { part: mask?.part ?? parts[0]?.id ?? '' } : {}),
                  },
            )
          }
        />
      </Two>
      {mask && (
        <Three>
          {mask.place === 'part' ? (
            <Choice
              label="Part"
              value={mask.part ?? ''}
              options={parts.map(({ id, name }) => ({ value: id, name }))}
              onChange={(part) => setMask('mask part', { ...mask, part })}
            />
          ) : (
            <NumberField
              label="Reach"
              unit="mm"
              value={mask.reachMm}
              min={0.01}
              max={10000}
              onChange={(reachMm) => setMask('mask reach', { ...mask, reachMm })}
            />
          )}
          <NumberField
            label="Soft edge"
            unit="mm"
            value={mask.softenMm}
            min={0}
            max={1000}
            onChange={(softenMm) => setMask('mask soft', { ...mask, softenMm })}
          />
          <Tick
            name="everywhere else"
            value={mask.except}
            onChange={(except) => setMask('mask except', { ...mask, except })}
          />
        </Three>
      )}
    </>
  );
}
