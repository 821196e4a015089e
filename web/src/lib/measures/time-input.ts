import { instantLabel } from '../ui/format.ts';
import type { ExpirySubject, WorkingsInput } from './measure.ts';

/** Time to expiry as an input of Workings. */
export const timeInput = ({ expiry }: ExpirySubject): WorkingsInput => ({
  symbol: 'T',
  label: 'time to expiry',
  value: expiry.years,
  unit: 'years',
  source: `${instantLabel(expiry.expiry)}, calendar, ACT/365 by minutes`,
});
