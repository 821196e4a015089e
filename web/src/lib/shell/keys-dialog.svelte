<!-- All keys; single keys can be switched off or changed. -->
<script lang="ts">
  import type { KeyAction } from './key-actions';
  import { pageState } from './page-state.svelte';

  const shell = pageState();
  const { keys } = shell;
  let dialog = $state<HTMLDialogElement>();
  const actions = Object.keys(keys.actions);

  $effect(() => {
    if (shell.isKeysOpen) dialog?.showModal();
    else dialog?.close();
  });

  function change(action: KeyAction, text: string): void {
    const key = text.slice(-1);
    keys.changed[action] = key.trim() === '' ? keys.actions[action].key : key;
    keys.save();
  }
  const isTaken = (action: KeyAction) =>
    actions.some((other) => other !== action && keys.keyOf(other) === keys.keyOf(action));
</script>

<dialog
  bind:this={dialog}
  class="bg-sheet text-ink border-line m-auto w-[420px] border p-5"
  onclose={() => (shell.isKeysOpen = false)}
  aria-label="Keys"
>
  <div class="flex items-center justify-between">
    <h2 class="small-caps">Keys</h2>
    <label class="flex items-center gap-2">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={keys.isOn} onchange={() => keys.save()} /> single
      keys on
    </label>
  </div>
  <ul class="mt-3 grid grid-cols-2 gap-x-6 gap-y-1">
    {#each actions as action (action)}
      <li class="flex items-center justify-between">
        <label for="key-{action}">{keys.actions[action].label}</label>
        <input
          id="key-{action}"
          class="input input-xs w-9 text-center {isTaken(action) ? 'border-error' : ''}"
          value={keys.keyOf(action)}
          title={isTaken(action) ? 'another action has this key' : ''}
          oninput={(event) => change(action, event.currentTarget.value)}
        />
      </li>
    {/each}
  </ul>
  <p class="quiet mt-3 text-[11.5px]">
    Alt with the left and right arrows steps the instant, with up and down the expiry. Ctrl or Cmd with Z takes the last
    change of a view back, with Shift and Z or with Y it is done again. Escape closes what is open.
  </p>
  <form method="dialog" class="mt-3 text-right"><button class="btn btn-sm">Close</button></form>
</dialog>
