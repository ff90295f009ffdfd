import { mount } from 'svelte';
import App from './App.svelte';
import './app.css';
import { install } from './offline/installed';
import { fetchTheRest, isAhead } from './router';

// The router takes over every click on a same-origin link; downloads from the API are the browser's own.
document.addEventListener(
	'click',
	(event) => {
		const link = event.target instanceof Element ? event.target.closest('a') : null;
		const own =
			link?.getAttribute('href')?.startsWith('/api/') || event.ctrlKey || event.metaKey || event.shiftKey;
		if (link && own) event.stopPropagation();
	},
	true
);

const target = document.getElementById('app');
if (target) {
	target.replaceChildren();
	mount(App, { target });
}

const SETTLED_MS = 1500;
window.addEventListener('load', () =>
	setTimeout(() => {
		void install();
		void fetchTheRest();
	}, SETTLED_MS)
);

/** After an upgrade the pages bear other names: where the server answers, the page is taken anew; typed figures are kept. */
async function takeAnew(): Promise<void> {
	const before = Number(sessionStorage.getItem('kettle-taken-anew') ?? 0);
	const isThere = await fetch('/healthz').then(
		(answer) => answer.ok,
		() => false
	);
	if (!isThere || Date.now() - before < 60_000) return;
	sessionStorage.setItem('kettle-taken-anew', String(Date.now()));
	location.reload();
}

window.addEventListener('vite:preloadError', () => {
	if (!isAhead()) void takeAnew();
});
