import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';
import { guardRequest } from './src/lib/server/request-guard.ts';

const guard: Plugin = {
  name: 'guard',
  configureServer(server) {
    server.middlewares.use((req, res, next) => {
      if (!guardRequest(req, res, { hosts: [] })) next();
    });
  },
};

export default defineConfig({
  plugins: [guard, tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  server: { host: '127.0.0.1', allowedHosts: ['.localhost'] },
  build: { chunkSizeWarningLimit: 1500 },
});
