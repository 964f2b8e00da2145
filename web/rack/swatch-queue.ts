/**
 * Pictures of the rack are fetched a few at a time, and only once the code of the places is there: the browser has six
 * connections, and a rack that is drawn for the first time would take them all.
 */

const AT_ONCE = 2;

interface Waiting {
  url: string;
  onLoad: () => void;
  onError: () => void;
}

export class SwatchQueue {
  private readonly waiting: Waiting[] = [];
  private readonly loading = new Set<Waiting>();
  private open = false;

  /** @param fetchPicture fetches one picture and says how it went; returns what stops it */
  constructor(
    private readonly fetchPicture: (url: string, onLoad: () => void, onError: () => void) => () => void,
  ) {}

  /** From now on pictures are fetched. */
  start(): void {
    this.open = true;
    this.next();
  }

  /** @returns what takes the picture out of the queue again */
  add(url: string, onLoad: () => void, onError: () => void): () => void {
    const entry: Waiting = { url, onLoad, onError };
    this.waiting.push(entry);
    this.next();
    return () => {
      const at = this.waiting.indexOf(entry);
      if (at >= 0) this.waiting.splice(at, 1);
      this.stops.get(entry)?.();
      this.ended(entry);
    };
  }

  private readonly stops = new Map<Waiting, () => void>();

  private ended(entry: Waiting): void {
    this.stops.delete(entry);
    if (this.loading.delete(entry)) this.next();
  }

  private next(): void {
    while (this.open && this.loading.size < AT_ONCE) {
      const entry = this.waiting.shift();
      if (!entry) return;
      this.loading.add(entry);
      const stop = this.fetchPicture(
        entry.url,
        () => {
          this.ended(entry);
          entry.onLoad();
        },
        () => {
          this.ended(entry);
          entry.onError();
        },
      );
      if (this.loading.has(entry)) this.stops.set(entry, stop);
    }
  }
}

/** Fetches a picture into the browser's cache. */
function fetchImage(url: string, onLoad: () => void, onError: () => void): () => void {
  const image = new Image();
  image.onload = onLoad;
  image.onerror = onError;
  image.src = url;
  return () => {
    image.onload = image.onerror = null;
    image.src = '';
  };
}

export const swatchQueue = new SwatchQueue(fetchImage);
