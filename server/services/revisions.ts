import { finishSizeMm, hasSource, MEASURED_PX, neededSamples, widthForLongSide } from '@jossel/core/finish';
import { isRefusal } from '@jossel/core/surface';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Context } from './context';
import { measuredKey } from './headline';
import { leadOf, samplesOf, shapeOf, storedRecipe } from './recipes';
import { sampleBytes } from './samples';

/** Issuing: a frozen recipe with the pictures it uses, what was solved for it, and what it measures. */

/** A, B … Z, AA, AB …: the letter after the last one. */
export function nextLetter(letters: readonly string[]): string {
  let n = letters.length;
  let out = '';
  do {
    out = String.fromCharCode(65 + (n % 26)) + out;
    n = Math.floor(n / 26) - 1;
  } while (n >= 0);
  return out;
}

/** Drafts that change while they are issued are issued anew so many times. */
const MOST_TRIES = 5;

/** What is known of a call that issues. */
export interface IssueCall {
  note: string;
  /** Version of the draft that was read; null: the newest, whatever it is. */
  version: number | null;
  /** What the call names itself, so that it issues once however often it comes; null: nothing. */
  key: string | null;
}

/**
 * Issues the draft as the next revision. What has to be solved is solved now and kept with it, so that it stays as it
 * was issued.
 * @returns the revision, and whether an earlier call of the same name has issued it
 */
export async function issueRevision(context: Context, id: string, call: IssueCall) {
  const before = call.key ? await store.revisionOfCall(context.database, id, call.key) : undefined;
  if (before) return { ...described(before), again: true };
  for (let tries = 0; tries < (call.version === null ? MOST_TRIES : 1); tries++) {
    const issued = await issueAsItIs(context, id, call);
    if (issued) return { ...described(issued), again: false };
  }
  throw changedMeanwhile(call.version === null);
}

const described = ({ letter, issued_at }: store.RevisionRow) => ({ revision: letter, issuedAt: issued_at });

const changedMeanwhile = (tried: boolean) =>
  new Problem(
    tried ? 409 : 412,
    'Changed meanwhile',
    tried
      ? 'The draft changes faster than it can be issued. Issue it when nobody works on it.'
      : 'The draft was changed since it was read. Look at it as it is now, and issue it then.',
  );

/** Issues the draft; undefined when it was changed while it was being solved. */
async function issueAsItIs(
  context: Context,
  id: string,
  { note, version, key }: IssueCall,
): Promise<store.RevisionRow | undefined> {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  if (row.state === 'withdrawn')
    throw new Problem(
      409,
      'Withdrawn',
      `${row.name} is withdrawn. Set its state to draft or checked first, if it is to be issued again.`,
    );
  if (version !== null && version !== row.version) throw changedMeanwhile(false);
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  const samples = await samplesOf(context, recipe);
  const lead = leadOf(recipe, samples);
  if (!hasSource(recipe))
    throw new Problem(
      409,
      'Nothing to issue',
      'This finish has no sample yet, so there is nothing to issue.',
    );
  const repeatMm = finishSizeMm(recipe, lead && shapeOf(lead));
  const { versions, solved, measured } = await context.pool
    .issue({
      recipe,
      samples: await sampleBytes(context, neededSamples(recipe)),
      widthPx: widthForLongSide(repeatMm, MEASURED_PX),
    })
    .catch((error: unknown) => {
      throw isRefusal(error)
        ? new Problem(422, 'Cannot be issued', error.message, { code: error.code, where: error.where })
        : error;
    });
  const solved_sha256 = solved && (await store.putBlob(context.database, solved, 'application/octet-stream'));
  await store.keepMeasured(context.database, measuredKey(recipe, samples, versions), measured);
  return store.addRevision(context.database, id, row.version, nextLetter, {
    sample_ids: samples.map(({ id }) => id),
    note,
    stage_versions: versions,
    solved_sha256,
    idempotency_key: key,
  });
}
