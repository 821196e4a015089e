<!-- How the file is written, as recognised; every guess can be corrected. -->
<script lang="ts">
  import type { ImportOptionsInput, ImportPreview } from '$lib/api/chain-import';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    preview: ImportPreview;
  }
  let { item, preview }: Props = $props();

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
    volatilityUnit: [
      ['decimal', '0.274'],
      ['percent', '27.4'],
    ],
    encoding: [
      ['utf-8', 'UTF-8'],
      ['windows-1252', 'Windows-1252'],
      ['utf-16le', 'UTF-16 LE'],
      ['utf-16be', 'UTF-16 BE'],
    ],
  } as const;
  const labels = {
    delimiter: 'Columns divided by',
    decimal: 'Decimal mark',
    dateOrder: 'Dates',
    volatilityUnit: 'Volatilities',
    encoding: 'Encoding',
  };
  const names = $derived(
    (Object.keys(choices) as (keyof typeof choices)[]).filter(
      (name) => preview.kind === 'csv' || (name !== 'delimiter' && name !== 'encoding'),
    ),
  );

  /** What makes other columns lets the mapping be recognised anew. */
  function change(name: keyof ImportPreview['format'], value: string | number): void {
    const isLayout = name === 'delimiter' || name === 'headerLine' || name === 'sheet';
    const format: ImportOptionsInput['format'] = isLayout
      ? { [name]: value, ...(name === 'headerLine' ? { sheet: preview.format.sheet } : {}) }
      : { ...preview.format, [name]: value };
    void item.correct(isLayout ? { format, mapping: undefined } : { format });
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
  {#if preview.sheets.length > 1}
    <label class="flex flex-col text-[11.5px]">
      <span class="quiet">Sheet</span>
      <select
        class="select select-xs w-36"
        value={preview.format.sheet}
        onchange={(event) => change('sheet', event.currentTarget.value)}
      >
        {#each preview.sheets as sheet (sheet)}<option>{sheet}</option>{/each}
      </select>
    </label>
  {/if}
  {#if preview.top.length > 0 && preview.format.headerLine > 0}
    <label class="flex flex-col text-[11.5px]">
      <span class="quiet">Header</span>
      <select
        class="select select-xs w-64"
        value={preview.format.headerLine}
        onchange={(event) => change('headerLine', Number(event.currentTarget.value))}
      >
        {#each preview.top as { line, cells } (line)}
          <option value={line}
            >{line}: {cells
              .filter((cell) => cell !== '')
              .join(', ')
              .slice(0, 32)}</option
          >
        {/each}
      </select>
    </label>
  {/if}
</div>
