<script lang="ts">
	/* Of each kind of instrument of which there are several, the one that reads. */
	import type { InstrumentView } from '../api/client';
	import { KIND_NAMES, shown } from './instruments';

	let {
		kinds,
		chosen,
		choose,
		capacity = false
	}: {
		kinds: { kind: string; rows: InstrumentView[]; usual: number | undefined }[];
		chosen: Record<string, number>;
		choose: (kind: string, id: number) => void;
		/** Whether it is told how much each carries. */
		capacity?: boolean;
	} = $props();
</script>

{#each kinds as group (group.kind)}
	<div class="field">
		<label for="kind-{group.kind}">{KIND_NAMES[group.kind] ?? group.kind}</label>
		<select
			id="kind-{group.kind}"
			value={chosen[group.kind] ?? group.usual}
			onchange={(event) => choose(group.kind, Number(event.currentTarget.value))}
		>
			{#each group.rows as row (row.id)}<option value={row.id}
					>{row.name}, ± {shown(row.half_width)}{capacity && row.capacity
						? `, up to ${row.capacity}`
						: ''}</option
				>{/each}
		</select>
	</div>
{/each}
