<!-- Everything that the Pricer prices with. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import PricerDividends from './pricer-dividends.svelte';
  import PricerField from './pricer-field.svelte';
  import { dateText, numberText, strikeText } from '$lib/ui/format';
  import { readDays, readNumber, type ReadNumber } from '$lib/ui/number-input';
  import { PRICER_FIELDS, type PricerField as Field } from '$lib/api/pricer-inputs';
  import { pricerState } from './pricer-state.svelte';
  import { volatilityPoint } from '$lib/theory';

  const pricer = pricerState();
  const inputs = $derived(pricer.inputs);
  const market = $derived(pricer.market);
  const isNormal = $derived(inputs.model === 'normal');
  const isSpot = $derived(inputs.model === 'spot');
  const focus = $derived(pricer.view?.focus);
  const from = $derived(pricer.view ? Date.parse(pricer.view.picture.asOf) : Date.now());
  const expiryTime = $derived(focus?.expiry.slice(10));
  const expiryDay = $derived(new Date(from + inputs.days * 86_400_000).toISOString().slice(0, 10));

  /** Takes a value into the state, or says what is wrong with it. */
  function take(field: Field, value: unknown): string | undefined {
    const parsed = PRICER_FIELDS[field].safeParse(value);
    if (!parsed.success) return parsed.error.issues[0].message;
    if (!isNormal && (field === 'underlying' || field === 'strike') && !((value as number) > 0)) {
      return 'above 0; only the normal model takes others';
    }
    pricer.set({ [field]: parsed.data });
    return undefined;
  }
  const own = (field: Field) => pricer.own[field] !== undefined;
  /** Takes what was typed as a number, times a scale. */
  function takeNumber(field: Field, read: ReadNumber, scale = 1): string | undefined {
    return read.ok ? take(field, read.value * scale) : read.wrong;
  }
  const number = (field: Field, text: string) => takeNumber(field, readNumber(text));
  const percent = (field: 'rate' | 'dividendYield' | 'volatility', text: string) =>
    takeNumber(field, readNumber(text), 0.01);

  /** Ends of a slider around the market's price. */
  const priceEnds = $derived.by(() => {
    const center = Math.abs(market.underlying) || 100;
    const reach = Math.max(0.5, Math.abs(inputs.underlying / center - 1), Math.abs(inputs.strike / center - 1));
    return isNormal
      ? { min: -center * reach, max: center * (1 + reach), step: center / 2000 }
      : { min: center / (1 + reach), max: center * (1 + reach), step: center / 2000 };
  });
  const listed = $derived(focus?.strikes);

  /** The slider steps through listed strikes, where there are any. */
  function slideStrike(value: number): void {
    const nearest = listed?.reduce((best, k) => (Math.abs(k - value) < Math.abs(best - value) ? k : best));
    pricer.set({ strike: nearest ?? Number(value.toPrecision(5)) });
  }

  function chooseModel(model: typeof inputs.model): void {
    if (model === inputs.model) return;
    // The same market said in the other model's units.
    const scale = Math.abs(inputs.underlying) || 1;
    const volatility =
      model === 'normal'
        ? inputs.volatility * scale
        : inputs.model === 'normal'
          ? inputs.volatility / scale
          : inputs.volatility;
    pricer.set({ model, volatility: Number(volatility.toPrecision(6)) });
  }
</script>

