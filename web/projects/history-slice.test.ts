import { projectHistorySlice, type ProjectHistory, type ProjectStep } from './history-slice';

const { changed, undone, redone } = projectHistorySlice.actions;
const step = (name: string): ProjectStep => ({
  name,
  undo: [{ call: 'restorePart', args: { what: 'surfaces', id: name } }],
  redo: [{ call: 'removePart', args: { what: 'surfaces', id: name } }],
});
const run = (...actions: Parameters<typeof projectHistorySlice.reducer>[1][]) =>
  actions.reduce(projectHistorySlice.reducer, {} as Record<string, ProjectHistory>);
const names = (steps: readonly ProjectStep[] = []) => steps.map((s) => s.name);

test('changes are taken back and made again in order, each project by itself', () => {
  const state = run(
    changed({ id: 'p', step: step('a') }),
    changed({ id: 'p', step: step('b') }),
    changed({ id: 'q', step: step('c') }),
    undone('p'),
  );
  expect([names(state['p']!.past), names(state['p']!.future)]).toEqual([['a'], ['b']]);
  expect(names(state['q']!.past)).toEqual(['c']);
  expect(names(projectHistorySlice.reducer(state, redone('p'))['p']!.past)).toEqual(['a', 'b']);
});

test('a change after one that was taken back leaves nothing to make again', () => {
  const state = run(
    changed({ id: 'p', step: step('a') }),
    undone('p'),
    changed({ id: 'p', step: step('b') }),
  );
  expect([names(state['p']!.past), state['p']!.future]).toEqual([['b'], []]);
});

test('with nothing to take back nothing happens', () => {
  expect(run(undone('p'), redone('p'))).toEqual({});
});
