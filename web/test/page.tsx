import { configureStore } from '@reduxjs/toolkit';
import { act, configure, render, screen } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter, useLocation } from 'react-router';
import { ThemeProvider } from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import { api } from '../app/api';
import { connectionSlice } from '../app/connection';
import { halfTypedSlice } from '../app/half-typed-slice';
import { settingsSlice, type Settings } from '../app/settings-slice';
import { theme } from '../app/theme';
import { benchSlice } from '../bench/bench-slice';
import { draftSlice } from '../bench/draft-slice';
import { projectHistorySlice } from '../projects/history-slice';

// Browsers have it, jsdom has not; lists look for their items by it.
globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, '\\$&') } as typeof CSS;

// What is waited for comes within this, also on a machine that does much else.
configure({ asyncUtilTimeout: 20000 });

/** Puts the keyboard on an element. */
export const focus = (element: HTMLElement) => act(() => element.focus());

/** What a server answers to "METHOD /path"; a call that it does not know fails the test. */
export type Answers = Record<string, (body: unknown) => { status?: number; body: unknown }>;

/** A server in the test. @returns what it was asked, in order */
function serve(answers: Answers): string[] {
  const asked: string[] = [];
  globalThis.fetch = async (input, init) => {
    const request = new Request(input, init);
    const call = `${request.method} ${new URL(request.url).pathname}`;
    asked.push(call);
    const answer = answers[call];
    if (!answer) throw new Error(`Nobody answers ${call}.`);
    const { status = 200, body } = answer(request.body ? await request.json() : null);
    return Response.json(body, { status });
  };
  return asked;
}

function Address({ onChange }: { onChange: (path: string) => void }) {
  const { pathname, search } = useLocation();
  onChange(pathname + search);
  return null;
}

/**
 * Renders a part of the page with its theme, store and address, for tests of single components.
 * @param recipe that of the finish "f", which is open on the Bench
 */
export function show(
  part: React.ReactElement,
  {
    settings = {},
    answers = {},
    at = '/',
    recipe,
  }: { settings?: Partial<Settings>; answers?: Answers; at?: string; recipe?: Recipe } = {},
) {
  const asked = serve(answers);
  const store = configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      settings: settingsSlice.reducer,
      bench: benchSlice.reducer,
      draft: draftSlice.reducer,
      halfTyped: halfTypedSlice.reducer,
      connection: connectionSlice.reducer,
      projectHistory: projectHistorySlice.reducer,
    },
    middleware: (defaults) => defaults().concat(api.middleware),
    preloadedState: { settings: { ...settingsSlice.getInitialState(), ...settings } },
  });
  if (recipe) store.dispatch(draftSlice.actions.opened({ finishId: 'f', recipe, etag: 'e' }));
  let address = '';
  const within = (child: React.ReactElement) => (
    <Provider store={store}>
      <ThemeProvider theme={theme}>
        <MemoryRouter initialEntries={[at]}>
          <Address onChange={(path) => (address = path)} />
          {child}
        </MemoryRouter>
      </ThemeProvider>
    </Provider>
  );
  const { rerender } = render(within(part));
  const user = userEvent.setup();
  return {
    user,
    press: (name: string | RegExp) => user.click(screen.getByRole('button', { name })),
    /** Types into a field, the first of several that are called so, and takes it over. */
    async type(name: string | RegExp, text: string) {
      const [box] = await screen.findAllByRole('textbox', { name });
      await user.clear(box!);
      await user.type(box!, `${text}{Enter}`);
    },
    /** Chooses from a list. */
    async choose(list: RegExp, option: string | RegExp) {
      await user.click(await screen.findByRole('button', { name: list }));
      await user.click(await screen.findByRole('option', { name: option }));
    },
    asked,
    store,
    recipe: () => store.getState().draft.recipe!,
    undo: () => act(() => void store.dispatch(draftSlice.actions.undone())),
    address: () => address,
    show: (next: React.ReactElement) => rerender(within(next)),
    set: (change: Partial<Settings>) => act(() => void store.dispatch(settingsSlice.actions.changed(change))),
  };
}
