import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { api, sentenceOf } from '../app/api';
import { Button, Page, PageHead, Quiet, Row, Sentence } from '../controls/basics';
import { TextBox } from '../controls/fields';

const Table = styled.table`
  min-width: 520px;
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
  }
`;

/** All projects. */
export function Projects() {
  const { data, error } = api.useProjectsQuery();
  const [create, creation] = api.useCreateProjectMutation();
  const [name, setName] = useState('');
  const navigate = useNavigate();
  const fault = error ?? creation.error;
  return (
    <Page>
      <PageHead>
        <h1>Projects</h1>
        <Quiet>Rooms, surfaces and what lies on them</Quiet>
      </PageHead>
      {fault && <Sentence>{sentenceOf(fault)}</Sentence>}
      <Table>
        <thead>
          <tr>
            <th>Project</th>
            <th className="figure">Rooms</th>
            <th className="figure">Surfaces</th>
          </tr>
        </thead>
        <tbody>
          {data?.items.map((p) => (
            <tr key={p.id}>
              <td>
                <Link to={`/projects/${p.id}`}>
                  <strong>{p.name}</strong>
                </Link>
                <br />
                <Quiet>{p.note}</Quiet>
              </td>
              <td className="figure">{p.rooms}</td>
              <td className="figure">{p.surfaces}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <form
        style={{ marginTop: 18 }}
        onSubmit={(e) => {
          e.preventDefault();
          void create({ name, note: '' })
            .unwrap()
            .then(
              ({ id }) => navigate(`/projects/${id}`),
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
            Add project
          </Button>
        </Row>
      </form>
    </Page>
  );
}
