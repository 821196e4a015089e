<script lang="ts">
  import { page } from '$app/state';
</script>

<svelte:head><title>Umwelt</title></svelte:head>
<main class="p-10">
  <h1 class="small-caps">{page.status}</h1>
  <p class="mt-2 font-serif text-[18px]">{page.error?.message}</p>
  <p class="mt-4">
    <a class="text-implied underline" href="/">To the start</a> ·
    <a class="text-implied underline" href="/data">to Data</a>
  </p>
</main>
