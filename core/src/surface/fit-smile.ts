import { butterflyArbitrage, calendarArbitrage, commonRange, outerRange, STEEPEST_WING } from './arbitrage.ts';
import { fitErrors } from './fit-errors.ts';
import { fitSpline } from './fit-spline.ts';
import { fitSviArbitrageFree } from './fit-svi-arbitrage-free.ts';
import { fitSviRaw } from './fit-svi-raw.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { flatLevel, pointColumns, SLOW_GAIN, type SmilePoint, widthWeights } from './smile-points.ts';
import { describedSmile, type SmileDescription } from './smile-description.ts';
import { smileQuality } from './smile-quality.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

export interface SliceSmile {
  description: SmileDescription;
  /** What it describes */
  smile: Smile;
  /** Root mean squared difference of fitted to mid volatility over the fitted quotes, unweighted */
  rmse: number;
  /** Share of fitted quotes whose fitted volatility lies between bid and ask volatility */
  insideMarket: number;
  /** Log-moneyness range of the fitted quotes */
  range: [number, number];
  isButterflyFree: boolean;
  /** 0 to 100, see {@link smileQuality} */
  quality: number;
  /** Why it is a level without shape, when it is one */
  levelReason?: 'too-few-points' | 'not-converged';
  /** What the fit without constraints had, when it had arbitrage and was replaced */
  unconstrained?: { rmse: number; butterfly: number[]; calendar: number[] };
}

/** A smile that passes inside fewer of its quotes than this is tried again without a formula ... */
const ENOUGH_INSIDE = 0.9;
/** ... which is taken when it passes inside that many more. */
const WORTH_IT = 0.05;

/**
 * Raw SVI through the points, weighted with their market width; where that admits butterfly arbitrage, or calendar
 * arbitrage against the nearer expiry over the strikes that both quote, the nearest raw SVI that does not. Where that misses
 * the market of more than a tenth of the quotes, a spline that does not.
 * @param o.near smile of the expiry before
 * @param o.start parameters of a smile close to the points, instead of searching for a start
 * @returns undefined without points; under five points a flat level
 */
export function fitSmile(
  points: SmilePoint[],
  timeToExpiry: number,
  { near, start }: { near?: SliceSmile; start?: SviRawParameters } = {},
): SliceSmile | undefined {
  if (points.length === 0) return undefined;
  const range: [number, number] = [points[0].k, points[points.length - 1].k];
  const both = near && commonRange(near.range, range);
  const before = near && both && { smile: near.smile, range: both };
  const common = { points, timeToExpiry, range };
  const fit = fitSviRaw({
    ...pointColumns(points),
    weight: widthWeights(points),
    timeToExpiry,
    start,
    slowGain: SLOW_GAIN,
  });
  if (!fit.ok) return { ...summary(common, flatLevel(points)), levelReason: fit.reason };
  const smile = sviRawSmile(fit.parameters, timeToExpiry);
  const butterfly = butterflyArbitrage(smile, outerRange(range));
  const free = summary(common, { model: 'svi-raw', parameters: fit.parameters }, { smile, butterfly });
  const calendar = before ? calendarArbitrage(before.smile, smile, before.range) : [];
  const { b, rho } = fit.parameters;
  const isFree = butterfly.length === 0 && calendar.length === 0 && b * (1 + Math.abs(rho)) <= STEEPEST_WING;
  const bound = { ...common, near: before };
  const nearest = isFree
    ? free
    : {
        ...summary(common, {
          model: 'svi-raw',
          parameters: fitSviArbitrageFree({ ...bound, start: fit.parameters }),
        }),
        unconstrained: { rmse: free.rmse, butterfly, calendar },
      };
  if (nearest.insideMarket >= ENOUGH_INSIDE) return nearest;
  const spline = fitSpline(bound);
  if (!spline) return nearest;
  const flexible = summary(common, { model: 'spline', parameters: spline });
  return flexible.insideMarket >= nearest.insideMarket + WORTH_IT ? flexible : nearest;
}

interface Fitted {
  points: SmilePoint[];
  timeToExpiry: number;
  range: [number, number];
}

/** How well a description fits. @param known of it, when computed already */
function summary(
  { points, timeToExpiry, range }: Fitted,
  description: SmileDescription,
  known?: { smile: Smile; butterfly: number[] },
): SliceSmile {
  const smile = known?.smile ?? describedSmile(description, timeToExpiry);
  const butterfly = known?.butterfly ?? butterflyArbitrage(smile, outerRange(range));
  const { rmse, insideMarket } = fitErrors({
    fitted: points.map((p) => smileVolatility(smile, p.k)),
    bid: points.map((p) => p.bid),
    mid: points.map((p) => p.volatility),
    ask: points.map((p) => p.ask),
  });
  return {
    description,
    range,
    smile,
    rmse,
    insideMarket,
    isButterflyFree: butterfly.length === 0,
    quality: smileQuality(points, { insideMarket, rmse }),
  };
}