<section aria-label="Inputs">
  {#each [{ field: 'side', label: 'side', choices: ['call', 'put'] }, { field: 'exercise', label: 'exercise', choices: ['european', 'american'] }, { field: 'model', label: 'model', choices: ['spot', 'futures', 'normal'] }] as const as row (row.field)}
    <div class="grid h-[29px] grid-cols-[74px_1fr] items-center gap-x-1.5">
      <span class="quiet">{row.label}</span>
      <Choice
        label={row.label}
        class="justify-self-start"
        choices={row.choices as readonly string[]}
        chosen={inputs[row.field]}
        onchoose={(choice) =>
          row.field === 'model' ? chooseModel(choice as typeof inputs.model) : take(row.field, choice)}
      />
    </div>
  {/each}
  <PricerField
    label="underlying"
    unit={isSpot ? 'spot' : 'futures'}
    text={numberText(inputs.underlying, pricer.decimals)}
    value={inputs.underlying}
    {...priceEnds}
    isOwn={own('underlying')}
    ontype={(text) => number('underlying', text)}
    onslide={(value) => pricer.set({ underlying: Number(value.toFixed(pricer.decimals)) })}
    onreset={() => pricer.reset('underlying')}
  />
  <PricerField
    label="strike"
    unit=""
    text={strikeText(inputs.strike)}
    value={inputs.strike}
    {...priceEnds}
    isOwn={own('strike')}
    ontype={(text) => number('strike', text)}
    onslide={slideStrike}
    onreset={() => pricer.reset('strike')}
  />
  <PricerField
    label="expiry in"
    unit="days"
    text={numberText(inputs.days, inputs.days < 100 && inputs.days % 1 !== 0 ? 2 : 0)}
    value={Math.sqrt(inputs.days)}
    min={0}
    max={Math.sqrt(Math.max(400, inputs.days * 1.2))}
    step={0.01}
    isOwn={own('days')}
    ontype={(text) => takeNumber('days', readDays(text, from, expiryTime))}
    onslide={(value) => pricer.set({ days: Math.round(value * value * 4) / 4 })}
    onreset={() => pricer.reset('days')}
    hint="days, a term as in 6m or 0.5y, or a date as in {expiryDay}"
  />
  <PricerField
    label="volatility"
    unit={isNormal ? '/ √y' : '%'}
    text={isNormal ? numberText(inputs.volatility, 2) : numberText(inputs.volatility * 100, 2)}
    value={inputs.volatility}
    min={0}
    max={Math.max(isNormal ? Math.abs(inputs.underlying) : 1, 1.2 * inputs.volatility)}
    step={volatilityPoint(inputs.model) / 10}
    isOwn={own('volatility')}
    ontype={(text) => (isNormal ? number('volatility', text) : percent('volatility', text))}
    onslide={(volatility) => pricer.set({ volatility: Number(volatility.toFixed(6)) })}
    onreset={() => pricer.reset('volatility')}
  />
  <PricerField
    label="rate"
    unit="%"
    text={numberText(inputs.rate * 100, 3)}
    value={inputs.rate}
    min={Math.min(-0.05, inputs.rate)}
    max={Math.max(0.15, inputs.rate)}
    step={0.0005}
    isOwn={own('rate')}
    ontype={(text) => percent('rate', text)}
    onslide={(rate) => pricer.set({ rate: Number(rate.toFixed(6)) })}
    onreset={() => pricer.reset('rate')}
    hint="per year, continuously compounded"
  />
  {#if isSpot}
    <PricerField
      label="yield"
      unit="%"
      text={numberText(inputs.dividendYield * 100, 3)}
      value={inputs.dividendYield}
      min={Math.min(-0.05, inputs.dividendYield)}
      max={Math.max(0.15, inputs.dividendYield)}
      step={0.0005}
      isOwn={own('dividendYield')}
      ontype={(text) => percent('dividendYield', text)}
      onslide={(dividendYield) => pricer.set({ dividendYield: Number(dividendYield.toFixed(6)) })}
      onreset={() => pricer.reset('dividendYield')}
      hint="continuous; the foreign rate of a currency pair"
    />
    <PricerDividends {from} {expiryTime} ontake={(dividends) => take('dividends', dividends)} />
  {/if}
  <PricerField
    label="contracts"
    unit=""
    text={numberText(inputs.contracts, 0)}
    value={inputs.contracts}
    min={Math.min(-50, inputs.contracts)}
    max={Math.max(50, inputs.contracts)}
    step={1}
    isOwn={own('contracts')}
    ontype={(text) => number('contracts', text)}
    onslide={(contracts) => pricer.set({ contracts })}
    onreset={() => pricer.reset('contracts')}
    hint="a negative number is short"
  />
  <PricerField
    label="multiplier"
    unit="units"
    text={numberText(inputs.multiplier, inputs.multiplier % 1 === 0 ? 0 : 2)}
    isOwn={own('multiplier')}
    ontype={(text) => number('multiplier', text)}
    onreset={() => pricer.reset('multiplier')}
  />
  <p class="quiet mt-1 text-[11.5px]">expires {dateText(expiryDay, new Date(from).toISOString())}</p>
</section>
