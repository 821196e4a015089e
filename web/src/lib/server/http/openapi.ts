import { createDocument, type ZodOpenApiPathsObject } from 'zod-openapi';
import { z } from 'zod';
import { pictureQuery } from '../../api/as-of-context.ts';
import { feedCommand, feedStatus, jobGroup, processStatus } from '../../api/live.ts';
import {
  filePreview,
  tableExport,
  tableImport,
  tableImportResult,
  tableKind,
  tablePreview,
} from '../../api/table-export.ts';
import { importOptions, importPreview, importResult } from '../../api/chain-import.ts';
import { marketResource } from '../../api/market-resource.ts';
import { pastResource } from '../../api/past-resource.ts';
import { surfaceResource } from '../../api/surface-resource.ts';
import { expiryPicture, picture } from '../../api/picture.ts';
import { underlyingChange, underlyingSummary } from '../../api/underlying.ts';
import {
  impliedVolatilityContract,
  impliedVolatilityResponse,
  MAX_CONTRACTS,
  priceContract,
  priceResponse,
} from '../../api/price.ts';
import { instantText, storedSymbol } from '../../api/quantity.ts';
import { borrowResponse, smileLink } from '../../api/borrow.ts';
import { carryResponse, carryTerms } from '../../api/carry.ts';
import { chainRow } from '../../api/chain-row.ts';
import { termRow } from '../../api/term-row.ts';
import { skewHistoryResponse, skewTenor } from '../../api/skew-history.ts';
import { spreadsResponse, tradesResponse } from '../../api/traded.ts';
import { upload } from '../../api/upload.ts';
import { shownTableRequest } from '../../api/shown-table.ts';
import { surfaceFitRequest, surfaceFitResponse } from '../../api/surface-fit.ts';

const problemDocument = z
  // Some carry more, such as the rows to mend.
  .looseObject({
    type: z.string(),
    title: z.string(),
    status: z.number(),
    detail: z.string().optional(),
    errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  })
  .meta({ id: 'Problem', description: 'Problem document of RFC 9457; errors name each field by its path' });

const failure = { description: 'Problem', content: { 'application/problem+json': { schema: problemDocument } } };
const ok = (schema: z.ZodType, description: string) => ({
  '200': { description, content: { 'application/json': { schema } } },
  '4XX': failure,
  '5XX': failure,
});
const post = (summary: string, body: z.ZodType, response: z.ZodType) => ({
  post: {
    summary,
    requestBody: { content: { 'application/json': { schema: body } } },
    responses: ok(response, summary),
  },
});
const csvFormat = { format: z.enum(['csv']).optional() };
const asOfParameters = { path: z.object({ symbol: storedSymbol }), query: pictureQuery };
const view = (summary: string, response: z.ZodType) => ({
  get: { summary, requestParams: asOfParameters, responses: ok(response, summary) },
});
/** A view whose rows are a list: as CSV too, by the query or by what is accepted. */
const list = (summary: string, response: z.ZodType, more: z.ZodRawShape = {}) => ({
  get: {
    summary,
    requestParams: { ...asOfParameters, query: pictureQuery.extend({ ...csvFormat, ...more }) },
    responses: okOrCsv(response, summary),
  },
});
/** A list of what is stored, the same way. */
const storedList = (summary: string, response: z.ZodType, description: string) => ({
  get: { summary, requestParams: { query: z.object(csvFormat) }, responses: okOrCsv(response, description) },
});
function okOrCsv(schema: z.ZodType, description: string) {
  const responses = ok(schema, description);
  const content = { ...responses['200'].content, 'text/csv': { schema: z.string() } };
  return { ...responses, '200': { ...responses['200'], content } };
}

const readiness = z.object({
  status: z.enum(['ready', 'not-ready']),
  missing: z.array(z.enum(['database', 'migrations', 'worker'])),
});
const importQuery = z.object({
  options: z.string().optional().meta({ description: 'ImportOptions as JSON' }),
  upload: z.uuid().optional().meta({ description: 'Of a file that was uploaded before, in place of a body' }),
  beside: z.uuid().optional().meta({ description: 'Of another that belongs to it, as the puts to the calls' }),
});
const previewQuery = importQuery.extend({ fileName: z.string().max(255).optional() });
const anyFile = {
  content: {
    'text/csv': { schema: z.string() },
    'application/json': { schema: z.string() },
    'application/octet-stream': { schema: z.string() },
  },
};

