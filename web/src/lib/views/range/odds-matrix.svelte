<!-- One price by every source: how likely it is passed and touched, and what tells each source from the fitted smile. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { ODDS_SOURCE_NAMES, rangeFigure } from '$lib/measures';
  import { probabilityText, signedText, volatilityText } from '$lib/ui/format';
  import type { OddsRow, OddsStep } from './odds-rows';

  interface Props {
    symbol: string;
    rows: readonly OddsRow[];
    side: 'below' | 'above';
    expiry: string;
  }
  let { symbol, rows, side, expiry }: Props = $props();
  const STEP_WORDS: Record<OddsStep['name'], string> = {
    'own time': 'own time',
    quote: 'quote',
    level: 'level',
    strike: 'strike',
    slope: 'slope',
    law: 'law',
  };
  const points = (change: number) => signedText(change * 100, 1);
  const stepsText = ({ steps, finish, reason }: OddsRow) =>
    finish === null ? (reason ?? '') : steps.map((s) => `${STEP_WORDS[s.name]} ${points(s.change)}`).join(', ');
  /** What is still of another price, or drawn, says so by its tone and its error. */
  const tone = (isOld: boolean) => (isOld ? 'quiet italic' : '');
  const columns = $derived<TableColumn<OddsRow>[]>([
    {
      id: 'source',
      head: 'source',
      isFixed: true,
      width: 112,
      align: 'left',
      value: (r) => ODDS_SOURCE_NAMES[r.source],
      text: (r) => ODDS_SOURCE_NAMES[r.source],
      tone: (r) => (r.source === 'smile' ? 'font-semibold' : ''),
    },
    {
      id: 'volatility',
      head: 'σ used %',
      width: 58,
      definition: 'Volatility that the source has at this price.',
      value: (r) => r.volatility,
      text: (r) => volatilityText(r.volatility),
    },
    {
      id: 'finish',
      head: side,
      width: 52,
      definition: `Chance that the price ends ${side} it by the expiry.`,
      value: (r) => r.finish,
      text: (r) => probabilityText(r.finish),
      tone: (r) => tone(r.isFinishOld),
      figure: (r) => rangeFigure('finish', r.source),
    },
    {
      id: 'touch',
      head: 'touch',
      width: 52,
      definition: 'Chance that the price is there at any moment before, by continuous paths.',
      value: (r) => r.touch,
      text: (r) => probabilityText(r.touch),
      tone: (r) => tone(r.isTouchOld),
      figure: (r) => rangeFigure('touch', r.source),
    },
    {
      id: 'steps',
      head: 'from the smile, points',
      align: 'left',
      definition:
        'What tells the source from the fitted smile, by cause, in points of probability; the parts add up to the difference. A source of one volatility leaves the slope of the smile out.',
      value: (r) => r.steps.reduce((sum, s) => sum + s.change, 0),
      text: stepsText,
      tone: () => 'quiet',
    },
  ]);
</script>

<ValueTable
  name="{symbol} odds by source, {expiry}"
  storage="range-odds-columns"
  {columns}
  {rows}
  rowKey={(r) => r.source}
  isBusy={rows.some((r) => r.isFinishOld || r.isTouchOld)}
  testid="odds-matrix"
  class="text-[12.5px]"
/>
