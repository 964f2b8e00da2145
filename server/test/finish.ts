import type { Recipe } from '@jossel/core/finish';
import type { TestServer } from './serve';

/** What is told of a finish. */
export interface FinishAnswer {
  id: string;
  draft: { recipe: Recipe; etag: string };
  detail: string;
}

/** Saves a draft. */
export const saveDraft = (server: TestServer, id: string, recipe: Recipe, etag: string) =>
  server.call<FinishAnswer & { etag: string }>(
    'PUT',
    `/api/finishes/${id}/draft`,
    { recipe },
    { 'if-match': etag },
  );

/** A finish made of one picture, whose draft is changed and saved; what came of that is told. */
export async function finishOf(
  server: TestServer,
  picture: Uint8Array,
  category: string,
  change: (recipe: Recipe) => void,
) {
  const sample = await server.upload('sample.png', picture, { permission: 'given for tests' });
  const { body: made } = await server.call<FinishAnswer>('POST', '/api/finishes', {
    name: 'Of the test',
    category,
    sampleIds: [sample.body.id],
  });
  const recipe = structuredClone(made.draft.recipe);
  change(recipe);
  return { id: made.id, recipe, put: await saveDraft(server, made.id, recipe, made.draft.etag) };
}
