import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [svelte()],
	// the client's build of Svelte, whose runes react
	resolve: { conditions: ['browser'] },
	test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] }
});
