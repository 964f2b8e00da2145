import { Link } from 'react-router';
import { printArea, printNumber, printSurface } from '@jossel/core/units';
import type { FinishItem } from '../app/api';
import { useAppSelector } from '../app/store';
import { Button, Quiet } from '../controls/basics';
import { Choice } from '../controls/choice';
import { NumberField, TextLine } from '../controls/fields';
import { Actions } from '../controls/menu';
import { distinctNames } from './distinct-names';
import { Elevation } from './Elevation';
import { projectApi, type Surface } from './project-api';
import type { ProjectEdits } from './use-project-history';

const NONE = 'none';
const ITSELF = 'itself';
/** A given reflectance that differs by less from the measured one is not worth a word. */
const LRV_DIFFERS = 0.5;

type Change = Omit<Parameters<ReturnType<typeof projectApi.useChangeSurfaceMutation>[0]>[0], 'id'>;

/** What lies on a surface, as a call that lays it there again. */
const laid = ({ finish }: Surface): Change['finish'] =>
  finish && { id: finish.id, revision: finish.revision, way: finish.way?.id ?? null };

/** One surface of the finish schedule. */
export function SurfaceRow({
  surface,
  issued,
  edits,
  elevationPx,
}: {
  surface: Surface;
  issued: readonly Pick<FinishItem, 'id' | 'name' | 'revisions' | 'headline'>[];
  edits: ProjectEdits;
  elevationPx: { w: number; h: number };
}) {
  const units = useAppSelector((s) => s.settings.units);
  const [duplicate, duplicating] = projectApi.useDuplicatePartMutation();
  const { id, finish, mapping } = surface;
  /** Changes the surface; what it was before comes back by undo. */
  const change = (name: string, next: Change, before: Change) =>
    void edits.make({
      name: `${name} of ${surface.name}`,
      redo: [{ call: 'changeSurface', args: { id, ...next } }],
      undo: [{ call: 'changeSurface', args: { id, ...before } }],
    });
  const lay = (next: Change['finish']) => change('finish', { finish: next }, { finish: laid(surface) });
  const revisions = issued.find((f) => f.id === finish?.id)?.revisions ?? (finish ? [finish.revision] : []);
  const stale = finish && finish.latest !== finish.revision ? finish.latest : null;
  const options = [
    { value: NONE, name: 'none yet' },
    ...[...distinctNames(issued)].map(([value, name]) => ({ value, name })),
  ];
  if (finish && !options.some((o) => o.value === finish.id))
    options.push({ value: finish.id, name: `${finish.name} (${finish.state})` });
  const side = (key: 'widthMm' | 'heightMm', name: string) => (
    <NumberField
      hideLabel
      hideUnit
      label={`${name} of ${surface.name}`}
      unit="mm"
      value={surface[key]}
      min={1}
      max={1e6}
      digits={0}
      onChange={(mm) => change(name.toLowerCase(), { [key]: mm }, { [key]: surface[key] })}
    />
  );
  return (
    <tr aria-label={surface.name}>
      <td>
        <Elevation surface={surface} mostPx={elevationPx} />
      </td>
      <td>
        <TextLine
          label={`Name of ${surface.name}`}
          value={surface.name}
          onChange={(name) => name.trim() && change('name', { name: name.trim() }, { name: surface.name })}
        />
      </td>
      <td>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
          {side('widthMm', 'Width')}
          {side('heightMm', 'Height')}
        </div>
      </td>
      <td>
        <Choice
          hideLabel
          label={`Finish of ${surface.name}`}
          value={finish?.id ?? NONE}
          options={options}
          onChange={(v) => lay(v === NONE ? null : { id: v })}
        />
        {finish && (
          <Quiet>
            <Link to={`/bench/${finish.id}`}>
              {[finish.supplier, finish.code].filter(Boolean).join(', ') || 'open on the bench'}
            </Link>
            {finish.state === 'withdrawn' && ' · withdrawn'}
          </Quiet>
        )}
      </td>
      <td>
        {finish && (finish.ways.length > 0 || finish.way) && (
          <Choice
            hideLabel
            label={`Colourway on ${surface.name}`}
            value={finish.way?.id ?? ITSELF}
            options={[
              { value: ITSELF, name: 'as it is' },
              ...finish.ways.map((w) => ({ value: w.id, name: w.name })),
            ]}
            onChange={(v) => lay({ id: finish.id, revision: finish.revision, way: v === ITSELF ? null : v })}
          />
        )}
      </td>
      <td>
        {finish && (
          <Choice
            hideLabel
            label={`Revision on ${surface.name}`}
            value={finish.revision}
            options={revisions.map((r) => ({ value: r, name: r }))}
            onChange={(revision) => lay({ id: finish.id, revision, way: finish.way?.id ?? null })}
          />
        )}
        {stale && finish && (
          <Button
            weight="quiet"
            aria-label={`Take over revision ${stale} on ${surface.name}`}
            onPress={() => lay({ id: finish.id, revision: stale, way: finish.way?.id ?? null })}
          >
            take {stale}
          </Button>
        )}
      </td>
      <td>
        <Choice
          hideLabel
          label={`Direction on ${surface.name}`}
          value={String(surface.directionDeg)}
          options={['0', '90', '180', '270'].map((v) => ({ value: v, name: `${v}°` }))}
          onChange={(v) =>
            change('direction', { directionDeg: Number(v) }, { directionDeg: surface.directionDeg })
          }
        />
      </td>
      <td className="figure" title={mapping ? `One repeat lies ${printArea(mapping.repeatMm, units)}` : ''}>
        {mapping ? `${printNumber(mapping.repeatsAcross, 3)} × ${printNumber(mapping.repeatsUp, 3)}` : ''}
      </td>
      <td className="figure">
        {finish?.passesPercent != null
          ? `${printNumber(finish.passesPercent, 0)} % passes`
          : finish?.lrv != null
            ? printNumber(finish.lrv, 0)
            : ''}
        {finish?.lrv != null &&
          finish.passesPercent === null &&
          finish.lrvGiven &&
          Math.abs(finish.lrv - finish.lrvGiven.value) >= LRV_DIFFERS && (
            <Quiet style={{ display: 'block', whiteSpace: 'nowrap' }}>
              {finish.lrvGiven.basis} {printNumber(finish.lrvGiven.value, 0)}
            </Quiet>
          )}
      </td>
      <td className="figure">{printSurface((surface.widthMm * surface.heightMm) / 1e6, units)}</td>
      <td>
        <Actions
          label={`Actions for ${surface.name}`}
          actions={[
            {
              name: 'Duplicate',
              disabled: duplicating.isLoading,
              run: () =>
                void duplicate({ what: 'surfaces', id })
                  .unwrap()
                  .then(
                    (copy) => edits.made(addedStep('surfaces', copy.id, `copy of ${surface.name}`)),
                    () => undefined,
                  ),
            },
            { name: 'Remove', run: () => void edits.make(removedStep('surfaces', id, surface.name)) },
          ]}
        />
      </td>
    </tr>
  );
}

/** A step that removes something; undo restores it. */
export const removedStep = (what: 'rooms' | 'surfaces', id: string, name: string) => ({
  name: `removing ${name}`,
  redo: [{ call: 'removePart' as const, args: { what, id } }],
  undo: [{ call: 'restorePart' as const, args: { what, id } }],
});

/** A step in which something was added; undo removes it. */
export const addedStep = (what: 'rooms' | 'surfaces', id: string, name: string) => ({
  name: `adding ${name}`,
  redo: [{ call: 'restorePart' as const, args: { what, id } }],
  undo: [{ call: 'removePart' as const, args: { what, id } }],
});
