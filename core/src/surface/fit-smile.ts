import { butterflyArbitrage, calendarArbitrage, commonRange, outerRange, STEEPEST_WING } from './arbitrage.ts';
import { fitSviArbitrageFree } from './fit-svi-arbitrage-free.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { fitPoints, flatSmile, type SmilePoint } from './smile-points.ts';
import { smileQuality } from './smile-quality.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

export interface SliceSmile {
  model: 'svi-raw' | 'flat';
  parameters: SviRawParameters | { volatility: number };
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
  /** What the fit without constraints had, when it had arbitrage and was replaced */
  unconstrained?: { rmse: number; butterfly: number[]; calendar: number[] };
}

/** Where so many steps do not end a fit its parameters trade off against each other and the smile no longer moves. */
const MOST_STEPS = 60;

/**
 * Raw SVI through the points, weighted with their market width; where that admits butterfly arbitrage, or calendar
 * arbitrage against the nearer expiry over the strikes that both quote, the nearest raw SVI that does not.
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
  const common = near && commonRange(near.range, range);
  const before = near && common && { smile: near.smile, range: common };
  const fit = fitPoints(points, (i) => 1 / points[i].halfWidth ** 2, timeToExpiry, {
    start,
    mostIterations: MOST_STEPS,
  });
  if (!fit.ok) {
    const { smile, volatility } = flatSmile(points, timeToExpiry);
    return summary(points, smile, { model: 'flat', parameters: { volatility }, range });
  }
  const smile = sviRawSmile(fit.parameters, timeToExpiry);
  const free = summary(points, smile, { model: 'svi-raw', parameters: fit.parameters, range });
  const butterfly = butterflyArbitrage(smile, outerRange(range));
  const calendar = before ? calendarArbitrage(before.smile, smile, before.range) : [];
  const { b, rho } = fit.parameters;
  if (butterfly.length === 0 && calendar.length === 0 && b * (1 + Math.abs(rho)) <= STEEPEST_WING) return free;
  const parameters = fitSviArbitrageFree({ points, timeToExpiry, start: fit.parameters, range, near: before });
  return {
    ...summary(points, sviRawSmile(parameters, timeToExpiry), { model: 'svi-raw', parameters, range }),
    unconstrained: { rmse: free.rmse, butterfly, calendar },
  };
}

function summary(
  points: SmilePoint[],
  smile: Smile,
  o: Pick<SliceSmile, 'model' | 'parameters' | 'range'>,
): SliceSmile {
  let squares = 0;
  let inside = 0;
  for (const p of points) {
    const fitted = smileVolatility(smile, p.k);
    squares += (fitted - p.volatility) ** 2;
    if (fitted >= p.bid && fitted <= p.ask) inside++;
  }
  const rmse = Math.sqrt(squares / points.length);
  const insideMarket = inside / points.length;
  return {
    ...o,
    smile,
    rmse,
    insideMarket,
    isButterflyFree: butterflyArbitrage(smile, outerRange(o.range)).length === 0,
    quality: smileQuality(points, { insideMarket, rmse }),
  };
}
