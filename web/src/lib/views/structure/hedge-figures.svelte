<!-- Sums of what is held elsewhere, and Greeks of options that are listed nowhere here, to type. -->
<script lang="ts">
  import { HEDGED_GREEKS, type HedgedGreek } from '@umwelt/core/hedge';
  import { UNDERLYING_NAME } from '$lib/api/structure';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import type { StructureParameters } from './parameters';
  import { plainName, type TypedExposures, type TypedOption, typedOptionsText, typedSumsText } from './typed-exposures';

  interface Props {
    own: StructureParameters;
    /** How many options more may be traded */
    more: number;
  }
  let { own, more }: Props = $props();
  const view = quotedViewState();
  const elsewhere = $derived<TypedExposures>(own.elsewhere ?? {});
  const setOptions = (options: readonly TypedOption[]) => view.address.set({ typed: typedOptionsText(options) });
  const change = (at: number, next: TypedOption) =>
    setOptions(own.typed.map((option, i) => (i === at ? next : option)));
  /** A name that none has yet. */
  const freeName = (wanted: string, among: readonly TypedOption[]) => {
    const taken = new Set([UNDERLYING_NAME, ...among.map((o) => o.name)]);
    return [wanted, ...Array.from({ length: among.length + 2 }, (_, i) => `${wanted} ${i + 2}`)].find(
      (name) => !taken.has(name),
    ) as string;
  };
  function add(): void {
    void setOptions([...own.typed, { name: freeName('option', own.typed), exposures: {} }]);
  }
  function rename(at: number, text: string): void {
    const name = plainName(text);
    if (name === '') return;
    const others = own.typed.filter((_, i) => i !== at);
    void change(at, { ...own.typed[at], name: freeName(name, others) });
  }
</script>

{#snippet greeks(exposures: TypedExposures, of: string, onchange: (next: TypedExposures) => void)}
  {#each HEDGED_GREEKS as name (name)}
    <td class="py-0.5 pr-2">
      <TypedNumber
        label="{name} of {of}"
        text={exposures[name] === undefined ? '' : String(exposures[name])}
        ontype={(value) => onchange({ ...exposures, [name]: value })}
        onclear={() => onchange({ ...exposures, [name as HedgedGreek]: undefined })}
      />
    </td>
  {/each}
{/snippet}

<div class="mt-1 overflow-x-auto">
  <table class="text-[12.5px]" data-testid="hedge-figures" aria-label="Typed sums and options">
    <thead>
      <tr class="text-soft text-[11.5px]">
        <th class="pr-3 text-left font-normal">typed</th>
        {#each HEDGED_GREEKS as name (name)}<th class="pr-2 text-right font-normal">{name}</th>{/each}
        <th class="pr-2 text-right font-normal">half spread</th>
      </tr>
    </thead>
    <tbody>
      <tr>
        <td class="pr-3 whitespace-nowrap">held elsewhere</td>
        {@render greeks(elsewhere, 'what is held elsewhere', (next) => {
          void view.address.set({ elsewhere: typedSumsText(next) });
        })}
        <td></td>
      </tr>
      {#each own.typed as option, i (i)}
        <tr>
          <td class="pr-3">
            <input
              class="typed w-[104px] !text-left"
              aria-label="Name of typed option {i + 1}"
              maxlength="40"
              value={option.name}
              onchange={(event) => rename(i, event.currentTarget.value)}
            />
          </td>
          {@render greeks(option.exposures, option.name, (exposures) => {
            void change(i, { ...option, exposures });
          })}
          <td class="pr-2">
            <TypedNumber
              label="Half spread of {option.name}"
              text={option.cost === undefined ? '' : String(option.cost)}
              within={[0, 1e12]}
              ontype={(cost) => void change(i, { ...option, cost })}
              onclear={() => void change(i, { ...option, cost: undefined })}
            />
          </td>
          <td
            ><button
              type="button"
              class="kbd-mark"
              aria-label="Allow {option.name} no longer"
              onclick={() => setOptions(own.typed.filter((_, at) => at !== i))}>×</button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
</div>
<p class="quiet mt-1 flex flex-wrap items-baseline gap-x-3 text-[12.5px]">
  {#if more > 0}<button type="button" class="btn btn-xs" onclick={add}>allow an option by its Greeks</button>{/if}
  <span>Of one contract, its multiplier in. What is empty is not known.</span>
</p>
