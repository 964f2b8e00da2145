import { hostname, networkInterfaces } from 'node:os';

/** Names that a browser may have reached this server by: what else stands in `Host` was made to look like it. */

const LOOPBACK = ['localhost', '127.0.0.1', '::1'];
const EVERY_ADDRESS = ['0.0.0.0', '::'];

/** Name or address in a `Host` header or an address, without its port; '' where there is none. */
export function hostNameOf(host: string): string {
  try {
    return new URL(`http://${host}`).hostname.replace(/^\[|\]$/g, '').toLowerCase();
  } catch {
    return '';
  }
}

/**
 * @param listensOn address that the server listens on
 * @param named further names, as in JOSSEL_HOSTS
 */
export function allowedHosts(listensOn: string, named: readonly string[]): ReadonlySet<string> {
  const own = EVERY_ADDRESS.includes(listensOn)
    ? [
        hostname(),
        ...Object.values(networkInterfaces()).flatMap((all) => (all ?? []).map(({ address }) => address)),
      ]
    : [listensOn];
  return new Set([...LOOPBACK, ...own, ...named].map((name) => name.trim().toLowerCase()).filter(Boolean));
}
