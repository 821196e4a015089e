/** A sender that is refused in the middle has so long to read why, milliseconds. */
const LET_GO_AFTER = 5000;

/**
 * Throws away what is left of a body that is refused, and cuts its sender off if it does not come to an end: cut at once, one that
 * is still sending would not see what it is answered; left unread, its connection could not be used again.
 */
export function letGo(rest: AsyncIterator<Uint8Array>): void {
  const cut = setTimeout(() => void rest.return?.().catch(() => undefined), LET_GO_AFTER);
  cut.unref();
  const drain = async () => {
    while (!(await rest.next()).done);
  };
  drain()
    .catch(() => undefined)
    .finally(() => clearTimeout(cut));
}
