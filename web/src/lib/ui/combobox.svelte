<!-- A field that finds one of many by what is typed; arrows and Enter choose, Escape closes the list. -->
<script lang="ts">
  import { Combobox } from 'bits-ui';

  interface Option {
    value: string;
    /** Said beside it */
    note: string;
  }
  interface Props {
    label: string;
    placeholder: string;
    /** What begins or is called as was typed, best first */
    find: (text: string) => readonly Option[];
    onpick: (value: string) => void;
    /** Enter on what nothing is called like */
    onunknown: (text: string) => void;
    class?: string;
  }
  let { label, placeholder, find, onpick, onunknown, class: tone = '' }: Props = $props();
  let text = $state('');
  let isOpen = $state(false);
  const found = $derived(find(text));

  function pick(value: string): void {
    if (value === '') return;
    text = '';
    isOpen = false;
    onpick(value);
  }

  function enter(event: KeyboardEvent & { currentTarget: HTMLInputElement }): void {
    if (event.key !== 'Enter') return;
    const isMarked = event.currentTarget.getAttribute('aria-activedescendant') !== null;
    if (text.trim() === '' || (isOpen && isMarked && found.length > 0)) return;
    event.preventDefault();
    if (found.length > 0) pick(found[0].value);
    else onunknown(text);
  }
</script>

<Combobox.Root
  type="single"
  bind:open={isOpen}
  inputValue={text}
  bind:value={() => '', pick}
  items={found.map(({ value }) => ({ value, label: value }))}
>
  <Combobox.Input
    class="border-line border bg-transparent px-1 {tone}"
    aria-label={label}
    {placeholder}
    oninput={(event) => {
      text = event.currentTarget.value;
      isOpen = true;
    }}
    onkeydown={enter}
    onfocus={() => (isOpen = true)}
  />
  <Combobox.Portal>
    <Combobox.Content
      class="border-line bg-sheet text-ink z-40 max-h-72 overflow-y-auto border py-1 text-[12.5px] outline-none"
      align="start"
      sideOffset={3}
      collisionPadding={8}
      preventScroll={false}
    >
      {#each found as { value, note } (value)}
        <Combobox.Item
          {value}
          label={value}
          class="data-highlighted:bg-hair flex cursor-default gap-2 px-2 py-0.5 data-highlighted:underline"
        >
          <strong class="w-16">{value}</strong><span class="text-soft">{note}</span>
        </Combobox.Item>
      {:else}
        <p class="quiet px-2 py-0.5" role="status">Nothing is called like this.</p>
      {/each}
    </Combobox.Content>
  </Combobox.Portal>
</Combobox.Root>
