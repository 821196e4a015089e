import type { Side } from '../api/quantity.ts';

/** A figure of a European option that has a closed form. */
export type EuropeanFigure = 'theory' | 'delta' | 'gamma' | 'theta' | 'vega' | 'rho';

const SPOT_ENDS = 'd₂ = d₁ − σ √T, d₁ = (ln(S / K) + (r − q + σ² / 2) T) / (σ √T)';
const FORWARD_ENDS = 'd₂ = d₁ − σ √T, d₁ = ln(F / K) / (σ √T) + σ √T / 2';
const SPOT_CALL = 'S e^(−q T) N(d₁) − K e^(−r T) N(d₂)';
const SPOT_PUT = 'K e^(−r T) N(−d₂) − S e^(−q T) N(−d₁)';
const FUTURE_CALL = 'e^(−r T) (F N(d₁) − K N(d₂))';
const FUTURE_PUT = 'e^(−r T) (K N(−d₂) − F N(−d₁))';
const SPOT_DECAY = 'S e^(−q T) n(d₁) σ / (2 √T)';
const FUTURE_DECAY = 'F e^(−r T) n(d₁) σ / (2 √T)';

/** Merton's formulas on a spot S, which pays the yield q. */
const ON_SPOT: Record<EuropeanFigure, Record<Side, string>> = {
  theory: { call: SPOT_CALL, put: SPOT_PUT },
  delta: { call: 'e^(−q T) N(d₁)', put: '−e^(−q T) N(−d₁)' },
  gamma: both('e^(−q T) n(d₁) / (S σ √T)'),
  theta: {
    call: `(−${SPOT_DECAY} − r K e^(−r T) N(d₂) + q S e^(−q T) N(d₁)) / 365`,
    put: `(−${SPOT_DECAY} + r K e^(−r T) N(−d₂) − q S e^(−q T) N(−d₁)) / 365`,
  },
  vega: both('S e^(−q T) n(d₁) √T / 100'),
  rho: { call: 'K T e^(−r T) N(d₂) / 100', put: '−K T e^(−r T) N(−d₂) / 100' },
};

/** Black's on a futures price F, which is held where the rate or the time changes. */
const ON_FUTURE: Record<EuropeanFigure, Record<Side, string>> = {
  theory: { call: FUTURE_CALL, put: FUTURE_PUT },
  delta: { call: 'e^(−r T) N(d₁)', put: '−e^(−r T) N(−d₁)' },
  gamma: both('e^(−r T) n(d₁) / (F σ √T)'),
  theta: { call: `(r ${FUTURE_CALL} − ${FUTURE_DECAY}) / 365`, put: `(r ${FUTURE_PUT} − ${FUTURE_DECAY}) / 365` },
  vega: both('F e^(−r T) n(d₁) √T / 100'),
  rho: { call: `−T ${FUTURE_CALL} / 100`, put: `−T ${FUTURE_PUT} / 100` },
};

function both(text: string): Record<Side, string> {
  return { call: text, put: text };
}

/** Closed form of a figure, with Greeks per calendar day, volatility point and point of rate. */
export function europeanFormula(figure: EuropeanFigure, side: Side, model: 'spot' | 'futures'): string {
  return model === 'spot' ? `${ON_SPOT[figure][side]}, ${SPOT_ENDS}` : `${ON_FUTURE[figure][side]}, ${FORWARD_ENDS}`;
}

/** Closed form on the forward, whatever the exercise. */
export function forwardFormula(text: string): string {
  return `${text}, ${FORWARD_ENDS}`;
}
