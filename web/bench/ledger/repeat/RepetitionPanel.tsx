import { lazy, Suspense, useState } from 'react';
import styled from 'styled-components';
import { SEEN_AT_LX, withReplaced, type FoundTelltale, type Recipe } from '@jossel/core/finish';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, Quiet, Row, Sentence } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import type { Drawn } from '../../../workers/render.worker';
import { benchSlice } from '../../bench-slice';
import { newId } from '../../new-id';
import type { RepetitionSearch } from '../../use-repetition';
import { useChangeRecipe } from '../use-change';

/** Charts come when they are wanted. */
const VisibilityChart = lazy(async () => ({ default: (await import('../charts')).VisibilityChart }));

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 230px;
  overflow: auto;
  li {
    display: grid;
    grid-template-columns: 24px 1fr auto;
    align-items: center;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    padding-left: 4px;
  }
  li[data-held='true'] {
    background: ${({ theme }) => theme.field};
    font-weight: 600;
  }
`;

/** Below this nobody sees it, ΔE. */
const USUAL_CONTRAST = 2;

/** What gives the repetition away, and from how far it is seen. */
export function RepetitionPanel({
  recipe,
  drawn,
  repetition: { found, busy, sentence },
}: {
  recipe: Recipe;
  drawn: Drawn | null;
  repetition: RepetitionSearch;
}) {
  const put = useChangeRecipe();
  const dispatch = useAppDispatch();
  const units = useAppSelector((s) => s.settings.units);
  const { selected, lookedAtMm } = useAppSelector((s) => s.bench);
  const [above, setAbove] = useState(USUAL_CONTRAST);
  const [fault, setFault] = useState('');
  const mm = (v: number) => printLength(v, units, v < 100 ? 1 : 0);
  const far = (v: number) =>
    units === 'imperial' ? printLength(v, units, 0) : `${printNumber(v / 1000, 1)}\u2009m`;
  const repeat = drawn?.report.repeatMm ?? { width: 1, height: 1 };
  const all = found?.telltales ?? [];
  const stronger = all.filter((g) => g.contrast >= above);

  function replace(which: readonly FoundTelltale[]) {
    const usable = which.filter((g) => g.taken.length > 0);
    if (usable.length === 0) {
      setFault('Where this comes from is not known any more. Change something and look again.');
      return;
    }
    setFault('');
    dispatch(benchSlice.actions.changed({ selected: null }));
    put('repeat telltales replaced', withReplaced(recipe, usable, newId));
  }
  const seen = found?.seen;
  return (
    <>
      <section aria-label="From how far it is seen" style={{ display: 'grid', gap: 7 }}>
        <p role="status">
          {!found ? (
            <Quiet>{busy ? 'Looking at the repeat …' : ''}</Quiet>
          ) : seen!.farthestMm === null || !seen!.strongest ? (
            'The repetition is not visible from any distance.'
          ) : (
            <>
              The repetition is visible from {far(seen!.nearestMm!)} to{' '}
              <strong>{far(seen!.farthestMm)}</strong>
              {seen!.farthestMm >= 299000 ? ' and beyond' : ''}, most at {far(seen!.strongestMm)} (period{' '}
              {mm(seen!.strongest.lengthMm)}, contrast {printNumber(100 * seen!.strongest.contrast, 2)} %).
            </>
          )}
        </p>
        {seen && (
          <Suspense fallback={<div style={{ height: 158 }} />}>
            <VisibilityChart seen={seen} />
          </Suspense>
        )}
        <NumberField
          label={`Side of the field that is looked at, lit by ${SEEN_AT_LX} lx`}
          unit="mm"
          value={lookedAtMm}
          min={100}
          max={1000000}
          digits={0}
          onChange={(v) => dispatch(benchSlice.actions.changed({ lookedAtMm: v }))}
        />
      </section>
      <section aria-label="Telltales" style={{ display: 'grid', gap: 7 }}>
        {found && all.length === 0 && <p>Nothing in the repeat stands out from the rest.</p>}
        {all.length > 0 && (
          <>
            <List>
              {all.map((g, k) => (
                <li key={k} data-held={selected === String(k)}>
                  <span>{k + 1}</span>
                  <span>
                    {printNumber(g.contrast, 1)} ΔE{' '}
                    <Quiet>
                      {words(g)}, {mm(Math.sqrt(g.share * repeat.width * repeat.height))}
                    </Quiet>
                  </span>
                  <Button
                    weight="quiet"
                    aria-label={`Replace telltale ${k + 1}`}
                    onPress={() => replace([g])}
                  >
                    Replace
                  </Button>
                </li>
              ))}
            </List>
            <Row style={{ alignItems: 'end', flexWrap: 'nowrap' }}>
              <NumberField
                label="Minimum contrast"
                unit="ΔE"
                value={above}
                min={0}
                max={200}
                digits={1}
                onChange={setAbove}
              />
              <Button isDisabled={stronger.length === 0} onPress={() => replace(stronger)}>
                Replace {stronger.length === 1 ? 'one' : `all ${stronger.length}`}
              </Button>
            </Row>
            <Quiet>
              {recipe.repeat.method === 'composed'
                ? 'What is replaced is no longer used in this arrangement; its place is re-laid.'
                : 'What is replaced becomes a keep-out of the sample and is filled from elsewhere in it.'}
            </Quiet>
          </>
        )}
        {(sentence || fault) && <Sentence>{fault || sentence}</Sentence>}
      </section>
    </>
  );
}

/** In which way it stands out. */
function words({ differs: [l, a, b] }: FoundTelltale): string {
  if (Math.abs(l) >= Math.hypot(a, b)) return l > 0 ? 'lighter' : 'darker';
  if (Math.abs(a) > Math.abs(b)) return a > 0 ? 'redder' : 'greener';
  return b > 0 ? 'yellower' : 'bluer';
}
