import { lookup as dnsLookup, type LookupAddress } from 'node:dns';
import { BlockList, isIP, type LookupFunction } from 'node:net';

/** Which addresses outside services may have: hosts that whoever runs Jossel has listed, and nothing else of the network. */

/** `host` or `host:port` of an address, as in the list. */
const hostOf = ({ hostname, port, protocol }: URL): { host: string; withPort: string } => ({
  host: hostname,
  withPort: `${hostname}:${port || (protocol === 'https:' ? '443' : '80')}`,
});

/**
 * Why an address may not be used; null: it may.
 * @param allowed hosts with or without a port; without one, any port of it
 */
export function faultOfAddress(address: string, allowed: readonly string[]): string | null {
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    return 'Give an address such as http://127.0.0.1:4311.';
  const url = new URL(address);
  if (url.username || url.password) return 'An address may not hold a name or a password.';
  if (url.search || url.hash || /[?#]/.test(address)) return 'An address ends before "?" and "#".';
  const { host, withPort } = hostOf(url);
  if (!allowed.includes(host) && !allowed.includes(withPort))
    return `${withPort} is not among the hosts that may be called. Whoever runs Jossel lists them in JOSSEL_OUTSIDE_HOSTS; now they are ${allowed.join(', ') || 'none'}.`;
  return null;
}

/** A fixed path at an address; the address may have a path of its own, which stays before it. */
export function at(address: string, path: string): URL {
  const url = new URL(address);
  url.pathname = url.pathname.replace(/\/+$/, '') + path;
  return url;
}

const loopback = new BlockList();
loopback.addSubnet('127.0.0.0', 8);
loopback.addAddress('::1', 'ipv6');
/** Addresses of the machine and of the link, groups, and the unspecified one: no service is there. */
const nowhere = new BlockList();
nowhere.addSubnet('0.0.0.0', 8);
nowhere.addSubnet('169.254.0.0', 16);
nowhere.addSubnet('224.0.0.0', 3);
nowhere.addAddress('::', 'ipv6');
nowhere.addSubnet('fe80::', 10, 'ipv6');
nowhere.addSubnet('ff00::', 8, 'ipv6');

/** Whether a name may stand for an address: one of the network may not lead to the machine itself. */
export function mayResolve(host: string, address: string): boolean {
  const family = isIP(address) === 6 ? 'ipv6' : 'ipv4';
  // ::ffff:127.0.0.1 is 127.0.0.1.
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return mayResolve(host, mapped);
  if (nowhere.check(address, family)) return false;
  return host === 'localhost' || isIP(host) !== 0 || !loopback.check(address, family);
}

/** Resolves a name when it is connected to, so that what was checked is what is called. */
export const checkedLookup: LookupFunction = (host, options, done) => {
  dnsLookup(host, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return done(error, []);
    const allowed = found.filter(({ address }) => mayResolve(host, address));
    if (allowed.length === 0)
      return done(
        Object.assign(new Error(`${host} leads to an address that is not called`), { code: 'EACCES' }),
        [],
      );
    if (options.all) return done(null, allowed);
    return done(null, allowed[0]!.address, allowed[0]!.family);
  });
};
