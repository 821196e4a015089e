/** Value and plain partial derivatives of one option: per 1.00 of the variable, time derivatives per year. */
export interface Greeks {
  price: number;
  /** dV / dS */
  delta: number;
  /** d2V / dS2 */
  gamma: number;
  /** dV / d volatility */
  vega: number;
  /** Change per year as calendar time passes, -dV / dT */
  theta: number;
  /** dV / d rate */
  rho: number;
  /** dV / d yield */
  dividendRho: number;
  /** dV / dK */
  dualDelta: number;
  /** d2V / dS d volatility */
  vanna: number;
  /** d2V / d volatility2 */
  volga: number;
  /** Change of delta per year as calendar time passes */
  charm: number;
  /** d gamma / dS */
  speed: number;
  /** d gamma / d volatility */
  zomma: number;
  /** Change of gamma per year as calendar time passes */
  color: number;
  /** Risk-neutral probability to finish in the money */
  probabilityItm: number;
}
