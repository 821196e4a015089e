/** Whether a name in an address means this machine alone. */
export const isLoopbackName = (name: string): boolean =>
  /^(localhost|.+\.localhost|127(\.\d{1,3}){3}|\[?::1\]?)$/i.test(name);

/** Whether the other end of a connection is on this machine. */
export const isLoopbackAddress = (address: string): boolean => /^(127\.|::1$|::ffff:127\.)/.test(address);

/** What to do where a server would be reachable from elsewhere without that being said. */
export const OPEN_REMEDY =
  'Whoever reaches the port reads and changes everything: there are no accounts. Say --open where that is meant, as behind a proxy that asks who comes; else leave HOST away.';
/** What is said on the console of one that is. */
export const OPEN_WARNING = 'OPEN: whoever reaches this port reads and changes everything; there are no accounts.';
