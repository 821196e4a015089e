import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { RequestListener } from 'node:http';
import { isOpen, readServeSettings } from '../src/lib/server/processes/environment.ts';
import { isLoopbackName, OPEN_REMEDY, OPEN_WARNING } from '../src/lib/server/processes/loopback.ts';
import { malformedAddress } from '../src/lib/server/http/malformed-address.ts';

/* The web server: the built application behind a door that sees every request, also those for plain files. */

// The application counts bytes as they come, each kind of body against its own limit.
process.env.BODY_SIZE_LIMIT ??= 'Infinity';
if (process.argv.includes('--open')) process.env.OPEN = 'yes';
const settings = readServeSettings();
if (!isLoopbackName(settings.HOST)) {
  if (!isOpen()) {
    console.error(`HOST=${settings.HOST} is not this machine alone. ${OPEN_REMEDY}`);
    process.exit(2);
  }
  console.warn(OPEN_WARNING);
}
const address = `http://${settings.HOST.includes(':') ? `[${settings.HOST}]` : settings.HOST}:${settings.PORT}`;
process.env.ORIGIN ??= address;
const application = new URL('../build/handler.js', import.meta.url);
if (!existsSync(fileURLToPath(application))) {
  console.error('The application is not built; run npm run build.');
  process.exit(1);
}
const { handler } = (await import(application.href)) as { handler: RequestListener };

const server = createServer((request, response) => {
  response.setHeader('x-content-type-options', 'nosniff');
  // Of plain files that a build may change; what is named by its contents says for itself that it stays.
  response.setHeader('cache-control', 'public, max-age=3600');
  const refusal = malformedAddress(request.url ?? '');
  if (refusal) {
    response.writeHead(refusal.status, { 'content-type': refusal.type });
    response.end(refusal.body);
    return;
  }
  handler(request, response);
});
// A header that trickles in holds nothing; bodies have a limit of their own between two bytes.
server.headersTimeout = 15_000;
// Longer than proxies and browsers keep theirs: who closes first must not be the one that is about to be asked.
server.keepAliveTimeout = 65_000;
server.requestTimeout = 0;
server.listen(settings.PORT, settings.HOST);

/** Stops listening, lets what is being answered end, then tells the application to close what it holds open. */
function stop(): void {
  server.close(() => process.emit('sveltekit:shutdown' as never));
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), 1000).unref();
}
process.once('SIGINT', stop);
process.once('SIGTERM', stop);
process.on('uncaughtException', (error) => {
  // What no request owns leaves the process in a state that nobody knows: whoever supervises it starts it again.
  console.error('The server ends because of an error that no request owns:', error);
  process.exit(1);
});
