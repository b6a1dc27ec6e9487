<!-- Why boxes of one column are not as in the first: causes, the largest first, each with the numbers that go to it. -->
<script lang="ts">
  import type { MatrixDocument } from '$core/reports/matrix.ts';
  import { px } from '$core/geometry/rect.ts';

  type Comparison = MatrixDocument['comparisons'][number];
  interface Props {
    comparison: Comparison;
    first: string;
    /** Index of the cause that is unfolded; −1: none. */
    chosen: number;
    picked: string;
    choose: (cause: number) => void;
    pick: (path: string) => void;
  }
  let { comparison, first, chosen, picked, choose, pick }: Props = $props();
  const explained = $derived(
    comparison.px === 0 ? 100 : (100 * (comparison.px - comparison.unexplained)) / comparison.px,
  );
  const short = (path: string): string => path.split(' > ').slice(-2).join(' > ');
  const plural = (count: number): string => (count === 1 ? '1 box' : `${count} boxes`);
</script>

<div class="px-4 pt-3 pb-2">
  <h2 class="font-medium">{comparison.column} against {first}</h2>
  <p class="faint text-[12px]">
    {#if comparison.boxes === 0}No box differs.
    {:else}<span class="num">{comparison.boxes}</span> of <span class="num">{comparison.all}</span> boxes
      differ, by <span class="num">{px(Math.round(comparison.px))}</span> px in all;
      <span class="num">{explained.toFixed(explained > 99.9 ? 0 : 1)}</span> % of them have a cause.{/if}
  </p>
</div>
<ul data-causes>
  {#each comparison.causes as cause, n (n)}
    {@const share = comparison.px === 0 ? 0 : cause.px / comparison.px}
    <li class="border-b border-base-200 {chosen === n ? 'bg-base-200' : ''}" data-cause={cause.kind}>
      <button
        class="block w-full cursor-pointer px-4 py-1.5 text-left"
        aria-expanded={chosen === n}
        onclick={() => choose(chosen === n ? -1 : n)}
      >
        <span class="flex items-baseline gap-2">
          <span class="num w-16 shrink-0 text-right">{px(Math.round(cause.px * 10) / 10)}</span>
          <span class={cause.kind === 'unexplained' ? 'text-accent' : 'font-medium'}>{cause.what}</span>
        </span>
        <span class="mt-0.5 ml-18 block h-1 border border-base-300" aria-hidden="true"
          ><span class="block h-full bg-secondary" style:width="{Math.max(0.5, share * 100)}%"></span></span
        >
        <span class="faint ml-18 block text-[12px]">
          {plural(cause.own)}{cause.followers > 0 ? `, and ${cause.followers} that follow` : ''}{cause.source &&
          cause.source.line > 0
            ? `; ${cause.source.sheet}:${cause.source.line}`
            : ''}
        </span>
        {#if cause.first || cause.second}
          <span class="code ml-18 grid grid-cols-[auto_1fr] gap-x-2 text-[11.5px]">
            <span class="faint">{first}</span><span>{cause.first || '–'}</span>
            <span class="faint">{comparison.column}</span><span>{cause.second || '–'}</span>
          </span>
        {/if}
      </button>
      {#if chosen === n}
        <table class="mb-2 ml-20 w-[calc(100%-6rem)] border-collapse text-[12px]">
          <tbody>
            {#each cause.numbers as number, i (i)}
              <tr class="align-baseline {picked === number.path ? 'font-medium' : ''}">
                <td class="faint pr-2">{number.number}</td>
                <td class="num pr-2 text-right whitespace-nowrap">{px(number.first)} → {px(number.second)}</td>
                <td class="w-full">
                  <button
                    class="linkish code text-[11.5px]"
                    title={number.path}
                    aria-pressed={picked === number.path}
                    onclick={() => pick(number.path)}>{short(number.path)}</button
                  >{number.own ? '' : ' follows'}
                </td>
              </tr>
              {#if picked === number.path}
                <tr>
                  <td></td>
                  <td colspan="2" class="pb-1">
                    <table class="border-collapse" data-terms>
                      <thead
                        ><tr class="faint text-[11px]">
                          <th class="pr-2 text-right font-normal">{first}</th>
                          <th class="pr-2 text-right font-normal">{comparison.column}</th>
                          <th class="text-left font-normal">its sum</th>
                        </tr></thead
                      >
                      <tbody>
                        {#each number.terms as { what, note, first: here, second: there }, t (t)}
                          {@const differs = here === null || there === null || Math.abs(here - there) > 0.05}
                          <tr class="align-baseline {differs ? '' : 'faint'}">
                            <td class="num pr-2 text-right">{here === null ? '–' : px(here)}</td>
                            <td class="num pr-2 text-right {differs ? 'text-accent' : ''}"
                              >{there === null ? '–' : px(there)}</td
                            >
                            <td>{what.replaceAll('-', ' ')}{note ? `; ${note}` : ''}</td>
                          </tr>
                        {/each}
                      </tbody>
                    </table>
                  </td>
                </tr>
              {/if}
            {/each}
          </tbody>
        </table>
      {/if}
    </li>
  {/each}
</ul>
