/**
 * The answer to an address that no route can take, because it is not percent-encoded UTF-8 or holds a control character;
 * undefined for all others. The framework answers some of these in plain text, and passes others on.
 */
export function malformedAddress(url: string): { status: 400; type: string; body: string } | undefined {
  const path = url.split('?', 1)[0];
  let decoded: string;
  try {
    decoded = decodeURIComponent(path);
  } catch {
    return refused('the address is not percent-encoded UTF-8');
  }
  // eslint-disable-next-line no-control-regex -- these are what is looked for
  if (/[\u0000-\u001f\u007f]/.test(decoded)) return refused('the address holds a control character');
  return undefined;
}

function refused(detail: string) {
  const body = JSON.stringify({
    type: 'invalid-request',
    title: 'The request is not as the contract asks',
    status: 400,
    detail,
  });
  return { status: 400 as const, type: 'application/problem+json', body };
}
