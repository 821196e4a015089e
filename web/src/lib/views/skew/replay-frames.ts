import { describedSmile, smileVolatility } from '@umwelt/core/surface';
import type { SkewSession } from '../../api/skew-history.ts';

/** A session's smile ready to draw: volatilities at the common log-moneynesses, NaN beyond its quotes. */
export interface ReplayFrame {
  date: string;
  price: number;
  atm: number;
  expiry: string;
  volatility: Float64Array;
}

export interface Replay {
  logMoneyness: Float64Array;
  frames: ReplayFrame[];
  /** Lowest and highest volatility drawn */
  range: [number, number];
}

const POINTS = 61;
/** Sessions of which one side's quotes reach less far are not asked to fill the width: their share. */
const WIDTH_SHARE = 0.5;

/** Smiles of the sessions that have one, over the log-moneyness that half of them reach. */
export function replayFrames(sessions: readonly SkewSession[]): Replay {
  const withSmile = sessions.flatMap((s) => (s.smile ? [{ ...s, smile: s.smile }] : []));
  const reach = (side: 0 | 1) => {
    const ends = withSmile.map((s) => s.smile.range[side]).sort((a, b) => a - b);
    return ends[Math.floor(ends.length * (side === 0 ? WIDTH_SHARE : 1 - WIDTH_SHARE))] ?? 0;
  };
  const [low, high] = [reach(0), reach(1)];
  const logMoneyness = Float64Array.from({ length: POINTS }, (_, i) => low + ((high - low) * i) / (POINTS - 1));
  let least = Infinity;
  let most = -Infinity;
  const frames = withSmile.map(({ instant, price, smile }): ReplayFrame => {
    const curve = describedSmile(smile.smile, smile.years);
    const volatility = logMoneyness.map((k) => {
      if (k < smile.range[0] || k > smile.range[1]) return NaN;
      const v = smileVolatility(curve, k);
      least = Math.min(least, v);
      most = Math.max(most, v);
      return v;
    });
    return { date: instant.slice(0, 10), price, atm: smileVolatility(curve, 0), expiry: smile.expiry, volatility };
  });
  return { logMoneyness, frames, range: [least, most] };
}
