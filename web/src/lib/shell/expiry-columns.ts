import { expiryBefore, shownExpiries } from '../market/index.ts';
import {
  type ExpiryMeasure,
  EXPIRY_MEASURES,
  type ExpirySubject,
  figureId,
  figureScale,
  figureText,
} from '../measures/index.ts';
import type { AsOfContext } from '../api/as-of-context.ts';
import type { ExpiryOverview, Overview } from '../api/picture.ts';
import { dateText, daysText, numberText } from '../ui/format.ts';
import type { TableColumn } from '../ui/table/table-column.ts';
import { measureColumn } from './measure-column.ts';

/** What expiries are measured of. */
export interface Seen {
  picture: Overview;
  context: AsOfContext;
}

/** Pixels, by how a measure is written. */
const WIDTHS: Partial<Record<ExpiryMeasure['unit'], number>> = {
  price: 66,
  volatility: 62,
  width: 52,
  factor: 56,
  percentile: 38,
  share: 52,
  points: 50,
};

/** It says from which expiry it goes. */
const FORWARD_WIDTH = 96;

/** A value of an expiry as tables write it: their heads say what it is. */
function written(measure: ExpiryMeasure, value: number | null, { picture, context, expiry }: ExpirySubject): string {
  if (value === null) return '—';
  if (measure.id === 'forwardVolatility') {
    const before = expiryBefore(shownExpiries(picture, context), expiry);
    return `${before ? dateText(before.date, picture.asOf) : 'now'} → ${figureText(value, measure.unit, figureScale(picture))}`;
  }
  if (measure.unit === 'percentile') return String(Math.round(value * 100));
  // Of a few dozen quotes a tenth of a percent says nothing.
  if (measure.id === 'insideMarket') return `${numberText(100 * value, 0)} %`;
  const text = figureText(value, measure.unit, figureScale(picture));
  return measure.unit === 'share' ? `${text} %` : text;
}

/** Columns of all measures of expiries by the catalogue; those in `usual` are shown, in that order, until others are chosen. */
export function expiryColumns(
  { picture, context }: Seen,
  usual: readonly string[],
  measures: readonly ExpiryMeasure[] = EXPIRY_MEASURES,
): TableColumn<ExpiryOverview>[] {
  const of = (expiry: ExpiryOverview) => ({ picture, context, expiry });
  const place = (id: string) => (usual.includes(id) ? usual.indexOf(id) : usual.length);
  const measured = [...measures]
    .sort((a, b) => place(a.id) - place(b.id))
    .map((measure) =>
      measureColumn(measure, of, {
        width: measure.id === 'forwardVolatility' ? FORWARD_WIDTH : (WIDTHS[measure.unit] ?? 56),
        isExtra: !usual.includes(measure.id),
        text: (expiry) => written(measure, measure.value(of(expiry)), of(expiry)),
        figure: (expiry) => figureId(measure.id, expiry.date),
        tone: () => (measure.id === 'realized' ? 'text-realized' : ''),
      }),
    );
  return [
    {
      id: 'expiry',
      head: 'expiry',
      width: 58,
      isFixed: true,
      value: (expiry) => expiry.date,
      text: (expiry) => dateText(expiry.date, picture.asOf),
    },
    {
      id: 'days',
      head: 'days',
      width: 40,
      isExtra: !usual.includes('days'),
      value: (expiry) => expiry.days,
      text: (expiry) => daysText(expiry.days),
    },
    ...measured,
  ];
}
