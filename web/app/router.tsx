import { createBrowserRouter, Navigate, useRouteError } from 'react-router';
import { Page, Sentence } from '../controls/basics';
import { Rack } from '../rack/Rack';
import { Shell } from './Shell';

function Fault() {
  const error = useRouteError() as { status?: number; message?: string };
  return (
    <Page>
      <h1>{error?.status === 404 ? 'There is nothing at this address' : 'This view broke off'}</h1>
      <Sentence>
        {error?.status === 404
          ? 'Use the places at the top.'
          : `${error?.message ?? String(error)} What was saved is safe; reload the page to go on.`}
      </Sentence>
    </Page>
  );
}

export const router = createBrowserRouter([
  {
    element: <Shell />,
    hydrateFallbackElement: <Page>Opening …</Page>,
    errorElement: <Fault />,
    children: [
      { index: true, element: <Navigate to="/rack" replace /> },
      { path: 'rack', element: <Rack /> },
      {
        path: 'receiving',
        lazy: async () => ({ Component: (await import('../receiving/Receiving')).Receiving }),
      },
      { path: 'bench/:id', lazy: async () => ({ Component: (await import('../bench/Bench')).Bench }) },
      {
        path: 'projects',
        lazy: async () => ({ Component: (await import('../projects/Projects')).Projects }),
      },
      {
        path: 'projects/:id',
        lazy: async () => ({ Component: (await import('../projects/Project')).ProjectPage }),
      },
      {
        path: 'handovers',
        lazy: async () => ({ Component: (await import('../handovers/Handovers')).Handovers }),
      },
      { path: 'display', lazy: async () => ({ Component: (await import('./Display')).Display }) },
      { path: '*', element: <Fault /> },
    ],
  },
]);
