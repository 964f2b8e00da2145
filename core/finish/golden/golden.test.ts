import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { StageCache } from '../../surface';
import {
  asIssued,
  encodeMap,
  mapsOf,
  openRecipe,
  renderFinish,
  STAGE_VERSIONS,
  type MapName,
} from '../index';
import { goldenSources } from './pictures';

/** A recipe as it was stored, and what it renders to. */
interface Stored {
  way: string | null;
  recipe: unknown;
  /** What was solved when it was issued and kept with the revision, gzip in base64; none: it is solved anew. */
  solved?: string;
  /** As issued before versions of stages were written down: every stage at its first. */
  renders: Renders;
  /** As the newest version of every stage renders it, where that differs; the versions are written down with it. */
  now: { versions: Record<string, number>; renders: Renders } | null;
}
type Renders = Record<string, Rendered>;
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

async function rendered(
  { way, recipe: stored, renders, solved }: Stored,
  versions?: Record<string, number>,
): Promise<Renders> {
  const { kept } = asIssued(null, solved ? new Uint8Array(gunzipSync(Buffer.from(solved, 'base64'))) : null);
  const recipe = openRecipe(stored);
  const cache = new StageCache();
  const sources = goldenSources();
  const out: Renders = {};
  for (const width of Object.keys(renders)) {
    const options = {
      widthPx: Number(width),
      way,
      cache,
      ...(versions ? { versions } : {}),
      ...(kept ? { kept } : {}),
    };
    const finish = await renderFinish(recipe, sources, options);
    const { report, heightPx } = finish;
    const hashes = mapsOf(recipe).map((name) => {
      const { data } = encodeMap(finish, name);
      const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
      return [name, createHash('sha256').update(bytes).digest('hex').slice(0, 16)] as const;
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

const read = (name: string) => JSON.parse(readFileSync(join(FOLDER, `${name}.json`), 'utf8')) as Stored;

test.each(names)(
  'issued before versions were kept, it renders to the same bytes as ever: %s',
  async (name) => {
    const stored = read(name);
    expect(await rendered(stored, {})).toEqual(stored.renders);
  },
);

test.each(names)(
  'what the newest stages render is what was written down with their versions: %s',
  async (name) => {
    const stored = read(name);
    const renders = await rendered(stored);
    if (process.env['WRITE_GOLDEN']) {
      const differs = JSON.stringify(renders) !== JSON.stringify(stored.renders);
      const now = differs ? { versions: STAGE_VERSIONS, renders } : null;
      writeFileSync(join(FOLDER, `${name}.json`), `${JSON.stringify({ ...stored, now }, null, 1)}\n`);
      return;
    }
    // Other bytes of the same versions: the version of the stage that changed has to rise, and the file to be written anew.
    expect(renders).toEqual(stored.now?.renders ?? stored.renders);
    if (stored.now) expect(stored.now.versions).toEqual(STAGE_VERSIONS);
  },
);
