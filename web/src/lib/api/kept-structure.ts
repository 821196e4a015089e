import { z } from 'zod';
import { MOST_LEGS } from './picked-legs.ts';
import { expiryDate, figure, instantText, optionSide, storedSymbol } from './quantity.ts';
import { tradedLeg } from './traded.ts';

/** A number as files carry it: written out, zero has no sign. */
const written = z.number().overwrite((value) => value + 0);

/** A price that a leg is taken at in place of its mid. */
export const paidLegText = z
  .strictObject({
    ...{ expiry: expiryDate, strike: z.number().positive().max(1e9), side: optionSide },
    price: written.min(0).max(1e9),
  })
  .meta({ id: 'PaidLeg' });
export type PaidLegText = z.infer<typeof paidLegText>;

const nameText = z.string().trim().min(1).max(80);
const tagTexts = z.array(z.string().trim().min(1).max(30)).max(12);

/** What is kept of a structure. */
export const keepRequest = z
  .strictObject({
    ...{ name: nameText, tags: tagTexts.default([]), symbol: storedSymbol, asOf: instantText },
    legs: z.array(tradedLeg).max(MOST_LEGS),
    held: written.min(-1e6).max(1e6).default(0),
    paid: z.array(paidLegText).max(MOST_LEGS).default([]),
    cost: written.nullable().default(null),
    price: written,
  })
  .refine(({ legs, held }) => legs.length > 0 || held !== 0, {
    message: 'a structure has at least one leg',
    path: ['legs'],
  })
  .meta({ id: 'KeepRequest' });
export type KeepRequest = z.output<typeof keepRequest>;

export const keptStructure = z
  .object({
    ...keepRequest.shape,
    tags: tagTexts,
    held: z.number(),
    paid: z.array(paidLegText),
    cost: figure,
    id: z.uuid(),
    etag: z.string(),
  })
  .meta({ id: 'KeptStructure' });
export type KeptStructure = z.infer<typeof keptStructure>;

export const keptResponse = z.object({ structures: z.array(keptStructure) });
/** What of a kept one may be changed. */
export const keptChange = z.strictObject({ name: nameText, tags: tagTexts }).meta({ id: 'KeptChange' });
export type KeptChange = z.output<typeof keptChange>;

/** Most bytes of a file of kept structures. */
export const MOST_SHELF_TEXT = 1_000_000;
/** A file of kept structures as text: JSON or CSV. */
export const shelfFile = z.strictObject({ text: z.string().min(1).max(MOST_SHELF_TEXT) });
export const shelfImported = z.object({ kept: z.array(keptStructure) });

/* One row of a file a structure: lists are written in one cell. */
const LEG = /^(?<ratio>[+-]?\d+) (?<expiry>\S+) (?<strike>\S+) (?<side>call|put)(?: at (?<price>\S+))?$/;

/** A structure as a row of a file. */
export interface ShelfRow {
  name: string;
  tags: string;
  symbol: string;
  asOf: string;
  legs: string;
  held: number;
  cost: number | null;
  price: number;
}

export function shelfRow(kept: Omit<KeptStructure, 'id' | 'etag'>): ShelfRow {
  const { name, tags, symbol, asOf, legs, held, paid, cost, price } = kept;
  const legTexts = legs.map(({ ratio, expiry, strike, side }) => {
    const typed = paid.find((p) => p.expiry === expiry && p.strike === strike && p.side === side);
    return `${ratio} ${expiry} ${strike} ${side}${typed ? ` at ${typed.price}` : ''}`;
  });
  return {
    name,
    tags: tags.map((tag) => tag.replaceAll(/[\\;]/g, '\\$&')).join('; '),
    symbol,
    asOf,
    legs: legTexts.join('; '),
    held,
    cost,
    price,
  };
}

/** Tags of one cell, divided by semicolons; one within a tag has a backslash before it. */
function tagsOf(text = ''): string[] {
  const parts = text.match(/(?:\\.|[^;])+/gs) ?? [];
  return parts.map((part) => part.trim().replaceAll(/\\(.)/gs, '$1')).filter((tag) => tag !== '');
}

/** A row of a file as a request to keep it, unchecked: what is wrong with it the schema says. */
export function requestOfRow(row: Readonly<Record<string, string>>): unknown {
  const list = (text = '') =>
    text
      .split(';')
      .map((part) => part.trim())
      .filter((part) => part !== '');
  const numbered = (text: string | undefined) => (text === undefined || text.trim() === '' ? undefined : Number(text));
  const legs = list(row.legs).map((text) => LEG.exec(text)?.groups ?? text);
  return {
    ...{ name: row.name, tags: tagsOf(row.tags), symbol: row.symbol, asOf: row.asOf },
    legs: legs.map((leg) => {
      if (typeof leg === 'string') return leg;
      const { expiry, side, ratio, strike } = leg;
      return { expiry, side, ratio: Number(ratio), strike: Number(strike) };
    }),
    paid: legs.flatMap((leg) =>
      typeof leg === 'string' || leg.price === undefined
        ? []
        : [{ expiry: leg.expiry, strike: Number(leg.strike), side: leg.side, price: Number(leg.price) }],
    ),
    held: numbered(row.held),
    cost: numbered(row.cost) ?? null,
    price: numbered(row.price),
  };
}
