/** @jest-environment ./script/jest-page-environment.cjs */
import '../../test/pointer-events';
import { fireEvent, screen } from '@testing-library/react';
import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { useAppSelector } from '../../app/store';
import { focus, show } from '../../test/page';
import type { Drawn } from '../../workers/render.worker';
import { JointDetail } from './JointDetail';
import { PlateProbe } from './PlateProbe';
import { SectionView } from './SectionView';

// jsdom has no paths; what is painted is looked at in the walks.
globalThis.Path2D = class {
  moveTo() {}
  lineTo() {}
  closePath() {}
} as never;

/** A repeat of 100 × 50 mm, grey; a groove of 2 mm runs up it from 40 to 60 mm. */
function grooved(): Drawn {
  const [widthPx, heightPx] = [200, 100];
  const heightMm = Float32Array.from({ length: widthPx * heightPx }, (_, i) =>
    i % widthPx >= 80 && i % widthPx < 120 ? -2 : 0,
  );
  const colour = new Uint8ClampedArray(4 * widthPx * heightPx).fill(128);
  // Its right half is lighter.
  for (let i = 0; i < widthPx * heightPx; i++) if (i % widthPx >= 100) colour.fill(188, 4 * i, 4 * i + 3);
  const report = {
    repeatMm: { width: 100, height: 50 },
    pxPerMm: { x: 2, y: 2 },
    heightMm: { min: -2, max: 0 },
  };
  return { widthPx, heightPx, heightMm, colour, report } as unknown as Drawn;
}

const AXIS = { widthPx: 400, pxPerMm: 4, startMm: 0, scale: 1, from: [0, 25], to: [100, 25] } as const;

