import { StrictMode } from 'react';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router/dom';
import { ThemeProvider } from 'styled-components';
import { router } from './router';
import { store } from './store';
import { GlobalStyle, theme } from './theme';

/** The whole interface. */
export const Root = () => (
  <StrictMode>
    <Provider store={store}>
      <ThemeProvider theme={theme}>
        <GlobalStyle />
        <RouterProvider router={router} />
      </ThemeProvider>
    </Provider>
  </StrictMode>
);
