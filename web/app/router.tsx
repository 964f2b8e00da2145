import { createBrowserRouter, Link, Navigate, useRouteError } from 'react-router';
import { Button, Page, Quiet, Row, Sentence } from '../controls/basics';
import { Rack } from '../rack/Rack';
import { isUnfetched, messageOf } from './Guarded';
import { LAZY_PLACES } from './places';
import { Shell } from './Shell';

/** An address that leads nowhere, with the places there are. */
function NotHere() {
  return (
    <Page>
      <h1>There is nothing at this address</h1>
      <p style={{ margin: '8px 0 14px' }}>
        The link may be mistyped, or what it led to was removed. Removed finishes are in the bin.
      </p>
      <Row $gap={18}>
        <Link to="/rack">Rack</Link>
        <Link to="/rack?bin">Bin</Link>
        <Link to="/receiving">Receiving</Link>
        <Link to="/projects">Projects</Link>
        <Link to="/handovers">Handovers</Link>
      </Row>
    </Page>
  );
}

/** A view that failed, or whose code could not be fetched. */
function BrokenOff() {
  const error = useRouteError();
  const unfetched = isUnfetched(error);
  return (
    <Page>
      <h1>{unfetched ? 'This place could not be opened' : 'This view broke off'}</h1>
      <Sentence>
        {unfetched ? 'Jossel’s server does not answer.' : messageOf(error)}{' '}
        <Quiet>What was saved is safe; what was not is kept in this window until it is closed.</Quiet>
      </Sentence>
      <Row style={{ marginTop: 12 }}>
        <Button onPress={() => window.location.reload()}>Try again</Button>
        <Link to="/rack">Rack</Link>
      </Row>
    </Page>
  );
}

export const router = createBrowserRouter([
  {
    element: <Shell />,
    hydrateFallbackElement: <Page>Opening …</Page>,
    errorElement: <BrokenOff />,
    children: [
      {
        errorElement: <BrokenOff />,
        children: [
          { index: true, element: <Navigate to="/rack" replace /> },
          { path: 'rack', element: <Rack /> },
          { path: 'receiving', lazy: LAZY_PLACES.receiving },
          { path: 'generate', lazy: LAZY_PLACES.generate },
          { path: 'bench/:id', lazy: LAZY_PLACES.bench },
          { path: 'projects', lazy: LAZY_PLACES.projects },
          // One place whose parts share its head and its history of changes.
          {
            path: 'projects/:id',
            lazy: LAZY_PLACES.project,
            children: [{ index: true }, { path: 'relief' }],
          },
          { path: 'handovers', lazy: LAZY_PLACES.handovers },
          { path: 'display', lazy: LAZY_PLACES.display },
          { path: '*', element: <NotHere /> },
        ],
      },
    ],
  },
]);
