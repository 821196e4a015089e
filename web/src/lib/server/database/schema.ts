import {
  bigserial,
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

const instantColumn = () => timestamp({ withTimezone: true, mode: 'date' });
const prices = () => doublePrecision().array().notNull();

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
  zone: text().notNull(),
  /** Smallest price step of an option, for display; null when unknown */
  optionTick: doublePrecision(),
  underlyingTick: doublePrecision(),
});

/** All quotes of one underlying and expiry at one instant: array columns by ascending strike, NaN for none. */
export const slices = pgTable(
  'slices',
  {
    underlyingId: integer()
      .notNull()
      .references(() => underlyings.id, { onDelete: 'cascade' }),
    instant: instantColumn().notNull(),
    expiry: instantColumn().notNull(),
    underlyingPrice: doublePrecision().notNull(),
    strikes: prices(),
    callBid: prices(),
    callAsk: prices(),
    callLast: prices(),
    callVolume: prices(),
    callOpenInterest: prices(),
    putBid: prices(),
    putAsk: prices(),
    putLast: prices(),
    putVolume: prices(),
    putOpenInterest: prices(),
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant, t.expiry] })],
);

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
  },
  (t) => [primaryKey({ columns: [t.currency, t.session] })],
);

/** Scheduled events; without an underlying they concern the whole market. */
export const events = pgTable('events', {
  id: serial().primaryKey(),
  underlyingId: integer().references(() => underlyings.id, { onDelete: 'cascade' }),
  instant: instantColumn().notNull(),
  kind: text().notNull(),
  label: text().notNull(),
});

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
  },
  (t) => [primaryKey({ columns: [t.underlyingId, t.instant] })],
);

/** One finished import of a file. */
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
    createdAt: instantColumn().notNull().defaultNow(),
  },
  (t) => [index().on(t.owner, t.sha256)],
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
