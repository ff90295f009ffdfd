import { asked } from '../api/place';

/** All reports of a class in one archive: written one by one on the server, told as each is done. */
export class Reports {
	done = $state(0);
	of = $state(0);
	whose = $state('');
	trouble = $state('');
	busy = $state(false);

	constructor(readonly number: number) {}

	/** Fetch them in a form; gives the archive and its name, or null where it could not be had. */
	async fetch(to: string): Promise<{ name: string; data: Uint8Array<ArrayBuffer> } | null> {
		this.busy = true;
		this.trouble = '';
		[this.done, this.of, this.whose] = [0, 0, ''];
		try {
			const response = await fetch(asked(`/api/classes/${this.number}/reports?to=${to}`));
			if (!response.ok || !response.body) throw new Error();
			return await this.#read(response.body);
		} catch {
			this.trouble = 'The reports did not come through. Nothing is lost: try it again.';
			return null;
		} finally {
			this.busy = false;
		}
	}

	async #read(body: ReadableStream<Uint8Array>): Promise<{ name: string; data: Uint8Array<ArrayBuffer> }> {
		const reader = body
			.pipeThrough(new TextDecoderStream() as never)
			.getReader() as ReadableStreamDefaultReader<string>;
		let rest = '';
		for (;;) {
			const { value, done } = await reader.read();
			if (done) throw new Error('ended too soon');
			const lines = (rest + value).split('\n');
			rest = lines.pop() ?? '';
			for (const line of lines.filter(Boolean)) {
				const told = JSON.parse(line) as {
					done: number;
					of: number;
					whose: string;
					name: string;
					archive: string;
				};
				[this.done, this.of, this.whose] = [told.done, told.of, told.whose];
				if (told.archive)
					return { name: told.name, data: Uint8Array.from(atob(told.archive), (sign) => sign.charCodeAt(0)) };
			}
		}
	}
}
