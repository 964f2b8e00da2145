import type { Recipe } from '@jossel/core/finish';

/** What the server answered to one attempt to save a draft. */
export type SaveOutcome =
  | { kind: 'saved'; etag: string; recipe: Recipe }
  | { kind: 'conflict'; theirs: { recipe: Recipe; etag: string } }
  | { kind: 'failed'; sentence: string };

/** Sends one draft to the server. */
export type SendDraft = (finishId: string, recipe: Recipe, etag: string) => Promise<SaveOutcome>;

/** A draft that the server does not have yet. */
export interface UnsavedDraft {
  recipe: Recipe;
  etag: string;
  /** What another window or person saved meanwhile; nothing is sent until that is decided. */
  theirs: { recipe: Recipe; etag: string } | null;
}

interface Entry extends UnsavedDraft {
  timer: ReturnType<typeof setTimeout> | null;
  sending: boolean;
  /** Changed again while it was being sent. */
  stale: boolean;
}

const QUIET_MS = 350;
const AGAIN_MS = 3000;

/**
 * Saves drafts a moment after they change. Every finish has its own entry, so that opening another finish neither
 * delays nor cancels what is still to be saved; drafts of one finish are sent one after the other, each with the ETag
 * that the one before was given. While the server is away, it is tried again until it answers.
 */
export class DraftSaver {
  private readonly entries = new Map<string, Entry>();

  /**
   * @param send sends one draft; must not throw
   * @param onStart called before a draft is sent
   * @param onOutcome called with what came of it
   */
  constructor(
    private readonly send: SendDraft,
    private readonly onStart: (finishId: string) => void,
    private readonly onOutcome: (finishId: string, outcome: SaveOutcome) => void,
  ) {}

  /** A draft was changed; its latest state is saved once nothing changes for a moment. */
  changed(finishId: string, recipe: Recipe, etag: string): void {
    const known = this.entries.get(finishId);
    if (known) Object.assign(known, { recipe, etag: known.sending ? known.etag : etag, theirs: null });
    const entry: Entry = known ?? { recipe, etag, theirs: null, timer: null, sending: false, stale: false };
    this.entries.set(finishId, entry);
    if (entry.sending) entry.stale = true;
    else this.schedule(finishId, entry, QUIET_MS);
  }

  /** Changed on while it is undecided whose version stays: kept, but not sent. */
  changedInConflict(finishId: string, recipe: Recipe): void {
    const entry = this.entries.get(finishId);
    if (entry) entry.recipe = recipe;
  }

  /** The other version was taken: there is nothing left to save. */
  dropped(finishId: string): void {
    const entry = this.entries.get(finishId);
    if (entry?.timer) clearTimeout(entry.timer);
    this.entries.delete(finishId);
  }

  /** What of a finish is not saved yet; null: nothing. */
  unsaved(finishId: string): UnsavedDraft | null {
    return this.entries.get(finishId) ?? null;
  }

  /** Whether anything of any finish is not saved yet. */
  get anyUnsaved(): boolean {
    return this.entries.size > 0;
  }

  private schedule(finishId: string, entry: Entry, afterMs: number): void {
    if (entry.timer) clearTimeout(entry.timer);
    entry.timer = setTimeout(() => void this.save(finishId, entry), afterMs);
  }

  private async save(finishId: string, entry: Entry): Promise<void> {
    entry.timer = null;
    entry.sending = true;
    entry.stale = false;
    this.onStart(finishId);
    const outcome = await this.send(finishId, entry.recipe, entry.etag);
    entry.sending = false;
    if (this.entries.get(finishId) !== entry) return;
    if (outcome.kind === 'saved') {
      entry.etag = outcome.etag;
      if (entry.stale) this.schedule(finishId, entry, QUIET_MS);
      else this.entries.delete(finishId);
    } else if (outcome.kind === 'conflict') entry.theirs = outcome.theirs;
    else this.schedule(finishId, entry, AGAIN_MS);
    this.onOutcome(finishId, outcome);
  }
}
