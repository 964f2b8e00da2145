import '@fontsource-variable/archivo';
import { startTransition } from 'react';
import { keepFocus } from './app/keep-focus';

/** Lets the browser draw and take input before the next part is run. */
const pause = () => new Promise<void>((resolve) => setTimeout(resolve));

/** Runs the code of the interface in parts: in one piece it would hold the browser up for a quarter of a second. */
async function start(): Promise<void> {
  const { createRoot } = await import('react-dom/client');
  await pause();
  await import('./controls/basics');
  await pause();
  await import('./app/store');
  await pause();
  const { Root } = await import('./app/Root');
  await pause();
  keepFocus();
  const root = createRoot(document.getElementById('root')!);
  // A transition is rendered in slices, anything else in one go.
  startTransition(() => root.render(<Root />));
}

void start();
