/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { show, type Answers } from '../test/page';
import { ProjectPage } from './Project';
import type { Project, Surface } from './project-api';

/** A finish that can be laid: revisions A and B are issued. */
const OAK = { id: 'oak', name: 'Oak', revisions: ['A', 'B'], state: 'issued', headline: null };

/** What lies on a surface once a finish was laid: the newest revision, unless another is named. */
const laid = (finish: { id: string; revision?: string } | null) =>
  finish && {
    id: finish.id,
    name: 'Oak',
    category: 'timber',
    state: 'issued',
    revision: finish.revision ?? 'B',
    latest: 'B',
    lrv: 24,
    lrvMeasured: true,
    lrvGiven: null,
    passesPercent: null,
    glossGu: 12,
    code: 'O-1',
    supplier: 'Velthrask',
    ways: [],
    way: null,
  };

/** A server that keeps one project as calls change it. */
function opened(surfaces: Partial<Surface>[] = [{}], more: Answers = {}) {
  const project: Project = { id: 'p', name: 'Quay', note: '', camera: null, rooms: [] };
  const removed = new Map<string, Surface>();
  const all: Surface[] = surfaces.map(
    (s, k) =>
      ({
        ...{ id: `s${k}`, name: `Wall ${k}`, widthMm: 4000, heightMm: 2500, directionDeg: 0 },
        ...{ camera: null, finish: null, mapping: null },
        ...s,
      }) as Surface,
  );
  project.rooms.push({ id: 'r', name: 'Hall', surfaces: all });
  const bodies: { call: string; body: unknown }[] = [];
  const keep = (call: string, answer: (body: unknown) => unknown): Answers => ({
    [call]: (body) => {
      bodies.push({ call, body });
      return { body: answer(body) };
    },
  });
  const room = () => project.rooms[0]!;
  const set = (id: string, change: object) =>
    (room().surfaces = room().surfaces.map((s) => (s.id === id ? { ...s, ...change } : s)));
  const answers: Answers = {
    'GET /api/projects/p': () => ({ body: structuredClone(project) }),
    'GET /api/finishes': () => ({ body: { items: [OAK], total: 1, suppliers: [] } }),
    'GET /api/handovers': () => ({ body: { items: [], profiles: [] } }),
    'POST /api/handovers/estimate': () => ({
      body: { seconds: 20, bytes: 1e9, sets: 1, tooLarge: null },
    }),
    ...keep('PATCH /api/projects/p', (change) => Object.assign(project, change)),
    ...keep('PATCH /api/rooms/r', (change) => Object.assign(room(), change)),
    ...keep('POST /api/rooms/r/surfaces', (body) => {
      room().surfaces = [
        ...room().surfaces,
        { ...all[0], ...(body as object), id: 'new', finish: null } as Surface,
      ];
      return { id: 'new' };
    }),
    ...Object.assign(
      {},
      ...['s0', 's1', 'new'].map((id) => ({
        ...keep(`PATCH /api/surfaces/${id}`, (change) => {
          const { finish, ...rest } = change as { finish?: { id: string; revision?: string } | null };
          set(id, { ...rest, ...(finish === undefined ? {} : { finish: laid(finish) }) });
          return {};
        }),
        ...keep(`DELETE /api/surfaces/${id}`, () => {
          removed.set(
            id,
            room().surfaces.find((s) => s.id === id)!,
          );
          room().surfaces = room().surfaces.filter((s) => s.id !== id);
          return {};
        }),
        ...keep(`POST /api/surfaces/${id}/restore`, () => {
          room().surfaces = [...room().surfaces, removed.get(id)!];
          return {};
        }),
      })),
    ),
    ...more,
  };
  const page = show(
    <Routes>
      <Route path="/projects/:id" element={<ProjectPage />} />
    </Routes>,
    { at: '/projects/p', answers },
  );
  return {
    ...page,
    project,
    bodies,
    row: async (name: string) => within(await screen.findByRole('row', { name })),
  };
}
const surfacesOf = ({ rooms }: Project) => rooms[0]!.surfaces;

