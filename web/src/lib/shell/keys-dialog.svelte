<!-- All keys; single keys can be switched off or changed. -->
<script lang="ts">
  import type { KeyAction } from './key-actions';
  import Dialog from '../ui/dialog.svelte';
  import { pageState } from './page-state.svelte';

  const shell = pageState();
  const { keys } = shell;
  const actions = Object.keys(keys.actions);

  function change(action: KeyAction, text: string): void {
    const key = text.slice(-1);
    keys.changed[action] = key.trim() === '' ? keys.actions[action].key : key;
    keys.save();
  }
  const isTaken = (action: KeyAction) =>
    actions.some((other) => other !== action && keys.keyOf(other) === keys.keyOf(action));
</script>

<Dialog title="Keys" width="420px" bind:isOpen={shell.isKeysOpen}>
  {#snippet beside()}
    <label class="flex items-center gap-2">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={keys.isOn} onchange={() => keys.save()} /> single
      keys on
    </label>
  {/snippet}
  <ul class="mt-3 grid grid-cols-2 gap-x-6 gap-y-1">
    {#each actions as action (action)}
      <li class="flex items-center justify-between">
        <label for="key-{action}">{keys.actions[action].label}</label>
        <input
          id="key-{action}"
          class="input input-xs w-9 text-center {isTaken(action) ? 'border-error' : ''}"
          value={keys.keyOf(action)}
          aria-invalid={isTaken(action)}
          oninput={(event) => change(action, event.currentTarget.value)}
        />
      </li>
    {/each}
  </ul>
  {#if actions.some(isTaken)}
    <p class="text-loss mt-2" role="status">A key that is marked belongs to another action, too: the first has it.</p>
  {/if}
  <p class="quiet mt-3 text-[11.5px]">
    Alt with the left and right arrows steps the instant, with up and down the expiry. Ctrl or Cmd with Z takes the last
    change of a view back, with Shift and Z or with Y it is done again. Escape closes what is open.
  </p>
  <p class="mt-3 text-right">
    <button type="button" class="btn btn-sm" onclick={() => (shell.isKeysOpen = false)}>Close</button>
  </p>
</Dialog>
