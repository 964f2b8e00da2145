import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const root =
  [here, join(here, '..'), join(here, '../..')].find((dir) => existsSync(join(dir, 'package-lock.json'))) ??
  process.cwd();

const standinsUrl = process.env['JOSSEL_STANDINS_URL'] ?? 'http://127.0.0.1:4311';
const listed = (text: string | undefined) =>
  (text ?? '')
    .split(',')
    .map((entry) => entry.trim().toLowerCase())
    .filter(Boolean);

/** Settings from the environment, read once. */
export const config = {
  databaseUrl: process.env['DATABASE_URL'] ?? '',
  host: process.env['JOSSEL_HOST'] ?? '127.0.0.1',
  /** Names that this server is reached by, beside loopback and the address it listens on. */
  hosts: listed(process.env['JOSSEL_HOSTS']),
  port: Number(process.env['JOSSEL_PORT'] ?? 4310),
  /** Where the outside world is reached: the stand-ins, unless the settings name other addresses. */
  standinsUrl,
  /** Hosts, with or without a port, that outside services may be at. */
  outsideHosts: [new URL(standinsUrl).host, ...listed(process.env['JOSSEL_OUTSIDE_HOSTS'])],
  /** Threads that compute; 0 leaves the work to other worker processes. */
  threads: Number(process.env['JOSSEL_THREADS'] ?? 2),
  webFolder: join(root, 'web/dist'),
  version: '0.1.0',
};

/** Limits on what is taken in. */
export const LIMITS = { uploadBytes: 256 * 1024 * 1024, pixels: 200_000_000 };
