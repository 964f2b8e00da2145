/** @jest-environment ./script/jest-page-environment.cjs */
import { screen } from '@testing-library/react';
import { useState } from 'react';
import { generatedRecipe } from '@jossel/core/finish';
import type { LaidFinish } from '@jossel/core/layout';
import { show, type Answers } from '../../../test/page';
import { FinishChoice } from './FinishChoice';

const slate = generatedRecipe('slate');
const issued = (id: string, name: string, revisions: string[], state = 'issued') => ({
  ...{ id, name, revisions, state },
  headline: null,
});
const laid = (letter: string): LaidFinish => ({
  ...{ finishId: 'o', letter, name: 'Slate', recipe: slate, versions: { generate: 1 } },
});

/** The choice with its value held, as a section holds it. */
function opened(items: object[], value: LaidFinish | null = null, answers: Answers = {}) {
  const chosen: (LaidFinish | null)[] = [];
  function Held() {
    const [now, setNow] = useState(value);
    return (
      <FinishChoice
        label="Finish of the joints"
        finishId="f"
        value={now}
        onChange={(next) => {
          chosen.push(next);
          setNow(next);
        }}
      />
    );
  }
  const page = show(<Held />, {
    answers: {
      'GET /api/finishes': () => ({ body: { items, total: items.length, suppliers: [] } }),
      'GET /api/finishes/o/revisions/B': () => ({
        body: { letter: 'B', recipe: slate, versions: { generate: 2 } },
      }),
      ...answers,
    },
  });
  const open = async () =>
    page.user.click(await screen.findByRole('button', { name: /Finish of the joints/ }));
  const names = () => screen.getAllByRole('option').map((o) => o.textContent);
  return {
    ...page,
    chosen,
    open,
    names,
    take: (name: string) => page.user.click(screen.getByRole('option', { name })),
  };
}

test('issued finishes are offered, but not the one in hand, one without a revision, or one that was withdrawn', async () => {
  const { open, names } = opened([
    issued('f', 'In hand', ['A']),
    issued('o', 'Slate', ['A', 'B']),
    issued('n', 'Never issued', []),
    issued('w', 'Withdrawn', ['A'], 'withdrawn'),
  ]);
  await open();
  expect(await screen.findByRole('option', { name: 'Slate' })).toBeTruthy();
  expect(names()).toEqual(['no other finish', 'Slate']);
});

test('one that is chosen is taken at its newest revision, with the versions it was issued by; none is one choice too', async () => {
  const { open, take, chosen } = opened([issued('o', 'Slate', ['A', 'B'])]);
  await open();
  await screen.findByRole('option', { name: 'Slate' });
  await take('Slate');
  expect(await screen.findByText('Revision B')).toBeTruthy();
  expect(chosen).toEqual([
    expect.objectContaining({ finishId: 'o', letter: 'B', versions: { generate: 2 } }),
  ]);
  await open();
  await take('no other finish');
  expect(chosen.at(-1)).toBeNull();
  expect(screen.queryByText('Revision B')).toBeNull();
});

test('a newer revision is offered and taken at one press', async () => {
  const { user, chosen } = opened([issued('o', 'Slate', ['A', 'B'])], laid('A'));
  await user.click(await screen.findByRole('button', { name: 'Use revision B' }));
  expect(await screen.findByText('Revision B')).toBeTruthy();
  expect(chosen.at(-1)).toMatchObject({ letter: 'B' });
  expect(screen.queryByRole('button', { name: /Use revision/ })).toBeNull();
});

test('what was withdrawn since stays, and is said', async () => {
  opened([issued('o', 'Slate', ['A'], 'withdrawn')], laid('A'));
  expect(await screen.findByText('Revision A, withdrawn since')).toBeTruthy();
});

test('what was removed since stays as it was, and is said', async () => {
  const { open, names } = opened([], laid('A'));
  expect(await screen.findByText('Revision A, not in the rack any more')).toBeTruthy();
  await open();
  expect(names()).toEqual(['no other finish', 'Slate (removed)']);
});

test('a revision that cannot be read is said, and what was chosen before stays', async () => {
  const { user, chosen } = opened([issued('o', 'Slate', ['A', 'B'])], laid('A'), {
    'GET /api/finishes/o/revisions/B': () => ({ status: 500, body: { title: 'Fault' } }),
  });
  await user.click(await screen.findByRole('button', { name: 'Use revision B' }));
  expect((await screen.findByRole('alert')).textContent).toBe(
    'Revision B of Slate cannot be read now. Try again.',
  );
  expect(chosen).toEqual([]);
  expect(screen.getByText('Revision A')).toBeTruthy();
});
