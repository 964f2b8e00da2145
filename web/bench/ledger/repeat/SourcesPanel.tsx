import { leadingPicture, newSourceId, pictureSource, type Recipe } from '@jossel/core/finish';
import type { PlaceFrom } from '@jossel/core/repeat';
import { sizeKnownBy } from '@jossel/core/size';
import type { PictureSource } from '@jossel/core/sources';
import { figure, printNumber } from '@jossel/core/units';
import { api, type Sample } from '../../../app/api';
import { Tick } from '../../../controls/amounts';
import { Button, OneOf, Quiet, Row } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import type { Drawn } from '../../../workers/render.worker';
import { useChange, useChangeRecipe } from '../use-change';

const ENLARGED = [1, 2, 3, 4].map((value) => ({ value, name: value === 1 ? 'as it is' : `${value} times` }));
const NONE = 'none';
const MOST_JOINED = 30;

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
  const { elements, enlarged, method } = recipe.repeat;
  return (
    <>
      {method === 'composed' ? (
        <Joined recipe={recipe} samples={samples} drawn={drawn} />
      ) : (
        <Quiet>Several areas or pictures are joined where the repeat is composed, under “method”.</Quiet>
      )}
      <NumberField
        label="Module in the repeat, against its true size"
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
    </>
  );
}

/** A picture of the repeat other than the one that leads. */
interface JoinedPicture {
  source: PictureSource;
  name: string;
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
  const { sources, repeat } = recipe;
  const { from } = repeat;
  const lead = leadingPicture(recipe);
  const set = (what: string, next: Partial<Pick<Recipe, 'sources'>> & { from: PlaceFrom[] }) =>
    put(`repeat ${what}`, {
      ...recipe,
      ...(next.sources ? { sources: next.sources } : {}),
      repeat: { ...repeat, why: [], from: next.from },
    });
  if (!lead) return null;
  const areas = lead.preparation.areas.filter((a) => a.id !== from[0]?.area);
  const isJoined = (area: string) => from.some((p) => p.source === lead.id && p.area === area);
  const nameOf = (sampleId: string) => samples.find((s) => s.id === sampleId)?.fileName ?? 'a picture';
  const joined = from
    .filter((p) => p.source !== lead.id)
    .flatMap((p) => sources.filter((s) => s.id === p.source))
    .map((source): JoinedPicture => ({ source, name: nameOf(source.sampleId) }));
  const gains = drawn?.report.joined ?? [];
  return (
    <>
      <p>Composed from the used part of the sample{from.length > 1 ? ', and from:' : '.'}</p>
      {areas.map((area) => (
        <Tick
          key={area.id}
          name={area.name}
          value={isJoined(area.id)}
          onChange={(on) =>
            set('areas joined', {
              from: on
                ? [...from, { source: lead.id, area: area.id }]
                : from.filter((p) => p.source !== lead.id || p.area !== area.id),
            })
          }
        />
      ))}
      <JoinedPictures
        joined={joined}
        onSize={({ source }, widthMm) =>
          set('size of a joined picture', {
            sources: sources.map((s) => (s === source ? { ...s, size: sizeByWidth(widthMm) } : s)),
            from,
          })
        }
        onTakeOut={({ source }) =>
          set('picture taken out', {
            sources: sources.filter((s) => s !== source),
            from: from.filter((p) => p.source !== source.id),
          })
        }
      />
      <JoinAnother
        recipe={recipe}
        offered={data?.items ?? []}
        onJoin={(sampleId) => {
          const there = sources.find((s) => s.sampleId === sampleId);
          const added = there ?? withParts(pictureSource(newSourceId(sources), sampleId), lead);
          set('picture joined', {
            sources: there ? sources : [...sources, added],
            from: [...from, { source: added.id, area: null }],
          });
        }}
      />
      {joined.length > 0 && (
        <Quiet>
          No width: its pixels are as large as those of the leading picture. Each picture is straightened and
          marked under Sample.
        </Quiet>
      )}
      {gains.length > 1 && gains.length === from.length && (
        <Quiet>
          Brought to the tone of the first:{' '}
          {gains
            .slice(1)
            .map(
              ({ gain }) =>
                `red × ${printNumber(gain[0], 2)}, green × ${printNumber(gain[1], 2)}, blue × ${printNumber(gain[2], 2)}`,
            )
            .join('; ')}
          .
        </Quiet>
      )}
    </>
  );
}

/** A picture of the same finish has the same parts. */
const withParts = (source: PictureSource, { preparation }: PictureSource): PictureSource => ({
  ...source,
  preparation: { ...source.preparation, parts: preparation.parts },
});

const sizeByWidth = (widthMm: number | null): PictureSource['size'] =>
  widthMm === null ? null : sizeKnownBy({ overall: figure(widthMm, 'mm', 'assumed') }, 'follows');

function JoinedPictures({
  joined,
  onSize,
  onTakeOut,
}: {
  joined: readonly JoinedPicture[];
  onSize: (picture: JoinedPicture, widthMm: number | null) => void;
  onTakeOut: (picture: JoinedPicture) => void;
}) {
  if (joined.length === 0) return null;
  return (
    <ul
      style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 8 }}
      aria-label="Joined pictures"
    >
      {joined.map((picture) => {
        const { source, name } = picture;
        return (
          <li key={source.id} style={{ display: 'grid', gridTemplateColumns: '56px minmax(0, 1fr)', gap: 8 }}>
            <img
              src={`/api/samples/${source.sampleId}/preview.jpg`}
              alt=""
              style={{ width: 56, height: 56, objectFit: 'cover' }}
            />
            <div style={{ display: 'grid', gap: 4 }}>
              <span style={{ overflowWrap: 'anywhere' }}>{name}</span>
              <NumberField
                label="It shows across"
                unit="mm"
                value={source.size?.overall.across?.value ?? null}
                min={1}
                max={1000000}
                digits={1}
                onChange={(widthMm) => onSize(picture, widthMm)}
                onClear={() => onSize(picture, null)}
              />
              <Row>
                <Button weight="quiet" aria-label={`Take ${name} out`} onPress={() => onTakeOut(picture)}>
                  Remove
                </Button>
              </Row>
            </div>
          </li>
        );
      })}
    </ul>
  );
}

/** Pictures of this finish that are not in the repeat yet come first, then all others. */
function JoinAnother({
  recipe: { sources, repeat },
  offered,
  onJoin,
}: {
  recipe: Recipe;
  offered: readonly Sample[];
  onJoin: (sampleId: string) => void;
}) {
  const used = sources.filter((s) => repeat.from.some((p) => p.source === s.id));
  const taken = new Set([
    ...used.map((s) => s.sampleId),
    ...sources.flatMap((s) => s.maps.map((m) => m.sampleId)),
  ]);
  const own = new Set(sources.map((s) => s.sampleId));
  const free = offered.filter((s) => !taken.has(s.id));
  if (free.length === 0 || repeat.from.length >= MOST_JOINED) return null;
  const inOrder = [...free.filter((s) => own.has(s.id)), ...free.filter((s) => !own.has(s.id))];
  return (
    <Choice<string>
      label="Join another picture of this finish"
      value={NONE}
      options={[
        { value: NONE, name: 'choose a picture' },
        ...inOrder.map((s) => ({ value: s.id, name: s.fileName })),
      ]}
      onChange={(id) => id !== NONE && onJoin(id)}
    />
  );
}
