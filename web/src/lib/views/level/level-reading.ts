import type { ForecastRecord, Level, LevelBand } from '../../api/level.ts';
import { pastFigure } from '../../measures/index.ts';
import type { Sentence, SentencePart } from '../../shell/reading/sentence.ts';
import { countedText, dateText, numberText, percentileText, pointsText, volatilityText } from '../../ui/format.ts';
import { levelVerdict } from './level-verdict.ts';
import { FORECAST_NAMES, impliedName, realizedName } from './level-words.ts';

/** Implied over realized from which it is taken as high, and under which as low (common practice, no source). */
export const HIGH_RATIO = 1.15;
export const LOW_RATIO = 1;
/** Rank and percentile further apart than this need an explanation. */
const UNLIKE = 0.2;
/** What is further from its past than this is as good as its end. */
const NEAR_END = 0.02;
/** Fewer cases that do not overlap prove nothing. */
const FEW_CASES = 20;

/** Sentences beside Level. */
export function levelReading(level: Level, record: ForecastRecord | undefined, expiry: string | undefined): Sentence[] {
  return [
    placeSentence(level, expiry),
    ...unlikeSentence(level),
    realizedSentence(level),
    ...verdictSentence(level, record),
    ...jumpSentence(level),
    ...forecastSentence(level, record),
    ...afterSentence(level),
  ];
}

function placeSentence(level: Level, expiry: string | undefined): Sentence {
  const { now, place, asOf, choice, waiting } = level;
  const name = impliedName(choice, expiry, asOf);
  if (now === null) {
    const isEventless = choice.withoutEvents === 'yes' && choice.implied === 'atm' && choice.days !== 30;
    return [
      isEventless
        ? 'Without events implied volatility is kept at 30 days alone: choose 30 days.'
        : `There is no implied volatility ${name} at this instant.`,
    ];
  }
  const parts: SentencePart[] = [
    `Implied (${name}) is `,
    { figure: pastFigure('implied'), text: `${volatilityText(now)} %` },
  ];
  if (!place) {
    parts.push(
      waiting > 0
        ? '; the sessions before wait for a worker to derive them.'
        : '; nothing is stored before, so it has no past yet.',
    );
    return parts;
  }
  const isLowest = place.percentile <= NEAR_END;
  const isHighest = place.percentile >= 1 - NEAR_END;
  parts.push(
    ', the ',
    { figure: pastFigure('percentile'), text: percentileText(place.percentile) },
    ` of ${countedText(place.count, 'session')}`,
  );
  if (place.count < choice.over) parts.push(` (${choice.over} were asked for)`);
  if (isLowest) parts.push(': at its low of that time');
  else if (isHighest) parts.push(': at its high of that time');
  return [...parts, '.'];
}

/** Why rank and percentile differ, when they do: the extreme that drew the rank. */
function unlikeSentence({ place, asOf }: Level): Sentence[] {
  if (!place || place.rank === null || Math.abs(place.rank - place.percentile) < UNLIKE) return [];
  const isLower = place.rank < place.percentile;
  const [value, session, id] = isLower ? [place.high, place.highSession, 'high'] : [place.low, place.lowSession, 'low'];
  return [
    [
      'Its rank is ',
      { figure: pastFigure('rank'), text: String(Math.round(place.rank * 100)) },
      `, ${isLower ? 'lower' : 'higher'}, because it is measured to the ${isLower ? 'highest' : 'lowest'} session alone: ${dateText(session, asOf)} reached `,
      { figure: pastFigure(id), text: `${volatilityText(value)} %` },
      '.',
    ],
  ];
}

function realizedSentence(level: Level): Sentence {
  const { realizedNow, choice, asOf, ratioNow, ratioPlace } = level;
  const { volatility, missing, isTodayLeftOut, eventSessions, until } = realizedNow;
  if (volatility === null) {
    const why =
      missing === 'no-bars'
        ? 'no daily bars are stored'
        : missing === 'gap'
          ? 'a session of the window has no bar'
          : `fewer than ${choice.window + 1} sessions have bars`;
    return [`There is no realized volatility (${realizedName(choice)}): ${why}.`];
  }
  const parts: SentencePart[] = [
    `Realized (${realizedName(choice)}) is `,
    { figure: pastFigure('realized'), text: `${volatilityText(volatility)} %` },
    ` ± ${numberText((realizedNow.standardError ?? NaN) * 100, 1)} points`,
  ];
  if (until) parts.push(` to ${dateText(until, asOf)}`);
  const left = [
    ...(isTodayLeftOut ? ['the session under way is left out'] : []),
    ...(eventSessions > 0 ? [`so are ${countedText(eventSessions, 'session')} with scheduled events`] : []),
  ];
  if (left.length > 0) parts.push(`; ${left.join(', ')}`);
  if (ratioNow !== null) {
    parts.push('. Implied is ', { figure: pastFigure('ratio'), text: numberText(ratioNow, 2) }, ' times it');
    if (ratioPlace) {
      parts.push(', the ', { figure: pastFigure('ratioPercentile'), text: percentileText(ratioPlace.percentile) });
      parts.push(` of ${countedText(ratioPlace.count, 'session')}`);
    }
  }
  return [...parts, '.'];
}

