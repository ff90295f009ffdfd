import { searchParams } from '../router';

/** The trial that the address names by its label; null where it names none. */
export const chosenTrial = (): string | null => searchParams.toURLSearchParams().get('trial');

/** The end of an address that names a trial. */
export const trialQuery = (label: string | null): string =>
	label === null ? '' : `?trial=${encodeURIComponent(label)}`;
