import styled from 'styled-components';
import type { Recipe, RenderReport, resolveRepeat } from '@jossel/core/finish';
import type { ClosedAxis, Closing } from '@jossel/core/repeat';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { OneOf, Quiet } from '../../controls/basics';
import { NumberField } from '../../controls/fields';
import { useChange } from './use-change';

const Axis = styled.section`
  display: grid;
  gap: 7px;
  h3 {
    font-size: 13px;
    font-weight: 600;
  }
`;
const WAYS: readonly { value: Closing; name: string }[] = [
  { value: 'blend', name: 'blend' },
  { value: 'mirror', name: 'mirror' },
  { value: 'abut', name: 'edge to edge' },
];

/** How the sample becomes a repeat, per axis, with the seam figure of each edge. */
export function RepeatSection({
  recipe,
  geometry,
  report,
}: {
  recipe: Recipe;
  geometry: ReturnType<typeof resolveRepeat> | null;
  report: RenderReport | null;
}) {
  const change = useChange(recipe, 'repeat');
  const units = useAppSelector((s) => s.settings.units);
  const mm = (v: number) => printLength(v, units, v < 100 ? 1 : 0);
  function axis(
    key: 'across' | 'up',
    name: string,
    closed: ClosedAxis | undefined,
    seam: number | undefined,
  ) {
    const value = recipe.repeat[key];
    return (
      <Axis aria-label={name}>
        <h3>{name}</h3>
        <OneOf
          label={`How it closes ${name.toLowerCase()}`}
          value={value.closing}
          options={WAYS}
          onChange={(closing) => change(`${key} closing`, { [key]: { ...value, closing } })}
        />
        {value.closing === 'blend' && (
          <NumberField
            label="Overlap"
            unit="mm"
            value={value.overlapMm}
            min={0}
            max={100000}
            digits={1}
            onChange={(overlapMm) => change(`${key} overlap`, { [key]: { ...value, overlapMm } })}
          />
        )}
        {closed && (
          <Quiet>
            {mm(closed.repeatMm)}
            {closed.modules ? `, ${closed.modules} whole modules` : ''}
            {closed.mixedMm > 0 && `, ${mm(closed.mixedMm)} mixed`}
            {seam !== undefined && (
              <>
                ; seam <strong style={{ color: '#1B1B1B' }}>{printNumber(seam, 2)}</strong>
              </>
            )}
          </Quiet>
        )}
      </Axis>
    );
  }
  return (
    <>
      {axis('across', 'Across the width', geometry?.across, report?.seam.acrossWidth)}
      {axis('up', 'Up the height', geometry?.up, report?.seam.acrossHeight)}
      <Quiet>
        A seam of 1.00 has the same contrast as the inside. The overlap keeps the sample’s own contrast.
      </Quiet>
    </>
  );
}
