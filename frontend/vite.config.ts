import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig({
	plugins: [tailwindcss(), svelte()],
	build: {
		// `./kettle bench` weighs what a page brings with it
		manifest: true,
		assetsInlineLimit: 0,
		// what several pages share comes in one piece: on a slow network each request costs its own way there and back
		rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'shared', minShareCount: 4 }] } } },
		target: ['chrome123', 'edge123', 'firefox128', 'safari17.5']
	},
	server: { proxy: { '/api': process.env['CLAYKETTLE_SERVER'] ?? 'http://127.0.0.1:8617' } }
});
