import { black76Price, type Option, optionPrice, type Side } from '@umwelt/core/pricing';
import { type CarryInput, deriveSurface, type Slice } from '@umwelt/core/surface';

/** What the options of a surface are. */
export type SurfaceKind =
  | 'European'
  | 'American with yield'
  | 'American on futures'
  | 'American with cash dividends'
  | 'American, financing not known'
  | 'American, two dividends not known'
  | 'American, four dividends not known';
export const SURFACE_KINDS: readonly SurfaceKind[] = [
  'European',
  'American with yield',
  'American on futures',
  'American with cash dividends',
  'American, financing not known',
  'American, two dividends not known',
  'American, four dividends not known',
];
/** Goals at the median, milliseconds. */
export const SURFACE_GOALS: Record<SurfaceKind, number> = {
  European: 12,
  'American with yield': 60,
  'American on futures': 60,
  'American with cash dividends': 60,
  'American, financing not known': 150,
  'American, two dividends not known': 150,
  'American, four dividends not known': 150,
};

const RATE = 0.03;
const YIELD = 0.015;

const QUARTERLY = [0.1, 0.35, 0.6, 0.85].map((time) => ({ time, amount: 0.6 }));
/** Cash dividends, told or not. */
const PAID: Partial<Record<SurfaceKind, { time: number; amount: number }[]>> = {
  'American with cash dividends': QUARTERLY,
  'American, two dividends not known': [0.165, 0.665].map((time) => ({ time, amount: 1.5 })),
  'American, four dividends not known': QUARTERLY,
};

/** The work of deriving one surface from quotes on a made-up smile: judge, free, imply, fit, measures. */
export function surfaceTiming(kind: SurfaceKind): () => number {
  const { slices, carries } = surfaceSlices(kind, 0.2);
  return () => deriveSurface({ slices, spot: 100, carries }).atm30;
}

/** Quotes of 12 expiries x 60 strikes x 2 sides around 100. @param level volatility at the money */
export function surfaceSlices(kind: SurfaceKind, level: number): { slices: Slice[]; carries: Partial<CarryInput>[] } {
  const carries: Partial<CarryInput>[] = [];
  const slices: Slice[] = Array.from({ length: 12 }, (_, e) => {
    const timeToExpiry = (7 + 30 * e) / 365;
    const strikes = Float64Array.from({ length: 60 }, (_v, k) => 60 + (4 * k) / 3);
    const paid: { time: number; amount: number }[] = PAID[kind] ?? [];
    const dividends = paid.filter((d) => d.time < timeToExpiry);
    const isTold = kind === 'American with cash dividends';
    const rate = kind === 'American, financing not known' ? RATE + 0.015 : RATE;
    const isAmerican = kind !== 'European';
    const isFuture = kind === 'American on futures';
    carries.push({
      rate: RATE,
      dividendYield: kind === 'American with yield' ? YIELD : 0,
      dividends: isTold ? dividends : [],
      exercise: isAmerican ? 'american' : 'european',
      isFuture,
    });
    const price = (side: Side, strike: number): number => {
      const m = strike / 100 - 1;
      const volatility = level + 0.1 * m * m - 0.05 * m;
      const common = { side, strike, timeToExpiry, volatility };
      if (!isAmerican) return black76Price({ ...common, forward: 100, discountFactor: Math.exp(-RATE * timeToExpiry) });
      const option: Option = isFuture
        ? { ...common, exercise: 'american', model: 'futures', underlying: 100, rate: RATE }
        : {
            ...common,
            exercise: 'american',
            model: 'spot',
            underlying: 100,
            rate,
            dividendYield: kind === 'American with yield' ? YIELD : 0,
            ...(dividends.length > 0 && { dividends }),
          };
      return optionPrice(option, 'fast');
    };
    // A market shows no more than it means: bids are rounded down to the cent, offers up, so that none is locked.
    const bids = (side: Side) => strikes.map((strike) => Math.floor(price(side, strike) * 98.5) / 100);
    const asks = (side: Side) => strikes.map((strike) => (Math.floor(price(side, strike) * 101.5) + 1) / 100);
    return {
      timeToExpiry,
      strikes,
      callBid: bids('call'),
      callAsk: asks('call'),
      putBid: bids('put'),
      putAsk: asks('put'),
    };
  });
  return { slices, carries };
}
