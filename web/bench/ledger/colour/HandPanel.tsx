import type { Recipe, RenderReport } from '@jossel/core/finish';
import { isNoHand, NO_HAND, type HandCorrection, type HandEffect } from '@jossel/core/light';
import { printNumber } from '@jossel/core/units';
import styled from 'styled-components';
import { Button, Quiet } from '../../../controls/basics';
import { Amount, Tick } from '../../../controls/amounts';
import { NumberField } from '../../../controls/fields';
import { useChange } from '../use-change';

const Does = styled.p`
  color: ${({ theme }) => theme.quiet};
  font-size: 12px;
  margin: -2px 0 2px;
  text-align: right;
`;
const sign = (v: number, digits: number) => {
  const text = printNumber(Math.abs(v), digits);
  return `${Number(text) === 0 ? '±' : v > 0 ? '+' : '−'}${text}`;
};

/** Corrections by hand, each with what it does to reflectance and colour. */
export function HandPanel({ recipe, report }: { recipe: Recipe; report: RenderReport | null }) {
  const change = useChange(recipe, 'colour');
  const { hand } = recipe.colour;
  const targeted = recipe.colour.colour !== null || recipe.colour.reference !== null;
  const set = (what: string, next: Partial<HandCorrection>, dragged = true) =>
    change(`hand ${what}`, { hand: { ...hand, ...next } }, dragged);
  const does = (effect: HandEffect | undefined, changed: boolean) =>
    changed && effect ? (
      <Does>
        LRV {sign(effect.lrv, 2)}, ΔE00{' '}
        {targeted ? `${sign(effect.deltaE, 2)} from the target` : printNumber(effect.deltaE, 2)}
      </Does>
    ) : null;
  const effects = report?.hand;
  return (
    <>
      <div role="group" aria-label="Corrections by hand" style={{ display: 'grid', gap: 4 }}>
        {(
          [
            ['lightness', 'Lightness', -30, 30, 0.5, 1],
            ['saturation', 'Chroma', 0, 2, 0.02, 2],
            ['hueDeg', 'Hue, °', -60, 60, 1, 0],
            ['contrast', 'Contrast', 0, 2, 0.02, 2],
          ] as const
        ).map(([key, name, min, max, step, digits]) => (
          <div key={key}>
            <Amount
              label={name}
              labelPx={92}
              neutral={NO_HAND[key]}
              value={hand[key]}
              min={min}
              max={max}
              step={step}
              digits={digits}
              onChange={(v) => set(key, { [key]: v })}
            />
            {does(effects?.[key], hand[key] !== NO_HAND[key])}
          </div>
        ))}
        {(['green–red', 'blue–yellow'] as const).map((name, k) => (
          <Amount
            key={name}
            label={`Shift ${name}`}
            labelPx={118}
            value={hand.tint[k]!}
            min={-10}
            max={10}
            step={0.1}
            digits={1}
            onChange={(v) => set('tint', { tint: k === 0 ? [v, hand.tint[1]] : [hand.tint[0], v] })}
          />
        ))}
        {does(effects?.tint, hand.tint[0] !== 0 || hand.tint[1] !== 0)}
        <Amount
          label="Sharpness"
          labelPx={92}
          neutral={0}
          value={hand.sharpness}
          min={0}
          max={2}
          step={0.05}
          onChange={(sharpness) => set('sharpness', { sharpness })}
        />
        {hand.sharpness > 0 && (
          <NumberField
            label="Sharpens detail finer than"
            unit="mm"
            value={hand.sharpMm}
            min={0.01}
            max={100}
            onChange={(sharpMm) => set('sharpness size', { sharpMm }, false)}
          />
        )}
      </div>
      <Tick
        name="Keep reflectance"
        value={hand.keepReflectance}
        onChange={(keepReflectance) => set('keep reflectance', { keepReflectance }, false)}
      />
      <Quiet>
        {hand.keepReflectance
          ? 'The light reflectance value stays; lightness then only shifts what lies above and below the mean.'
          : 'Corrections may move the light reflectance value; the checks say by how much.'}
      </Quiet>
      <Button
        isDisabled={isNoHand(hand)}
        onPress={() => set('all taken back', { ...NO_HAND, keepReflectance: hand.keepReflectance }, false)}
      >
        Take all back
      </Button>
    </>
  );
}
