<!-- How the file is written, as recognised; every guess can be corrected. -->
<script lang="ts">
  import type { ImportOptionsInput, ImportPreview } from '$lib/schema/chain-import';
  import type { ChainImport } from '$lib/state/chain-import.svelte';

  interface Props {
    task: ChainImport;
    preview: ImportPreview;
  }
  let { task, preview }: Props = $props();

  const choices = {
    delimiter: [
      [',', 'comma'],
      [';', 'semicolon'],
      ['\t', 'tab'],
      ['|', 'bar'],
    ],
    decimal: [
      ['.', 'point 1.5'],
      [',', 'comma 1,5'],
    ],
    dateOrder: [
      ['iso', '2031-03-21'],
      ['dmy', 'day month year'],
      ['mdy', 'month day year'],
    ],
    encoding: [
      ['utf-8', 'UTF-8'],
      ['windows-1252', 'Windows-1252'],
      ['utf-16le', 'UTF-16 LE'],
      ['utf-16be', 'UTF-16 BE'],
    ],
  } as const;
  const labels = { delimiter: 'Columns divided by', decimal: 'Decimal mark', dateOrder: 'Dates', encoding: 'Encoding' };
  const names = Object.keys(choices) as (keyof typeof choices)[];

  /** Another delimiter makes other columns, so the mapping is recognised anew. */
  function change(name: keyof typeof choices, value: string): void {
    const format = { ...preview.format, [name]: value } as ImportOptionsInput['format'];
    void task.correct(name === 'delimiter' ? { format, mapping: undefined } : { format });
  }
</script>

<div class="mt-4 flex flex-wrap gap-x-6 gap-y-2">
  {#each names as name (name)}
    <label class="flex flex-col text-[11.5px]">
      <span class="quiet">{labels[name]}</span>
      <select
        class="select select-xs w-36"
        value={preview.format[name]}
        onchange={(event) => change(name, event.currentTarget.value)}
      >
        {#each choices[name] as [value, label] (value)}<option {value}>{label}</option>{/each}
      </select>
    </label>
  {/each}
  <label class="flex flex-col text-[11.5px]">
    <span class="quiet">Time zone</span>
    <input
      class="input input-xs w-32"
      value={preview.zone}
      onchange={(event) => task.correct({ zone: event.currentTarget.value })}
    />
  </label>
  <label class="flex flex-col text-[11.5px]">
    <span class="quiet">Expiry dates mean</span>
    <input
      class="input input-xs w-20"
      value={preview.sessionClose}
      onchange={(event) => task.correct({ sessionClose: event.currentTarget.value })}
    />
  </label>
</div>
{#if preview.isDateOrderAmbiguous}
  <p class="text-event mt-1">Day and month could be either way round here; day first is assumed. Check the dates.</p>
{/if}
