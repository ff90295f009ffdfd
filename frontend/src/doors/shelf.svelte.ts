import {
	getAccounts,
	getAddresses,
	getAudit,
	getBackups,
	getClass,
	getSections,
	getShelf,
	type AccountsView,
	type AddressesView,
	type AuditView,
	type BackupsView,
	type ClassView,
	type Outcome,
	type SectionsView
} from '../api/client';
import { Feed } from '../api/feed.svelte';
import { NOTHING, saidOf, type Said } from '../ui/said';
import { who } from './who.svelte';

/** What stands on the Shelf of the caller: class, benches, sections, and of the administrator the accounts. */
export class Shelf {
	found = $state.raw<ClassView | null>(null);
	sections = $state.raw<SectionsView['sections']>([]);
	accounts = $state.raw<AccountsView | null>(null);
	audit = $state.raw<AuditView['lines']>([]);
	backups = $state.raw<BackupsView | null>(null);
	addresses = $state.raw<AddressesView['addresses']>([]);
	trouble = $state('');

	readonly benches = $derived(this.found?.benches.filter((row) => !row.retired) ?? []);
	/** Whether there is a balance; runs cannot begin without. */
	hasBalance = $state(true);
	readonly isNew = $derived(this.found !== null && !(this.benches.length && this.hasBalance));

	async begin(): Promise<void> {
		const [sections, backups] = await Promise.all([getSections(), getBackups()]);
		if (sections.kind === 'done') this.sections = sections.value.sections;
		else this.trouble = sections.title;
		if (backups.kind === 'done') this.backups = backups.value;
		if (this.sections.length) {
			const [found, addresses, shown] = await Promise.all([getClass(), getAddresses(), getShelf()]);
			if (shown.kind === 'done') this.hasBalance = shown.value.balances.length > 0;
			if (found.kind === 'done') this.found = found.value;
			if (addresses.kind === 'done') this.addresses = addresses.value.addresses;
		}
		if (who.is?.is_admin) {
			const [accounts, audit] = await Promise.all([getAccounts(), getAudit()]);
			if (accounts.kind === 'done') this.accounts = accounts.value;
			if (audit.kind === 'done') this.audit = audit.value.lines;
		}
	}

	/** How often something here was begun or came to its end: what was asked for before may be older than what it brought. */
	#acts = 0;

	/** Look again when a class is told to be another: tablets join while the page is open. */
	watch(number: number): () => void {
		return new Feed(number, () => void this.look(number)).begin();
	}

	/** The class as it stands, never older than what was done here meanwhile. */
	async look(number: number): Promise<void> {
		let seen, outcome;
		do {
			seen = this.#acts;
			outcome = await getClass(number);
		} while (seen !== this.#acts);
		if (outcome.kind === 'done' && this.found?.number === number)
			this.found = { ...outcome.value, link: this.found.link };
	}

	/** The door of another class of today. */
	async goTo(number: number): Promise<Said> {
		return this.atClass(getClass(number));
	}

	async atClass(asked: Promise<Outcome<ClassView>>): Promise<Said> {
		const code = this.found?.code;
		const said = await this.#take(asked, (view) => (this.found = view));
		// the drawing for a camera holds the code
		const addresses = code !== this.found?.code ? await getAddresses(this.found?.number) : null;
		if (addresses?.kind === 'done') this.addresses = addresses.value.addresses;
		return said;
	}

	async atSections(asked: Promise<Outcome<SectionsView>>): Promise<Said> {
		const said = await this.#take(asked, (view) => (this.sections = view.sections));
		if (said === NOTHING) {
			await who.look();
			const found = await getClass();
			if (found.kind === 'done') this.found = found.value;
		}
		return said;
	}

	async atAccounts(asked: Promise<Outcome<AccountsView>>): Promise<Said> {
		return this.#take(asked, (view) => (this.accounts = view));
	}

	async #take<T>(asked: Promise<Outcome<T>>, keep: (view: T) => void): Promise<Said> {
		this.#acts++;
		const outcome = await asked;
		this.#acts++;
		if (outcome.kind === 'done') keep(outcome.value);
		return saidOf(outcome);
	}
}
