import adapter from '@sveltejs/adapter-node';

/** @type {import('@sveltejs/kit').Config} */
export default {
  kit: {
    adapter: adapter({ out: 'build' }),
    alias: { $core: 'src/core', $station: 'src/station', $collector: 'src/collector' },
    // Every request is checked against the Host and Origin headers in src/lib/server/door.ts, form types or not.
    csrf: { trustedOrigins: ['*'] },
    files: { assets: 'static' },
  },
};
