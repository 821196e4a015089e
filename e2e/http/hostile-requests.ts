/* Requests that ended the application, kept it busy, or were answered otherwise than promised: one row each. */

export interface HostileRequest {
  what: string;
  method?: string;
  path: string;
  headers?: Record<string, string>;
  body?: string;
  status: number;
  /** Type of the problem document; none for answers that are no problem */
  type?: string;
  /** What the document says */
  says?: RegExp;
}

export const json = { 'content-type': 'application/json' };
export const csv = { 'content-type': 'text/csv' };
export const HEADER = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask';
const chain = (asOf: string) => `${HEADER}\n${`HOSTILE,${asOf},100,2031-06-20,call,100,1,1.2\n`.repeat(2)}`;
const options = (o: object) => `?options=${encodeURIComponent(JSON.stringify(o))}`;
export const API = '/api/v1';

export const HOSTILE_REQUESTS: HostileRequest[] = [
  // Under another name, or from another site's page
  {
    what: 'a name bound anew to the address',
    path: `${API}/underlyings`,
    headers: { host: 'elsewhere.test' },
    status: 403,
    type: 'forbidden',
    says: /ALLOWED_HOSTS/,
  },
  {
    what: 'the same for a page',
    path: '/data',
    headers: { host: 'elsewhere.test:4173' },
    status: 403,
    type: 'forbidden',
  },
  {
    what: 'a change from another site',
    method: 'POST',
    path: `${API}/feed`,
    headers: { ...json, 'sec-fetch-site': 'cross-site' },
    body: '{}',
    status: 403,
    type: 'forbidden',
  },
  {
    what: 'a change from another origin of this machine',
    method: 'DELETE',
    path: `${API}/underlyings/HOSTILE`,
    headers: { origin: 'http://localhost:9' },
    status: 403,
    type: 'forbidden',
  },
  {
    what: 'a change from a page without an origin',
    method: 'PUT',
    path: `${API}/underlyings/VM50/borrow`,
    headers: { ...json, origin: 'null' },
    body: '{}',
    status: 403,
    type: 'forbidden',
  },
  {
    what: 'a stream from another site',
    path: `${API}/stream`,
    headers: { 'sec-fetch-site': 'cross-site' },
    status: 403,
    type: 'forbidden',
  },
  // Addresses
  { what: 'a plain file', path: '/icon.png', status: 200 },
  { what: 'an unknown path', path: `${API}/nothing/here`, status: 404, type: 'not-found', says: /openapi/ },
  {
    what: 'a method that is not taken',
    method: 'PUT',
    path: `${API}/health`,
    headers: json,
    body: '{}',
    status: 405,
    type: 'invalid-request',
  },
  { what: '%00 in an address', path: `${API}/underlyings/%00`, status: 400, type: 'invalid-request' },
  { what: '%ff in an address', path: `${API}/underlyings/%ff`, status: 400, type: 'invalid-request' },
  { what: '%ff on a page', path: '/skew/%ff', status: 400, type: 'invalid-request' },
  { what: '%00 in a query', path: `${API}/underlyings/VM50/term?asOf=%00`, status: 400, type: 'invalid-request' },
  { what: 'NUL in the name of a group', path: `${API}/jobs/a%00b`, status: 400, type: 'invalid-request' },
  { what: 'an unknown table', path: `${API}/exports/quotes/VM50`, status: 404, type: 'not-found' },
  {
    what: 'an unknown table to import',
    method: 'POST',
    path: `${API}/imports/tables/quotes`,
    headers: csv,
    body: 'a',
    status: 404,
    type: 'not-found',
  },
  {
    what: 'an unknown format',
    path: `${API}/underlyings?format=xml`,
    status: 400,
    type: 'invalid-request',
    says: /format/,
  },
  {
    what: 'an unknown format of a view',
    path: `${API}/underlyings/VM50/term?format=xml`,
    status: 400,
    type: 'invalid-request',
    says: /format/,
  },
  { what: 'an underlying that is not there', path: `${API}/underlyings/..%2f..%2fetc`, status: 404, type: 'not-found' },
  {
    what: 'an instant in the year 0',
    path: `${API}/underlyings/VM50/term?asOf=0000-01-01T00:00:00Z`,
    status: 400,
    type: 'invalid-request',
    says: /asOf/,
  },
  {
    what: 'a session of 31 February',
    path: `${API}/underlyings/VM50/term?asOf=2031-02-31T00:00:00Z`,
    status: 400,
    type: 'invalid-request',
  },
  {
    what: 'a name beyond all measure',
    path: `${API}/underlyings/${'A'.repeat(5000)}/term`,
    status: 404,
    type: 'not-found',
  },
  {
    what: 'a symbol that no header can hold',
    path: `${API}/exports/bars/${encodeURIComponent('é\r\nx')}`,
    status: 400,
    type: 'invalid-request',
  },
  // Bodies
  {
    what: 'no JSON',
    method: 'POST',
    path: `${API}/price`,
    headers: json,
    body: '{"contracts":',
    status: 400,
    type: 'malformed-json',
  },
  {
    what: 'no JSON to fit',
    method: 'POST',
    path: `${API}/surface/fit`,
    headers: json,
    body: '[',
    status: 400,
    type: 'malformed-json',
  },
  {
    what: 'JSON nested deeper than a stack',
    method: 'POST',
    path: `${API}/price`,
    headers: json,
    body: '['.repeat(200_000),
    status: 400,
    type: 'malformed-json',
  },
  {
    what: 'rows nested deep',
    method: 'POST',
    path: `${API}/price`,
    headers: json,
    body: `{"contracts":[${'['.repeat(20_000)}${']'.repeat(20_000)}]}`,
    status: 400,
    type: 'malformed-json',
    says: /24 deep/,
  },
  {
    what: 'NUL in a link',
    method: 'PUT',
    path: `${API}/underlyings/VM50/borrow`,
    headers: json,
    body: '{"donor":"A\\u0000","kind":"shape","shift":null}',
    status: 400,
    type: 'invalid-request',
  },
  {
    what: '40,000 strikes',
    method: 'POST',
    path: `${API}/surface/fit`,
    headers: json,
    body: `{"underlying":1,"slices":[{"years":1,"strikes":[${Array.from({ length: 40_000 }, (_, i) => i + 1).join()}],"callBid":[],"callAsk":[],"putBid":[],"putAsk":[]}]}`,
    status: 400,
    type: 'invalid-request',
  },
  // Files
  {
    what: 'instants in the year 0',
    method: 'POST',
    path: `${API}/imports/chains`,
    headers: csv,
    body: chain('0000-01-01T00:00:00Z'),
    status: 422,
    type: 'import-rejected',
    says: /line 2/,
  },
  {
    what: 'instants beyond the last year',
    method: 'POST',
    path: `${API}/imports/chains`,
    headers: csv,
    body: chain('9999-12-31T23:00:00-14:00'),
    status: 422,
    type: 'import-rejected',
  },
  {
    what: 'a zone that is none',
    method: 'POST',
    path: `${API}/imports/tables/events?zone=Nowhere/Never`,
    headers: csv,
    body: 'underlying,instant,kind,label\nA,2031-01-01T00:00:00,a,a',
    status: 400,
    type: 'invalid-request',
    says: /zone/,
  },
  {
    what: 'a zone with something behind it',
    method: 'POST',
    path: `${API}/imports/chains${options({ zone: '+01:00[u-ca=hebrew]' })}`,
    headers: csv,
    body: chain('2031-03-14T13:00:00Z'),
    status: 400,
    type: 'invalid-request',
    says: /zone/,
  },
  {
    what: 'a session that does not exist',
    method: 'POST',
    path: `${API}/imports/tables/bars`,
    headers: csv,
    body: 'underlying,session,open,high,low,close,volume\nA,2031-02-31,1,1,1,1,1',
    status: 422,
    type: 'import-rejected',
  },
  {
    what: 'an event in the year 275760',
    method: 'POST',
    path: `${API}/imports/tables/events`,
    headers: csv,
    body: 'underlying,instant,kind,label\nA,+275760-09-13T00:00:00Z,a,a',
    status: 422,
    type: 'import-rejected',
  },
  {
    what: 'bars nested deep',
    method: 'POST',
    path: `${API}/imports/tables/bars`,
    headers: csv,
    body: `{"underlying":${'['.repeat(9000)}${']'.repeat(9000)},"session":1,"open":1,"high":1,"low":1,"close":1,"volume":1}`,
    status: 422,
    type: 'import-rejected',
  },
  {
    what: 'an empty file',
    method: 'POST',
    path: `${API}/imports/chains`,
    headers: csv,
    body: '',
    status: 422,
    type: 'import-unreadable',
  },
  {
    what: 'a file without a type',
    method: 'POST',
    path: `${API}/imports/chains`,
    body: 'a',
    status: 400,
    type: 'invalid-request',
    says: /Content-Type/,
  },
  {
    what: 'options that are no JSON',
    method: 'POST',
    path: `${API}/imports/chains?options=%7B`,
    headers: csv,
    body: 'a',
    status: 400,
    type: 'invalid-request',
    says: /options/,
  },
  {
    what: 'an upload that is not here',
    method: 'POST',
    path: `${API}/imports/chains?upload=00000000-0000-4000-8000-000000000000`,
    headers: csv,
    status: 410,
    type: 'gone',
  },
  {
    what: 'the same for its progress',
    path: `${API}/uploads/00000000-0000-4000-8000-000000000000`,
    status: 410,
    type: 'gone',
  },
  // Streams
  {
    what: '21 topics on one connection',
    path: `${API}/stream?${Array.from({ length: 21 }, (_, i) => `topic=S${i}`).join('&')}`,
    status: 400,
    type: 'invalid-request',
    says: /at most 20/,
  },
  { what: 'a topic that is none', path: `${API}/stream?topic=%25ff`, status: 400, type: 'invalid-request' },
];
