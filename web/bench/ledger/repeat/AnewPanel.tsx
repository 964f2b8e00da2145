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
        Parts can be laid anew in a repeat that is composed anew. This one is closed at its edges; compose it
        under “way”, or keep a spot out under Sample.
      </Quiet>
    );
  const { redone, number } = arrangementOf(recipe.repeat);
  const put = (what: string, next: typeof redone) => {
    const { arrangements } = withRedone(recipe.repeat, next);
    change(what, { arrangements });
  };
  return (
    <>
      <p>Draw round an area on the plate. It is laid anew; all else stays as it is, to the bit.</p>
      {redone.length === 0 && <Quiet>Nothing is laid anew in arrangement {number} yet.</Quiet>}
      <ol style={{ margin: 0, padding: 0, listStyle: 'none' }} aria-label="Laid anew">
        {redone.map((item, k) => {
          const share = item.areas.reduce((sum, area) => sum + Math.abs(quadArea(area)), 0);
          return (
            <li
              key={item.id}
              style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', gap: 6 }}
            >
              <span>
                {k + 1}. {item.taken.length > 0 ? 'replaced' : 'laid anew'}{' '}
                <Quiet>
                  {item.areas.length > 1 ? `${item.areas.length} places, ` : ''}
                  {printNumber(100 * share, 1)} %
                </Quiet>
              </span>
              <span style={{ whiteSpace: 'nowrap' }}>
                <Button
                  weight="quiet"
                  aria-label={`Lay number ${k + 1} anew once more`}
                  onPress={() =>
                    put(
                      'once more',
                      redone.map((r) => (r === item ? { ...r, seed: r.seed + 1000 } : r)),
                    )
                  }
                >
                  Once more
                </Button>
                <Button
                  weight="quiet"
                  aria-label={`Take number ${k + 1} back`}
                  onPress={() =>
                    put(
                      'taken back',
                      redone.filter((r) => r !== item),
                    )
                  }
                >
                  Take back
                </Button>
              </span>
            </li>
          );
        })}
      </ol>
      {redone.length > 1 && (
        <Quiet>Each is laid with those before it; taking one back lays those after it again.</Quiet>
      )}
    </>
  );
}
