import type { PaidLegText } from '../../api/kept-structure.ts';
import type { TradedLegText } from '../../api/traded.ts';
import type { SmileDescription } from '@umwelt/core/surface';
import { sql } from 'drizzle-orm';
import type { CarryTerms } from '../../api/carry.ts';
import { LISTED_SPREAD_KINDS, type TradedLeg } from '@umwelt/market/quote-source';
import {
  bigint,
  bigserial,
  boolean,
  date,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';

/** What a refused file was told: the sentence, and the rows to mend. */
export interface ImportRefusal {
  message: string;
  problems: { row: number; column: string; value: string; remedy: string }[];
}

const instantColumn = () => timestamp({ withTimezone: true, mode: 'date' });
const prices = () => doublePrecision().array().notNull();
/** Who made a row: making the demo anew, or taking it out, touches only the demo's own. */
export const ROW_SOURCES = ['demo', 'user'] as const;
export type RowSource = (typeof ROW_SOURCES)[number];
const sourceColumn = () => text({ enum: ROW_SOURCES }).notNull();
/** The import that last wrote a row, if one did: what it wrote can be taken back while nothing later has touched the row. */
const importColumn = () => uuid();
/** What a slice's quotes were made of, and whether its underlying's price is quoted or was implied by parity. */
export const QUOTED_IN = ['price', 'volatility'] as const;
export const PRICE_SOURCES = ['quote', 'parity'] as const;

/** What options are written on. */
export const underlyings = pgTable('underlyings', {
  id: serial().primaryKey(),
  symbol: text().notNull().unique(),
  name: text().notNull(),
  sector: text().notNull(),
  source: text({ enum: ['demo', 'import'] }).notNull(),
});

/** Terms of the option contracts on an underlying. */
export const contractTerms = pgTable('contract_terms', {
  underlyingId: integer()
    .primaryKey()
    .references(() => underlyings.id, { onDelete: 'cascade' }),
  kind: text({ enum: ['index', 'fund', 'share', 'future', 'currency'] }).notNull(),
  exercise: text({ enum: ['european', 'american'] }).notNull(),
  model: text({ enum: ['spot', 'futures'] }).notNull(),
  settlement: text({ enum: ['cash', 'physical'] }).notNull(),
  multiplier: doublePrecision().notNull(),
  currency: text().notNull(),
  /** Of a currency pair: its rate is the pair's yield */
  foreignCurrency: text(),
  zone: text().notNull(),
  /** Time of day, HH:MM, that a date without one means */
  sessionClose: text().notNull().default('17:30'),
  /** Smallest price step of an option, for display; null when unknown */
  optionTick: doublePrecision(),
  underlyingTick: doublePrecision(),
});

const sliceColumns = () => ({
  underlyingId: integer()
    .notNull()
    .references(() => underlyings.id, { onDelete: 'cascade' }),
  instant: instantColumn().notNull(),
  expiry: instantColumn().notNull(),
  /** Of the delivery month that the options refer to, when the underlying is a future */
  underlyingPrice: doublePrecision().notNull(),
  strikes: prices(),
  callBid: prices(),
  callAsk: prices(),
  callBidSize: prices(),
  callAskSize: prices(),
  callLast: prices(),
  callVolume: prices(),
  callOpenInterest: prices(),
  putBid: prices(),
  putAsk: prices(),
  putBidSize: prices(),
  putAskSize: prices(),
  putLast: prices(),
  putVolume: prices(),
  putOpenInterest: prices(),
});

/**
 * All quotes of one underlying and expiry at one instant: array columns by ascending strike, NaN for none. Partitioned by
 * month of the instant (see the migration); `ensure_slices_partition` makes a month's partition before its first row.
 */
export const slices = pgTable(
  'slices',
  {
    ...sliceColumns(),
    source: sourceColumn(),
    quotedIn: text({ enum: QUOTED_IN }).notNull().default('price'),
    priceSource: text({ enum: PRICE_SOURCES }).notNull().default('quote'),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant, t.expiry] })],
);

/**
 * The newest quotes of the feed, for underlyings that somebody looks at. Unlogged: the next wave writes them again. All of
 * them are the feed's, so that they carry no source.
 */
export const liveSlices = pgTable('live_slices', sliceColumns(), (t) => [
  primaryKey({ columns: [t.underlyingId, t.expiry] }),
]);