describe('the section', () => {
  function Held({ drawn, onLevel }: { drawn: Drawn | null; onLevel: (() => void) | null }) {
    const recipe = useAppSelector((s) => s.draft.recipe);
    return recipe && <SectionView {...{ drawn, onLevel, recipe }} axis={AXIS} edgesAt={[0, 0]} />;
  }
  const opened = (drawn: Drawn | null = grooved(), onLevel: (() => void) | null = null) => {
    const recipe = defaultRecipe(['s'], 'brick', { widthPx: 200, heightPx: 100 });
    const page = show(<Held drawn={drawn} onLevel={onLevel} />, { recipe });
    const profile = screen.getByRole('application', { name: /^Profile of the relief/ });
    /** Presses an arrow key so many times. */
    const arrow = (key: string, times: number, shiftKey = false) => {
      for (let k = 0; k < times; k++) fireEvent.keyDown(profile, { key, shiftKey });
    };
    return {
      ...page,
      profile,
      arrow,
      said: () => screen.getByRole('region').querySelector('header')!.textContent!,
    };
  };

  test('says its scales; the arrow keys read height and slope along it', () => {
    const { said, arrow, profile } = opened();
    expect(said()).toMatch(/along 1:1, deep 5:1; depth in mm/);
    focus(profile);
    // From the middle, 50 mm, which lies in the groove, to the face.
    arrow('ArrowLeft', 1);
    expect(said()).toMatch(/at 49\.8\u2009mm: −2\u2009mm; slope 0°/);
    arrow('ArrowLeft', 79);
    expect(said()).toMatch(/at 30\u2009mm: 0\u2009mm; slope 0°/);
    // Left alone it says its scales again.
    fireEvent.blur(profile);
    expect(said()).toMatch(/depth in mm/);
  });

  test('a depth drawn across the groove is put to what it is known to be: one step to undo, and measured', async () => {
    const { arrow, profile, type, recipe, undo, press } = opened();
    focus(profile);
    const before = recipe().relief.contributions[0]!;
    arrow('ArrowLeft', 80);
    arrow('ArrowRight', 160, true);
    expect(screen.getByRole('group', { name: 'Known depth' }).textContent).toMatch(
      /Lies 2\u2009mm deep; in reality/,
    );
    await type('Known depth', '3');
    const now = recipe().relief.contributions[0]!;
    expect(now.depthMm.value).toBeCloseTo((before.depthMm.value * 3) / 2, 3);
    expect(now.depthMm).toMatchObject({ basis: 'measured', note: 'From a known depth in the section' });
    undo();
    expect(recipe().relief.contributions[0]).toEqual(before);
    await press('Done');
    expect(screen.queryByRole('group', { name: 'Known depth' })).toBeNull();
  });

  test('Escape takes a drawn depth back; a press without a drag draws none', () => {
    const { arrow, profile } = opened();
    focus(profile);
    arrow('ArrowRight', 30, true);
    expect(screen.getByRole('group', { name: 'Known depth' })).toBeTruthy();
    fireEvent.keyDown(profile, { key: 'Escape' });
    expect(screen.queryByRole('group', { name: 'Known depth' })).toBeNull();
    const at = (clientX: number) => ({ clientX, clientY: 5, pointerId: 1, buttons: 1, button: 0 });
    fireEvent.pointerDown(profile, at(100));
    fireEvent.pointerMove(profile, at(102));
    expect(screen.queryByRole('group', { name: 'Known depth' })).toBeNull();
    fireEvent.pointerMove(profile, at(180));
    expect(screen.getByRole('group', { name: 'Known depth' })).toBeTruthy();
  });

  test('a section that was kept is compared with the one that is shown', async () => {
    const { press, arrow, profile, said, show: become } = opened();
    await press('Keep to compare');
    const deeper = grooved();
    deeper.heightMm.forEach((mm, i) => (deeper.heightMm[i] = 2 * mm));
    become(<Held drawn={deeper} onLevel={null} />);
    focus(profile);
    arrow('ArrowRight', 1);
    expect(said()).toMatch(/−4\u2009mm; slope 0°; −2\u2009mm from the kept one/);
    await press('Drop kept section');
    arrow('ArrowRight', 1);
    expect(said()).not.toMatch(/kept one/);
  });

  test('without a relief nothing is read; a turned line goes back to level', async () => {
    const levelled = jest.fn();
    const { press, show: become, said } = opened(null, levelled);
    expect(screen.queryByRole('button', { name: 'Level line' })).toBeNull();
    expect(said()).toMatch(/depth in mm/);
    become(<Held drawn={grooved()} onLevel={levelled} />);
    await press('Level line');
    expect(levelled).toHaveBeenCalledTimes(1);
  });
});

