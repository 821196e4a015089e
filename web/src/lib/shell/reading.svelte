<!-- Sentences made from the numbers on the screen; each number opens its Workings. -->
<script lang="ts">
  import Figure from './figure.svelte';
  import MissingHistory from './missing-history.svelte';
  import ExcludedQuotes from './excluded-quotes.svelte';
  import type { ExpiryPicture, Overview } from '$lib/api/picture';
  import type { Sentence, SentenceAction, SentencePart } from '$lib/shell/reading/sentence';

  interface Props {
    sentences: Sentence[];
    /** What a sentence may offer to do */
    onaction?: (action: SentenceAction) => void;
    /** Whose excluded quotes are listed, where a sentence offers it */
    excluded?: readonly ExpiryPicture[];
    /** Whose history may be missing */
    picture?: Overview;
  }
  let { sentences, onaction, picture, excluded }: Props = $props();

  /** What stands right behind a figure stays on its line. */
  const POINT = /^(?:[.,;:)]| %)+/;
  const pointAfter = (next: SentencePart | undefined) =>
    typeof next === 'string' ? (POINT.exec(next)?.[0] ?? '') : '';
  const isFigure = (part: SentencePart | undefined) => typeof part === 'object' && 'figure' in part;
  /** Words without the point that went with the figure before them; a number and its unit stay together. */
  const afterFigure = (part: string, before: SentencePart | undefined) =>
    (isFigure(before) ? part.replace(POINT, '') : part).replace(/(\d) (?=%|points?\b|days?\b)/g, '$1\u00a0');
</script>

<section aria-label="Reading" class="space-y-3">
  <h2 class="small-caps">Reading</h2>
  {#each sentences as sentence, i (i)}
    <p class="font-serif text-[14.5px] leading-[1.5]">
      {#each sentence as part, n (n)}
        {#if typeof part === 'string'}{afterFigure(part, sentence[n - 1])}{:else if 'figure' in part}<span
            class="whitespace-nowrap"
            ><Figure id={part.figure} text={part.text} isInline />{pointAfter(sentence[n + 1])}</span
          >{:else if part.action === 'list-excluded'}{#if excluded}<ExcludedQuotes
              expiries={excluded}
              words={part.text}
            />{/if}{:else}<button
            type="button"
            class="underline decoration-dotted underline-offset-4"
            onclick={() => onaction?.(part.action)}>{part.text}</button
          >{/if}
      {/each}
    </p>
  {/each}
</section>
{#if picture}{#key picture.underlying.symbol}<MissingHistory {picture} />{/key}{/if}
