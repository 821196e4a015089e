<!-- That something did not arrive, why, and once more. -->
<script lang="ts">
  import type { FollowedAnswer } from '$lib/api/client/fetched.svelte';

  interface Props {
    /** What did not arrive, as a subject: The prints */
    what: string;
    of: FollowedAnswer<unknown>;
  }
  let { what, of }: Props = $props();
</script>

<p class="p-8 font-serif text-[15px]" role="alert">
  {what} did not arrive: {of.error}.
  <button type="button" class="text-implied underline" disabled={of.isLoading} onclick={() => of.retry()}>
    {of.isLoading ? 'trying…' : 'try again'}
  </button>
</p>
