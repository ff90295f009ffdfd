import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig({
	plugins: [tailwindcss(), svelte()],
	build: {
		assetsInlineLimit: 0,
		target: ['chrome123', 'edge123', 'firefox128', 'safari17.5']
	},
	server: { proxy: { '/api': process.env['CLAYKETTLE_SERVER'] ?? 'http://127.0.0.1:8617' } }
});
