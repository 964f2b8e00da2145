/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import type { ReliefToPlan, SurfaceCamera } from '@jossel/core/schedule';
import { Route, Routes } from 'react-router';
import { show } from '../../test/page';
import { ProjectPage } from '../Project';
import type { Project, Surface } from '../project-api';

/** Relief that meshes leave a fifth of out with every doubling of their edges. */
const relief = (depthMm: number): ReliefToPlan => ({
  detail: Array.from({ length: 10 }, (_, k) => ({ spacingMm: 2 ** k, leftOutMm: (depthMm * k) / 10 })),
  heightMm: { min: -depthMm, max: 0 },
});
const surface = (id: string, name: string, finish: string | null, camera: SurfaceCamera | null = null) =>
  ({
    id,
    name,
    widthMm: 9000,
    heightMm: 3000,
    directionDeg: 0,
    camera,
    mapping: null,
    finish: finish && {
      id: finish,
      name: `Finish ${finish}`,
      revision: 'A',
      latest: 'A',
      ways: [],
      way: null,
    },
  }) as unknown as Surface;

/** A server with one project, whose surfaces and camera can be changed. */
function opened(surfaces: Surface[], reliefs: Record<string, () => { status?: number; body: unknown }>) {
  const project: Project = {
    id: 'p',
    name: 'Quay',
    note: '',
    camera: null,
    rooms: [{ id: 'r', name: 'Court', surfaces }],
  };
  const ordered: unknown[] = [];
  const changing = (s: Surface) => [
    `PATCH /api/surfaces/${s.id}`,
    (change: unknown) => {
      const held = project.rooms[0]!.surfaces;
      project.rooms[0]!.surfaces = held.map((h) => (h.id === s.id ? { ...h, ...(change as object) } : h));
      return { body: {} };
    },
  ];
  const page = show(
    <Routes>
      <Route path="/projects/:id/relief" element={<ProjectPage />} />
      <Route path="*" element={<p>elsewhere</p>} />
    </Routes>,
    {
      at: '/projects/p/relief',
      answers: {
        'GET /api/projects/p': () => ({ body: structuredClone(project) }),
        'GET /api/handovers': () => ({
          body: { items: [], profiles: [{ id: 'general-2048', name: 'General' }] },
        }),
        'POST /api/handovers/estimate': () => ({
          body: { seconds: 95, bytes: 2.1e9, sets: 2, tooLarge: null },
        }),
        'POST /api/handovers': (body) => {
          ordered.push(body);
          return { body: {} };
        },
        'PATCH /api/projects/p': (change) => ({ body: Object.assign(project, change) }),
        ...Object.fromEntries(surfaces.map(changing)),
        ...Object.fromEntries(
          Object.entries(reliefs).map(([id, answer]) => [`GET /api/finishes/${id}/relief-detail`, answer]),
        ),
      },
    },
  );
  const row = async (name: string) => within(await screen.findByRole('row', { name }));
  return {
    ...page,
    project,
    ordered,
    row,
  };
}
const known = (depthMm: number) => () => ({ body: relief(depthMm) });

test('each surface is planned by itself; flat ones by normals, and one without a finish says so', async () => {
  const { row } = opened(
    [surface('a', 'Paving', 'deep'), surface('b', 'Wall', 'flat'), surface('c', 'Seat', null)],
    {
      deep: known(40),
      flat: known(0.7),
    },
  );
  expect((await row('Seat')).getByText('No finish lies on it.')).toBeTruthy();
  await waitFor(async () => expect((await row('Paving')).getByText('displaced mesh')).toBeTruthy());
  await waitFor(async () => expect((await row('Wall')).getByText('normals')).toBeTruthy());
  expect(screen.getByText(/2 surfaces: 1 displaced, 1 by normals/)).toBeTruthy();
});

test('a surface that runs away from the camera has zones; it follows the project again by one press, and undo brings them back', async () => {
  const { row, type, user, project } = opened([surface('a', 'Paving', 'deep')], { deep: known(40) });
  await (await row('Paving')).findByText('displaced mesh');
  await type('Farthest place of Paving', '30000');
  await waitFor(() =>
    expect(project.rooms[0]!.surfaces[0]!.camera).toMatchObject({ nearestMm: 3000, farthestMm: 30000 }),
  );
  await waitFor(() => expect(screen.getAllByText(/\d mm to \d+.*%/).length).toBeGreaterThan(2));
  await user.click(screen.getByRole('button', { name: 'Place Paving as the project' }));
  await screen.findByText('all of it');
  expect(project.rooms[0]!.surfaces[0]!.camera).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Undo camera of Paving' }));
  await waitFor(() => expect(screen.getAllByText(/\d mm to \d+.*%/).length).toBeGreaterThan(2));
});

test('a farthest place nearer than the nearest is refused where it is typed', async () => {
  const { type, project } = opened([surface('a', 'Paving', 'deep')], { deep: known(40) });
  await type('Farthest place of Paving', '1000');
  expect(await screen.findByRole('alert')).toHaveProperty(
    'textContent',
    expect.stringMatching(/between 3000\s?mm/),
  );
  expect(project.rooms[0]!.surfaces[0]!.camera).toBeNull();
});

test('a tight budget is shared, said, and undone; the package has the relief shared as planned', async () => {
  const { type, user, ordered, project, address } = opened(
    [surface('a', 'Paving', 'deep'), surface('b', 'Wall', 'deep')],
    {
      deep: known(40),
    },
  );
  await screen.findByText(/2 surfaces: 2 displaced/);
  await type('Budget, MiB', '2');
  await screen.findByText(/beyond the budget of 2.*the same for all/);
  await user.click(screen.getByRole('button', { name: 'Hand over for these meshes' }));
  await waitFor(() => expect(address()).toBe('/handovers'));
  // Both surfaces are alike, so one set of maps does for both.
  expect(ordered).toEqual([
    { profile: 'general-2048', items: [{ finishId: 'deep', revision: 'A', splitMm: expect.any(Number) }] },
  ]);
  expect(project.camera!.budgetMb).toBe(2);
});

test('where a relief cannot be read the others are planned, and asking again helps', async () => {
  let down = true;
  const { row, user } = opened([surface('a', 'Paving', 'deep'), surface('b', 'Wall', 'away')], {
    deep: known(40),
    away: () => (down ? { status: 503, body: { detail: 'The server is busy.' } } : { body: relief(5) }),
  });
  await (await row('Paving')).findByText('displaced mesh');
  expect((await (await row('Wall')).findAllByText('The server is busy.')).length).toBe(1);
  down = false;
  await user.click(screen.getByRole('button', { name: 'Try again' }));
  await waitFor(async () => expect((await row('Wall')).queryByText('The server is busy.')).toBeNull());
  expect(screen.getByText(/^2 surfaces/)).toBeTruthy();
});
