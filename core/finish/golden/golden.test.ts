import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { hashOfBytes, StageCache } from '../../surface';
import { encodeMap, mapsOf, openRecipe, renderFinish, type MapName } from '../index';
import { goldenSources } from './pictures';

/** A recipe as it was stored, and what it has rendered to ever since. */
interface Stored {
  way: string | null;
  recipe: unknown;
  renders: Record<string, Rendered>;
}
interface Rendered {
  heightPx: number;
  lrv: number;
  seam: [number, number];
  checks: string[];
  /** First digits of the SHA-256 of each map as it is handed over. */
  maps: Partial<Record<MapName, string>>;
}

const FOLDER = join(__dirname, 'stored');
const names = readdirSync(FOLDER).map((file) => file.replace(/\.json$/, ''));

async function rendered({ way, recipe: stored, renders }: Stored): Promise<Stored['renders']> {
  const recipe = openRecipe(stored);
  const cache = new StageCache();
  const sources = goldenSources();
  const out: Stored['renders'] = {};
  for (const width of Object.keys(renders)) {
    const finish = await renderFinish(recipe, sources, { widthPx: Number(width), way, cache });
    const { report, heightPx } = finish;
    const hashes = mapsOf(recipe).map((name) => {
      const { data } = encodeMap(finish, name);
      const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
      return [name, hashOfBytes(bytes).slice(0, 16)] as const;
    });
    out[width] = {
      heightPx,
      lrv: report.lrv,
      seam: [report.seam.acrossWidth, report.seam.acrossHeight],
      checks: report.checks.map((c) => c.code).sort(),
      maps: Object.fromEntries(hashes),
    };
  }
  return out;
}

test.each(names)('a stored recipe renders to the same bytes as ever: %s', async (name) => {
  const stored = JSON.parse(readFileSync(join(FOLDER, `${name}.json`), 'utf8')) as Stored;
  expect(await rendered(stored)).toEqual(stored.renders);
});
