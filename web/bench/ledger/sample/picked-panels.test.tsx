/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, waitFor, within } from '@testing-library/react';
import { defaultRecipe, lead, recipeSchema } from '@jossel/core/finish';
import type { Part, PickedArea } from '@jossel/core/sample';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppSelector } from '../../../app/store';
import { show } from '../../../test/page';
import { answerAsWorker } from '../../../test/worker';
import { geometryOf } from '../../picture-in-hand';
import { AreasPanel } from './AreasPanel';
import type { PanelProps } from './panel-props';
import { PartsPanel } from './PartsPanel';

const rgba = new Uint8ClampedArray(4);
answerAsWorker({ part: () => ({ widthPx: 1, heightPx: 1, rgba, share: 0.213 }) });

const SHAPE = { widthPx: 900, heightPx: 600 };
const SAMPLE = { id: 's', fileName: 'wall.png', ...SHAPE } as Sample;

function opened(
  Panel: (props: PanelProps) => React.ReactNode,
  preparation: { areas?: PickedArea[]; parts?: Part[] } = {},
) {
  const recipe = defaultRecipe(['s'], 'ceramic', SHAPE);
  lead(recipe).size = sizeKnownBy({ overall: figure(900, 'mm', 'measured') }, 'follows');
  Object.assign(lead(recipe).preparation, preparation);
  function Held() {
    const held = useAppSelector((s) => s.draft.recipe);
    if (!held) return null;
    const source = lead(held);
    return (
      <Panel {...{ recipe: held, source }} sample={SAMPLE} geometry={geometryOf(held, source, [SAMPLE])} />
    );
  }
  const page = show(<Held />, { recipe });
  return {
    ...page,
    prepared: () => lead(page.recipe()).preparation,
    used: () => page.recipe().repeat.from[0]!.area,
    valid: () => recipeSchema.safeParse(JSON.parse(JSON.stringify(page.recipe()))).success,
  };
}

describe('picked areas', () => {
  const area = (id: string, [x, y, w, h]: readonly number[], leftOut = false): PickedArea => ({
    id,
    name: `Tile ${id}`,
    corners: [
      [x!, y!],
      [x! + w!, y!],
      [x! + w!, y! + h!],
      [x!, y! + h!],
    ],
    leftOut,
  });
  const AREAS = [
    area('a', [0.1, 0.1, 0.2, 0.2]),
    area('b', [0.5, 0.1, 0.2, 0.3]),
    area('c', [0.5, 0.6, 0.2, 0.2]),
  ];
  const areas = (list = AREAS) =>
    opened((props) => <AreasPanel {...props} samples={[SAMPLE]} />, { areas: list });
  const items = () => within(screen.getByRole('list', { name: 'Picked areas' })).getAllByRole('listitem');
  const of = (k: number) => within(items()[k]!);

  test('without one the whole frame is used, and drawing one is a press away', async () => {
    const { press, store } = areas([]);
    expect(screen.getByText(/No area is picked; the whole frame is used/)).toBeTruthy();
    await press('Draw an area');
    expect(store.getState().bench.drawing).toBe('area');
    await press('Draw it on the plate now');
    expect(store.getState().bench.drawing).toBeNull();
  });

  test('each has its size on the surface; the one that is used leads the repeat, until the frame does again', async () => {
    const { user, used, valid } = areas();
    expect(items().map((item) => /\d+ × \d+.mm/.exec(item.textContent!)![0])).toEqual([
      expect.stringMatching(/^180 × 120/),
      expect.stringMatching(/^180 × 180/),
      expect.stringMatching(/^180 × 120/),
    ]);
    await user.click(of(1).getByRole('button', { name: 'used' }));
    expect(used()).toBe('b');
    expect(screen.getByText('The repeat is made from the used area.')).toBeTruthy();
    expect(valid()).toBe(true);
    await user.click(of(1).getByRole('button', { name: 'used' }));
    expect(used()).toBeNull();
  });

  test('one that is left out, or removed, is not used any more; one that is used is not left out', async () => {
    const { user, used, prepared, undo } = areas();
    await user.click(of(1).getByRole('button', { name: 'used' }));
    await user.click(of(1).getByRole('button', { name: 'left out' }));
    expect(used()).toBeNull();
    expect(prepared().areas[1]!.leftOut).toBe(true);
    await user.click(of(1).getByRole('button', { name: 'used' }));
    expect(prepared().areas[1]!.leftOut).toBe(false);
    await user.click(of(1).getByRole('button', { name: 'Remove' }));
    expect(prepared().areas.map(({ id }) => id)).toEqual(['a', 'c']);
    expect(used()).toBeNull();
    undo();
    expect(used()).toBe('b');
  });

  test('they are named and put in another order; blanks are no name', async () => {
    const { type, user, prepared } = areas();
    await type('Name of area 1', '  Corner tile ');
    expect(prepared().areas[0]!.name).toBe('Corner tile');
    await type('Name of area 2', '   ');
    expect(prepared().areas[1]!.name).toBe('Tile b');
    await user.click(screen.getByRole('button', { name: 'Corner tile down' }));
    expect(prepared().areas.map(({ id }) => id)).toEqual(['b', 'a', 'c']);
    expect(screen.getByRole('button', { name: 'Tile b up' })).toHaveProperty('disabled', true);
    expect(screen.getByRole('button', { name: 'Tile c down' })).toHaveProperty('disabled', true);
  });

  test('the one that the keyboard is in is the one in hand', async () => {
    const { store, user } = areas();
    await user.click(screen.getByRole('textbox', { name: 'Name of area 3' }));
    expect(store.getState().bench.selected).toBe('c');
    expect(items().map((item) => item.dataset['selected'])).toEqual(['false', 'false', 'true']);
  });
});

