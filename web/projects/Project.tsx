import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { printArea, printNumber } from '@jossel/core/units';
import { api, sentenceOf, swatchUrl, type Surface } from '../app/api';
import { useAppSelector } from '../app/store';
import { Button, Page, PageHead, Quiet, Row, Sentence, Unseen } from '../controls/basics';
import { Choice } from '../controls/choice';
import { NumberField, TextBox } from '../controls/fields';

const Schedule = styled.table`
  width: 100%;
  min-width: 1010px;
  font-size: 12px;
  table-layout: fixed;
  th {
    text-align: left;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    padding: 4px 12px 4px 0;
    border-bottom: 1px solid ${({ theme }) => theme.ink};
    vertical-align: bottom;
  }
  td {
    padding: 7px 12px 7px 0;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    vertical-align: middle;
  }
  .figure {
    text-align: right;
  }
  tr.room th {
    color: ${({ theme }) => theme.ink};
    font-weight: 650;
    font-size: 13px;
    padding-top: 18px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
  }
`;

const SCALE = 50;

/** A surface drawn at 1:50 with its finish at true scale, so that rooms can be compared at a glance. */
function Elevation({ surface }: { surface: Surface }) {
  const pxPerMm = useAppSelector((s) => s.settings.screenPxPerMm) / SCALE;
  // Drawn through a window 96 × 52 px at most; what is larger is cut off.
  const [w, h] = [Math.min(96, surface.widthMm * pxPerMm), Math.min(52, surface.heightMm * pxPerMm)];
  const { finish, mapping } = surface;
  if (!finish || !mapping)
    return <div style={{ width: w, height: h, border: '1px dashed #8A8A8A' }} aria-hidden="true" />;
  const turned = surface.directionDeg % 180 !== 0;
  const [rw, rh] = turned
    ? [mapping.repeatMm.height, mapping.repeatMm.width]
    : [mapping.repeatMm.width, mapping.repeatMm.height];
  const side = Math.max(w, h) * 1.5;
  return (
    <div
      style={{ width: w, height: h, overflow: 'hidden', position: 'relative', outline: '1px solid #8A8A8A' }}
      role="img"
      aria-label={`${surface.name} at 1:${SCALE}`}
    >
      <div
        style={{
          position: 'absolute',
          left: (w - side) / 2,
          top: (h - side) / 2,
          width: side,
          height: side,
          transform: `rotate(${-surface.directionDeg}deg)`,
          backgroundImage: `url("${swatchUrl(finish.id, '', 256, finish.revision)}")`,
          backgroundSize: `${rw * pxPerMm}px ${rh * pxPerMm}px`,
        }}
      />
    </div>
  );
}

/** One project: its finish schedule. */
export function ProjectPage() {
  const { id } = useParams() as { id: string };
  const { data: project, error } = api.useProjectQuery(id, { refetchOnMountOrArgChange: true });
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const [createRoom, roomCreation] = api.useCreateRoomMutation();
  const [room, setRoom] = useState('');
  const issued = (finishes?.items ?? []).filter((f) => f.revisions.length > 0 && f.state !== 'withdrawn');
  return (
    <Page>
      <PageHead>
        <h1>{project?.name ?? 'Project'}</h1>
        <Quiet>{project?.note}</Quiet>
        <Quiet style={{ marginLeft: 'auto' }}>Surfaces drawn at 1:{SCALE}</Quiet>
      </PageHead>
      {(error ?? roomCreation.error) && <Sentence>{sentenceOf(error ?? roomCreation.error)}</Sentence>}
      {project && (
        <div style={{ overflowX: 'auto' }}>
          <Schedule>
            <caption style={{ textAlign: 'left', fontWeight: 650, fontSize: 13, paddingBottom: 4 }}>
              Finish schedule
            </caption>
            <thead>
              <tr>
                <th style={{ width: 108 }}>
                  <Unseen>Drawing</Unseen>
                </th>
                <th style={{ width: 128 }}>Surface</th>
                <th style={{ width: 190 }}>Width × height</th>
                <th>Finish</th>
                <th style={{ width: 104 }}>Revision</th>
                <th style={{ width: 92 }}>Direction</th>
                <th style={{ width: 100 }} className="figure">
                  Repeats along × up
                </th>
                <th style={{ width: 56 }} className="figure">
                  LRV
                </th>
                <th style={{ width: 64 }} className="figure">
                  Area
                </th>
                <th style={{ width: 34 }}>
                  <Unseen>Remove</Unseen>
                </th>
              </tr>
            </thead>
            {project.rooms.map((r) => (
              <tbody key={r.id}>
                <tr className="room">
                  <th colSpan={10} scope="rowgroup">
                    {r.name}
                  </th>
                </tr>
                {r.surfaces.map((s) => (
                  <SurfaceRow key={s.id} surface={s} issued={issued} />
                ))}
                <NewSurface roomId={r.id} roomName={r.name} />
              </tbody>
            ))}
          </Schedule>
        </div>
      )}
      <form
        style={{ marginTop: 18 }}
        onSubmit={(e) => {
          e.preventDefault();
          void createRoom({ projectId: id, name: room })
            .unwrap()
            .then(
              () => setRoom(''),
              () => undefined,
            );
        }}
      >
        <Row>
          <TextBox
            aria-label="Name of the new room"
            placeholder="name of the new room"
            value={room}
            onChange={(e) => setRoom(e.target.value)}
            style={{ width: 220 }}
          />
          <Button type="submit">Add room</Button>
        </Row>
      </form>
    </Page>
  );
}

