import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { Fault } from '../app/Fault';
import { useHalfTyped } from '../app/half-typed';
import { Button, Page, PageHead, Quiet, Row, VisuallyHidden } from '../controls/basics';
import { TextBox } from '../controls/fields';
import { Actions } from '../controls/menu';
import { RenameBox } from '../controls/rename-box';
import { projectApi, type ProjectItem } from './project-api';

const Table = styled.table`
  width: 100%;
  max-width: 1200px;
  font-size: 13px;
  th {
    text-align: left;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
  th,
  td {
    padding: 6px 22px 6px 0;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    vertical-align: top;
  }
  .figure {
    text-align: right;
    width: 90px;
  }
`;

/** All projects. */
export function Projects() {
  const { data, error, refetch, isFetching } = projectApi.useProjectsQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const [create, creation] = projectApi.useCreateProjectMutation();
  const [restore] = projectApi.useRestorePartMutation();
  const [removed, setRemoved] = useState<{ id: string; name: string } | null>(null);
  const [name, setName] = useHalfTyped('new project');
  const navigate = useNavigate();
  return (
    <Page>
      <PageHead>
        <h1>Projects</h1>
        <Quiet>Rooms, surfaces and what lies on them</Quiet>
      </PageHead>
      <Fault error={error} retry={() => void refetch()} busy={isFetching} />
      {!data && !error && <Quiet role="status">Opening …</Quiet>}
      {data && (
        <Table>
          <thead>
            <tr>
              <th>Project</th>
              <th>Note</th>
              <th className="figure">Rooms</th>
              <th className="figure">Surfaces</th>
              <th style={{ width: 40 }}>
                <VisuallyHidden>Actions</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.items.map((p) => (
              <Line key={p.id} project={p} onRemoved={() => setRemoved({ id: p.id, name: p.name })} />
            ))}
          </tbody>
        </Table>
      )}
      {removed && (
        <Row style={{ marginTop: 10 }}>
          <Quiet role="status">{removed.name} is removed.</Quiet>
          <Button
            onPress={() =>
              void restore({ what: 'projects', id: removed.id })
                .unwrap()
                .then(
                  () => setRemoved(null),
                  () => undefined,
                )
            }
          >
            Restore it
          </Button>
        </Row>
      )}
      <form
        style={{ marginTop: 18 }}
        onSubmit={(e) => {
          e.preventDefault();
          if (creation.isLoading) return;
          void create({ name, note: '' })
            .unwrap()
            .then(
              ({ id }) => {
                setName('');
                void navigate(`/projects/${id}`);
              },
              () => undefined,
            );
        }}
      >
        <Row>
          <TextBox
            aria-label="Name of the new project"
            placeholder="name of the new project"
            value={name}
            onChange={(e) => setName(e.target.value)}
            style={{ width: 280 }}
          />
          <Button type="submit" isDisabled={creation.isLoading}>
            {creation.isLoading ? 'Adding …' : 'Add project'}
          </Button>
        </Row>
        <Fault error={creation.error} />
      </form>
    </Page>
  );
}

function Line({ project: p, onRemoved }: { project: ProjectItem; onRemoved: () => void }) {
  const [rename, renaming] = projectApi.useChangeProjectMutation();
  const [remove, removing] = projectApi.useRemovePartMutation();
  const [renames, setRenames] = useState(false);
  return (
    <tr>
      <td>
        {renames ? (
          <RenameBox
            name={p.name}
            onEnd={(name) => {
              setRenames(false);
              if (name) void rename({ id: p.id, name });
            }}
          />
        ) : (
          <Link to={`/projects/${p.id}`}>
            <strong>{p.name}</strong>
          </Link>
        )}
        <Fault error={renaming.error ?? removing.error} />
      </td>
      <td>
        <Quiet>{p.note}</Quiet>
      </td>
      <td className="figure">{p.rooms}</td>
      <td className="figure">{p.surfaces}</td>
      <td>
        <Actions
          label={`Actions for ${p.name}`}
          actions={[
            { name: 'Rename', run: () => setRenames(true) },
            {
              name: 'Remove',
              run: () =>
                void remove({ what: 'projects', id: p.id })
                  .unwrap()
                  .then(onRemoved, () => undefined),
            },
          ]}
        />
      </td>
    </tr>
  );
}
