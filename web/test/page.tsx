import { configureStore } from '@reduxjs/toolkit';
import { act, render } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { ThemeProvider } from 'styled-components';
import { settingsSlice, type Settings } from '../app/settings-slice';
import { theme } from '../app/theme';

// Browsers have it, jsdom has not; lists look for their items by it.
globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, '\\$&') } as typeof CSS;

/** Puts the keyboard on an element. */
export const focus = (element: HTMLElement) => act(() => element.focus());

/** Renders a part of the page with its theme and a person's settings, for tests of single components. */
export function show(part: React.ReactElement, settings: Partial<Settings> = {}) {
  const store = configureStore({
    reducer: { settings: settingsSlice.reducer },
    preloadedState: { settings: { ...settingsSlice.getInitialState(), ...settings } },
  });
  const within = (child: React.ReactElement) => (
    <Provider store={store}>
      <ThemeProvider theme={theme}>{child}</ThemeProvider>
    </Provider>
  );
  const { rerender } = render(within(part));
  return {
    user: userEvent.setup(),
    show: (next: React.ReactElement) => rerender(within(next)),
    set: (change: Partial<Settings>) => store.dispatch(settingsSlice.actions.changed(change)),
  };
}
