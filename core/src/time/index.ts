export { calendarYears } from './year-fraction.ts';
export { type CivilDate, isMonthlyExpiry, monthlyExpiry } from './expiry-calendar.ts';