/** The feed's one row: what it is told, how far it is, and its sign of life. */
export const feed = pgTable('feed', {
  id: integer().primaryKey(),
  isRunning: boolean().notNull(),
  /** Seconds of market time a second */
  speed: doublePrecision().notNull(),
  /** Waves asked for while paused */
  stepsWanted: integer().notNull(),
  /** Minutes of market time between stored states; 0 for none */
  storeMinutes: integer().notNull(),
  sequence: integer().notNull(),
  instant: instantColumn().notNull(),
  /** State of the quote source, to go on from */
  state: jsonb().notNull(),
  prices: jsonb().$type<Record<string, number>>().notNull(),
  storedAt: instantColumn(),
  beatAt: instantColumn(),
});

/** Underlyings whose chains the feed is to quote, because a browser shows them. */
export const feedWatches = pgTable('feed_watches', {
  symbol: text().primaryKey(),
  seenAt: instantColumn().notNull(),
});

export const dailyBars = pgTable(
  'daily_bars',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    session: date({ mode: 'string' }).notNull(),
    open: doublePrecision().notNull(),
    high: doublePrecision().notNull(),
    low: doublePrecision().notNull(),
    close: doublePrecision().notNull(),
    volume: doublePrecision().notNull(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.session] })],
);

/** Bars within sessions, by the instant at which each ends. */
export const intradayBars = pgTable(
  'intraday_bars',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    open: doublePrecision().notNull(),
    high: doublePrecision().notNull(),
    low: doublePrecision().notNull(),
    close: doublePrecision().notNull(),
    volume: doublePrecision().notNull(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant] })],
);

/** Splits: from the session on one share of before is `ratio` shares, and bars are of the new ones. */
export const splits = pgTable(
  'splits',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    session: date({ mode: 'string' }).notNull(),
    ratio: doublePrecision().notNull(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.session] })],
);

/** Zero rates of one currency, continuously compounded, by days. */
export const rateCurves = pgTable(
  'rate_curves',
  {
    currency: text().notNull(),
    session: date({ mode: 'string' }).notNull(),
    days: prices(),
    rates: prices(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.currency, t.session] })],
);

/** Scheduled events; one of the whole market is kept for each underlying that it moves. */
export const events = pgTable(
  'events',
  {
    id: serial().primaryKey(),
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    kind: text().notNull(),
    label: text().notNull(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [uniqueIndex().on(t.underlyingId, t.instant, t.kind, t.label)],
);

/** Cash dividends and distributions; the price falls by the amount at the instant. */
export const dividends = pgTable(
  'dividends',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    exDate: date({ mode: 'string' }).notNull(),
    instant: instantColumn().notNull(),
    amount: doublePrecision().notNull(),
    source: sourceColumn(),
    importId: importColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.exDate] })],
);

/** Financing, borrow and dividends that a user has taken over from quotes as known, from an instant on. */
export const carryTerms = pgTable('carry_terms', {
  underlyingId: integer()
    .primaryKey()
    .references(() => underlyings.id, { onDelete: 'cascade' }),
  from: instantColumn().notNull(),
  /** Over the curve, or the rate without one; per year */
  financing: doublePrecision().notNull(),
  borrow: doublePrecision().notNull(),
  dividends: jsonb().$type<CarryTerms['dividends']>().notNull(),
  source: sourceColumn(),
});

/** Prices of a future's delivery months at a stored instant, nearest first. */
export const futuresCurves = pgTable(
  'futures_curves',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    /** Last trading days */
    deliveries: date({ mode: 'string' }).array().notNull(),
    prices: prices(),
    source: sourceColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant] })],
);

/** Combinations that the exchange lists, with their quotes at a stored instant. NaN for none. */
export const listedSpreads = pgTable(
  'listed_spreads',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    position: integer().notNull(),
    kind: text({ enum: LISTED_SPREAD_KINDS }).notNull(),
    legs: jsonb().$type<TradedLeg[]>().notNull(),
    bid: doublePrecision().notNull(),
    ask: doublePrecision().notNull(),
    bidSize: doublePrecision().notNull(),
    askSize: doublePrecision().notNull(),
    source: sourceColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant, t.position] })],
);

/** The trade tape: prints of outright options and of listed spreads. */
export const trades = pgTable(
  'trades',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    legs: jsonb().$type<TradedLeg[]>().notNull(),
    price: doublePrecision().notNull(),
    size: doublePrecision().notNull(),
    bid: doublePrecision().notNull(),
    ask: doublePrecision().notNull(),
    source: sourceColumn(),
  },
  (t) => [index().on(t.underlyingId, t.instant)],
);

/** The demo's one row: which simulator made it, and whether rows from before sources were kept have been told apart. */
export const demo = pgTable('demo', {
  id: integer().primaryKey(),
  version: integer().notNull(),
  isClaimed: boolean().notNull().default(true),
});

