import { createGlobalStyle } from 'styled-components';

/** Neutral on purpose: nothing near a picture of a finish has a hue, but for lines drawn in marking red. */
export const theme = {
  page: '#ECECEC',
  sheet: '#F7F7F7',
  field: '#FFFFFF',
  line: '#C9C9C9',
  strong: '#8A8A8A',
  ink: '#1B1B1B',
  quiet: '#585858',
  /** Marking red: 6.9 : 1 on the sheet. */
  mark: '#A6281C',
  onMark: '#FFFFFF',
  radius: '2px',
} as const;

export type Theme = typeof theme;
declare module 'styled-components' {
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type
  export interface DefaultTheme extends Theme {}
}

/** Greys around pictures, by CIE L*. */
export const SURROUNDS: Readonly<Record<number, string>> = {
  40: '#5E5E5E',
  60: '#919191',
  80: '#C6C6C6',
  95: '#F1F1F1',
};

export const GlobalStyle = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; }
  html, body, #root { height: 100%; }
  body {
    margin: 0; background: ${theme.page}; color: ${theme.ink};
    font: 13px/1.4 'Archivo Variable', sans-serif; font-variant-numeric: tabular-nums lining-nums;
    -webkit-font-smoothing: antialiased;
  }
  h1, h2, h3, p, figure, table { margin: 0; }
  h1 { font-size: 17px; font-weight: 600; line-height: 1.25; }
  h2 { font-size: 13px; font-weight: 650; }
  a { color: inherit; }
  button, input, select, textarea { font: inherit; color: inherit; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${theme.mark}; outline-offset: 1px; }
  table { border-collapse: collapse; font-size: 12px; }
`;
