import { useState } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { printArea, printLength, printNumber } from '@jossel/core/units';
import { api, type Handover, type PackedFinish } from '../app/api';
import { useAppSelector } from '../app/store';
import { Button, Progress, Quiet, Row, Sentence } from '../controls/basics';
import { BasisMark } from '../controls/marks';

const Package = styled.li`
  display: grid;
  gap: 6px;
  padding: 12px 0;
  border-bottom: 1px solid ${({ theme }) => theme.line};
`;
const Contents = styled.table`
  width: 100%;
  font-size: 12px;
  th {
    text-align: right;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    padding: 1px 0 1px 14px;
    white-space: nowrap;
  }
  td {
    text-align: right;
    padding: 1px 0 1px 14px;
    white-space: nowrap;
  }
  th:first-child,
  td:first-child {
    text-align: left;
    padding-left: 0;
    white-space: normal;
    overflow-wrap: anywhere;
  }
  svg {
    vertical-align: -1.5px;
    margin-right: 3px;
  }
`;

const STATE_WORDS: Record<Handover['state'], string> = {
  waiting: 'waiting',
  running: 'being made',
  done: 'ready',
  failed: 'failed',
  stopped: 'stopped',
};
const dated = (iso: string) =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  });
/** Finishes of a package that are listed at once. */
const LISTED = 6;

/** One package: what is in it by its figures, how far it is, and its file. */
export function PackageItem({ handover, profileName }: { handover: Handover; profileName: string }) {
  const [stop, stopping] = api.useStopHandoverMutation();
  const [all, setAll] = useState(false);
  const busy = handover.state === 'waiting' || handover.state === 'running';
  const { items, contents, file } = handover;
  const more = items.length - LISTED;
  return (
    <Package aria-label={`Package of ${items.map((i) => i.name).join(', ')}`}>
      <Row>
        <strong>{handover.title}</strong>
        <Quiet>{STATE_WORDS[handover.state]}</Quiet>
        {file && (
          <a href={file.url} download={file.fileName}>
            {file.fileName} ({printNumber(file.bytes / 1024 / 1024, 1)} MB)
          </a>
        )}
        {busy && (
          <Button isDisabled={stopping.isLoading} onPress={() => void stop(handover.id)}>
            Stop
          </Button>
        )}
      </Row>
      {busy && (
        <Row>
          <Progress label="Package" value={handover.progress} />
          <Quiet>{handover.step}</Quiet>
        </Row>
      )}
      {handover.error && <Sentence>{handover.error}</Sentence>}
      <Contents aria-label={`What is in ${handover.title}`}>
        {contents && (
          <thead>
            <tr>
              <th>Finish</th>
              <th>Repeat</th>
              <th>LRV</th>
              <th>Gloss</th>
              <th>Relief</th>
              <th>Pixels</th>
              <th>Files</th>
            </tr>
          </thead>
        )}
        <tbody>
          {items.slice(0, all ? undefined : LISTED).map((item, k) => (
            <tr key={`${item.finishId} ${item.way?.id ?? ''}`}>
              <td>
                <Link to={`/bench/${item.finishId}`}>{item.name}</Link>
                {item.way ? `, ${item.way.name}` : ''} <Quiet>{item.revision}</Quiet>
              </td>
              {contents && <Figures finish={contents[k]} />}
            </tr>
          ))}
        </tbody>
      </Contents>
      {more > 0 && (
        <Row>
          <Button weight="quiet" onPress={() => setAll(!all)}>
            {all ? 'Show less' : `Show ${more} more`}
          </Button>
        </Row>
      )}
      <Quiet>
        {profileName}, {dated(handover.createdAt)}
      </Quiet>
    </Package>
  );
}

/** Headline figures of one finish as they were handed over, each with its basis. */
function Figures({ finish }: { finish: PackedFinish | undefined }) {
  const units = useAppSelector((s) => s.settings.units);
  if (!finish) return <td colSpan={6} />;
  const { sizeBasis, lrvBasis, glossBasis, reliefBasis, px } = finish;
  return (
    <>
      <td>
        {sizeBasis && <BasisMark basis={sizeBasis} />}
        {printArea(finish.repeatMm, units)}
      </td>
      <td>
        {lrvBasis && <BasisMark basis={lrvBasis} />}
        {printNumber(finish.lrv, 0)}
      </td>
      <td>
        {glossBasis && <BasisMark basis={glossBasis} />}
        {printNumber(finish.glossGu, 0)} GU
      </td>
      <td>
        {reliefBasis && <BasisMark basis={reliefBasis} />}
        {printLength(finish.reliefMm, units, 2)}
        {finish.splitMm ? <Quiet> split at {printLength(finish.splitMm, units, 1)}</Quiet> : null}
      </td>
      <td>{px ? `${px.width} × ${px.height}` : ''}</td>
      <td>{finish.files}</td>
    </>
  );
}
