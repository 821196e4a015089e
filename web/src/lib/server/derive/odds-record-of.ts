import { groupedInterval, reliabilityOf, scoreSources } from '@umwelt/core/probability';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { OddsRecord, RecordedSource } from '../../api/odds-record.ts';
import { RECORDED_SOURCES } from '../../api/odds-record.ts';
import { COVERAGES, type JudgedWindow } from './odds-windows.ts';

/** What windows of one underlying, or of several, say of the odds that were told. */
export function oddsRecordOf(
  judged: readonly JudgedWindow[],
): Pick<OddsRecord, 'windows' | 'independent' | 'from' | 'to' | 'coverages' | 'straddle' | 'sources' | 'reliability'> {
  const windows = judged.map((j) => j.window);
  const starts = windows.map((w) => w.start).sort();
  const spoken = judged.filter((j) => j.inside !== null);
  const paid = judged.filter((j) => j.straddle !== null);
  return {
    windows: windows.length,
    independent: new Set(starts).size,
    from: starts.at(0) ?? null,
    to:
      judged
        .map((j) => j.end)
        .sort()
        .at(-1) ?? null,
    coverages: COVERAGES.map(({ coverage }, i) => ({ coverage, ...shareOf(spoken, (j) => j.inside?.[i] ?? false) })),
    straddle: {
      told: paid.length === 0 ? null : paid.reduce((sum, j) => sum + (j.straddle?.told ?? 0), 0) / paid.length,
      ...shareOf(paid, (j) => j.straddle?.isInside ?? false),
    },
    sources: scoreSources(windows, RECORDED_SOURCES).map(({ source, windows: count, scores }) => ({
      source: source as RecordedSource,
      windows: count,
      brier: scores ? scores.brier : null,
      logScore: scores ? scores.logScore : null,
      bins: scores?.evenness?.counts ?? null,
      chance: scores?.evenness ? finiteOrNull(scores.evenness.chance) : null,
    })),
    reliability: reliabilityOf(windows, 'smile').map(({ told, came, ...bin }) => ({
      ...bin,
      told: finiteOrNull(told),
      came: finiteOrNull(came),
    })),
  };
}

/** How many held, with the interval of that share; windows that began together are one draw. */
function shareOf(judged: readonly JudgedWindow[], isInside: (window: JudgedWindow) => boolean) {
  const groups = new Map<string, { hits: number; trials: number }>();
  for (const one of judged) {
    const group = groups.get(one.window.start) ?? { hits: 0, trials: 0 };
    group.trials++;
    if (isInside(one)) group.hits++;
    groups.set(one.window.start, group);
  }
  const [low, high] = groupedInterval([...groups.values()]);
  return { inside: judged.filter(isInside).length, count: judged.length, low, high };
}
