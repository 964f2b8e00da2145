import type { ColourPicture } from '../raster';
import { StageCache } from './cache';
import type { Budget, Cost } from './cost';
import { hashOf } from './hash';
import type { Key, Pending } from './pending';
import type { Steps } from '../steps';
import { Stopped } from './refusal';
import type { Surface } from './surface';

/** The pictures of a finish, as the core sees them: at full size or halved any number of times. */
export interface Pictures {
  info(sampleId: string): Promise<PictureInfo>;
  /** The picture halved `level` times in linear light. */
  level(sampleId: string, level: number): Promise<ColourPicture>;
  /** The same read as data: values 0–1 as stored, halved as they are. */
  data(sampleId: string, level: number): Promise<ColourPicture>;
}
const noPicture = () => Promise.reject(new Error('What is generated has no pictures.'));
/** For a finish that is generated and names none. */
export const NO_PICTURES: Pictures = { info: noPicture, level: noPicture, data: noPicture };

export interface PictureInfo {
  widthPx: number;
  heightPx: number;
  sha256: string;
  focalPx?: number | null;
}

/** What of a finish is to be computed. */
export interface Asked {
  /** Width of the repeat in pixels; the height follows from its proportions. */
  widthPx: number;
  /** Of a finish that is laid of pieces: density at which their faces are made, pixels per mm; null: it is not laid. */
  facesPxPerMm?: number | null;
  /** A colourway of the finish; null: the finish itself. */
  way: string | null;
  /** Kind of finish, by which figures are found unlikely. */
  category: string | null;
}

export interface ContextOptions {
  cache?: StageCache;
  /** Looked at between steps of the work. */
  signal?: { readonly aborted: boolean };
  /** Lets other work in, for instance a newer request. */
  pause?: () => Promise<void>;
  /** Told how far the work is, 0–1; never less than before. */
  onProgress?: (share: number, step: string) => void;
  /** Of an issued revision: the version of every stage that it was made by; a stage that is not named was at its first. */
  versions?: Readonly<Record<string, number>>;
  /** Of an issued revision: results of stages that were solved when it was issued, by the name of the stage. */
  kept?: Readonly<Record<string, unknown>>;
  /**
   * Looks up what was solved before, as bytes, by the key of all it depends on; null: that is not known, and is solved.
   * Solving is by far the slowest part of drawing a composed repeat.
   */
  solvedBefore?: (key: string) => Promise<Uint8Array | null>;
  /**
   * The surface of another finish that a layout names, at a density, pixels per mm.
   * @param finish as the layout keeps it: its recipe, and the version of every stage that it was issued by
   */
  surfaceOf?: (
    finish: { recipe: unknown; versions: Readonly<Record<string, number>> },
    pxPerMm: number,
  ) => Promise<Surface>;
  /** What may be spent: work that is estimated to cost more is refused before it begins. Default: any amount. */
  budget?: Budget;
  /** Shown what a repeat would be while it is still being solved. */
  onEarly?: (early: { picture: ColourPicture; repeatMm: { width: number; height: number } }) => void;
}

/** What all computing of a finish shares: its pictures, what is known already, who is told, and when to stop. */
export class RenderContext {
  readonly cache: StageCache;
  /** How far the whole work is; shared by all parts of it. */
  private readonly progress: { done: number };
  /** What stages expect their work to cost, once it is asked for; shared by all parts of it. */
  readonly costs: Cost[];

  constructor(
    readonly pictures: Pictures,
    readonly asked: Asked,
    readonly options: ContextOptions = {},
    private readonly range: { from: number; to: number } = { from: 0, to: 1 },
    whole?: RenderContext,
  ) {
    this.cache = options.cache ?? whole?.cache ?? new StageCache();
    this.progress = whole?.progress ?? { done: 0 };
    this.costs = whole?.costs ?? [];
  }

  /** The same context for a part of the work, whose progress counts from one share of the whole to another. */
  part(from: number, to: number): RenderContext {
    return new RenderContext(this.pictures, this.asked, this.options, { from, to }, this);
  }

