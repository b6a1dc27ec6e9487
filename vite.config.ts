import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';
import { passDoor } from './src/lib/server/door.ts';

const door: Plugin = {
  name: 'door',
  configureServer(server) {
    server.middlewares.use((req, res, next) => {
      if (!passDoor(req, res, { hosts: [] })) next();
    });
  },
};

export default defineConfig({
  plugins: [door, tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  server: { host: '127.0.0.1', allowedHosts: ['.localhost'] },
  build: { chunkSizeWarningLimit: 1500 },
});
