import { request as httpRequest } from 'node:http';

export interface RawAnswer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
}

/** A request as it is written, which neither a browser nor a client would send so. */
export function rawRequest(
  address: string,
  o: { method?: string; path: string; headers?: Record<string, string>; body?: string | Buffer; abortAfter?: number },
): Promise<RawAnswer> {
  const { hostname, port } = new URL(address);
  return new Promise((resolve, reject) => {
    const request = httpRequest(
      { hostname, port, method: o.method ?? 'GET', path: o.path, headers: o.headers, setHost: !o.headers?.host },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (piece: string) => (text += piece));
        response.on('end', () => resolve({ status: response.statusCode ?? 0, headers: response.headers, text }));
        response.on('error', reject);
      },
    );
    request.on('error', reject);
    if (o.abortAfter !== undefined) setTimeout(() => request.destroy(new Error('left')), o.abortAfter);
    request.end(o.body);
  });
}
