import { numberText } from '../ui/format.ts';
import { borrowedSmileOf, expirySmile, priceContractOf } from '../theory/index.ts';
import { carryNote } from './carry-measures.ts';
import type { ChainRow } from '../api/chain-row.ts';
import type { PriceRequestText } from '../api/price.ts';
import { dividendInputs } from './contract-procedure.ts';
import type { QuoteSubject, WorkingsInput } from './measure.ts';
import { finiteOrNull } from '../api/finite-or-null.ts';

/* What a listed option is valued with, as Workings tell it. */

const METHOD_WORDS: Record<NonNullable<ChainRow['method']>, string> = {
  certain: 'best of the payoffs on a known path',
  'closed-form': 'closed form, since exercise never pays at these rates',
  'spectral-collocation': 'spectral collocation of the exercise boundary',
  'finite-difference': 'finite differences on two grids',
};

/** Where the volatility of theory comes from. */
export function volatilityOrigin({ expiry, context }: QuoteSubject): string {
  switch (context.volatilitySource) {
    case 'smile':
      return 'fitted smile at the strike';
    case 'own':
      return "the quote's own mid";
    case 'atm':
      return 'at the money of the expiry';
    case 'borrowed':
      return 'borrowed smile at the strike';
    case 'index':
      return 'model-free volatility of the underlying at 30 days';
    case 'realized':
      return `close to close over the last ${expiry.realized?.sessions ?? 0} sessions, as many as the expiry has left`;
    case 'typed':
      return 'typed';
  }
}

export function contractInputs({ expiry, row }: QuoteSubject): WorkingsInput[] {
  return [
    {
      symbol: 'F',
      label: 'forward',
      value: expiry.forward,
      unit: 'price',
      source: `${expiry.forwardSource}, ${expiry.pairsUsed} pairs`,
    },
    { symbol: 'K', label: 'strike', value: row.strike, unit: 'price', source: 'contract' },
    {
      symbol: 'T',
      label: 'time to expiry',
      value: expiry.years,
      unit: 'years',
      source: 'calendar, ACT/365 by minutes',
    },
    {
      symbol: 'D',
      label: 'discount factor',
      value: expiry.discountFactor,
      unit: 'factor',
      source: expiry.forwardSource,
    },
  ];
}

/** Inputs of Black's formula on the forward, by which the European equivalent of any option is valued. */
export function forwardInputs(subject: QuoteSubject): WorkingsInput[] {
  const { row } = subject;
  return [
    ...contractInputs(subject),
    {
      symbol: 'σ',
      label: 'volatility',
      value: row.theoryVolatility,
      unit: 'volatility',
      source: volatilityOrigin(subject),
    },
  ];
}

/** Inputs of the contract as it is valued: by its spot with what that pays, or by its futures price. */
export function theoryInputs(subject: QuoteSubject): WorkingsInput[] {
  const { expiry, row, contract } = subject;
  if (!contract) return forwardInputs(subject);
  const isFuture = contract.model === 'futures';
  const inputs: WorkingsInput[] = [
    isFuture
      ? { symbol: 'F', label: 'futures price', value: contract.underlying, unit: 'price', source: expiry.forwardSource }
      : { symbol: 'S', label: 'price of the underlying', value: contract.underlying, unit: 'price', source: 'quote' },
    { symbol: 'K', label: 'strike', value: contract.strike, unit: 'price', source: 'contract' },
    {
      symbol: 'T',
      label: 'time to expiry',
      value: contract.timeToExpiry,
      unit: 'years',
      source: 'calendar, ACT/365 by minutes',
    },
    { symbol: 'r', label: 'rate', value: contract.rate, unit: 'rate', source: 'discount factor of the expiry' },
  ];
  if (!isFuture)
    inputs.push({
      symbol: 'q',
      label: contract.dividends?.length ? 'yield or borrow beside the dividends' : 'yield or borrow',
      value: contract.dividendYield ?? 0,
      unit: 'rate',
      source: `what joins the price and the forward of ${numberText(expiry.forward, 3)}`,
    });
  inputs.push(...dividendInputs(contract.dividends, 'stored; the spot falls by it'));
  inputs.push({
    symbol: 'σ',
    label: 'volatility',
    value: contract.volatility,
    unit: 'volatility',
    source:
      row.theoryVolatility === contract.volatility
        ? volatilityOrigin(subject)
        : `of the spot between dividends; ${numberText((row.theoryVolatility ?? NaN) * 100, 3)} % of the forward, ${volatilityOrigin(subject)}`,
  });
  return inputs;
}

/** dσ/dK of the smile in force at the strike; 0 where one volatility serves all strikes. */
export function smileSlope({ expiry, row, context }: QuoteSubject): number | null {
  const source = context.volatilitySource;
  const smile = source === 'smile' ? expirySmile(expiry) : source === 'borrowed' ? borrowedSmileOf(expiry) : undefined;
  if (!smile || row.theoryVolatility === null) return 0;
  const slope = smile.slope(Math.log(row.strike / expiry.forward));
  return finiteOrNull(slope / (2 * row.theoryVolatility * expiry.years * row.strike));
}

/** How a contract is valued, for reading; a closed form needs no words. */
export function methodNote({ contract, row, picture }: QuoteSubject): string | undefined {
  if (contract?.exercise !== 'american' || row.method === null) return undefined;
  const carry = carryNote({ picture });
  return `American, early exercise included: ${METHOD_WORDS[row.method]}, level ${row.level}.${carry ? ` ${carry}` : ''}`;
}

/** What POST /price is asked for a contract. */
export function theoryRequest({ contract, row }: QuoteSubject): PriceRequestText | undefined {
  if (!contract) return undefined;
  return { accuracy: row.level === 'fast' ? 'fast' : 'default', contracts: [priceContractOf(contract)] };
}