const NONE = 'none';

function SurfaceRow({
  surface,
  issued,
}: {
  surface: Surface;
  issued: readonly { id: string; name: string; revisions: string[] }[];
}) {
  const [change, { error }] = api.useChangeSurfaceMutation();
  const [remove] = api.useRemoveSurfaceMutation();
  const units = useAppSelector((s) => s.settings.units);
  const { finish, mapping } = surface;
  const revisions = issued.find((f) => f.id === finish?.id)?.revisions ?? (finish ? [finish.revision] : []);
  const stale = finish && finish.latest !== finish.revision;
  const options = [{ value: NONE, name: 'none yet' }, ...issued.map((f) => ({ value: f.id, name: f.name }))];
  if (finish && !options.some((o) => o.value === finish.id))
    options.push({ value: finish.id, name: `${finish.name} (${finish.state})` });
  return (
    <>
      <tr aria-label={surface.name}>
        <td>
          <Elevation surface={surface} />
        </td>
        <td>{surface.name}</td>
        <td>
          <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
            <NumberField
              hideLabel
              label={`Width of ${surface.name}`}
              unit="mm"
              value={surface.widthMm}
              min={1}
              max={1e6}
              digits={0}
              onChange={(widthMm) => void change({ id: surface.id, widthMm })}
            />
            <NumberField
              hideLabel
              label={`Height of ${surface.name}`}
              unit="mm"
              value={surface.heightMm}
              min={1}
              max={1e6}
              digits={0}
              onChange={(heightMm) => void change({ id: surface.id, heightMm })}
            />
          </div>
        </td>
        <td>
          <Choice
            hideLabel
            label={`Finish of ${surface.name}`}
            value={finish?.id ?? NONE}
            options={options}
            onChange={(v) => void change({ id: surface.id, finish: v === NONE ? null : { id: v } })}
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
          {finish && (
            <>
              <Choice
                hideLabel
                label={`Revision on ${surface.name}`}
                value={finish.revision}
                options={revisions.map((r) => ({ value: r, name: r }))}
                onChange={(revision) => void change({ id: surface.id, finish: { id: finish.id, revision } })}
              />
              {stale && <Quiet>{finish.latest} is issued</Quiet>}
            </>
          )}
        </td>
        <td>
          <Choice
            hideLabel
            label={`Direction on ${surface.name}`}
            value={String(surface.directionDeg)}
            options={['0', '90', '180', '270'].map((v) => ({ value: v, name: `${v}°` }))}
            onChange={(v) => void change({ id: surface.id, directionDeg: Number(v) })}
          />
        </td>
        <td className="figure" title={mapping ? `One repeat lies ${printArea(mapping.repeatMm, units)}` : ''}>
          {mapping ? `${printNumber(mapping.repeatsAcross, 3)} × ${printNumber(mapping.repeatsUp, 3)}` : ''}
        </td>
        <td className="figure">
          {finish?.lrv != null ? printNumber(finish.lrv, 0) : ''}
          {finish?.lrv != null && finish.lrvGiven && Math.abs(finish.lrv - finish.lrvGiven.value) >= 0.5 && (
            <Quiet>
              {' '}
              ({finish.lrvGiven.basis} {printNumber(finish.lrvGiven.value, 0)})
            </Quiet>
          )}
        </td>
        <td className="figure">{mapping ? `${printNumber(mapping.areaM2, 1)} m²` : ''}</td>
        <td>
          <Button
            weight="quiet"
            aria-label={`Remove ${surface.name}`}
            onPress={() => void remove(surface.id)}
          >
            <Trash2 aria-hidden />
          </Button>
        </td>
      </tr>
      {error && (
        <tr>
          <td colSpan={10}>
            <Sentence>{sentenceOf(error)}</Sentence>
          </td>
        </tr>
      )}
    </>
  );
}

function NewSurface({ roomId, roomName }: { roomId: string; roomName: string }) {
  const [create, { error }] = api.useCreateSurfaceMutation();
  const [name, setName] = useState('');
  const [widthMm, setWidth] = useState(4000);
  const [heightMm, setHeight] = useState(2500);
  return (
    <tr aria-label={`New surface in ${roomName}`}>
      <td />
      <td>
        <TextBox
          aria-label={`New surface in ${roomName}`}
          placeholder="new surface"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </td>
      <td>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
          <NumberField
            hideLabel
            label={`Width of the new surface in ${roomName}`}
            unit="mm"
            value={widthMm}
            min={1}
            max={1e6}
            digits={0}
            onChange={setWidth}
          />
          <NumberField
            hideLabel
            label={`Height of the new surface in ${roomName}`}
            unit="mm"
            value={heightMm}
            min={1}
            max={1e6}
            digits={0}
            onChange={setHeight}
          />
        </div>
      </td>
      <td colSpan={7}>
        <Button
          onPress={() =>
            void create({ roomId, name, widthMm, heightMm })
              .unwrap()
              .then(
                () => setName(''),
                () => undefined,
              )
          }
        >
          Add surface
        </Button>
        {error && <Sentence>{sentenceOf(error)}</Sentence>}
      </td>
    </tr>
  );
}
