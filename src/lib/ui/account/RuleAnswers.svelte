<!-- What every rule says of the pick, and what stopped those that say nothing. Worked out when it is opened. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { wrong } from '../notices/notices.svelte.ts';

  let { bench, box }: { bench: Bench; box: BoxAccount } = $props();

  type Answers = Awaited<ReturnType<Bench['ruleAnswers']>>;

  let isOpen = $state(false);
  let answers = $state.raw<Answers | null>(null);

  $effect(() => {
    const asked = box;
    if (!isOpen) return;
    answers = null;
    bench.ruleAnswers(asked.element).then((result) => {
      if (asked === box) answers = result;
    }, wrong);
  });
</script>

<details bind:open={isOpen} data-rules>
  <summary class="heading cursor-pointer">Why is nothing else told of it?</summary>
  {#if answers}
    <div class="flex flex-col gap-2 pt-1 text-[13px]">
      {#each answers.groups as { title, answers: list } (title)}
        <div data-rule-group>
          <p class="font-medium">{title}</p>
          <ul>
            {#each list as { rule, says } (rule)}
              <li class="border-l-2 border-base-300 py-0.5 pl-2">
                <span class="code">{rule}</span>
                <span class="faint">{says}</span>
              </li>
            {/each}
          </ul>
        </div>
      {/each}
      {#if answers.others > 0}<p class="faint">
          {answers.others}
          more {answers.others === 1 ? 'rule is' : 'rules are'} about other kinds of boxes.
        </p>{/if}
    </div>
  {:else if isOpen}
    <p class="faint text-[13px]">Asking every rule …</p>
  {/if}
</details>