function verdictSentence(level: Level, record: ForecastRecord | undefined): Sentence[] {
  const { ratioNow, dailyMove } = level;
  if (ratioNow === null || dailyMove === null) return [];
  const move: SentencePart[] = [
    ' They stand for ',
    { figure: pastFigure('dailyMove'), text: `${numberText(dailyMove * 100, 2)} %` },
    ' a session.',
  ];
  const { byRatio, byForecast } = levelVerdict(level, record);
  const reference: SentencePart[] = [
    ` Common practice takes a ratio over ${numberText(HIGH_RATIO, 2)} as high, one under ${numberText(LOW_RATIO, 0)} as low; it is ${numberText(ratioNow, 2)}.`,
  ];
  const places = [
    ...(byRatio ? [{ ...byRatio, words: 'its ratio to realized' }] : []),
    ...(byForecast ? [{ ...byForecast, words: `implied less ${FORECAST_NAMES[byForecast.model]}` }] : []),
  ];
  if (places.length === 0)
    return [['Whether options are high or low for it takes a past of sixty sessions.', ...reference, ...move]];
  const named = places.map(
    ({ words, percentile, count }) =>
      `${words} exceeds ${numberText(100 * percentile, 0)} % of ${countedText(count, 'session')}`,
  );
  const sides = [...new Set(places.map((p) => p.side))];
  const verdict =
    sides.length === 1
      ? `Among its own past options are ${SIDE_WORDS[sides[0]]}: ${named.join(', ')}.`
      : `Two measures disagree: by ${places.map((p) => `${p.words} options are ${SIDE_WORDS[p.side]}`).join(', by ')} (${named.join('; ')}).`;
  return [[verdict, ...reference, ...move]];
}

const SIDE_WORDS = { high: 'high', low: 'low', usual: 'neither high nor low' } as const;

function jumpSentence({ jumps }: Level): Sentence[] {
  if (!jumps) return [];
  const isNoise = Math.abs(jumps.share) < 2 * jumps.standardError;
  return [
    [
      `Within the last ${countedText(jumps.sessions, 'session')} `,
      { figure: pastFigure('jumpShare'), text: `${numberText(jumps.share * 100, 0)} %` },
      ` of the variance reads as jumps${isNoise ? `, no more than noise (one error is ${numberText(jumps.standardError * 100, 0)} %)` : ''}.`,
    ],
  ];
}

function forecastSentence(level: Level, record: ForecastRecord | undefined): Sentence[] {
  if (!record) return [];
  const best = record.records.find((r) => r.model === record.best);
  if (!best || best.qlike === null)
    return [['No forecast can be judged here yet: that takes about eight months of daily bars.']];
  const forecast = level.forecasts.find((f) => f.model === best.model)?.volatility ?? null;
  const naive = record.records.find((r) => r.model === 'naive')?.qlike ?? null;
  const parts: SentencePart[] = [
    `Over ${countedText(record.horizon, 'session')} ${FORECAST_NAMES[best.model]} has served best here: QLIKE `,
    { figure: pastFigure('qlike', best.model), text: numberText(best.qlike, 3) },
  ];
  if (best.model !== 'naive' && naive !== null) parts.push(` against ${numberText(naive, 3)} of last month again`);
  parts.push(
    record.isBestBeyondChance === null
      ? best.model === 'naive'
        ? ''
        : `; ${countedText(best.independent, 'case')} apart do not tell that from chance`
      : record.isBestBeyondChance
        ? ', more than chance'
        : ', no more than chance',
  );
  if (forecast !== null && level.now !== null && best.model !== 'implied') {
    const gap = level.now - forecast;
    parts.push(
      `. It expects ${volatilityText(forecast)} %; implied stands ${numberText(Math.abs(gap) * 100, 1)} points ${gap >= 0 ? 'over' : 'under'} it`,
    );
  }
  return [[...parts, '.']];
}

/** What came after sessions in which implied stood as it does now. */
function afterSentence({ bands, place }: Level): Sentence[] {
  if (!place) return [];
  const at = bands.findIndex((b) => place.percentile >= b.from && (place.percentile < b.to || b.to === 1));
  const band: LevelBand | undefined = bands[at];
  if (!band || band.mean === null || band.positive === null) return [];
  const few = band.independent < FEW_CASES ? ': that proves little' : '';
  return [
    [
      `${bandWords(band)} implied exceeded what came on ${Math.round(band.positive * band.sessions)} of `,
      { figure: pastFigure('sessions', at), text: countedText(band.sessions, 'session') },
      ', by ',
      { figure: pastFigure('mean', at), text: `${pointsText(band.mean)} points` },
      ` on average; about ${countedText(band.independent, 'case')} share no session${few}.`,
    ],
  ];
}

function bandWords({ from, to }: LevelBand): string {
  const [low, high] = [from, to].map((share) => `${Math.round(share * 100)}th`);
  if (from === 0) return `Below the ${high} percentile`;
  return to === 1 ? `Above the ${low} percentile` : `Between the ${low} and the ${high} percentile`;
}
