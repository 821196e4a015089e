export { type CalendarEvent, type CalendarResult, readCalendar, writeCalendar } from './calendar-file.ts';
