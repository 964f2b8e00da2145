import { useEffect } from 'react';
import { NavLink, useMatch, useParams } from 'react-router';
import styled from 'styled-components';
import { Fault } from '../app/Fault';
import { Page, Quiet } from '../controls/basics';
import { FinishSchedule } from './FinishSchedule';
import { projectApi } from './project-api';
import { ProjectHead } from './ProjectHead';
import { ReliefPlan } from './relief/ReliefPlan';
import { useProjectHistory } from './use-project-history';

const Views = styled.nav`
  display: flex;
  gap: 18px;
  margin-bottom: 8px;
  a {
    padding: 2px 0 4px;
    text-decoration: none;
    color: ${({ theme }) => theme.quiet};
    border-bottom: 2px solid transparent;
  }
  a[aria-current='page'] {
    color: ${({ theme }) => theme.ink};
    font-weight: 650;
    border-color: ${({ theme }) => theme.ink};
  }
`;

/** One project: its finish schedule, or what its reliefs need for a camera. */
export function ProjectPage() {
  const { id } = useParams() as { id: string };
  const {
    data: project,
    error,
    refetch,
    isFetching,
  } = projectApi.useProjectQuery(id, { refetchOnMountOrArgChange: true });
  const edits = useProjectHistory(id);
  const planning = useMatch('/projects/:id/relief') !== null;
  useEffect(() => {
    if (project) document.title = `${project.name} · Jossel`;
  }, [project]);
  const here = project?.id === id ? project : null;
  return (
    <Page>
      {here ? <ProjectHead project={here} edits={edits} /> : !error && <Quiet role="status">Opening …</Quiet>}
      <Fault
        error={here ? edits.error : error}
        retry={here ? undefined : () => void refetch()}
        busy={isFetching}
      />
      {here && (
        <>
          <Views aria-label="Views of the project">
            <NavLink to={`/projects/${id}`} end>
              Finish schedule
            </NavLink>
            <NavLink to={`/projects/${id}/relief`}>Relief for a camera</NavLink>
          </Views>
          {planning ? (
            <ReliefPlan project={here} edits={edits} />
          ) : (
            <FinishSchedule project={here} edits={edits} />
          )}
        </>
      )}
    </Page>
  );
}
