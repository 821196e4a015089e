<!-- Frame of a view: one row of quiet controls over the main chart or table, the Reading at its right. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import WorkingsDrawer from './workings-drawer.svelte';

  interface Props {
    title: string;
    controls: Snippet;
    main: Snippet;
    aside: Snippet;
  }
  let { title, controls, main, aside }: Props = $props();
</script>

<div class="relative flex min-h-0 grow overflow-hidden max-[1000px]:flex-col max-[1000px]:overflow-visible">
  <section class="flex min-w-0 grow flex-col px-4 pt-3 pb-2" aria-label={title}>
    <div class="flex min-h-7 shrink-0 flex-wrap items-center gap-x-4 gap-y-1">
      <h2 class="text-[15px] font-semibold">{title}</h2>
      {@render controls()}
    </div>
    <div class="mt-2 min-h-0 grow overflow-auto contain-content">{@render main()}</div>
  </section>
  <!-- It scrolls, so that the keyboard must reach it where nothing in it does. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <aside
    tabindex="0"
    aria-label="What is said of it"
    class="border-line bg-sheet w-[284px] shrink-0 overflow-y-auto contain-content border-l px-4 py-4 max-[1000px]:w-full max-[1000px]:border-t max-[1000px]:border-l-0"
  >
    {@render aside()}
  </aside>
  <WorkingsDrawer />
</div>