const tableImportText = tableImport.omit({ terms: true }).extend({
  terms: z.string().optional().meta({ description: 'Terms of new underlyings as JSON' }),
});

const paths: ZodOpenApiPathsObject = {
  '/health': {
    get: { summary: 'Whether the process answers', responses: ok(z.object({ status: z.literal('ok') }), 'It does') },
  },
  '/ready': {
    get: {
      summary: 'Whether pages can be served; a missing worker only keeps long work waiting',
      responses: {
        '200': { description: 'Ready', content: { 'application/json': { schema: readiness } } },
        '503': {
          description: 'Not ready, and what is missing',
          content: { 'application/json': { schema: readiness } },
        },
        '4XX': failure,
      },
    },
  },
  '/processes': storedList(
    "The application's processes on any machine",
    z.object({ processes: z.array(processStatus) }),
    'Processes by age',
  ),
  '/uploads': {
    post: {
      summary: 'Take a file in, to be previewed and imported by its id',
      requestBody: { content: { 'application/octet-stream': { schema: z.string() } } },
      responses: {
        '201': { description: 'The file is here', content: { 'application/json': { schema: upload } } },
        '4XX': failure,
        '5XX': failure,
      },
    },
  },
  '/uploads/{id}': {
    get: {
      summary: 'What is being done with an upload; 410 when it is not here any more',
      requestParams: { path: z.object({ id: z.string() }) },
      responses: ok(upload, 'The upload'),
    },
    delete: {
      summary: 'Remove an upload',
      requestParams: { path: z.object({ id: z.string() }) },
      responses: { '204': { description: 'It is not here any more' }, '4XX': failure, '5XX': failure },
    },
  },
  '/price': post(
    'Value and Greeks of up to 100 000 contracts',
    z.object({
      accuracy: z.enum(['fast', 'default', 'exact']).optional(),
      contracts: z.array(priceContract).max(MAX_CONTRACTS),
    }),
    priceResponse,
  ),
  '/implied-volatility': post(
    'Implied volatility of up to 100 000 prices',
    z.object({
      accuracy: z.enum(['fast', 'default', 'exact']).optional(),
      contracts: z.array(impliedVolatilityContract).max(MAX_CONTRACTS),
    }),
    impliedVolatilityResponse,
  ),
  '/surface/fit': post('Judge, imply and fit the quotes of one underlying', surfaceFitRequest, surfaceFitResponse),
  '/underlyings': storedList(
    'All underlyings',
    z.object({ underlyings: z.array(underlyingSummary) }),
    'Underlyings and contract terms',
  ),
  '/underlyings/{symbol}': {
    get: {
      summary: 'One underlying',
      requestParams: { path: asOfParameters.path },
      responses: ok(underlyingSummary.extend({ first: figureInstant(), latest: figureInstant() }), 'Underlying'),
    },
    patch: {
      summary:
        'Give an imported underlying another symbol, which the old one leads to, or other terms, under which a job derives it anew',
      requestParams: { path: asOfParameters.path },
      requestBody: { content: { 'application/json': { schema: underlyingChange } } },
      responses: ok(underlyingSummary.extend({ job: z.uuid().optional() }), 'Underlying'),
    },
    delete: {
      summary: 'Take an imported underlying out with all that is stored of it',
      requestParams: { path: asOfParameters.path },
      responses: { '204': { description: 'It is gone' }, '4XX': failure, '5XX': failure },
    },
  },
  '/underlyings/{symbol}/instants': {
    get: {
      summary: 'Instants at which quotes of an underlying are stored, newest first',
      requestParams: { path: asOfParameters.path },
      responses: ok(z.object({ instants: z.array(instantText) }), 'Instants'),
    },
    delete: {
      summary: 'Take out what was imported at some instants',
      requestParams: { path: asOfParameters.path, query: z.object({ instant: z.array(z.string()) }) },
      responses: ok(z.object({ removed: z.number() }), 'How many slices'),
    },
  },
  '/exports/{table}/{symbol}': {
    get: {
      summary: 'A stored table of an underlying (of a currency, for rates) as a file that imports again',
      requestParams: { path: z.object({ table: tableKind, symbol: storedSymbol }), query: tableExport },
      responses: {
        '200': {
          description: 'CSV, one JSON object a line, Parquet or, for events, iCalendar',
          content: {
            'text/csv': { schema: z.string() },
            'application/jsonl': { schema: z.string() },
            'application/vnd.apache.parquet': { schema: z.string() },
            'text/calendar': { schema: z.string() },
          },
        },
        '4XX': failure,
        '5XX': failure,
      },
    },
  },
  '/imports/tables/{table}': {
    post: {
      summary: 'Import bars, rates, dividends or events, all or nothing',
      requestParams: { path: z.object({ table: tableKind.exclude(['chains']) }), query: tableImportText },
      requestBody: anyFile,
      responses: ok(tableImportResult, 'Imported'),
    },
  },
  '/stream': {
    get: {
      summary: 'Server-sent events: status every second, the picture of each topic with every wave of quotes',
      requestParams: { query: z.object({ topic: z.array(z.string()).optional() }) },
      responses: {
        '200': { description: 'Events', content: { 'text/event-stream': { schema: z.string() } } },
        '4XX': failure,
        '5XX': failure,
      },
    },
  },
  '/feed': {
    get: { summary: 'State of the feed', responses: ok(feedStatus, 'State') },
    ...post('Start, pause, step or set the feed', feedCommand, feedStatus),
  },
  '/jobs': {
    get: {
      summary: 'Long work and how far it is',
      responses: ok(z.object({ groups: z.array(jobGroup) }), 'Groups of jobs'),
    },
  },
  '/imports': storedList(
    'Imports, newest first',
    z.object({ imports: z.array(z.looseObject({ id: z.string(), fileName: z.string(), undo: z.string() })) }),
    'Imports',
  ),
  '/jobs/{group}': {
    get: {
      summary: 'Jobs of one group, or the one job of an id',
      requestParams: { path: z.object({ group: z.string() }) },
      responses: ok(
        z.union([
          z.object({ jobs: z.array(z.looseObject({ id: z.string(), state: z.string() })) }),
          z.looseObject({ id: z.string(), state: z.string(), share: z.number() }),
        ]),
        'Jobs',
      ),
    },
    delete: {
      summary: 'Cancel what a group of jobs has not done yet',
      requestParams: { path: z.object({ group: z.string() }) },
      responses: ok(z.object({ cancelled: z.number() }), 'Jobs that will not begin'),
    },
  },
  '/underlyings/{symbol}/chain': list(
    'Quotes of one expiry against theory',
    z.object({
      symbol: z.string(),
      asOf: instantText,
      price: z.number(),
      expiry: expiryPicture.omit({ strikes: true, call: true, put: true }),
      quotes: z.array(chainRow),
    }),
  ),
  '/underlyings/{symbol}/term': list(
    'At-the-money volatility by expiry',
    z.object({
      symbol: z.string(),
      asOf: instantText,
      price: z.number(),
      atm30: picture.shape.atm30,
      index30: picture.shape.index30,
      index30Completed: picture.shape.index30Completed,
      standing: picture.shape.standing,
      shape: picture.shape.term,
      maturities: picture.shape.maturities,
      events: picture.shape.events,
      term: z.array(termRow),
    }),
  ),
  '/underlyings/{symbol}/skew': list(
    'Smiles by expiry',
    z.object({ symbol: z.string(), asOf: instantText, price: z.number(), expiries: z.array(expiryPicture) }),
  ),
  '/underlyings/{symbol}/surface': view('What is implied and fitted at an instant', surfaceResource),
  '/underlyings/{symbol}/market': view('What is quoted at an instant, judged', marketResource),
  '/underlyings/{symbol}/past': view('Where figures of an instant stand among those of the year before', pastResource),
  '/underlyings/{symbol}/picture': view('Surface, quotes and past of an instant in one', picture),
  '/underlyings/{symbol}/skew-history': list(
    'A year of skew, one entry a session',
    skewHistoryResponse,
    skewTenor.shape,
  ),
  '/underlyings/{symbol}/borrow': {
    ...view('Smiles borrowed from another underlying', borrowResponse),
    put: {
      summary: 'Borrow the smile of another underlying from now on; 422 when the chain leads back',
      requestParams: { path: z.object({ symbol: storedSymbol }) },
      requestBody: { content: { 'application/json': { schema: smileLink } } },
      responses: ok(smileLink, 'The link that is kept'),
    },
    delete: {
      summary: 'Borrow no longer',
      requestParams: { path: z.object({ symbol: storedSymbol }) },
      responses: { '204': { description: 'There is no link' }, '4XX': failure, '5XX': failure },
    },
  },
  '/underlyings/{symbol}/carry': {
    ...list(
      'Forwards with the rate, borrow and dividends behind them, known or implied by American quotes',
      carryResponse,
    ),
    put: {
      summary: 'Take financing, borrow and dividends over as known from an instant on',
      requestParams: { path: z.object({ symbol: storedSymbol }) },
      requestBody: { content: { 'application/json': { schema: carryTerms } } },
      responses: ok(
        carryTerms.extend({ job: z.string().nullable() }),
        'What is kept, and the job that derives what is stored anew',
      ),
    },
    delete: {
      summary: 'Give back what was taken over',
      requestParams: { path: z.object({ symbol: storedSymbol }) },
      responses: ok(z.object({ job: z.string().nullable() }), 'The job that derives what is stored anew'),
    },
  },
  '/tables/xlsx': {
    post: {
      summary: 'A table that is shown, as a workbook',
      requestBody: { content: { 'application/json': { schema: shownTableRequest } } },
      responses: {
        '200': {
          description: 'Workbook',
          content: {
            'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': { schema: z.string() },
          },
        },
        '4XX': failure,
        '5XX': failure,
      },
    },
  },
  '/underlyings/{symbol}/trades': list('Prints of the session up to the instant, latest first', tradesResponse),
  '/underlyings/{symbol}/spreads': list('Listed spreads as last quoted in the session', spreadsResponse),
  '/imports/chains': {
    post: {
      summary:
        'Import a chain: text of any delimiter, a workbook, JSON or Parquet, one row a quote or a strike; rows that cannot be read are left out and counted, unless badRows is refuse',
      requestParams: {
        query: importQuery,
      },
      requestBody: { content: { 'text/csv': { schema: z.string() } } },
      responses: ok(importResult, 'Imported, or unchanged when all of it is stored already'),
    },
  },
  '/imports/chains/preview': {
    post: {
      summary: 'What an import of a chain would do; nothing is stored',
      requestParams: { query: previewQuery },
      requestBody: anyFile,
      responses: ok(importPreview, 'Preview'),
    },
  },
  '/imports/tables/{table}/preview': {
    post: {
      summary: 'What an import of a table would do; nothing is stored',
      requestParams: { path: z.object({ table: tableKind.exclude(['chains']) }), query: tableImportText },
      requestBody: anyFile,
      responses: ok(tablePreview, 'Preview'),
    },
  },
  '/imports/preview': {
    post: {
      summary: 'What any file holds, recognised by its columns, and what an import of it would do',
      requestParams: { query: previewQuery },
      requestBody: anyFile,
      responses: ok(filePreview, 'Preview of a chain or of a table'),
    },
  },
  '/imports/refused': {
    delete: {
      summary: 'Take refused files off the list of imports',
      responses: ok(z.object({ cleared: z.number() }), 'How many'),
    },
  },
  '/imports/{id}': {
    delete: {
      summary: 'Take an import back; rows that were changed since stay and are counted',
      requestParams: { path: z.object({ id: z.string() }) },
      responses: ok(
        z.object({ restored: z.number(), kept: z.number(), removed: z.array(z.string()) }),
        'What became of its rows, and underlyings of which nothing is left',
      ),
    },
  },
};

function figureInstant() {
  return instantText.nullable();
}

let document: ReturnType<typeof createDocument> | undefined;

/** OpenAPI 3.1 document of the HTTP API, made from the schemas that validate. */
export function openApiDocument() {
  document ??= createDocument({
    openapi: '3.1.0',
    info: {
      title: 'Umwelt',
      version: '1',
      description:
        'Volatility, rates, probabilities and indices are decimals. Theta and charm are per calendar day; vega and vanna x 0.01, volga x 1e-4, rho x 0.01 (model normal: vega, vanna and volga per 1.00).',
    },
    servers: [{ url: '/api/v1' }],
    paths,
    components: { schemas: { ImportOptions: importOptions.meta({ id: 'ImportOptions' }) } },
  });
  return document;
}
