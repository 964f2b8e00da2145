/** @jest-environment ./script/jest-page-environment.cjs */
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import { BONDS, FAMILIES, initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { focus, show } from '../../../test/page';
import { answerAsWorker } from '../../../test/worker';
import { BondSheet } from './BondSheet';

/** Layouts that the worker was asked to draw. */
const drawn: LayoutSettings[] = [];
answerAsWorker({
  lines: (settings: LayoutSettings) => {
    drawn.push(settings);
    return { repeatMm: settings.repeatMm, path: 'M0 0L1 1', pieces: 1, typical: null };
  },
});

function opened(layout: LayoutSettings | null) {
  const chosen: string[] = [];
  const page = show(<BondSheet layout={layout} onChoose={(kind) => chosen.push(kind)} />);
  return {
    ...page,
    chosen,
    over: () => page.store.getState().bench.bondOver,
    bond: (name: string) => screen.getByRole('button', { name }),
  };
}

test('every bond stands under its family, and the one that is laid is pressed', () => {
  const { bond } = opened(initialLayout('english'));
  const families = screen.getAllByRole('heading').map((h) => h.textContent);
  expect(families).toEqual([...FAMILIES]);
  expect(within(screen.getByRole('group', { name: 'Bonds' })).getAllByRole('button')).toHaveLength(
    BONDS.length,
  );
  const pressed = screen.getAllByRole('button', { pressed: true });
  expect(pressed).toEqual([bond(BONDS.find((b) => b.kind === 'english')!.name)]);
});

test('a bond that is pointed at or reached by keyboard is shown on the plate, and is not once it is left', () => {
  const { bond, over } = opened(null);
  const { kind, name } = BONDS.find((b) => b.kind === 'herringbone')!;
  expect(over()).toBeNull();
  focus(bond(name));
  expect(over()).toBe(kind);
  act(() => bond(name).blur());
  expect(over()).toBeNull();
  focus(bond(name));
  cleanup();
  expect(over()).toBeNull();
});

test('a press chooses; so does the keyboard', async () => {
  const { bond, chosen, user } = opened(null);
  const [first, second] = [BONDS[0]!, BONDS[5]!];
  await user.click(bond(first.name));
  focus(bond(second.name));
  await user.keyboard('{Enter}');
  expect(chosen).toEqual([first.kind, second.kind]);
});

test('all are drawn with the pieces of the layout at one scale, in windows of one shape', async () => {
  drawn.length = 0;
  const layout = initialLayout('running');
  layout.piece.lengthMm.value = 290;
  layout.piece.widthMm.value = 52;
  opened(layout);
  await waitFor(() => expect(drawn.length).toBe(BONDS.length));
  for (const settings of drawn) {
    expect(settings.repeatMm.height / settings.repeatMm.width).toBeCloseTo(0.72, 6);
    expect([settings.piece.lengthMm.value, settings.bond.kind]).toEqual([290, expect.any(String)]);
  }
  expect(new Set(drawn.map(({ repeatMm }) => Math.round(repeatMm.width))).size).toBeLessThanOrEqual(2);
  await waitFor(() => expect(document.querySelectorAll('path[d="M0 0L1 1"]').length).toBe(9 * BONDS.length));
});
