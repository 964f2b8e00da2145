/** @jest-environment ./script/jest-page-environment.cjs */
import '../../test/pointer-events';
import { act, fireEvent, screen } from '@testing-library/react';
import { defaultRecipe } from '@jossel/core/finish';
import { initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { useAppSelector } from '../../app/store';
import { show } from '../../test/page';
import { answerAsWorker } from '../../test/worker';
import type { LayoutLines } from '../../workers/layout.worker';
import { benchSlice } from '../bench-slice';
import { LayoutOnPlate } from './LayoutOnPlate';

const FIELD_MM = { width: 1000, height: 600 };
/** One brick, lying, at 100 mm from the left and 200 mm from the top, with its joints: as a bond says it. */
answerAsWorker({
  lines: ({ piece, joint, bond }: LayoutSettings): LayoutLines => {
    if (bond.kind === 'herringbone') throw new RangeError('Herringbone cannot be laid here.');
    const [length, width] = [piece.lengthMm.value, piece.widthMm.value];
    return {
      repeatMm: FIELD_MM,
      path: `M0 0L${length} 0`,
      pieces: bond.kind === 'stack' ? 24 : 32,
      typical: {
        piece: { left: 100, right: 100 + length, top: 200, bottom: 200 + width, lying: true },
        joint: { right: joint.acrossMm.value, below: joint.alongMm.value },
      },
    };
  },
});

function Held() {
  const recipe = useAppSelector((s) => s.draft.recipe);
  const placed = { left: 20, top: 10, pxPerMm: 0.5, box: { w: 540, h: 320 } } as never;
  return recipe && <LayoutOnPlate recipe={recipe} placed={placed} repeatMm={FIELD_MM} />;
}

async function opened(change: Parameters<typeof benchSlice.actions.changed>[0] = { section: 'layout' }) {
  const initial = initialLayout('running');
  const measured = (value: number) => ({ ...initial.piece.lengthMm, value, basis: 'measured' as const });
  const layout: LayoutSettings = {
    ...initial,
    piece: { lengthMm: measured(240), widthMm: measured(71) },
    joint: { ...initial.joint, alongMm: measured(10), acrossMm: measured(8) },
  };
  const recipe = { ...defaultRecipe(['s'], 'brick', { widthPx: 200, heightPx: 120 }), layout };
  const page = show(<Held />, { recipe });
  act(() => void page.store.dispatch(benchSlice.actions.changed(change)));
  return { ...page, layout: () => page.recipe().layout! };
}

test('sizes stand at their dimension lines; what is typed there stays measured and is one step to undo', async () => {
  const { type, layout, undo } = await opened();
  await type('Length on the plate', '215');
  expect(layout().piece.lengthMm).toMatchObject({ value: 215, basis: 'measured' });
  await type('Joint across, on the plate', '12');
  expect(layout().joint.acrossMm.value).toBe(12);
  expect(layout().joint.alongMm.value).toBe(10);
  undo();
  undo();
  expect(layout().piece.lengthMm.value).toBe(240);
  await type('Width on the plate', '0');
  expect(screen.getByRole('alert').textContent).toMatch(/between 1.mm and/);
  expect(layout().piece.widthMm.value).toBe(71);
});

test('dragged at its end a dimension follows the pointer at the scale of the plate, and is assumed', async () => {
  const { layout, undo } = await opened();
  await screen.findByRole('textbox', { name: 'Length on the plate' });
  const drag = async (k: number, [x, y]: readonly [number, number]) => {
    const grip = document.querySelectorAll('line.grip')[k]!;
    const at = (clientX: number, clientY: number) => ({
      ...{ clientX, clientY, pointerId: 1, buttons: 1, button: 0 },
    });
    fireEvent.pointerDown(grip, at(0, 0));
    fireEvent.pointerMove(grip, at(x / 2, y / 2));
    // The lines are drawn anew meanwhile; what is held stays.
    await act(() => new Promise((soon) => setTimeout(soon, 50)));
    expect(grip.isConnected).toBe(true);
    fireEvent.pointerMove(grip, at(x, y));
    fireEvent.pointerUp(grip, at(x, y));
  };
  // Half a pixel is a millimetre; what lies across the line does not count.
  await drag(0, [-20, 33]);
  expect(layout().piece.lengthMm).toMatchObject({ value: 200, basis: 'assumed' });
  await drag(1, [50, 10]);
  expect(layout().piece.widthMm.value).toBe(91);
  await drag(2, [-2, 0]);
  expect(layout().joint.acrossMm.value).toBe(4);
  undo();
  undo();
  undo();
  expect(layout().piece.lengthMm).toMatchObject({ value: 240, basis: 'measured' });
});

test('the bond that is looked at on the sheet is drawn in place of the picture, and what cannot be laid draws nothing', async () => {
  const { store } = await opened({ section: 'layout', bondOver: 'stack' });
  expect(await screen.findByRole('img', { name: 'Bond as lines, 24 pieces' })).toBeTruthy();
  expect(screen.queryByRole('textbox', { name: 'Length on the plate' })).toBeNull();
  act(() => void store.dispatch(benchSlice.actions.changed({ bondOver: 'herringbone' })));
  // The layout as it is stays in view.
  expect(await screen.findByRole('textbox', { name: 'Length on the plate' })).toBeTruthy();
  expect(screen.queryByRole('img', { name: /^Bond as lines/ })).toBeNull();
});

test('elsewhere only its lines are shown, where they are asked for', async () => {
  const { store } = await opened({ section: 'colour', hatch: true });
  expect(await screen.findByRole('img', { name: 'Lines of the layout' })).toBeTruthy();
  expect(screen.queryByRole('textbox')).toBeNull();
  act(() => void store.dispatch(benchSlice.actions.changed({ hatch: false })));
  expect(screen.queryByRole('img')).toBeNull();
});
