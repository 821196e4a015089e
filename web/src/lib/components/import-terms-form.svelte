<!-- What a file does not say of an underlying: asked once. -->
<script lang="ts">
  import type { ChainImport } from '$lib/state/chain-import.svelte';

  interface Props {
    task: ChainImport;
    symbols: string[];
  }
  let { task, symbols }: Props = $props();
  const kinds = ['index', 'fund', 'share', 'future', 'currency'] as const;
</script>

<fieldset class="mt-4">
  <legend class="small-caps">Terms of {symbols.join(', ')}, asked once</legend>
  <div class="mt-1 flex flex-wrap gap-x-6 gap-y-2 text-[11.5px]">
    <label class="flex flex-col"
      ><span class="quiet">Kind</span>
      <select class="select select-xs w-28" bind:value={task.terms.kind}
        >{#each kinds as kind (kind)}<option>{kind}</option>{/each}</select
      >
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Exercise</span>
      <select class="select select-xs w-28" bind:value={task.terms.exercise}
        ><option>european</option><option>american</option></select
      >
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Model</span>
      <select class="select select-xs w-28" bind:value={task.terms.model}
        ><option>spot</option><option>futures</option></select
      >
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Contract multiplier</span>
      <input class="input input-xs w-28" type="number" min="0" step="any" bind:value={task.terms.multiplier} />
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Currency</span>
      <input class="input input-xs w-20" maxlength="3" bind:value={task.terms.currency} />
    </label>
  </div>
</fieldset>
