import type { Recipe } from '@jossel/core/finish';
import { arrangementOf, withRedone } from '@jossel/core/repeat';
import { quadArea } from '@jossel/core/straighten';
import { printNumber } from '@jossel/core/units';
import { Button, Quiet } from '../../../controls/basics';
import { useChange } from '../use-change';

/** Areas of the arrangement in use that were laid anew, in order. */
export function AnewPanel({ recipe }: { recipe: Recipe }) {
  const change = useChange(recipe, 'repeat');
  if (recipe.repeat.method !== 'composed')
    return (
      <Quiet>
        Areas can be re-laid in a composed repeat. This one is closed at its edges; compose it under “method”,
        or add a keep-out under Sample.
      </Quiet>
    );
  const { redone, number } = arrangementOf(recipe.repeat);
  const put = (what: string, next: typeof redone) => {
    const { arrangements } = withRedone(recipe.repeat, next);
    change(what, { arrangements });
  };
  return (
    <>
      <p>Outline an area on the plate to re-lay; the rest is unchanged.</p>
      {redone.length === 0 && <Quiet>Nothing is re-laid in arrangement {number} yet.</Quiet>}
      <ol style={{ margin: 0, padding: 0, listStyle: 'none' }} aria-label="Areas re-laid">
        {redone.map((item, k) => {
          const share = item.areas.reduce((sum, area) => sum + Math.abs(quadArea(area)), 0);
          return (
            <li
              key={item.id}
              style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', gap: 6 }}
            >
              <span>
                {k + 1}. {item.taken.length > 0 ? 'replaced' : 're-laid'}{' '}
                <Quiet>
                  {item.areas.length > 1 ? `${item.areas.length} places, ` : ''}
                  {printNumber(100 * share, 1)} %
                </Quiet>
              </span>
              <span style={{ whiteSpace: 'nowrap' }}>
                <Button
                  weight="quiet"
                  aria-label={`Re-lay area ${k + 1} again`}
                  onPress={() =>
                    put(
                      'once more',
                      redone.map((r) => (r === item ? { ...r, seed: r.seed + 1000 } : r)),
                    )
                  }
                >
                  Again
                </Button>
                <Button
                  weight="quiet"
                  aria-label={`Undo re-laying area ${k + 1}`}
                  onPress={() =>
                    put(
                      'taken back',
                      redone.filter((r) => r !== item),
                    )
                  }
                >
                  Remove
                </Button>
              </span>
            </li>
          );
        })}
      </ol>
      {redone.length > 1 && (
        <Quiet>Each is laid on top of those before it; removing one re-lays those after it.</Quiet>
      )}
    </>
  );
}