describe('the joint in its section', () => {
  function Held() {
    const recipe = useAppSelector((s) => s.draft.recipe);
    return recipe?.layout && <JointDetail recipe={recipe} layout={recipe.layout} />;
  }
  const opened = (change: (layout: LayoutSettings) => Partial<LayoutSettings>) => {
    const layout = initialLayout('running');
    const recipe: Recipe = {
      ...defaultRecipe(['s'], 'brick', { widthPx: 200, heightPx: 100 }),
      layout: { ...layout, ...change(layout) },
    };
    const page = show(<Held />, { recipe });
    return { ...page, layout: () => page.recipe().layout! };
  };
  const raked = (depth: number) => (l: LayoutSettings) => ({
    joint: {
      ...l.joint,
      profile: 'recessed' as const,
      depthMm: { ...l.joint.depthMm, value: depth, basis: 'measured' as const },
    },
    arris: {
      ...l.arris,
      form: 'bevel' as const,
      sizeMm: { ...l.arris.sizeMm, value: 2, basis: 'assumed' as const },
    },
  });
  const grip = (name: RegExp) => screen.getByRole('slider', { name });

  test('depth and arris go by tenths with the arrow keys, by whole millimetres with Shift, and never below what can be', () => {
    const { layout, undo } = opened(raked(5));
    const depth = grip(/^Depth of the joint/);
    fireEvent.keyDown(depth, { key: 'ArrowDown' });
    fireEvent.keyDown(depth, { key: 'ArrowDown', shiftKey: true });
    expect(layout().joint.depthMm).toMatchObject({ value: 6.1, basis: 'measured' });
    expect(depth.getAttribute('aria-valuetext')).toBe('6.1 mm');
    for (let k = 0; k < 9; k++) fireEvent.keyDown(depth, { key: 'ArrowUp', shiftKey: true });
    expect(layout().joint.depthMm.value).toBe(0);
    for (let k = 0; k < 4; k++)
      fireEvent.keyDown(grip(/^Width of the arris/), { key: 'ArrowRight', shiftKey: true });
    expect(layout().arris.sizeMm.value).toBe(0.1);
    undo();
    expect(layout().joint.depthMm.value).toBe(0);
  });

  test('dragged, a depth follows the pointer at the scale of the drawing, and is assumed', () => {
    const { layout } = opened(raked(5));
    const depth = grip(/^Depth of the joint/);
    const perMm = 96 / 25.4;
    const scale = Number(/^(\d+):1$/.exec(screen.getByText(/:1$/).textContent!)![1]);
    const at = (clientY: number) => ({ clientX: 0, clientY, pointerId: 1, buttons: 1, button: 0 });
    fireEvent.pointerDown(depth, at(0));
    fireEvent.pointerMove(depth, at(2 * scale * perMm));
    expect(layout().joint.depthMm).toMatchObject({ value: 7, basis: 'assumed' });
  });

  test('what is not there cannot be held: a flush joint has no depth, a square arris no width', () => {
    opened((l) => ({ joint: { ...l.joint, profile: 'flush' }, arris: { ...l.arris, form: 'square' } }));
    expect(screen.queryAllByRole('slider')).toHaveLength(0);
    expect(screen.getByRole('group', { name: 'Section of a joint' })).toBeTruthy();
  });
});

describe('the probe', () => {
  const placed = { left: 20, top: 10, pxPerMm: 4, box: { w: 440, h: 220 } } as never;
  const opened = (target: readonly [number, number, number] | null) =>
    show(<PlateProbe drawn={grooved()} placed={placed} edgesAt={[0, 0]} target={target} />);
  const ground = () => screen.getByRole('application', { name: /^Read a spot/ });
  const press = (clientX: number, clientY: number) => ({
    clientX,
    clientY,
    pointerId: 1,
    buttons: 1,
    button: 0,
  });

  test('reads 8 mm where it is pressed, and how far that is from the target', () => {
    opened([53.6, 0, 0]);
    expect(screen.getByRole('status').textContent).toBe('Press to read 8 mm, drag outwards for more.');
    // 25 mm along, in the darker half: code 128 is L* 53.6.
    fireEvent.pointerDown(ground(), press(20 + 100, 10 + 100));
    fireEvent.pointerUp(ground(), press(20 + 100, 10 + 100));
    expect(screen.getByRole('status').textContent).toMatch(/^LRV 21\.6, Lab 53\.6 .*ΔE00 0, over 8/);
  });

  test('drawn outwards it reads a larger round area, over the edge of the repeat as well', () => {
    opened(null);
    // About the step in the middle, 15 mm out: half dark, half light.
    fireEvent.pointerDown(ground(), press(20 + 200, 10 + 100));
    fireEvent.pointerMove(ground(), press(20 + 260, 10 + 100));
    fireEvent.pointerUp(ground(), press(20 + 260, 10 + 100));
    expect(screen.getByRole('status').textContent).toMatch(/^LRV 3[56]\.\d, .*over 30/);
    expect(screen.getByRole('status').textContent).not.toMatch(/ΔE00/);
  });

  test('with the keyboard: the pen is put down where the cross is, and lifted again', () => {
    opened(null);
    focus(ground());
    for (const key of ['ArrowLeft', ' ', ' ']) fireEvent.keyDown(ground(), { key });
    expect(screen.getByRole('status').textContent).toMatch(/^LRV .*over 8/);
  });
});
