/** Compares a database with one that was restored from its backup: rows of every table, and the bytes of stored files. */
import { createHash } from 'node:crypto';
import pg from 'pg';

const TABLES = [
  'blobs',
  'samples',
  'finishes',
  'revisions',
  'projects',
  'rooms',
  'surfaces',
  'light_sets',
  'tasks',
];
/** So many files are read back and hashed; all of them, if they are fewer. */
const FILES = 200;

const [from, to] = process.argv.slice(2).map((connectionString) => new pg.Client({ connectionString }));
await from.connect();
await to.connect();
const count = async (client, table) =>
  (await client.query(`select count(*)::int as n from ${table}`)).rows[0].n;
let wrong = 0;
for (const table of TABLES) {
  const [before, after] = [await count(from, table), await count(to, table)];
  // What is written meanwhile is not in the backup.
  if (after > before || (before > 0 && after === 0)) wrong++;
  console.log(`${table}: ${after} of ${before} rows`);
}
const { rows } = await to.query(`select sha256 from blobs order by random() limit ${FILES}`);
for (const { sha256 } of rows) {
  const chunks = await to.query('select bytes from blob_chunks where sha256 = $1 order by n', [sha256]);
  const hash = createHash('sha256');
  for (const { bytes } of chunks.rows) hash.update(bytes);
  if (hash.digest('hex') !== sha256) {
    wrong++;
    console.log(`the file ${sha256} is not what it was`);
  }
}
console.log(`${rows.length} files read back and hashed`);
await from.end();
await to.end();
console.log(wrong === 0 ? 'The backup restores.' : `The backup does not restore: ${wrong} differences.`);
process.exit(wrong === 0 ? 0 : 1);