  /** Notes what work of a stage will cost. It is the same whatever is known already, and however few maps are asked for. */
  expect(...costs: readonly Cost[]): void {
    this.costs.push(...costs);
  }

  /** The version of a stage that is asked for: the newest, or the one that an issued revision was made by. */
  versionOf({ name, version }: { name: string; version: number }): number {
    const { versions } = this.options;
    return versions ? (versions[name] ?? 1) : version;
  }

  /** What was computed before under a key, or is now. */
  known<T>(key: Key, make: () => T | Promise<T>): Promise<T> {
    return this.cache.known(key, async () => {
      await turn(this.options);
      return make();
    });
  }

  /**
   * A result that is computed when it is first asked for, and then held by whoever holds this, so that one render
   * computes it once even where it does not fit into the cache.
   * @param parts what it depends on: settings, and keys of other results
   */
  later<T>(parts: readonly unknown[], make: () => T | Promise<T>): Pending<T> {
    const key = hashOf(...parts);
    let made: Promise<T> | undefined;
    // Once it is being made, what it is made from is let go.
    let start: typeof make | undefined = make;
    const begin = () => {
      const known = this.known(key, start!);
      start = undefined;
      return known;
    };
    return { key, get: () => (made ??= begin()) };
  }

  /** The same, but it can be let go before whoever holds it is, and keeps what it is made from. */
  releasable<T>(parts: readonly unknown[], make: () => T | Promise<T>): Pending<T> {
    const key = hashOf(...parts);
    let made: Promise<T> | undefined;
    return { key, get: () => (made ??= this.known(key, make)), letGo: () => (made = undefined) };
  }

  /**
   * A small part of a result. It is kept by itself: where the whole is too large for the cache, the part is known all the same
   * once it was asked for with the whole at hand.
   * @param name of the part, beside others of the same whole
   */
  excerpt<T, U>(whole: Pending<T>, name: string, take: (whole: T) => U | Promise<U>): Pending<U> {
    const key = hashOf(name, whole.key);
    return { key, get: () => this.known(key, async () => take(await whole.get())) };
  }

  /**
   * Between two steps of the work: tells how far this part is, lets others in, and stops if asked to.
   * @param share of this part, 0–1
   * @throws Stopped
   */
  async step(share: number, name: string): Promise<void> {
    const { from, to } = this.range;
    this.progress.done = Math.max(this.progress.done, from + share * (to - from));
    this.options.onProgress?.(this.progress.done, name);
    await checkpoint(this.options);
  }
}

type Shared = Pick<ContextOptions, 'pause' | 'signal'>;

/** Time after which others have their turn, ms. */
const TURN_MS = 60;
/** When work last let others in, by the pause that it shares. */
const lastTurns = new WeakMap<object, number>();

/** Between two steps of work: yields to other work, and stops if asked to. @throws Stopped */
export async function checkpoint({ pause, signal }: Shared): Promise<void> {
  if (pause) {
    await pause();
    lastTurns.set(pause, Date.now());
  }
  if (signal?.aborted) throw new Stopped();
}

/** Whether all work that shares a pause has gone on for so long that others should have their turn. */
function isTurnDue({ pause }: Shared): boolean {
  if (!pause) return false;
  const last = lastTurns.get(pause);
  if (last === undefined) lastTurns.set(pause, Date.now());
  return last !== undefined && Date.now() - last >= TURN_MS;
}

/** A checkpoint where others have not had their turn for a while, however many parts of the work came since. @throws Stopped */
export async function turn(shared: Shared): Promise<void> {
  if (shared.signal?.aborted) throw new Stopped();
  if (isTurnDue(shared)) await checkpoint(shared);
}

/** Does work in steps, with turns for others in between. @throws Stopped */
export async function withTurns<T>(shared: Shared, steps: Steps<T>): Promise<T> {
  await turn(shared);
  try {
    for (;;) {
      const next = steps.next();
      if (next.done) return next.value;
      if (isTurnDue(shared) || shared.signal?.aborted) await checkpoint(shared);
    }
  } finally {
    // Work that is left for good clears up after itself.
    steps.return(undefined as T);
  }
}