test('a finish is laid at its newest revision, shown by its figures, and taken back by undo', async () => {
  const { choose, project, user, bodies } = opened();
  await choose(/Finish of Wall 0/, 'Oak');
  expect(await screen.findByText('Velthrask, O-1')).toBeTruthy();
  expect(bodies.at(-1)).toEqual({ call: 'PATCH /api/surfaces/s0', body: { finish: { id: 'oak' } } });
  await user.click(screen.getByRole('button', { name: 'Undo finish of Wall 0' }));
  await waitFor(() => expect(surfacesOf(project)[0]!.finish).toBeNull());
  await user.click(screen.getByRole('button', { name: 'Redo finish of Wall 0' }));
  await waitFor(() => expect(surfacesOf(project)[0]!.finish).not.toBeNull());
});

test('lengths are typed with units and arithmetic; what cannot be is said, and nothing is sent', async () => {
  const { type, project, bodies } = opened();
  await type('Width of Wall 0', '2 m + 35 cm');
  await waitFor(() => expect(surfacesOf(project)[0]!.widthMm).toBe(2350));
  const sent = bodies.length;
  await type('Width of Wall 0', '-4');
  expect(await screen.findByRole('alert')).toBeTruthy();
  expect(bodies).toHaveLength(sent);
});

test('a newer revision is pointed out and taken by one press, for one surface or for all', async () => {
  const stale = { finish: laid({ id: 'oak', revision: 'A' }) as unknown as Surface['finish'] };
  const { project, user } = opened([stale, stale]);
  await user.click(await screen.findByRole('button', { name: 'Take over revision B on Wall 0' }));
  await waitFor(() => expect(surfacesOf(project).map((s) => s.finish!.revision)).toEqual(['B', 'A']));
  await user.click(await screen.findByRole('button', { name: 'Take over one newer revision' }));
  await waitFor(() => expect(surfacesOf(project).map((s) => s.finish!.revision)).toEqual(['B', 'B']));
  await waitFor(() => expect(screen.queryByRole('button', { name: /^Take over/ })).toBeNull());
  await user.click(screen.getByRole('button', { name: 'Undo taking over newer revisions' }));
  await waitFor(() => expect(surfacesOf(project).map((s) => s.finish!.revision)).toEqual(['B', 'A']));
});

test('a surface is added, removed and restored; undo follows the order in which things were done', async () => {
  const { user, project, type } = opened();
  await user.type(await screen.findByRole('textbox', { name: 'New surface in Hall' }), 'Ceiling');
  await user.click(screen.getByRole('button', { name: 'Add surface' }));
  await waitFor(() => expect(surfacesOf(project).map((s) => s.name)).toEqual(['Wall 0', 'Ceiling']));
  await type('Name of Ceiling', 'Soffit');
  await waitFor(() => expect(surfacesOf(project)[1]!.name).toBe('Soffit'));
  await user.click(await screen.findByRole('button', { name: 'Actions for Soffit' }));
  await user.click(await screen.findByRole('menuitem', { name: 'Remove' }));
  await waitFor(() => expect(surfacesOf(project)).toHaveLength(1));
  for (const undo of ['Undo removing Soffit', 'Undo name of Ceiling', 'Undo adding Ceiling'])
    await user.click(await screen.findByRole('button', { name: undo }));
  await waitFor(() => expect(surfacesOf(project).map((s) => s.name)).toEqual(['Wall 0']));
});

test('a change that the server refuses is said, and is no step to undo', async () => {
  const { choose } = opened([{}], {
    'PATCH /api/surfaces/s0': () => ({ status: 409, body: { detail: 'Oak is withdrawn.' } }),
  });
  await choose(/Finish of Wall 0/, 'Oak');
  expect((await screen.findByRole('alert')).textContent).toMatch(/Oak is withdrawn/);
  expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', true);
});
