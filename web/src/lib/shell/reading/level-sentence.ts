import { countedText, numberText, percentileText, volatilityText } from '../../ui/format.ts';
import type { Overview } from '../../api/picture.ts';
import type { Sentence, SentencePart } from './sentence.ts';

/** Level of the underlying with its place in the past, at the money and model-free. */
export function levelSentence(picture: Overview): Sentence {
  const { atm30, standing, index30, indexStanding, waiting } = picture;
  if (atm30 === null) return ['No volatility could be fitted at this instant.'];
  const parts: SentencePart[] = ['At the money at 30 days ', { figure: 'atm30', text: `${volatilityText(atm30)} %` }];
  if (standing) {
    parts.push(', the ', { figure: 'percentile', text: percentileText(standing.percentile) }, ' of ');
    parts.push(countedText(standing.count, 'stored session'));
    if (standing.rank !== null) {
      parts.push(', rank ', { figure: 'rank', text: String(Math.round(standing.rank * 100)) });
    }
  } else if (waiting === 0) parts.push('; nothing is stored before, so it has no rank yet');
  if (index30 !== null) {
    parts.push('; model-free ', { figure: 'index30', text: `${volatilityText(index30)} %` });
    if (indexStanding)
      parts.push(', the ', { figure: 'index30Percentile', text: percentileText(indexStanding.percentile) });
  }
  const { realized30 } = picture;
  if (realized30) {
    parts.push(
      '; ',
      { figure: 'ratio30', text: numberText(atm30 / realized30.volatility, 2) },
      ' times realized over 30 sessions',
    );
  }
  if (waiting > 0) parts.push(waitingText(picture));
  return [...parts, '.'];
}

/** Stored is not derived: until a worker has done it, the past is shorter than what is stored. */
function waitingText({ waiting, standing }: Overview): string {
  const sessions = `${waiting} ${standing ? 'more ' : ''}${waiting === 1 ? 'session is' : 'sessions are'}`;
  return `; ${sessions} stored and ${waiting === 1 ? 'waits' : 'wait'} for a worker to derive ${waiting === 1 ? 'it' : 'them'}`;
}
