<script lang="ts">
  import { page } from '$app/state';
  import Header from '$lib/ui/Header.svelte';
</script>

<svelte:head><title>{page.status} · Normetra</title></svelte:head>

<Header />
<main class="mx-auto max-w-xl px-6 py-16">
  <p class="heading">{page.status}</p>
  <h1 class="mb-3 text-2xl font-semibold">{page.error?.message ?? 'Something went wrong'}</h1>
  <p><a class="linkish" href="/">Back to the Shelf</a></p>
</main>
