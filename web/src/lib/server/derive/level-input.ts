import type { LevelChoice } from '../../api/level.ts';
import type { StoredSmile } from '../database/schema.ts';
import type { SessionBars } from './session-bars.ts';

/** What is kept of the end of a session, or what is seen at the instant itself. */
export interface LevelMeasures {
  instant: Date;
  underlyingPrice: number;
  /** At the fixed days of the code's list */
  atmByTenor: ArrayLike<number>;
  index30: number | null;
  /** At the money at 30 days without scheduled events */
  exEvent30: number | null;
  optionVolume: number | null;
  openInterest: number | null;
  /** Only where what is asked for needs them */
  smiles?: StoredSmile[];
}

/** All that Level is made of, as it is stored and seen; nothing is later than the instant. */
export interface LevelInput {
  symbol: string;
  zone: string;
  asOf: Date;
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  /** The instant's own session has ended */
  isOver: boolean;
  /** The last measures of each session before the instant's, ascending */
  past: LevelMeasures[];
  now: LevelMeasures;
  index30Completed: number | null;
  expiries: { date: string; days: number; atm: number | null }[];
  /** Up to the instant */
  events: { instant: Date; kind: string; label: string }[];
  /** Time of day, HH:MM, at which sessions end */
  sessionClose: string;
  /** Of the last sessions, by when they end */
  intraday: { instant: Date; open: number; close: number }[];
  waiting: number;
  choice: LevelChoice;
}
