import { finishSizeMm, MEASURED_PX, neededSamples, widthForLongSide } from '@jossel/core/finish';
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

/**
 * Issues the draft as the next revision. What has to be solved is solved now and kept with it, so that it stays as it
 * was issued.
 */
export async function issueRevision(context: Context, id: string, note: string) {
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const issued = await issueAsItIs(context, id, note);
    if (issued) return { revision: issued.letter, issuedAt: issued.issued_at };
  }
  throw new Problem(
    409,
    'Changed meanwhile',
    'The draft changes faster than it can be issued. Issue it when nobody works on it.',
  );
}

/** Issues the draft; undefined when it was changed while it was being solved. */
async function issueAsItIs(
  context: Context,
  id: string,
  note: string,
): Promise<store.RevisionRow | undefined> {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  const samples = await samplesOf(context, recipe);
  const lead = leadOf(recipe, samples);
  if (!lead || recipe.repeat.from.length === 0)
    throw new Problem(
      409,
      'Nothing to issue',
      'This finish has no sample yet, so there is nothing to issue.',
    );
  const repeatMm = finishSizeMm(recipe, shapeOf(lead));
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
    sample_hashes: Object.fromEntries(samples.map((s) => [s.id, s.sha256])),
    note,
    stage_versions: versions,
    solved_sha256,
  });
}
