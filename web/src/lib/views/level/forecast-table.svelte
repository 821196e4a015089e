<!-- How forecasts of volatility served, out of sample, and what each expects now. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { pastFigure } from '$lib/measures';
  import { dateText, numberText, pointsText, volatilityText } from '$lib/ui/format';
  import type { ForecastRecord, ForecastRecordRow, Level } from '$lib/api/level';
  import { FORECAST_NAMES } from './level-words';

  interface Props {
    level: Level;
    record: ForecastRecord;
    isLoading: boolean;
  }
  let { level, record, isLoading }: Props = $props();
  const expects = ({ model }: ForecastRecordRow) => level.forecasts.find((f) => f.model === model)?.volatility ?? null;
  /** Better or worse than last month again, and whether that is more than chance. */
  const verdict = ({ model, versusNaive, independent }: ForecastRecordRow) => {
    if (model === 'naive') return 'measure of all';
    if (!versusNaive) return independent < 20 ? 'too few apart' : 'not told';
    const word = versusNaive.meanDifference < 0 ? 'better' : 'worse';
    return versusNaive.probability < 0.05 ? word : `${word}, as chance`;
  };
  const columns = $derived<TableColumn<ForecastRecordRow>[]>([
    {
      id: 'model',
      head: 'forecast',
      isFixed: true,
      least: 120,
      align: 'left',
      value: (r) => FORECAST_NAMES[r.model],
      text: (r) => FORECAST_NAMES[r.model],
    },
    {
      id: 'expects',
      head: 'now %',
      width: 50,
      definition: 'What it expects for as many sessions ahead.',
      value: expects,
      text: (r) => volatilityText(expects(r)),
    },
    {
      id: 'qlike',
      head: 'QLIKE',
      width: 54,
      definition: 'Mean loss of variance forecasts: 0 were perfect.',
      value: (r) => r.qlike,
      text: (r) => numberText(r.qlike, 3),
      figure: (r) => pastFigure('qlike', r.model),
    },
    {
      id: 'bias',
      head: 'bias',
      width: 46,
      definition: 'Mean of forecast less what came, in points.',
      value: (r) => r.bias,
      text: (r) => pointsText(r.bias),
      figure: (r) => pastFigure('bias', r.model),
    },
    {
      id: 'verdict',
      head: 'against last month',
      width: 108,
      align: 'left',
      definition: 'Diebold and Mariano by QLIKE; chance where it is as likely as one in twenty.',
      value: verdict,
      text: verdict,
    },
  ]);
</script>

<div class={isLoading ? 'opacity-60' : ''} aria-busy={isLoading}>
  <ValueTable
    name="{level.symbol} forecasts"
    storage="forecast-columns"
    {columns}
    rows={record.records}
    rowKey={(r) => r.model}
    rowTone={(r) => (r.model === record.best ? 'font-semibold' : '')}
    testid="forecasts"
    class="text-[12.5px]"
  />
  {#if record.from && record.to}
    {@const judged = record.records.find((r) => r.model === 'naive')}
    <p class="quiet mt-1 text-[12px]">
      Made in {judged?.count ?? 0} sessions from {dateText(record.from, level.asOf)}; {judged?.independent ?? 0} do not overlap.
      Variance by Garman–Klass with the night.
    </p>
  {/if}
</div>
