import { createContext } from 'svelte';
import type { FigureScale, Workings } from '../measures/index.ts';

/** Whoever can explain the figures on a page; the numbers, the Reading and the drawer need no more of it. */
export interface WorkingsHost {
  /** Identifier of the figure that is explained, if any */
  readonly workingsId: string | undefined;
  openWorkings(id: string): void;
  closeWorkings(): void;
  explain(id: string): Workings | undefined;
  /** Why the quotes that a figure rests on cannot be had, in words */
  readonly quotesTrouble?: string;
  /** What the digits of its figures follow */
  readonly scale: FigureScale;
  /** The instant that the figures are of */
  readonly stamp: string;
  /** Where a figure's option is priced with other inputs; undefined where the host is that place */
  pricerHref?(id: string): string;
}

export const [workingsHost, setWorkingsHost] = createContext<WorkingsHost>();
