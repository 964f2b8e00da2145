import { reliefFrom, type Recipe } from '@jossel/core/finish';
import type { PictureSource } from '@jossel/core/sources';
import { MAP_ROLES, type GreenRuns, type MapRole } from '@jossel/core/sample';
import type { Finish } from '../../../app/api';
import { Button, OneOf, Quiet } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { withSource } from '../../picture-in-hand';
import { useChangeRecipe } from '../use-change';

const ROLES = MAP_ROLES.filter((r) => r !== 'colour').map((value) => ({ value, name: value }));

/** Further maps of the same surface that came from elsewhere. They share the size of their picture. */
export function SetPanel({
  finish,
  recipe,
  source,
}: {
  finish: Finish;
  recipe: Recipe;
  source: PictureSource;
}) {
  const change = useChangeRecipe();
  const { maps } = source;
  const put = (what: string, next: PictureSource['maps'], relief = recipe.relief) =>
    change(`maps ${what}`, { ...withSource(recipe, source.id, { maps: next }), relief });
  const carriesRelief = maps.some((m) => m.role === 'height' || m.role === 'normal');
  if (maps.length === 0)
    return (
      <Quiet>
        This finish has one picture. Maps of the same surface – height, normals, roughness – are brought in
        together under Receiving, where Jossel proposes what each one shows.
      </Quiet>
    );
  return (
    <>
      <ul
        style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 10 }}
        aria-label="Maps of the set"
      >
        {maps.map((m) => {
          const file = finish.samples.find((s) => s.id === m.sampleId);
          return (
            <li
              key={m.sampleId}
              style={{ display: 'grid', gridTemplateColumns: '56px minmax(0, 1fr)', gap: 8 }}
            >
              <img
                src={`/api/samples/${m.sampleId}/preview.jpg`}
                alt=""
                style={{ width: 56, height: 56, objectFit: 'cover' }}
              />
              <div style={{ display: 'grid', gap: 4 }}>
                <span style={{ overflowWrap: 'anywhere' }}>{file?.fileName ?? m.sampleId}</span>
                <Choice<MapRole>
                  hideLabel
                  label={`What ${file?.fileName ?? 'this map'} shows`}
                  value={m.role}
                  options={ROLES}
                  onChange={(role) =>
                    put(
                      'role',
                      maps.map((o) => (o === m ? { ...o, role } : o)),
                    )
                  }
                />
                {m.role === 'normal' && (
                  <OneOf<GreenRuns>
                    label="Which way green runs"
                    value={m.greenRuns}
                    options={[
                      { value: 'up', name: 'green up' },
                      { value: 'down', name: 'green down' },
                    ]}
                    onChange={(greenRuns) =>
                      put(
                        'green',
                        maps.map((o) => (o === m ? { ...o, greenRuns } : o)),
                      )
                    }
                  />
                )}
                <Button
                  weight="quiet"
                  onPress={() => {
                    const next = maps.filter((o) => o !== m);
                    const still = next.some((o) => o.role === 'height' || o.role === 'normal');
                    put('removed', next, still ? recipe.relief : reliefFrom(recipe.relief, 'picture'));
                  }}
                >
                  Remove
                </Button>
              </div>
            </li>
          );
        })}
      </ul>
      {carriesRelief && (
        <OneOf
          label="Where the relief comes from"
          value={recipe.relief.contributions.some((c) => c.kind === 'map') ? 'map' : 'picture'}
          options={[
            { value: 'picture', name: 'relief from the picture' },
            { value: 'map', name: 'relief from the map' },
          ]}
          onChange={(kind) => put('relief', maps, reliefFrom(recipe.relief, kind))}
        />
      )}
      <Quiet>All maps lie where the picture lies and share its size; none can have another.</Quiet>
    </>
  );
}
