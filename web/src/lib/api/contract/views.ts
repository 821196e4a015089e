import { z } from 'zod';
import { pictureQuery } from '../as-of-context.ts';
import { borrowResponse, smileLink } from '../borrow.ts';
import { carryResponse, carryTerms } from '../carry.ts';
import { chainRow } from '../chain-row.ts';
import { forecastRecordResponse, levelChoice, levelResponse } from '../level.ts';
import { marketResource } from '../market-resource.ts';
import { measuredResponse, storedMeasuresResponse } from '../measured.ts';
import {
  barsChoice,
  barsResponse,
  checkLevels,
  freezeRequest,
  frozenResponse,
  frozenSet,
  oddsChoice,
  oddsResponse,
  rangeChoice,
  rangeResponse,
  strikesChoice,
  strikesResponse,
} from '../range.ts';
import { interestRecordResponse } from '../interest-record.ts';
import { oddsRecordResponse, recordChoice } from '../odds-record.ts';
import { pastResource } from '../past-resource.ts';
import { type ExpiryPicture, expiryPicture, picture } from '../picture.ts';
import { instantText, storedSymbol } from '../quantity.ts';
import { settlementsQuery, settlementsResponse } from '../settlement.ts';
import { skewHistoryResponse, skewTenor } from '../skew-history.ts';
import { surfaceResource } from '../surface-resource.ts';
import { termRow } from '../term-row.ts';
import { spreadsResponse, tradesResponse } from '../traded.ts';
import { defineRoute } from './route.ts';

const parameters = z.object({ symbol: storedSymbol });
const query = pictureQuery;
const job = z.string().nullable().meta({ description: 'The job that derives what is stored anew' });
const of = { symbol: z.string(), asOf: instantText };

export const surfaceRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/surface',
  summary: 'What is implied and fitted at an instant',
  parameters,
  query,
  answer: surfaceResource,
});

export const marketRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/market',
  summary: 'What is quoted at an instant, judged',
  parameters,
  query,
  answer: marketResource,
});

export const pastRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/past',
  summary: 'Where figures of an instant stand among those of the year before',
  parameters,
  query,
  answer: pastResource,
});

export const pictureRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/picture',
  summary: 'Surface, quotes and past of an instant in one',
  parameters,
  query,
  answer: picture,
});

export const chainRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/chain',
  summary: 'Quotes of one expiry against theory',
  parameters,
  query,
  answer: z.object({
    ...of,
    price: surfaceResource.shape.price,
    expiry: expiryPicture.omit({ strikes: true, call: true, put: true }),
    quotes: z.array(chainRow),
  }),
  rows: ({ quotes }) => quotes,
});

export const termRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/term',
  summary: 'At-the-money volatility by expiry',
  parameters,
  query,
  answer: z.object({
    ...of,
    price: picture.shape.price,
    atm30: picture.shape.atm30,
    index30: picture.shape.index30,
    index30Completed: picture.shape.index30Completed,
    standing: picture.shape.standing,
    indexStanding: picture.shape.indexStanding,
    shape: picture.shape.term,
    maturities: picture.shape.maturities,
    events: picture.shape.events,
    term: z.array(termRow),
  }),
  rows: ({ term }) => term,
});

export const measuresRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/measures',
  summary: 'Everything that is measured of an underlying and its expiries at an instant',
  parameters,
  query,
  answer: measuredResponse,
  rows: ({ expiries }) => expiries.map(({ values, ...expiry }) => ({ ...expiry, ...values })),
});

export const storedMeasuresRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/measures/stored',
  summary: 'What is kept of a year of measures, one entry a session',
  parameters,
  query,
  answer: storedMeasuresResponse,
  rows: ({ sessions }) => sessions.map(({ instant, values }) => ({ instant, ...values })),
});

export const skewRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/skew',
  summary: 'Smiles by expiry',
  parameters,
  query,
  answer: z.object({ ...of, price: picture.shape.price, expiries: z.array(expiryPicture) }),
  rows: ({ expiries }) => expiries.map(figuresOf),
});

/** What a row of a table can hold of an expiry: its figures, without columns by strike. */
function figuresOf(expiry: ExpiryPicture): object {
  return Object.fromEntries(Object.entries(expiry).filter(([, value]) => value === null || typeof value !== 'object'));
}

export const skewHistoryRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/skew-history',
  summary: 'A year of skew, one entry a session',
  parameters,
  query: query.extend(skewTenor.shape),
  answer: skewHistoryResponse,
  rows: ({ sessions }) => sessions.map(({ smile: _smile, ...row }) => row),
});

export const levelRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/level',
  summary: 'Implied volatility against its past and against what the underlying did',
  parameters,
  query: query.extend(levelChoice.shape),
  answer: levelResponse,
  rows: ({ sessions }) => sessions,
});

export const forecastRecordRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/forecast-record',
  summary: 'How forecasts of volatility served, each made with what was known then',
  parameters,
  query: query.extend(levelChoice.shape),
  answer: forecastRecordResponse,
  rows: ({ records }) =>
    records.map(({ versusNaive, versusNaiveSquared: _squared, ...row }) => ({
      ...row,
      probability: versusNaive?.probability ?? null,
    })),
});

