import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

const { MENDRY_URL, MENDRY_INTERLEAVINGS = '25', MENDRY_SEED = '1' } = process.env;

/** What is tried with a real Mendry, which MENDRY_URL names: e2e/tests/together.spec.ts starts one and runs this. */
export default defineConfig({
  plugins: [svelte()],
  test: {
    include: ['src/**/*.real.ts'],
    testTimeout: 3_600_000,
    provide: { url: MENDRY_URL ?? '', rounds: Number(MENDRY_INTERLEAVINGS), seed: Number(MENDRY_SEED) },
  },
});
