import type { Recipe } from '@jossel/core/finish';
import type { ComposeSettings } from '@jossel/core/repeat';
import { printNumber } from '@jossel/core/units';
import { api, type Sample } from '../../../app/api';
import { Tick } from '../../../controls/amounts';
import { Button, OneOf, Quiet, Row } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import type { Drawn } from '../../../workers/render.worker';
import { useChange, useChangeRecipe } from '../use-change';

const ENLARGED = [1, 2, 3, 4].map((value) => ({ value, name: value === 1 ? 'as it is' : `${value} times` }));
const NONE = 'none';

/** What the repeat is made from: areas and pictures that are joined, the scale of its elements, detail beyond the pixels. */
export function SourcesPanel({
  recipe,
  samples,
  drawn,
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  drawn: Drawn | null;
}) {
  const change = useChange(recipe, 'repeat');
  const { compose, elements, enlarged, way } = recipe.repeat;
  return (
    <>
      {way === 'compose' ? (
        <Joined recipe={recipe} samples={samples} drawn={drawn} />
      ) : (
        <Quiet>Several areas or pictures are joined where the repeat is composed anew, under “way”.</Quiet>
      )}
      <NumberField
        label="Size of the pattern against the sample"
        unit="%"
        value={100 * elements.scale}
        min={10}
        max={1000}
        digits={1}
        onChange={(percent) =>
          change('element scale', { elements: { scale: percent / 100, confirmed: false } })
        }
      />
      {elements.scale !== 1 && (
        <>
          <Quiet>
            At 100 % the size is true. {printNumber(100 * elements.scale, 1)} % is shown as wrong until
            somebody confirms it.
          </Quiet>
          <Tick
            name="This size is meant"
            value={elements.confirmed}
            onChange={(confirmed) => change('size confirmed', { elements: { ...elements, confirmed } })}
          />
        </>
      )}
      <section aria-label="Detail finer than the picture" style={{ display: 'grid', gap: 7 }}>
        <Quiet>Detail finer than the picture’s pixels</Quiet>
        <OneOf
          label="Detail finer than the picture’s pixels"
          value={enlarged}
          options={ENLARGED}
          onChange={(times) => change('enlarged', { enlarged: times })}
        />
        {enlarged > 1 && (
          <Quiet>
            Made from the sample itself where more pixels are asked for than it has, and marked as inferred.
          </Quiet>
        )}
      </section>
      {compose.pictures.length > 0 && recipe.source.maps.length > 0 && (
        <Quiet>The maps of the set belong to the first picture only and cannot go with others.</Quiet>
      )}
    </>
  );
}

function Joined({
  recipe,
  samples,
  drawn,
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  drawn: Drawn | null;
}) {
  const put = useChangeRecipe();
  const { data } = api.useSamplesQuery();
  const { compose } = recipe.repeat;
  const set = (what: string, part: Partial<ComposeSettings>, source = recipe.source) =>
    put(`repeat ${what}`, {
      ...recipe,
      source,
      repeat: { ...recipe.repeat, why: [], compose: { ...compose, ...part } },
    });
  const areas = recipe.sample.areas.filter((a) => a.id !== recipe.sample.used);
  const taken = new Set([...recipe.source.sampleIds, ...recipe.source.maps.map((m) => m.sampleId)]);
  const offered = (data?.items ?? []).filter((s) => !taken.has(s.id));
  const gains = drawn?.report.joined ?? [];
  const all =
    1 + compose.areas.filter((id) => areas.some((a) => a.id === id)).length + compose.pictures.length;
  return (
    <>
      <p>Composed from the used part of the sample{all > 1 ? ', and from:' : '.'}</p>
      {areas.map((area) => (
        <Tick
          key={area.id}
          name={area.name}
          value={compose.areas.includes(area.id)}
          onChange={(on) =>
            set('areas joined', {
              areas: on ? [...compose.areas, area.id] : compose.areas.filter((id) => id !== area.id),
            })
          }
        />
      ))}
      {compose.pictures.length > 0 && (
        <ul
          style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 8 }}
          aria-label="Joined pictures"
        >
          {compose.pictures.map((picture) => {
            const name = samples.find((s) => s.id === picture.sampleId)?.fileName ?? 'a picture';
            return (
              <li
                key={picture.sampleId}
                style={{ display: 'grid', gridTemplateColumns: '56px minmax(0, 1fr)', gap: 8 }}
              >
                <img
                  src={`/api/samples/${picture.sampleId}/preview.jpg`}
                  alt=""
                  style={{ width: 56, height: 56, objectFit: 'cover' }}
                />
                <div style={{ display: 'grid', gap: 4 }}>
                  <span style={{ overflowWrap: 'anywhere' }}>{name}</span>
                  <NumberField
                    label="It shows across"
                    unit="mm"
                    value={picture.widthMm}
                    min={1}
                    max={1000000}
                    digits={1}
                    onChange={(widthMm) =>
                      set('width of a joined picture', {
                        pictures: compose.pictures.map((o) => (o === picture ? { ...o, widthMm } : o)),
                      })
                    }
                    onClear={() =>
                      set('width of a joined picture', {
                        pictures: compose.pictures.map((o) => (o === picture ? { ...o, widthMm: null } : o)),
                      })
                    }
                  />
                  <Row>
                    <Button
                      weight="quiet"
                      aria-label={`Take ${name} out`}
                      onPress={() =>
                        set(
                          'picture taken out',
                          { pictures: compose.pictures.filter((o) => o !== picture) },
                          {
                            ...recipe.source,
                            sampleIds: recipe.source.sampleIds.filter((id) => id !== picture.sampleId),
                          },
                        )
                      }
                    >
                      Take out
                    </Button>
                  </Row>
                </div>
              </li>
            );
          })}
        </ul>
      )}
      {offered.length > 0 && compose.pictures.length < 10 && (
        <Choice<string>
          label="Join another picture of this finish"
          value={NONE}
          options={[
            { value: NONE, name: 'choose a picture' },
            ...offered.map((s) => ({ value: s.id, name: s.fileName })),
          ]}
          onChange={(id) => {
            if (id === NONE) return;
            set(
              'picture joined',
              { pictures: [...compose.pictures, { sampleId: id, widthMm: null }] },
              { ...recipe.source, sampleIds: [...recipe.source.sampleIds, id] },
            );
          }}
        />
      )}
      {compose.pictures.length > 0 && (
        <Quiet>No width: its pixels are as large as those of the first picture.</Quiet>
      )}
      {gains.length > 1 && gains.length === all && (
        <Quiet>
          Brought to the tone of the first:{' '}
          {gains
            .slice(1)
            .map(
              ({ gain }) =>
                `red × ${printNumber(gain[0])}, green × ${printNumber(gain[1])}, blue × ${printNumber(gain[2])}`,
            )
            .join('; ')}
          .
        </Quiet>
      )}
    </>
  );
}