/**
 * What was changed in the tables that pictures are made of, noted by triggers with the change itself: how many there are up to an
 * instant is the version of what is stored. Rows are put together when the database is brought up to date.
 */
export const dataChanges = pgTable(
  'data_changes',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    /** `underlying 12`, `currency EUR`, or `all` */
    subject: text().notNull(),
    table: text().notNull(),
    /** What is seen from here on may be another; minus infinity for everything */
    fromAt: instantColumn().notNull(),
    /** Changes that are put together in this row */
    weight: bigint({ mode: 'number' }).notNull().default(1),
    transaction: text()
      .notNull()
      .default(sql`pg_current_xact_id()::text`),
  },
  (t) => [index().on(t.subject, t.table, t.fromAt)],
);

/** Symbols that were given up for others: old addresses lead to the new ones. */
export const formerSymbols = pgTable('former_symbols', {
  symbol: text().primaryKey(),
  underlyingId: integer()
    .notNull()
    .references(() => underlyings.id, { onDelete: 'cascade' }),
});

/** The application's processes on any machine, by their sign of life. */
export const processes = pgTable('processes', {
  id: uuid().primaryKey(),
  kind: text({ enum: ['server', 'worker', 'feed'] }).notNull(),
  host: text().notNull(),
  pid: integer().notNull(),
  startedAt: instantColumn().notNull().defaultNow(),
  beatAt: instantColumn().notNull().defaultNow(),
});

/** A dividend that quotes imply, by its time in years from the instant. */
export interface ImpliedDividend {
  amount: number;
  years: number;
}

/** A fitted smile. */
export interface StoredSmile {
  expiry: string;
  years: number;
  forward: number;
  smile: SmileDescription;
  /** Log-moneyness of the fitted quotes */
  range: [number, number];
}

/** A scheduled event as quotes expected it to move the price: one standard deviation of its logarithm, and the 95 % interval. */
export interface StoredEventMove {
  instant: string;
  kind: string;
  move: number;
  interval: [number, number];
}

/** The straddle at the forward of an expiry, at mid. */
export interface StoredStraddle {
  expiry: string;
  years: number;
  forward: number;
  straddle: number;
}

/** Figures of one underlying at one stored instant, derived from its slices by the code of `version`. */
export const derivedMeasures = pgTable(
  'derived_measures',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    version: integer().notNull(),
    underlyingPrice: doublePrecision().notNull(),
    /** At-the-money volatility at the tenors of the code's list */
    atmByTenor: prices(),
    index30: doublePrecision(),
    riskReversal25: doublePrecision(),
    butterfly25: doublePrecision(),
    /** What the quotes imply where what is known does not explain them; null otherwise */
    impliedFinancing: doublePrecision(),
    impliedBorrow: doublePrecision(),
    impliedDividends: jsonb().$type<ImpliedDividend[]>(),
    /** Fitted smiles by expiry, nearest first */
    smiles: jsonb().$type<StoredSmile[]>().notNull().default([]),
    /** At the money at 30 days without scheduled events */
    exEvent30: doublePrecision(),
    /** What scheduled events are expected to move */
    eventMoves: jsonb().$type<StoredEventMove[]>().notNull().default([]),
    /** Straddles at the forward by expiry, nearest first */
    straddles: jsonb().$type<StoredStraddle[]>().notNull().default([]),
    /** ln(price / forward) by fixed days, and at each by the probabilities of the code's list; NaN where not known */
    quantiles: doublePrecision()
      .array()
      .notNull()
      .default(sql`'{}'`),
    /** Of the fitted smiles on average, 0 to 100 */
    quality: doublePrecision(),
    /** Close-to-close volatility of the sessions ended by then over the windows of the code's list, NaN where bars lack */
    realizedByWindow: prices(),
    /** Contracts traded in the session so far, and open, over all expiries */
    optionVolume: doublePrecision().notNull(),
    openInterest: doublePrecision().notNull(),
    /** Quotes of all expiries, and those judged bad by reason */
    quotes: integer().notNull(),
    rejected: jsonb().$type<Record<string, number>>().notNull(),
    source: sourceColumn(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant] })],
);

/**
 * Long work as users see it. The queue itself is pg-boss's; this row carries progress, the sign of life of the worker that
 * has it, and the wish to cancel.
 */
