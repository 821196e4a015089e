import { readDoorSettings } from '../processes/environment.ts';
import { isLoopbackAddress, isLoopbackName } from '../processes/loopback.ts';
import { problem } from './problem.ts';

/** Name in a Host header without its port. */
function nameOf(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}

let allowed: Set<string> | undefined;
/** Names beside loopback that the application answers to. */
function allowedNames(): Set<string> {
  if (allowed) return allowed;
  const { ORIGIN, ALLOWED_HOSTS } = readDoorSettings();
  const own = ORIGIN === undefined ? [] : [nameOf(new URL(ORIGIN).host)];
  // Names of this machine are known by the peer's address alone.
  allowed = new Set([...own, ...ALLOWED_HOSTS.map(nameOf)].filter((name) => !isLoopbackName(name)));
  return allowed;
}

/** A name of this machine is one only for who is on it: from elsewhere anybody can write it into a header. */
const isKnown = (host: string, peer: string | undefined) =>
  allowedNames().has(nameOf(host)) || (isLoopbackName(nameOf(host)) && (peer === undefined || isLoopbackAddress(peer)));

/**
 * Refuses requests that another site's page makes a browser send: under a name that is not the application's (a name that was
 * bound anew to its address would read and write everything), and changes and streams that come from elsewhere.
 *
 * @param peer address of the other end of the connection, whatever its headers say; undefined in development
 */
export function doorRefusal(request: Request, peer: string | undefined): Response | undefined {
  const host = request.headers.get('host') ?? '';
  if (!isKnown(host, peer)) {
    const detail = `this is not ${host.slice(0, 80) || 'a request without a Host'}; name it in ALLOWED_HOSTS if it should be`;
    return problem(403, 'forbidden', { detail });
  }
  const isRead = request.method === 'GET' || request.method === 'HEAD';
  const isStream = new URL(request.url).pathname === '/api/v1/stream';
  if (isRead && !isStream) return undefined;
  const site = request.headers.get('sec-fetch-site');
  const origin = request.headers.get('origin');
  const isElsewhere = site === 'cross-site' || (origin !== null && !isOwn(origin, host));
  return isElsewhere
    ? problem(403, 'forbidden', { detail: 'requests that change something come from the application itself only' })
    : undefined;
}

/** Whether an Origin is the one that the page was loaded from. */
function isOwn(origin: string, host: string): boolean {
  const { ORIGIN } = readDoorSettings();
  if (ORIGIN !== undefined && origin === new URL(ORIGIN).origin) return true;
  try {
    return new URL(origin).host.toLowerCase() === host.toLowerCase();
  } catch {
    // "null", as a page without an origin of its own sends.
    return false;
  }
}
