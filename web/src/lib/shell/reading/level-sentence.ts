import { percentileText, volatilityText } from '../../ui/format.ts';
import type { Overview } from '../../api/picture.ts';
import type { Sentence, SentencePart } from './sentence.ts';

/** Level of the underlying with its place in the past. */
export function levelSentence(picture: Overview): Sentence {
  if (picture.atm30 === null) return ['No volatility could be fitted at this instant.'];
  const parts: SentencePart[] = ['30-day implied ', { figure: 'atm30', text: `${volatilityText(picture.atm30)} %` }];
  if (picture.standing) {
    parts.push(', the ', { figure: 'percentile', text: percentileText(picture.standing.percentile) }, ' of ');
    parts.push(`${picture.standing.count} stored sessions`);
    if (picture.standing.rank !== null) {
      parts.push(', rank ', { figure: 'rank', text: String(Math.round(picture.standing.rank * 100)) });
    }
  } else if (picture.waiting === 0) parts.push('; nothing is stored before, so it has no rank yet');
  if (picture.waiting > 0) parts.push(waitingText(picture));
  return [...parts, '.'];
}

/** Stored is not derived: until a worker has done it, the past is shorter than what is stored. */
function waitingText({ waiting, standing }: Overview): string {
  const sessions = `${waiting} ${standing ? 'more ' : ''}${waiting === 1 ? 'session is' : 'sessions are'}`;
  return `; ${sessions} stored and ${waiting === 1 ? 'waits' : 'wait'} for a worker to derive ${waiting === 1 ? 'it' : 'them'}`;
}
