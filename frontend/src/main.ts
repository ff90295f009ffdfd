import { mount } from 'svelte';
import { asked, REHEARSAL, rehearses } from './api/place';
import App from './App.svelte';
import './app.css';
import { install } from './offline/installed';
import { fetchTheRest, isAhead } from './router';

/** A link of a page where somebody rehearses leads on there; what the server itself answers is asked from there. */
function toItsPlace(link: HTMLAnchorElement): void {
	const address = link.getAttribute('href') ?? '';
	if (!rehearses || !address.startsWith('/') || address.startsWith(`${REHEARSAL}/`)) return;
	if (address === '/practice' || address.startsWith('/practice/')) {
		// the room itself stands in earnest: a page of its own
		link.target = '_top';
		return;
	}
	link.setAttribute('href', address.startsWith('/api/') ? asked(address) : REHEARSAL + address);
}

// The router takes over every click on a same-origin link; downloads from the API are the browser's own.
document.addEventListener(
	'click',
	(event) => {
		const link = event.target instanceof Element ? event.target.closest('a') : null;
		if (link) toItsPlace(link);
		const own =
			link?.getAttribute('href')?.startsWith('/api/') ||
			link?.target === '_top' ||
			event.ctrlKey ||
			event.metaKey ||
			event.shiftKey;
		if (link && own) event.stopPropagation();
	},
	true
);

/* a page beside another one of ours is as light or dark as that one */
window.addEventListener('storage', (event) => {
	if (event.key === 'kettle-mode' && event.newValue)
		document.documentElement.setAttribute('data-mode', event.newValue);
});

const target = document.getElementById('app');
if (target) {
	target.replaceChildren();
	mount(App, { target });
}

const SETTLED_MS = 1500;
/* whoever has just come reads and types: what nobody asked for comes later */
const QUIET_MS = 8000;
window.addEventListener('load', () => {
	setTimeout(() => void install(), SETTLED_MS);
	setTimeout(() => void fetchTheRest(), QUIET_MS);
});

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
