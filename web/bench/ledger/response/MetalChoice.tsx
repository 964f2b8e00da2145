import { METALS, type Metal } from '@jossel/core/optics';
import type { MetalSettings } from '@jossel/core/response';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import { Two } from '../columns';

type Key = Metal | 'picture' | 'index';
const OPTIONS: readonly { value: Key; name: string }[] = [
  { value: 'picture', name: 'as pictured' },
  ...METALS.map((metal) => ({ value: metal, name: metal })),
  { value: 'index', name: 'by n and k' },
];

const keyOf = (of: MetalSettings): Key => (of.from === 'constants' ? of.metal : of.from);

/** n and k of iron near 550 nm, to begin with. */
const TYPICAL = { from: 'index', n: 2.9, k: 3.1 } as const;

/** Which metal: one of known optical constants, one of a typed index, or the one in the picture. */
export function MetalChoice({ of, onChange }: { of: MetalSettings; onChange: (of: MetalSettings) => void }) {
  return (
    <>
      <Choice
        label="Metal"
        value={keyOf(of)}
        options={OPTIONS}
        onChange={(key) =>
          onChange(
            key === 'picture'
              ? { from: 'picture' }
              : key === 'index'
                ? TYPICAL
                : { from: 'constants', metal: key },
          )
        }
      />
      {of.from === 'index' && (
        <Two>
          <NumberField
            label="n"
            value={of.n}
            unit="1"
            min={0.01}
            max={10}
            digits={3}
            onChange={(n) => onChange({ ...of, n })}
          />
          <NumberField
            label="k"
            value={of.k}
            unit="1"
            min={0}
            max={15}
            digits={3}
            onChange={(k) => onChange({ ...of, k })}
          />
        </Two>
      )}
    </>
  );
}
