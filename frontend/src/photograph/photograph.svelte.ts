import { postPhotograph, type PhotographSheet } from '../api/client';
import { faultAt, NOTHING, saidOf, type Said } from '../ui/said';

export type Point = [number, number];
export type Ends = [Point, Point];

/** A click is good to so many pixels of the screen. */
const CLICK = 2;
const LARGEST = 60 * 1024 * 1024;

/** A picture and the points on it: two for the scale bar, then two for each crystal. The server turns them into lengths. */
export class Photograph {
	source = $state('');
	name = $state('');
	width = $state(0);
	height = $state(0);
	/** Pixels of the picture for one of the screen, as it is laid out now. */
	zoom = $state(1);
	bar = $state('10 mm');
	/** The two ends of the scale bar, as far as they are set; then two points for each crystal. */
	scale = $state<Point[]>([]);
	marks = $state<Point[]>([]);
	/** Where the next point would be set. */
	cross = $state<Point>([0, 0]);
	trouble = $state('');
	said = $state<Said>(NOTHING);
	sheet = $state<PhotographSheet | null>(null);
	#asked = 0;

	readonly crystals = $derived<Ends[]>(
		Array.from({ length: Math.floor(this.marks.length / 2) }, (_, index) => [
			this.marks[2 * index] as Point,
			this.marks[2 * index + 1] as Point
		])
	);
	readonly scaled = $derived(this.scale.length === 2);
	/** The first end of what is being marked, where its second is still to come. */
	readonly begun = $derived(
		(this.scaled ? (this.marks.length % 2 ? this.marks.at(-1) : null) : this.scale[0]) ?? null
	);
	readonly doing = $derived(
		this.scaled
			? `Set the ${this.begun ? 'other' : 'one'} end of crystal ${this.crystals.length + 1}, along its longest edge.`
			: `Set the ${this.begun ? 'other' : 'one'} end of the scale bar.`
	);

	/** Show a picture; what cannot be shown is said, and the one before stays. */
	async open(file: File): Promise<void> {
		this.trouble = '';
		if (file.size > LARGEST) {
			this.trouble = `${file.name} has ${Math.round(file.size / 1024 / 1024)} MB; take a picture below 60 MB.`;
			return;
		}
		await this.show(URL.createObjectURL(file), file.name);
	}

	async show(source: string, name: string): Promise<void> {
		const picture = new Image();
		picture.src = source;
		try {
			await picture.decode();
		} catch {
			this.trouble = `${name} is no picture that can be shown here; take a JPEG or PNG.`;
			return;
		}
		this.close();
		Object.assign(this, { source, name, width: picture.naturalWidth, height: picture.naturalHeight });
		this.cross = [this.width / 2, this.height / 2];
	}

	/** Set a point, clipped to the picture. */
	async set([x, y]: Point): Promise<void> {
		const inside = (value: number, most: number) => Math.min(Math.max(value, 0), most);
		this.cross = [inside(x, this.width), inside(y, this.height)];
		if (this.scaled) this.marks = [...this.marks, this.cross];
		else this.scale = [...this.scale, this.cross];
		await this.measure();
	}

	async takeBack(): Promise<void> {
		if (this.marks.length) this.marks = this.marks.slice(0, -1);
		else this.scale = this.scale.slice(0, -1);
		await this.measure();
	}

	/** Set the bar's ends again; the crystals stay marked. */
	async scaleAnew(): Promise<void> {
		this.scale = [];
		await this.measure();
	}

	async leaveOut(crystal: number): Promise<void> {
		this.marks = this.marks.filter((_, index) => Math.floor(index / 2) !== crystal);
		await this.measure();
	}

	/** Ask for the lengths of what is marked; a later answer overtakes an earlier one. */
	async measure(): Promise<void> {
		const [one, other] = this.scale;
		if (!one || !other) {
			this.sheet = null;
			this.said = NOTHING;
			return;
		}
		const mine = ++this.#asked;
		const body = { bar: this.bar, scale: [one, other], things: this.crystals, click: CLICK * this.zoom };
		const outcome = await postPhotograph(body as Parameters<typeof postPhotograph>[0]);
		if (mine !== this.#asked) return;
		this.said = saidOf(outcome);
		this.sheet = outcome.kind === 'done' ? outcome.value.sheet : null;
	}

	/** What is wrong, but for what stands at the field of the scale bar. */
	readonly fault = $derived(
		this.said.trouble || (this.said.faults.find((row) => row.path !== 'bar')?.message ?? '')
	);
	readonly barFault = $derived(faultAt(this.said, 'bar'));

	close(): void {
		if (this.source.startsWith('blob:')) URL.revokeObjectURL(this.source);
		Object.assign(this, { source: '', name: '', scale: [], marks: [], sheet: null, said: NOTHING });
	}
}
