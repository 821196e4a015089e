import { finishAbove } from '@umwelt/core/probability';
import { type Smile, smileVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { OddsSource, SourceOddsRow } from '../../api/range.ts';
import { askOdds, type SourceOdds } from '../../theory/index.ts';

/** A part of what tells a source's probability from the smile's. */
export interface OddsStep {
  name: 'own time' | 'quote' | 'level' | 'strike' | 'slope' | 'law';
  /** Of the probability, decimal */
  change: number;
}

/** One row of the matrix: what a source says of one price. */
export interface OddsRow {
  source: OddsSource;
  volatility: number | null;
  /** To end on the far side of the price */
  finish: number | null;
  touch: number | null;
  /** One standard deviation of them, of a source that was drawn */
  finishError: number | undefined;
  /** Whether finish or touch are of another price, since their own are on the way */
  isFinishOld: boolean;
  isTouchOld: boolean;
  steps: OddsStep[];
  reason: string | undefined;
}

/** Answers that come from elsewhere, with the price that they are of. */
export interface ToldOdds {
  level: number;
  finish: readonly SourceOddsRow[] | undefined;
  touch: readonly SourceOddsRow[] | undefined;
}

/** Sources that are there only where somebody linked or typed them. */
const OPTIONAL: readonly OddsSource[] = ['borrowed', 'typed'];
/** Sources whose odds take a while. */
const SLOW_TOUCH: readonly OddsSource[] = ['smile', 'borrowed', 'history'];

/**
 * The matrix of one price: what is in closed form as the hand moves, the rest as it was last told.
 * @param side on which of both sides of the price it ends
 */
export function oddsRows(
  expiry: ExpiryPicture,
  sources: readonly SourceOdds[],
  o: { level: number; side: 'below' | 'above'; told: ToldOdds; smile30: Smile | undefined; drift: number },
): OddsRow[] {
  const { level, side, told } = o;
  const isTold = told.level === level;
  const smile = sources.find((s) => s.source === 'smile');
  const smileRow = smile?.odds;
  const struck = smile?.volatilityAt(level) ?? null;
  const smileFinish = smileRow ? askOdds(smileRow, side, [level], expiry.underlyingPrice) : NaN;
  const shown = sources.filter((s) => s.odds !== undefined || !OPTIONAL.includes(s.source));
  return shown.map(({ source, odds, volatilityAt, reason }): OddsRow => {
    const finishTold = told.finish?.find((r) => r.source === source);
    const touchTold = told.touch?.find((r) => r.source === source);
    const local = odds ? askOdds(odds, side, [level], expiry.underlyingPrice) : NaN;
    const isLocal = Number.isFinite(local);
    const finish = isLocal ? local : (finishTold?.probability ?? null);
    const isSlow = SLOW_TOUCH.includes(source);
    const fast = odds && !isSlow ? askOdds(odds, 'touch', [level], expiry.underlyingPrice) : NaN;
    const touch = isSlow ? (touchTold?.probability ?? null) : Number.isFinite(fast) ? fast : null;
    return {
      source,
      volatility: volatilityAt(level),
      finish,
      touch,
      finishError: isLocal ? undefined : finishTold?.standardError,
      isFinishOld: !isLocal && finish !== null && !isTold,
      isTouchOld: isSlow && touch !== null && !isTold,
      steps:
        finish === null || source === 'smile' || !Number.isFinite(smileFinish)
          ? []
          : stepsOf(expiry, source, { ...o, finish, smileFinish, struck, volatility: volatilityAt(level) }),
      reason: finish === null ? (reason ?? finishTold?.reason ?? 'no good quote on either side of the price') : reason,
    };
  });
}

/**
 * What tells a source's probability from the smile's, in the order level, this strike's volatility, slope of the smile, the
 * expiry's own time, law; the parts add up to the whole.
 */
function stepsOf(
  expiry: ExpiryPicture,
  source: OddsSource,
  o: {
    level: number;
    side: 'below' | 'above';
    smile30: Smile | undefined;
    drift: number;
    finish: number;
    smileFinish: number;
    volatility: number | null;
    /** The smile's at the price */
    struck: number | null;
  },
): OddsStep[] {
  const { finish, smileFinish, side, level, volatility } = o;
  const whole = finish - smileFinish;
  const { underlyingPrice: spot, forward, years, atm } = expiry;
  const drift = Math.log(forward / spot) / years + o.drift;
  const plain = (v: number) => {
    const above = finishAbove({ spot, timeToExpiry: years, volatility: v, drift }, level);
    return side === 'above' ? above : 1 - above;
  };
  const { struck } = o;
  if (volatility === null || struck === null || atm === null || source === 'borrowed')
    return [{ name: 'law', change: whole }];
  const slope = plain(struck) - smileFinish;
  if (source === 'own')
    return shownSteps([
      { name: 'quote', change: plain(volatility) - plain(struck) },
      { name: 'slope', change: slope },
    ]);
  if (source === 'index' && o.smile30)
    return shownSteps(monthSteps(expiry, { ...o, smile30: o.smile30, plain, volatility, whole }));
  return shownSteps([
    { name: 'level', change: plain(volatility) - plain(atm) },
    { name: 'strike', change: plain(atm) - plain(struck) },
    { name: 'slope', change: slope },
  ]);
}

/** From the 30-day level over the 30-day smile at as many deviations, with its slope, to the expiry's own smile. */
function monthSteps(
  expiry: ExpiryPicture,
  o: {
    level: number;
    side: 'below' | 'above';
    smile30: Smile;
    plain: (volatility: number) => number;
    volatility: number;
    whole: number;
  },
): OddsStep[] {
  const { smile30, plain, volatility, whole } = o;
  const stretch = Math.sqrt(smile30.timeToExpiry / expiry.years);
  const k = Math.log(o.level / expiry.forward) * stretch;
  const struck = smileVolatility(smile30, k);
  // d volatility / dk of the stretched smile, times the root of the time.
  const bend = (smile30.slope(k) / (2 * struck * smile30.timeToExpiry)) * stretch;
  const deviation = struck * Math.sqrt(expiry.years);
  const d2 = -Math.log(o.level / expiry.forward) / deviation - 0.5 * deviation;
  const density = Math.exp(-0.5 * d2 * d2) / Math.sqrt(2 * Math.PI);
  const tilt = (o.side === 'below' ? 1 : -1) * density * bend * Math.sqrt(expiry.years);
  const strike = plain(volatility) - plain(struck);
  const slope = -tilt;
  return [
    { name: 'strike', change: strike },
    { name: 'slope', change: slope },
    { name: 'own time', change: whole - strike - slope },
  ];
}

function shownSteps(steps: OddsStep[]): OddsStep[] {
  // What moves nothing that is shown is not told.
  return steps.filter((s) => Math.abs(s.change) >= 5e-4);
}
