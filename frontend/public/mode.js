// Light or dark before the first paint; the page's own policy allows no inline script.
(function () {
	var kept = null;
	try {
		kept = localStorage.getItem('kettle-mode');
	} catch (error) {
		kept = null;
	}
	var dark = kept ? kept === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
	document.documentElement.setAttribute('data-mode', dark ? 'dark' : 'light');
})();
