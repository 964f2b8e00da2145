import { execFileSync } from 'node:child_process';
import { serve } from '../server/test/serve';
import { STUDIO } from './jossel';

/** Loads the demo studio once, with its small pictures drawn; every worker's server begins as a copy of it. */
export default async function makeStudio(): Promise<void> {
  const server = await serve();
  execFileSync(process.execPath, ['demo/dist/load.js', server.url], { stdio: 'inherit' });
  const { body } = await server.call<{ items: { id: string }[] }>('GET', '/api/finishes?limit=200');
  await Promise.all(
    body.items.map(({ id }) =>
      fetch(`${server.url}/api/finishes/${id}/swatch.png`).then((r) => r.arrayBuffer()),
    ),
  );
  await server.endAs(STUDIO);
}