export const rangeRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/range',
  summary: 'How far the price is thought to go by each expiry',
  parameters,
  query: query.extend(rangeChoice.shape),
  repeated: ['coverage', 'days'],
  answer: rangeResponse,
  rows: ({ expiries, between }) =>
    [...expiries, ...between.filter((row) => row !== null)].map(
      ({ ranges, events: _events, coverages: _coverages, humps: _humps, wings: _wings, ...row }) => ({
        ...row,
        ...Object.fromEntries(
          ranges.flatMap(({ coverage, low, high }) => [
            [`low ${coverage}`, low],
            [`high ${coverage}`, high],
          ]),
        ),
      }),
    ),
});

export const probabilityRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/probability',
  summary: 'How likely a price is passed, touched or kept to by an expiry, from every source',
  parameters,
  query: query.extend(oddsChoice.shape).superRefine(checkLevels),
  repeated: ['level'],
  answer: oddsResponse,
  rows: ({ results }) => results,
});

export const strikesRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/strikes',
  summary: 'Strikes of put and call for a probability, with what they cost',
  parameters,
  query: query.extend(strikesChoice.shape),
  answer: strikesResponse,
});

export const barsRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/bars',
  summary: 'Daily bars of sessions that have ended by an instant, splits taken out',
  parameters,
  query: query.extend(barsChoice.shape),
  answer: barsResponse,
  rows: ({ bars }) => bars,
});

export const oddsRecordRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/odds-record',
  summary: 'What odds and expected moves told in the past were worth, over windows that do not overlap',
  parameters,
  query: query.extend(recordChoice.shape),
  answer: oddsRecordResponse,
  rows: ({ sources }) => sources.map(({ bins: _bins, ...row }) => row),
});

export const interestRecordRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/interest-record',
  summary:
    'How often past expiries settled near the price at which their open options were worth least, against chance',
  parameters,
  query,
  answer: interestRecordResponse,
  rows: ({ expiries }) => expiries,
});

export const frozenRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/frozen-levels',
  summary: 'Expected moves that were kept up to an instant, held against what followed until then',
  parameters,
  query,
  answer: frozenResponse,
  rows: ({ frozen }) => frozen.flatMap(({ levels, id: _id, ...set }) => levels.map((level) => ({ ...set, ...level }))),
});

export const freezeRoute = defineRoute({
  method: 'post',
  path: '/underlyings/{symbol}/frozen-levels',
  summary: 'Keep the expected moves of an instant',
  parameters,
  query,
  body: freezeRequest,
  answer: frozenSet,
  status: 201,
});

export const thawRoute = defineRoute({
  method: 'delete',
  path: '/underlyings/{symbol}/frozen-levels/{id}',
  summary: 'Keep some expected moves no longer',
  answers: 'They are gone; for a day they can be put back',
  parameters: parameters.extend({ id: z.uuid() }),
  answer: z.undefined(),
});

export const restoreFrozenRoute = defineRoute({
  method: 'put',
  path: '/underlyings/{symbol}/frozen-levels/{id}',
  summary: 'Put back expected moves that were deleted',
  answers: 'They are kept again',
  parameters: parameters.extend({ id: z.uuid() }),
  answer: z.undefined(),
});

export const borrowRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/borrow',
  summary: 'Smiles borrowed from another underlying',
  parameters,
  query,
  answer: borrowResponse,
});

export const keepLinkRoute = defineRoute({
  method: 'put',
  path: '/underlyings/{symbol}/borrow',
  summary: 'Borrow the smile of another underlying from now on; 422 when the chain leads back',
  answers: 'The link that is kept',
  parameters,
  body: smileLink,
  answer: smileLink,
});

export const dropLinkRoute = defineRoute({
  method: 'delete',
  path: '/underlyings/{symbol}/borrow',
  summary: 'Borrow no longer',
  answers: 'There is no link',
  parameters,
  answer: z.undefined(),
});

export const carryRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/carry',
  summary: 'Forwards with the rate, borrow and dividends behind them, known or implied by American quotes',
  parameters,
  query,
  answer: carryResponse,
  rows: ({ expiries }) => expiries,
});

export const takeCarryRoute = defineRoute({
  method: 'put',
  path: '/underlyings/{symbol}/carry',
  summary: 'Take financing, borrow and dividends over as known from an instant on',
  answers: 'What is kept, and the job that derives what is stored anew',
  parameters,
  body: carryTerms,
  answer: carryTerms.extend({ job }),
});

export const giveCarryBackRoute = defineRoute({
  method: 'delete',
  path: '/underlyings/{symbol}/carry',
  summary: 'Give back what was taken over',
  parameters,
  answer: z.object({ job }),
});

const legsText = (legs: readonly object[]) => legs.map((leg) => Object.values(leg).join(' ')).join('; ');

export const tradesRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/trades',
  summary: 'Trades of the session up to the instant, latest first',
  parameters,
  query,
  answer: tradesResponse,
  rows: ({ trades }) => trades.map(({ legs, ...row }) => ({ ...row, legs: legsText(legs) })),
});

export const settlementsRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/settlements',
  summary: 'Prices that options which have ended by an instant were settled at',
  parameters,
  query: settlementsQuery,
  answer: settlementsResponse,
  rows: ({ settlements }) => settlements,
});

export const spreadsRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/spreads',
  summary: 'Listed spreads as last quoted in the session',
  parameters,
  query,
  answer: spreadsResponse,
  rows: ({ spreads }) => spreads.map(({ legs, ...row }) => ({ ...row, legs: legsText(legs) })),
});
