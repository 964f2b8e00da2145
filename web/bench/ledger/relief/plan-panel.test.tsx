/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { show } from '../../../test/page';
import type { Drawn } from '../../../workers/render.worker';
import { PlanPanel } from './PlanPanel';

const SIDE_PX = 64;

/** A repeat of 640 mm with round bosses 160 mm apart. */
function bossed(depthMm: number): Drawn {
  const heightMm = new Float32Array(SIDE_PX * SIDE_PX);
  for (let y = 0; y < SIDE_PX; y++)
    for (let x = 0; x < SIDE_PX; x++) {
      const round = Math.sin((Math.PI * x) / 8) * Math.sin((Math.PI * y) / 8);
      heightMm[y * SIDE_PX + x] = depthMm * (0.5 * round - 0.5);
    }
  return {
    widthPx: SIDE_PX,
    heightPx: SIDE_PX,
    heightMm,
    report: { repeatMm: { width: 640, height: 640 }, heightMm: { min: -depthMm, max: 0 } },
  } as unknown as Drawn;
}

const SURFACES = [
  { id: 's1', project: 'Quay', room: 'Court', name: 'North wall', widthMm: 12000, heightMm: 6000 },
];

async function opened(depthMm: number, surfaces: typeof SURFACES = []) {
  const page = show(
    <Routes>
      <Route path="/bench/:id" element={<PlanPanel drawn={bossed(depthMm)} />} />
    </Routes>,
    { at: '/bench/f', answers: { 'GET /api/finishes/f/surfaces': () => ({ body: { items: surfaces } }) } },
  );
  await page.user.click(screen.getByText('Mesh for a camera'));
  const plan = within(await screen.findByRole('region', { name: 'Plan of the relief' }));
  return {
    ...page,
    plan,
    /** A figure of the plan, as it is printed. */
    fact: (name: string) => plan.getByText(name).nextElementSibling!.textContent!,
    edgesMm: () => parseFloat(plan.getByText('Edges of the mesh').nextElementSibling!.textContent!),
  };
}

test('nothing is planned before it is opened', () => {
  show(<PlanPanel drawn={bossed(20)} />);
  expect(screen.queryByRole('region', { name: 'Plan of the relief' })).toBeNull();
});

test('deep relief needs a mesh from near, finer the nearer; from far away less is enough', async () => {
  const { plan, type, edgesMm } = await opened(40);
  expect(plan.getByText('A displaced mesh')).toBeTruthy();
  const [before] = [edgesMm()];
  await type('Camera distance', '1 m');
  expect(edgesMm()).toBeLessThan(before);
  await type('Camera distance', '5000 m');
  expect(plan.queryByText('A displaced mesh')).toBeNull();
  expect(plan.queryByText('Edges of the mesh')).toBeNull();
});

test('the waves that the mesh leaves out go into the handover’s address', async () => {
  const { plan, fact } = await opened(40);
  const splitMm = parseFloat(fact('Normals take waves below'));
  const address = plan.getByRole('link', { name: /Hand over with relief/ }).getAttribute('href')!;
  const asked = new URLSearchParams(address.split('?')[1]);
  expect(asked.get('finish')).toBe('f');
  expect(Math.abs(Number(asked.get('split')) / splitMm - 1)).toBeLessThan(0.05);
});

test('a larger error allowed makes longer edges; a figure that cannot be is refused and the plan stays', async () => {
  const { type, edgesMm } = await opened(40);
  const before = edgesMm();
  await type('Error allowed, px', '3');
  expect(edgesMm()).toBeGreaterThan(before);
  const kept = edgesMm();
  await type('View angle', '95');
  expect(screen.getByRole('alert').textContent).toMatch(/between 0 ?° and 89 ?°; 95 ?° is not/);
  expect(edgesMm()).toBe(kept);
});

test('the size of a surface that the finish lies on is taken by its name', async () => {
  const { choose } = await opened(40, SURFACES);
  await choose(/Size of a surface/, /Quay, Court, North wall/);
  const side = (name: string) => screen.getByRole<HTMLInputElement>('textbox', { name }).value;
  expect([side('Surface width'), side('Surface height')]).toEqual(['12000', '6000']);
});

test('its edges are drawn over the proof, which is unfolded for it, as long as that is ticked', async () => {
  const { user, store, edgesMm, set } = await opened(40);
  set({ proofFolded: true });
  const tick = screen.getByRole('checkbox', { name: /Its edges over the proof/ });
  await user.click(tick);
  const { bench, settings } = store.getState();
  expect(settings.proofFolded).toBe(false);
  expect(bench.form).toBe('panel');
  expect(Math.round(bench.mesh!.spacingMm)).toBe(edgesMm());
  expect(bench.mesh).toMatchObject({ distanceMm: 3000, cameraDeg: 30 });
  await user.click(tick);
  expect(store.getState().bench.mesh).toBeNull();
});
