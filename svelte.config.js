import adapter from '@sveltejs/adapter-node';

/** @type {import('@sveltejs/kit').Config} */
export default {
  kit: {
    adapter: adapter({ out: 'build' }),
    alias: { $core: 'src/core', $station: 'src/station', $protocol: 'src/protocol' },
    // Every request is checked against the Host and Origin headers in src/lib/server/guard.ts, form types or not.
    csrf: { trustedOrigins: ['*'] },
    csp: {
      mode: 'nonce',
      directives: {
        'default-src': ['none'],
        'script-src': ['self'],
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'font-src': ['self'],
        'connect-src': ['self'],
        'worker-src': ['self', 'blob:'],
        // A specimen that tries to leave its own host finds its frame closed.
        'frame-src': ['self', 'http://*.localhost:*'],
        'frame-ancestors': ['none'],
        'base-uri': ['none'],
        'form-action': ['self'],
        'object-src': ['none'],
      },
    },
    files: { assets: 'static' },
  },
};
