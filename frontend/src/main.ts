import { mount } from 'svelte';
import App from './App.svelte';
import './app.css';
import { fetchTheRest } from './router';

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
window.addEventListener('load', () => setTimeout(fetchTheRest, SETTLED_MS));
// after an upgrade the pages bear other names: what stands in the fields is kept, so the page is simply taken anew
window.addEventListener('vite:preloadError', () => {
	const before = Number(sessionStorage.getItem('kettle-taken-anew') ?? 0);
	if (Date.now() - before < 60_000) return;
	sessionStorage.setItem('kettle-taken-anew', String(Date.now()));
	location.reload();
});
