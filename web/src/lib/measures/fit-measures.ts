import { fitErrors, stripVariance } from '@umwelt/core/surface';
import { type ExpiryMeasure, formula, type InputValues, type WorkingsInput } from './measure.ts';
import { fittedSeries, stripSeries } from './quoted-series.ts';
import { smileSource } from './smile-inputs.ts';
import { timeInput } from './time-input.ts';

/** What the fitted smile lies off its quotes, by core's `fitErrors`. */
const errorsOf = (inputs: InputValues) =>
  fitErrors({
    fitted: inputs.column('σ fit'),
    bid: inputs.column('σ bid'),
    mid: inputs.column('σ mid'),
    ask: inputs.column('σ offer'),
  });

/** Figures of an expiry that rest on all its quotes, or on all sessions as far back as it lies ahead. */
export const FIT_MEASURES: readonly ExpiryMeasure[] = [
  {
    id: 'index',
    label: 'model-free volatility',
    shortLabel: 'model-free %',
    unit: 'volatility',
    definition: 'Volatility that a strip of all out-of-the-money options of the expiry replicates, whatever the model.',
    absence: 'where its quotes make no strip',
    derivation: {
      kind: 'procedure',
      text: '√((2 Σ ΔK e^(rT) Q(K) / K² − (F / K₀ − 1)²) / T), r = −ln(D) / T, F by the pair of call and put that lie nearest, K₀ the strike below it, Q the mid out of the money, none beyond two bids of 0',
      core: 'stripVariance',
      settings: {},
      run: (inputs) => {
        const timeToExpiry = inputs.number('T');
        const strip = stripVariance(
          {
            timeToExpiry,
            strikes: inputs.column('K'),
            call: { bid: inputs.column('C bid'), mid: inputs.column('C') },
            put: { bid: inputs.column('P bid'), mid: inputs.column('P') },
          },
          -Math.log(inputs.number('D')) / timeToExpiry,
        );
        return strip && strip.variance > 0 ? Math.sqrt(strip.variance) : null;
      },
    },
    source:
      'Demeterfi, K., Derman, E., Kamal, M. & Zou, J. (1999). More than you ever wanted to know about volatility swaps',
    value: ({ expiry }) => expiry.index,
    inputs: (subject): WorkingsInput[] => [
      timeInput(subject),
      {
        symbol: 'D',
        label: 'discount factor',
        value: subject.expiry.discountFactor,
        unit: 'factor',
        source: subject.expiry.forwardSource,
      },
    ],
    series: ({ expiry }) => stripSeries(expiry),
    needsQuotes: true,
  },
  {
    id: 'realized',
    label: 'realized over as long',
    shortLabel: 'realized %',
    unit: 'volatility',
    definition:
      'Close-to-close volatility of the underlying over as many days before the instant as are left to expiry.',
    derivation: formula('√(252 (Q − M² / n) / (n − 1))'),
    source: 'Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., section 15.4',
    value: ({ expiry }) => expiry.realized?.volatility ?? null,
    inputs: ({ expiry: { realized } }) => [
      {
        symbol: 'n',
        label: 'returns',
        value: realized?.sessions ?? null,
        unit: 'count',
        source: 'daily bars, the price of the instant last',
      },
      {
        symbol: 'M',
        label: 'sum of ln(close / close before)',
        value: realized?.sum ?? null,
        unit: 'factor',
        source: 'over these sessions',
      },
      {
        symbol: 'Q',
        label: 'sum of their squares',
        value: realized?.squares ?? null,
        unit: 'factor',
        source: 'over these sessions',
      },
    ],
  },
  {
    id: 'insideMarket',
    label: 'quotes that the fit passes inside',
    shortLabel: 'inside',
    unit: 'share',
    definition: 'Share of the fitted quotes whose fitted volatility lies between bid and offer.',
    derivation: {
      kind: 'procedure',
      text: 'count(σ bid ≤ σ fit ≤ σ offer) / n',
      core: 'fitErrors',
      settings: {},
      run: (inputs) => errorsOf(inputs).insideMarket,
    },
    source: ({ expiry }) => smileSource(expiry),
    value: ({ expiry }) => expiry.smile?.insideMarket ?? null,
    inputs: () => [],
    series: ({ expiry }) => fittedSeries(expiry),
    needsQuotes: true,
  },
  {
    id: 'rmse',
    label: 'error of the fit',
    shortLabel: 'fit error',
    unit: 'points',
    definition: 'Root mean squared difference of fitted and mid volatility over the fitted quotes.',
    derivation: {
      kind: 'procedure',
      text: '√(mean (σ fit − σ mid)²)',
      core: 'fitErrors',
      settings: {},
      run: (inputs) => errorsOf(inputs).rmse,
    },
    source: ({ expiry }) => smileSource(expiry),
    value: ({ expiry }) => expiry.smile?.rmse ?? null,
    inputs: () => [],
    series: ({ expiry }) => fittedSeries(expiry),
    needsQuotes: true,
  },
];