export const jobs = pgTable(
  'jobs',
  {
    id: uuid().primaryKey(),
    owner: text().notNull(),
    /** Jobs of one undertaking, such as loading the demo, share a group */
    group: text().notNull(),
    label: text().notNull(),
    payload: jsonb().notNull(),
    state: text({ enum: ['waiting', 'running', 'done', 'failed', 'cancelled'] }).notNull(),
    /** 0 to 1 */
    share: doublePrecision().notNull().default(0),
    /** Part of the group's whole work */
    weight: doublePrecision().notNull().default(1),
    attempts: integer().notNull().default(0),
    worker: text(),
    beatAt: instantColumn(),
    isCancelWanted: boolean().notNull().default(false),
    error: text(),
    createdAt: instantColumn().notNull().defaultNow(),
    startedAt: instantColumn(),
    finishedAt: instantColumn(),
  },
  (t) => [index().on(t.group, t.state), index().on(t.state, t.beatAt)],
);

/** One import of a file, stored or refused. */
export const imports = pgTable(
  'imports',
  {
    id: uuid().primaryKey().defaultRandom(),
    sequence: bigserial({ mode: 'number' }).notNull(),
    owner: text().notNull(),
    fileName: text().notNull(),
    sha256: text().notNull(),
    options: jsonb().notNull(),
    rows: integer().notNull(),
    slices: integer().notNull(),
    table: text().notNull().default('chains'),
    /** Rows of the file that could not be read and were left out */
    leftOut: integer().notNull().default(0),
    /** Whether it can be taken back: `never` from before this was kept, `dropped` when too many came after it */
    undo: text({ enum: ['possible', 'undone', 'dropped', 'never'] })
      .notNull()
      .default('never'),
    /** Bytes of what it replaced */
    imageBytes: bigint({ mode: 'number' }).notNull().default(0),
    /** Why it was refused; null when it was stored */
    refusal: jsonb().$type<ImportRefusal>(),
    createdAt: instantColumn().notNull().defaultNow(),
  },
  (t) => [index().on(t.owner, t.sha256)],
);

/** What an import replaced, row by row, for taking it back. */
export const importImages = pgTable(
  'import_images',
  {
    importId: uuid()
      .notNull()
      .references(() => imports.id, { onDelete: 'cascade' }),
    /** Table of the database */
    table: text().notNull(),
    /** Primary key of the row */
    key: jsonb().notNull(),
    /** The row before; null when there was none */
    before: jsonb(),
  },
  (t) => [primaryKey({ columns: [t.importId, t.table, t.key] })],
);

/** How a user mapped files with these headers. */
export const importMappings = pgTable(
  'import_mappings',
  {
    owner: text().notNull(),
    headers: text().notNull(),
    options: jsonb().notNull(),
  },
  (t) => [uniqueIndex().on(t.owner, t.headers)],
);

/** Whose smile an underlying borrows; by symbols, so that the link outlives the data of either side. */
export const smileLinks = pgTable(
  'smile_links',
  {
    owner: text().notNull(),
    symbol: text().notNull(),
    donor: text().notNull(),
    kind: text().notNull(),
    /** Null: fitted */
    shift: doublePrecision(),
    ratio: doublePrecision().notNull(),
  },
  (t) => [primaryKey({ columns: [t.owner, t.symbol] })],
);

/** Expected moves as they were at an instant, kept to be held against what follows; by symbol, so that they outlive the data. */
export const frozenLevels = pgTable(
  'frozen_levels',
  {
    id: uuid().primaryKey().defaultRandom(),
    owner: text().notNull(),
    symbol: text().notNull(),
    name: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** That they were seen at */
    instant: timestamp({ withTimezone: true }).notNull(),
    price: doublePrecision().notNull(),
    move: text().notNull(),
    levels: jsonb().$type<StoredFrozenLevel[]>().notNull(),
    /** Taken out, to be put back for a while; null while it is kept */
    deletedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.owner, t.symbol, t.instant)],
);

/** Expected move by one expiry. */
export interface StoredFrozenLevel {
  /** Civil date */
  date: string;
  forward: number;
  low: number;
  high: number;
  /** How often the smile had the price within it; null where it did not tell */
  coverage: number | null;
}

/** Structures that a user kept; by symbol, so that they outlive the data. */
export const keptStructures = pgTable(
  'kept_structures',
  {
    id: uuid().primaryKey().defaultRandom(),
    owner: text().notNull(),
    symbol: text().notNull(),
    name: text().notNull(),
    tags: text().array().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** ISO 8601 with offset: the instant that it was kept at */
    asOf: text().notNull(),
    legs: jsonb().$type<TradedLegText[]>().notNull(),
    /** Underlying beside them, in contracts' worth */
    held: doublePrecision().notNull(),
    paid: jsonb().$type<PaidLegText[]>().notNull(),
    /** Of the position when it was kept, currency; null where a leg had no price */
    cost: doublePrecision(),
    /** Of the underlying then */
    price: doublePrecision().notNull(),
  },
  (t) => [index().on(t.owner, t.createdAt)],
);
