/** @jest-environment ./script/jest-page-environment.cjs */
import { screen, within } from '@testing-library/react';
import { useState } from 'react';
import { generatedRecipe } from '@jossel/core/finish';
import { responseSchema, type ResponseSettings } from '@jossel/core/response';
import { show } from '../../../test/page';
import { PartMetalBlock } from './MetalBlock';

const PARTS = [
  { id: 'chips', name: 'Chips' },
  { id: 'strips', name: 'Strips' },
];

/** The parts of metal with their settings held, as the section holds them. */
function opened(
  parts: readonly { id: string; name: string }[] = PARTS,
  metals: ResponseSettings['metals'] = [],
) {
  const steps: string[] = [];
  let now: ResponseSettings = { ...generatedRecipe('terrazzo').response, metals };
  function Held() {
    const [response, setResponse] = useState(now);
    now = response;
    return (
      <PartMetalBlock
        response={response}
        parts={parts}
        change={(what, next) => {
          steps.push(what);
          setResponse({ ...response, ...next });
        }}
      />
    );
  }
  const page = show(<Held />);
  return {
    ...page,
    steps,
    response: () => now,
    valid: () => responseSchema.safeParse(JSON.parse(JSON.stringify(now))).success,
    metalOf: (name: string) => within(screen.getByRole('group', { name: `Metal of ${name}` })),
  };
}

test('a part becomes metal at one press, and each part only once', async () => {
  const { press, response, metalOf, valid } = opened();
  await press('Add a part of metal');
  await press('Add a part of metal');
  expect(response().metals).toEqual([
    { part: 'chips', of: { from: 'constants', metal: 'copper' } },
    { part: 'strips', of: { from: 'constants', metal: 'copper' } },
  ]);
  expect(metalOf('Chips')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Add a part of metal' })).toBeNull();
  expect(valid()).toBe(true);
});

test('a film is on its part, goes with it to another part, and away with it', async () => {
  const { press, user, response, metalOf, type, valid, steps } = opened();
  await press('Add a part of metal');
  await press('Add a thin film');
  await type('Thickness of the film on Chips', '90');
  expect(response().films).toMatchObject([{ part: 'chips', thicknessNm: { value: 90 } }]);
  await user.click(metalOf('Chips').getByRole('button', { name: /Part$/ }));
  await user.click(screen.getByRole('option', { name: 'Strips' }));
  expect(response().metals).toMatchObject([{ part: 'strips' }]);
  expect(response().films).toMatchObject([{ part: 'strips', thicknessNm: { value: 90 } }]);
  expect(valid()).toBe(true);
  await user.click(metalOf('Strips').getByRole('button', { name: 'Remove' }));
  expect([response().metals, response().films]).toEqual([[], []]);
  // Each is a step of its own, named by its part.
  expect(steps).toContain('metal part chips');
  expect(steps.at(-1)).toBe('metal removed strips');
});

test('a part that is gone is still named and can be taken away; without parts there is nothing to ask', async () => {
  const { user, response, metalOf } = opened(
    [],
    [{ part: 'gone', of: { from: 'constants', metal: 'copper' } }],
  );
  await user.click(metalOf('gone').getByRole('button', { name: 'Remove' }));
  expect(response().metals).toEqual([]);
  expect(screen.queryByText('Parts of metal')).toBeNull();
});
