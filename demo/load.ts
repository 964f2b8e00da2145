import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Recipe } from '@jossel/core/finish';
import { recipeOfDemo } from './finish';
import { DEMO_LIGHT_SETS, type DemoLightSet } from './light-sets';
import { DEMO_FINISHES, DEMO_GENERATED, DEMO_PROJECTS } from './studio';

/** Loads the demo studio into an empty Jossel through its HTTP interface: load URL. */
const url = process.argv[2] ?? 'http://127.0.0.1:4310';
const here = dirname(fileURLToPath(import.meta.url));
const pictures = [join(here, 'samples'), join(here, '../samples')].find(existsSync);

async function call<T>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<T> {
  const form = body instanceof FormData;
  const response = await fetch(url + path, {
    method,
    headers: { ...(body !== undefined && !form ? { 'content-type': 'application/json' } : {}), ...headers },
    ...(body !== undefined ? { body: form ? body : JSON.stringify(body) } : {}),
  });
  const answer = (await response.json()) as T & { detail?: string };
  if (!response.ok) throw new Error(`${method} ${path}: ${answer.detail ?? response.status}`);
  return answer;
}

/** Measures relief and colour of a finish from its pictures under several lights. */
async function loadLightSet(folder: string, { files, ...set }: DemoLightSet): Promise<void> {
  const form = new FormData();
  for (const [key, value] of Object.entries(set.origin)) form.append(key, value);
  const list = readFileSync(join(folder, `${files}.json`), 'utf8');
  form.append('lights', list);
  for (const { file } of JSON.parse(list) as { file: string }[])
    form.append('file', new Blob([readFileSync(join(folder, file))]), file);
  const { id: lightSetId } = await call<{ id: string }>('POST', '/api/light-sets', form);
  const made = await call<{ id: string; draft: { recipe: Recipe; etag: string } }>('POST', '/api/finishes', {
    name: set.name,
    category: set.category,
    lightSetId,
    overallMm: set.overallMm,
    straighten: { bowLines: [], frame: set.frame },
  });
  const { recipe, etag } = made.draft;
  set.shape(recipe);
  await call('PUT', `/api/finishes/${made.id}/draft`, { recipe }, { 'if-match': etag });
}

const { total } = await call<{ total: number }>('GET', '/api/finishes?limit=1');
const { items: projects } = await call<{ items: unknown[] }>('GET', '/api/projects');
if (total === 0 && projects.length === 0) {
  if (!pictures) throw new Error('The folder demo/samples is missing. Make it with: npm run demo:samples');
  console.log('Loading the demo studio …');
  // Measuring takes longest: the rest is loaded meanwhile.
  const folder = pictures;
  const measuring = Promise.all(DEMO_LIGHT_SETS.map((set) => loadLightSet(folder, set)));
  measuring.catch(() => undefined);
  const finishIds = new Map<string, string>();
  for (const { name, category, recipe, revisions } of DEMO_GENERATED) {
    const made = await call<{ id: string }>('POST', '/api/finishes', { name, category, recipe: recipe() });
    finishIds.set(name, made.id);
    for (const note of revisions) await call('POST', `/api/finishes/${made.id}/revisions`, { note });
  }
  for (const finish of DEMO_FINISHES) {
    const form = new FormData();
    for (const [key, value] of Object.entries(finish.origin)) form.append(key, value);
    form.append('file', new Blob([readFileSync(join(pictures, finish.file))]), finish.file);
    const sample = await call<{ id: string; widthPx: number; heightPx: number }>(
      'POST',
      '/api/samples',
      form,
    );
    const recipe = recipeOfDemo(finish, sample);
    const made = await call<{ id: string; draft: { etag: string } }>('POST', '/api/finishes', {
      name: finish.name,
      category: finish.category,
      recipe,
    });
    finishIds.set(finish.name, made.id);
    let { etag } = made.draft;
    for (const revision of finish.revisions) {
      await call('POST', `/api/finishes/${made.id}/revisions`, { note: revision.note });
      if (!revision.after) continue;
      revision.after(recipe);
      ({ etag } = await call<{ etag: string }>(
        'PUT',
        `/api/finishes/${made.id}/draft`,
        { recipe },
        { 'if-match': etag },
      ));
    }
    if (finish.state === 'checked') await call('PATCH', `/api/finishes/${made.id}`, { state: 'checked' });
  }
  for (const project of DEMO_PROJECTS) {
    const { id } = await call<{ id: string }>('POST', '/api/projects', {
      name: project.name,
      note: project.note,
    });
    if (project.camera) await call('PATCH', `/api/projects/${id}`, { camera: project.camera });
    for (const room of project.rooms) {
      const made = await call<{ id: string }>('POST', `/api/projects/${id}/rooms`, { name: room.name });
      for (const { finish, revision, ...surface } of room.surfaces) {
        await call('POST', `/api/rooms/${made.id}/surfaces`, {
          ...surface,
          ...(finish ? { finish: { id: finishIds.get(finish)!, ...(revision ? { revision } : {}) } } : {}),
        });
      }
    }
  }
  await measuring;
  // What is withdrawn later was in use before.
  for (const finish of DEMO_FINISHES)
    if (finish.state === 'withdrawn')
      await call('PATCH', `/api/finishes/${finishIds.get(finish.name)!}`, { state: 'withdrawn' });
}
