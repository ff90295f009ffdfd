/** The desk that lies open beside the page, what it was asked, and who wants what is found. */
export type DeskKind = 'formula' | 'equation';

class Drawer {
	kind = $state<DeskKind | null>(null);
	asked = $state('');
	handBack = $state.raw<((found: string) => void) | null>(null);

	/** The field to which whoever closes the desk comes back; empty for where they came from. */
	field = '';

	/** Open a desk beside the page; `handBack` takes what is found there, into the field with this id. */
	show(kind: DeskKind, asked = '', handBack: ((found: string) => void) | null = null, field = ''): void {
		this.field = field;
		this.kind = kind;
		this.asked = asked;
		this.handBack = handBack;
	}

	close(): void {
		this.kind = null;
	}

	/** Open a desk in place of following the link to its page, unless it is to be a page of its own. */
	byLink(event: MouseEvent, kind: DeskKind, asked = ''): void {
		if (event.ctrlKey || event.metaKey || event.shiftKey) return;
		event.preventDefault();
		event.stopPropagation();
		this.show(kind, asked);
	}
}

export const drawer = new Drawer();
