import {
	getOlderRuns,
	getRuns,
	getShelf,
	importArchive,
	importRun,
	type Fault,
	type RunSummary,
	type ShelfView
} from '../api/client';
import { follow } from '../api/feed.svelte';
import { who } from '../doors/who.svelte';
import { clock } from '../ui/clock.svelte';

const MEGABYTE = 1024 * 1024;
const [LARGEST_FILE, LARGEST_ARCHIVE] = [2, 64];

type Told = Pick<Fault, 'code' | 'path' | 'message'>;
type Report = { id: number; name: string; text: string; faults: Told[] };

/** The list of runs, what a new one can choose from, and what became of the files opened. */
export class Runs {
	/** The latest runs, looked at every few seconds, and those of older pages that were asked for. */
	#latest = $state<RunSummary[]>([]);
	#before = $state<RunSummary[]>([]);
	/** The day of which the runs are shown; empty for the latest of all days. */
	day = $state('');
	/** Where the next page of the list begins; empty after the last. */
	older = $state('');
	#pages = 0;
	/** Whether there are runs in other sections of whoever looks. */
	elsewhere = $state(false);
	fetching = $state(false);
	shelf = $state<ShelfView | null>(null);
	/** Why nothing is listed: the class of this tablet is closed. */
	refused = $state('');
	/** The day that it is where the laboratory lies. */
	today = $state('');
	reports = $state<Report[]>([]);
	loaded = $state(false);
	away = $state(false);
	/** The runs ticked to be taken along; null while none are being chosen. */
	chosen = $state<string[] | null>(null);
	#count = 0;

	readonly list = $derived.by(() => {
		const isLatest = (run: RunSummary) => this.#latest.some((row) => row.uuid === run.uuid);
		const before = this.#before.filter(
			(run, place) => !isLatest(run) && this.#before.findIndex((row) => row.uuid === run.uuid) === place
		);
		return [...this.#latest, ...before];
	});

	readonly archive = $derived(
		/* all that is listed is all there is */
		this.chosen?.length === this.list.length && !this.older && !this.day && !this.elsewhere
			? '/api/runs/archive'
			: `/api/runs/archive?${(this.chosen ?? []).map((uuid) => `uuid=${uuid}`).join('&')}`
	);

	readonly place = $derived(this.shelf ? this.shelf.section : '');

	begin(): () => void {
		return follow(() => this.look(), true);
	}

	/** Whether the list is as it is now. */
	async look(): Promise<boolean> {
		if (!this.shelf) await this.#lookAtShelf();
		const day = this.day;
		const outcome = await (day ? getOlderRuns('', day) : getRuns());
		if (day !== this.day) return true;
		this.away = outcome.kind === 'away';
		this.refused = outcome.kind === 'problem' ? outcome.title : '';
		if (outcome.kind !== 'done') return false;
		// while its class was closed, a tablet was not told who it is
		if (!who.is) await who.look();
		clock.set(outcome.value.now);
		this.today = outcome.value.today;
		/* what others push off the first page stays in sight once one has gone back beyond it */
		const found = outcome.value.runs;
		const pushed = this.#latest.filter((run) => !found.some((row) => row.uuid === run.uuid));
		if (this.#pages) this.#before = [...pushed, ...this.#before];
		this.#latest = found;
		this.elsewhere = outcome.value.elsewhere;
		if (!this.#pages) this.older = outcome.value.older;
		this.loaded = true;
		return true;
	}

	/** One page further back. */
	async lookBack(): Promise<void> {
		if (!this.older || this.fetching) return;
		this.fetching = true;
		const day = this.day;
		const outcome = await getOlderRuns(this.older, day);
		this.fetching = false;
		if (day !== this.day) return;
		this.away = outcome.kind === 'away';
		if (outcome.kind !== 'done') return;
		this.#pages += 1;
		this.#before = [...this.#before, ...outcome.value.runs];
		this.older = outcome.value.older;
	}

	/** Show the runs of one day; empty for the latest of all days. */
	async showDay(day: string): Promise<void> {
		this.day = day;
		this.#latest = [];
		this.#before = [];
		this.#pages = 0;
		this.older = '';
		await this.look();
	}

	/** Open run files one after another; each tells what became of it. */
	async open(files: File[]): Promise<void> {
		for (const file of files) {
			const isArchive = /\.zip$/i.test(file.name);
			const most = isArchive ? LARGEST_ARCHIVE : LARGEST_FILE;
			if (file.size > most * MEGABYTE) {
				const size = (file.size / MEGABYTE).toFixed(1);
				const kind = isArchive ? 'an archive' : 'a run file';
				this.#report(file.name, `was not opened: it has ${size} MB, ${kind} has at most ${most} MB.`, []);
				continue;
			}
			if (isArchive) {
				await this.#openArchive(file);
				continue;
			}
			const outcome = await importRun(file);
			if (outcome.kind === 'done') this.#report(file.name, `was opened as “${outcome.value.title}”.`, []);
			else if (outcome.kind === 'away') this.#report(file.name, `was not opened: ${outcome.title}`, []);
			else
				this.#report(
					file.name,
					'was refused. Nothing of it was kept.',
					outcome.faults.length ? outcome.faults : [{ code: outcome.code, path: '', message: outcome.title }]
				);
		}
		await this.look();
	}

	choose(uuid: string, isChosen: boolean): void {
		const others = (this.chosen ?? []).filter((row) => row !== uuid);
		this.chosen = isChosen ? [...others, uuid] : others;
	}

	dismiss(id: number): void {
		this.reports = this.reports.filter((report) => report.id !== id);
	}

	async #lookAtShelf(): Promise<void> {
		const outcome = await getShelf();
		if (outcome.kind === 'done') this.shelf = outcome.value;
	}

	async #openArchive(file: File): Promise<void> {
		const outcome = await importArchive(file);
		if (outcome.kind !== 'done') {
			const faults = outcome.kind === 'problem' ? outcome.faults : [];
			this.#report(file.name, faults.length ? 'was refused.' : `was not opened: ${outcome.title}`, faults);
			return;
		}
		const { files, also } = outcome.value;
		const kept = files.filter((row) => row.uuid !== null);
		if (kept.length)
			this.#report(
				file.name,
				kept.length === 1 ? `was opened as “${kept[0]?.title ?? ''}”.` : `was opened: ${kept.length} runs.`,
				kept
					.filter((row) => row.remark !== '')
					.map((row) => ({ code: 'remark', path: row.title, message: row.remark }))
			);
		for (const row of files.filter((one) => one.uuid === null))
			this.#report(`${file.name}: ${row.name}`, 'was refused. Nothing of it was kept.', row.faults);
		if (also.length)
			this.#report(
				file.name,
				'held more than runs.',
				also.map((message) => ({ code: 'also', path: 'package', message }))
			);
		if (!files.length && !also.length) this.#report(file.name, 'holds no files.', []);
	}

	#report(name: string, text: string, faults: Told[]): void {
		this.reports = [...this.reports, { id: ++this.#count, name, text, faults }];
	}
}
