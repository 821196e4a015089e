import { readDoorSettings } from '../processes/environment.ts';
import { problem } from './problem.ts';

const LOOPBACK = /^(localhost|.+\.localhost|127(\.\d{1,3}){3}|\[::1\])$/i;

/** Name in a Host header without its port. */
function nameOf(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}

let allowed: Set<string> | undefined;
/** Names beside loopback that the application answers to. */
function allowedNames(): Set<string> {
  if (allowed) return allowed;
  const { ORIGIN, ALLOWED_HOSTS } = readDoorSettings();
  allowed = new Set([...(ORIGIN ? [nameOf(new URL(ORIGIN).host)] : []), ...ALLOWED_HOSTS.map(nameOf)]);
  return allowed;
}

const isKnown = (host: string) => LOOPBACK.test(nameOf(host)) || allowedNames().has(nameOf(host));

/**
 * Refuses requests that another site's page makes a browser send: under a name that is not the application's (a name that was
 * bound anew to its address would read and write everything), and changes and streams that come from elsewhere.
 */
export function doorRefusal(request: Request): Response | undefined {
  const host = request.headers.get('host') ?? '';
  if (!isKnown(host)) {
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
