import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES, CATEGORY_IDS, type Category } from '@jossel/core/finish';
import { MAP_ROLES, stemOf, type GreenRuns, type MapRole } from '@jossel/core/sample';
import { api, type RecognisedFile, type Sample } from '../app/api';
import { Fault } from '../app/Fault';
import { Button, OneOf, Quiet, Row, Sentence } from '../controls/basics';
import { Choice } from '../controls/choice';
import { Field, TextBox } from '../controls/fields';
import { receivingApi } from './receiving-api';

const Box = styled.section`
  border: 1px solid ${({ theme }) => theme.ink};
  background: ${({ theme }) => theme.sheet};
  padding: 12px;
  margin-bottom: 14px;
  display: grid;
  gap: 10px;
  table {
    width: 100%;
  }
  td {
    padding: 4px 10px 4px 0;
    vertical-align: top;
  }
  img {
    width: 48px;
    height: 48px;
    object-fit: cover;
    display: block;
  }
`;

/** Several files of one surface: Jossel proposes what each shows, the person corrects, and a finish is made of them. */
export function MapSet({ samples, onClose }: { samples: Sample[]; onClose: () => void }) {
  const [recognise, recognition] = receivingApi.useRecogniseSetMutation();
  const [create, creation] = api.useCreateFinishMutation();
  const [maps, setMaps] = useState<(RecognisedFile & { greenRuns: GreenRuns })[] | null>(null);
  const ids = samples.map((s) => s.id).join(' ');
  const [name, setName] = useState(() =>
    stemOf(samples[0]?.fileName ?? '').replace(/^./, (c) => c.toUpperCase()),
  );
  const [category, setCategory] = useState<Category>('other');
  const navigate = useNavigate();
  useEffect(() => {
    let gone = false;
    setMaps(null);
    recognise(ids.split(' '))
      .unwrap()
      .then(
        ({ maps: found }) =>
          !gone && setMaps(found.map((m) => ({ ...m, greenRuns: m.orientation?.greenRuns ?? 'up' }))),
        () => undefined,
      );
    return () => {
      gone = true;
    };
  }, [recognise, ids]);
  const colour = maps?.find((m) => m.role === 'colour');
  const twice = maps?.find((m) => maps.some((o) => o !== m && o.role === m.role));
  const set = (id: string, part: Partial<RecognisedFile & { greenRuns: GreenRuns }>) =>
    setMaps(maps!.map((m) => (m.sampleId === id ? { ...m, ...part } : m)));
  return (
    <Box aria-label="Maps of one surface">
      <Row>
        <h2>Maps of one surface</h2>
        <Button weight="quiet" onPress={onClose}>
          Close
        </Button>
      </Row>
      {recognition.isLoading && <Quiet role="status">Looking at {samples.length} files …</Quiet>}
      <Fault error={recognition.error} />
      {maps && (
        <>
          <table>
            <tbody>
              {maps.map((m) => (
                <tr key={m.sampleId}>
                  <td>
                    <img src={`/api/samples/${m.sampleId}/preview.jpg`} alt="" />
                  </td>
                  <td style={{ overflowWrap: 'anywhere' }}>
                    {m.fileName}
                    <br />
                    <Quiet>{m.why}</Quiet>
                    {m.role === 'normal' && m.orientation && (
                      <>
                        <br />
                        <Quiet>{m.orientation.why}</Quiet>
                      </>
                    )}
                  </td>
                  <td style={{ minWidth: 130 }}>
                    <Choice<MapRole>
                      hideLabel
                      label={`What ${m.fileName} shows`}
                      value={m.role}
                      options={MAP_ROLES.map((value) => ({ value, name: value }))}
                      onChange={(role) => set(m.sampleId, { role })}
                    />
                    {m.role === 'normal' && (
                      <OneOf<GreenRuns>
                        label={`Which way green runs in ${m.fileName}`}
                        value={m.greenRuns}
                        options={[
                          { value: 'up', name: 'green up' },
                          { value: 'down', name: 'green down' },
                        ]}
                        onChange={(greenRuns) => set(m.sampleId, { greenRuns })}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {!colour && <Sentence>One of the maps must be the colour; say which.</Sentence>}
          {twice && <Sentence>Two maps are said to be {twice.role}; each can be there once.</Sentence>}
          <Row>
            <Field>
              <label htmlFor="set-name">Name of the finish</label>
              <TextBox id="set-name" value={name} onChange={(e) => setName(e.target.value)} />
            </Field>
            <Choice
              label="Category"
              value={category}
              options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
              onChange={setCategory}
            />
            <Button
              weight="main"
              isDisabled={!colour || Boolean(twice) || creation.isLoading}
              onPress={() =>
                void create({
                  name,
                  category,
                  sampleIds: [colour!.sampleId],
                  maps: maps
                    .filter((m) => m !== colour)
                    .map(({ sampleId, role, greenRuns }) => ({ sampleId, role, greenRuns })),
                })
                  .unwrap()
                  .then(
                    (finish) => navigate(`/bench/${finish.id}`),
                    () => undefined,
                  )
              }
            >
              Make a finish of this set
            </Button>
          </Row>
          <Fault error={creation.error} />
        </>
      )}
    </Box>
  );
}

/** Samples that look like maps of one surface: one stem, several roles by name. */
export function likelySets(
  samples: readonly Sample[],
  roleByName: (name: string) => MapRole | null,
): Sample[][] {
  const byStem = new Map<string, Sample[]>();
  for (const s of samples) {
    if (!roleByName(s.fileName)) continue;
    const stem = stemOf(s.fileName);
    byStem.set(stem, [...(byStem.get(stem) ?? []), s]);
  }
  return [...byStem.values()].filter((set) => new Set(set.map((s) => roleByName(s.fileName))).size > 1);
}
