import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: {
    outDir: '../internal/httpd/dist',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    cssTarget: ['chrome123', 'edge123', 'firefox128', 'safari17.5'],
    rollupOptions: { input: { index: 'index.html', client: 'client.html' } },
  },
  test: { include: ['src/**/*.test.ts'] },
  server: { proxy: { '/api': 'http://localhost:8400' } },
});