describe('parts by colour', () => {
  const JOINT: Part = {
    id: 'joint',
    name: 'Joints',
    picks: [
      { at: [0.5, 0.5], lab: [70, 0, 4], add: true },
      { at: [0.2, 0.5], lab: [40, 20, 20], add: false },
    ],
    tolerance: 12,
    growMm: 0,
    softenMm: 0.5,
  };
  const parts = (list: Part[] = [JOINT]) => opened((props) => <PartsPanel {...props} />, { parts: list });

  test('without one, a colour is to be clicked on the plate; there is nothing to take away from', async () => {
    const { press, store } = parts([]);
    expect(screen.queryByRole('button', { name: 'click to take away' })).toBeNull();
    await press('click to add');
    expect(store.getState().bench.dropper).toBe('add');
    await press('click to add');
    expect(store.getState().bench.dropper).toBeNull();
  });

  test('how much it covers is said once it is separated', async () => {
    parts();
    expect(screen.getByRole('status').textContent).toBe('Separating …');
    await waitFor(() =>
      expect(screen.getByRole('status').textContent).toBe('Joints covers 21.3 % of the area.'),
    );
  });

  test('figures are typed with units; what is beyond their range is refused', async () => {
    const { type, prepared, valid } = parts();
    await type('Tolerance, ΔE', '8.5');
    await type('Grow', '-0.1 cm');
    await type('Soften', '2');
    expect(prepared().parts[0]).toMatchObject({ tolerance: 8.5, growMm: -1, softenMm: 2 });
    await type('Tolerance, ΔE', '0');
    expect(screen.getByRole('alert').textContent).toMatch(/between 0\.5 and 100/);
    expect(prepared().parts[0]!.tolerance).toBe(8.5);
    expect(valid()).toBe(true);
  });

  test('colours are removed but for the last', async () => {
    const { press, prepared } = parts();
    await press('Remove colour 2, L* 40, taken away');
    expect(prepared().parts[0]!.picks).toHaveLength(1);
    expect(screen.getByRole('button', { name: 'Remove colour 1, L* 70, added' })).toHaveProperty(
      'disabled',
      true,
    );
  });

  test('another one begins as this one, with its first colour, and is in hand; it is removed again', async () => {
    const { press, type, prepared, store } = parts();
    await press('Another part');
    const [first, second] = prepared().parts;
    expect(second).toMatchObject({ name: 'Part 2', picks: [JOINT.picks[0]], tolerance: 12 });
    expect(store.getState().bench).toMatchObject({ selected: second!.id, dropper: 'add' });
    await type('Name of the part', 'Chips');
    expect(prepared().parts.map(({ name }) => name)).toEqual(['Joints', 'Chips']);
    await press('Remove this part');
    expect(prepared().parts).toEqual([first]);
  });
});
