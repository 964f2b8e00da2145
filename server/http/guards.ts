import helmet from '@fastify/helmet';
import type { FastifyRequest } from 'fastify';
import { Problem } from '../problem';
import type { App } from '../routes/app';
import { hostNameOf } from './hosts';

const READING = ['GET', 'HEAD', 'OPTIONS'];
/** What `Sec-Fetch-Site` says of a call that no other site's page has sent. */
const OWN_SITE = ['same-origin', 'none'];

/**
 * Keeps other sites' pages from calling this server through somebody's browser: the name it was reached by is one of its
 * own, and what changes something comes from its own pages. Programs, which send neither `Origin` nor `Sec-Fetch-Site`,
 * are not concerned.
 */
export async function guard(app: App, hosts: ReadonlySet<string>): Promise<void> {
  app.addHook('onRequest', async (request) => {
    refuseForeignHost(request, hosts);
    if (!READING.includes(request.method)) refuseForeignOrigin(request);
  });
  await app.register(helmet, {
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        // Kernels are WebAssembly; workers are scripts of our own.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'", 'blob:'],
        // styled-components writes its rules into the page.
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'", 'data:'],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
      },
    },
    // It is served on loopback without TLS; whoever puts a proxy before it sets this there.
    strictTransportSecurity: false,
    referrerPolicy: { policy: 'no-referrer' },
    // Isolated from other sites, pages may share memory between threads.
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
  });
}

function refuseForeignHost(request: FastifyRequest, hosts: ReadonlySet<string>): void {
  if (hosts.has(hostNameOf(request.headers.host ?? ''))) return;
  throw new Problem(
    421,
    'Not this server',
    'This server does not answer to that name. Names it is to be reached by are listed in JOSSEL_HOSTS.',
  );
}

function refuseForeignOrigin({ headers }: FastifyRequest): void {
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  const own = origin
    ? URL.canParse(origin) && new URL(origin).host === headers.host?.toLowerCase()
    : site === undefined || OWN_SITE.includes(String(site));
  if (!own) throw new Problem(403, 'Another site', 'Only pages of Jossel itself may change something here.');
}
