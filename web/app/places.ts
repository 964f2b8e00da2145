/** The places of the interface: each comes with its code when it is first opened. */
export const LAZY_PLACES = {
  receiving: async () => ({ Component: (await import('../receiving/Receiving')).Receiving }),
  generate: async () => ({ Component: (await import('../generate/Generate')).Generate }),
  bench: async () => ({ Component: (await import('../bench/Bench')).Bench }),
  projects: async () => ({ Component: (await import('../projects/Projects')).Projects }),
  project: async () => ({ Component: (await import('../projects/Project')).ProjectPage }),
  handovers: async () => ({ Component: (await import('../handovers/Handovers')).Handovers }),
  display: async () => ({ Component: (await import('./Display')).Display }),
} as const;

/** Waits until the browser has nothing else to do. */
const idle = () =>
  new Promise<void>((resolve) =>
    'requestIdleCallback' in window
      ? window.requestIdleCallback(() => resolve(), { timeout: 1500 })
      : setTimeout(resolve, 50),
  );

let prefetched: Promise<void> | null = null;

/** Fetches the code of all places one after the other while nobody waits for it, so that going there takes no time. */
export function prefetchPlaces(): Promise<void> {
  prefetched ??= (async () => {
    for (const load of Object.values(LAZY_PLACES)) {
      await idle();
      await load();
    }
  })().catch(() => {
    // Without the server they are fetched when they are opened.
    prefetched = null;
  });
  return prefetched;
}
