<!-- What is wrong in which column: what not all of them have comes first. -->
<script lang="ts">
  import type { MatrixDocument } from '$core/reports/matrix.ts';
  import { px } from '$core/geometry/rect.ts';

  let { document, to }: { document: MatrixDocument; to: (path: string) => string } = $props();
  const told = $derived(
    document.findings.filter((finding) => finding.columns.some(({ grade }) => grade !== 'meant')),
  );
  const uneven = $derived(told.filter(({ columns }) => columns.length < document.columns.length).length);
</script>

<h2 class="px-4 pt-3 pb-1 font-medium">
  {told.length === 0
    ? 'Nothing is found wrong in any of them'
    : uneven === 0
      ? `${told.length} ${told.length === 1 ? 'finding' : 'findings'}, the same in all`
      : `${uneven} of ${told.length} findings are not in all of them`}
</h2>
{#if told.length > 0}
  <table class="w-full border-collapse text-[13px]" data-matrix-findings>
    <thead>
      <tr class="rule-b align-bottom">
        {#each document.columns as { name } (name)}
          <th class="heading px-2 py-1 text-left whitespace-nowrap first:pl-4">{name}</th>
        {/each}
        <th class="heading px-2 py-1 text-left">What</th>
      </tr>
    </thead>
    <tbody>
      {#each told as finding, n (n)}
        <tr class="border-b border-base-200 align-baseline" data-finding={finding.rule}>
          {#each document.columns as { name } (name)}
            {@const here = finding.columns.find(({ column }) => column === name)}
            <td
              class="px-2 py-1 whitespace-nowrap first:pl-4"
              data-column={name}
              data-grade={here?.grade ?? 'none'}
            >
              {#if here}
                <span class={here.grade === 'wrong' ? 'font-medium text-accent' : 'faint'}>{here.grade}</span>
                <span class="num">{px(here.px)}</span>
              {:else}<span class="faint" aria-label="not there">–</span>{/if}
            </td>
          {/each}
          <td class="py-1 pr-4 pl-2"
            ><span class="faint">{finding.kind}</span>
            <a class="linkish" href={to(finding.subject)}>{finding.what}</a></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
