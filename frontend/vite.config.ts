import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
	plugins: [
		tailwindcss(),
		svelte(),
		VitePWA({
			// the page registers it itself (src/offline/installed.ts), and no page is reloaded under somebody's hands
			injectRegister: false,
			registerType: 'autoUpdate',
			filename: 'offline.js',
			manifestFilename: 'kettle.webmanifest',
			manifest: {
				name: 'Clay Kettle',
				short_name: 'Clay Kettle',
				description: 'The bench book of a chemistry class.',
				start_url: '/',
				display: 'standalone',
				background_color: '#f7f2eb',
				theme_color: '#f7f2eb',
				icons: [{ src: '/mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }]
			},
			workbox: {
				globPatterns: ['**/*.{js,css,html,svg,woff2}'],
				globIgnores: ['offline.js'],
				inlineWorkboxRuntime: true,
				// the server's page while it answers, the one kept here while it does not; never what is recorded
				navigateFallback: null,
				runtimeCaching: [
					{
						urlPattern: ({ request, url }) =>
							request.mode === 'navigate' && !/^\/(api|healthz)(\/|$)/.test(url.pathname),
						handler: 'NetworkOnly',
						options: {
							precacheFallback: { fallbackURL: '/index.html' },
							// what stands before a server that is away answers in its place
							plugins: [
								{
									fetchDidSucceed: async ({ response }) => {
										if (response.status >= 500) throw new Error('away');
										return response;
									}
								}
							]
						}
					}
				]
			}
		})
	],
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
