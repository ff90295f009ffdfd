/**
 * The page kept on the device, so that it opens without a server. A browser offers that to this machine itself and over
 * a connection that it trusts; elsewhere the pages are fetched ahead and last until the tablet is reloaded.
 */
export async function install(): Promise<void> {
	if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
	try {
		await navigator.serviceWorker.register('/offline.js');
	} catch {
		// refused, or no room: the page works as it did
	}
}
