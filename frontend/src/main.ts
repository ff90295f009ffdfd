import { mount } from 'svelte';
import App from './App.svelte';
import './app.css';

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
if (target) mount(App, { target });
