import { start, stop } from '$lib/server/state.ts';
import type { ServerInit } from '@sveltejs/kit';

export const init: ServerInit = () => {
  start();
  process.once('sveltekit:shutdown' as never, () => {
    stop().then(
      () => process.exit(0),
      (error: unknown) => {
        console.error(error);
        process.exit(1);
      },
    );
  });
};
