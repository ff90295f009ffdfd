/**
 * Where this page stands: in earnest, or where its account rehearses. There everything works as it does elsewhere, by
 * a clock of its own, and nothing counts; what this device keeps of it is kept apart.
 */
export const REHEARSAL = '/rehearsal';

const path = location.pathname;
/** Whether this page stands where its account rehearses. */
export const rehearses = path === REHEARSAL || path.startsWith(`${REHEARSAL}/`);
/** Whether it stands inside another page of ours: the bench's page beside a simulated bench. */
export const beside = rehearses && window.self !== window.top;
/** What tells this device's stores of the two places apart. */
export const PLACE = rehearses ? 'kettle-rehearsal' : 'kettle';

/** The server's own address of something, asked from here: what a plain link cannot say in its head stands in it. */
export function asked(address: string): string {
	if (!rehearses || !address.startsWith('/api/') || address.includes('rehearsal=')) return address;
	return `${address}${address.includes('?') ? '&' : '?'}rehearsal=yes`;
}
