<script lang="ts">
  import '../app.css';
  import Patterns from '$lib/ui/drawing/Patterns.svelte';
  import Conflict from '$lib/ui/notices/Conflict.svelte';
  import Notices from '$lib/ui/notices/Notices.svelte';
  import { onMount, type Snippet } from 'svelte';
  import { theme } from '$lib/ui/theme.svelte.ts';

  let { children }: { children: Snippet } = $props();
  onMount(() => theme.restore());
</script>

<Patterns />
{@render children()}
<Conflict />
<Notices />
