<script lang="ts">
	import type { StepView } from '../api/client';
	import { clock, dayAndTime, minutesAndSeconds, secondsLeft } from '../ui/clock.svelte';
	import TimerRing from '../ui/TimerRing.svelte';
	import type { Bench } from './bench.svelte';
	import { chime } from './chime';

	let { step, bench }: { step: StepView; bench: Bench } = $props();

	const timer = $derived(step.timer);
	const left = $derived(timer?.ends_at ? secondsLeft(timer.ends_at) : null);
	const whole = $derived(
		timer?.ends_at && timer.started_at ? (Date.parse(timer.ends_at) - Date.parse(timer.started_at)) / 1000 : 1
	);
	/* an hour and more is waited for by the clock, not by the second */
	const long = $derived(whole >= 3600);
	const over = $derived(left !== null && left <= 0);
	const share = $derived(left === null ? 0 : Math.min(1, Math.max(0, left / whole)));

	let wasRunning = false;
	$effect(() => {
		// the end is seen and heard, but only where this page saw the timer run
		if (left !== null && left > 0) wasRunning = true;
		if (over && wasRunning) {
			wasRunning = false;
			chime();
		}
	});
</script>

{#if timer && left === null}
	<button class="button" onclick={() => bench.mark(step.key, 'started')}>Start {timer.minutes} min</button>
{:else if timer && left !== null}
	<div class="timer" class:over role="timer" aria-label="Time for this step">
		<TimerRing {share} {over} />
		{#if long}
			<span class="due">
				<span class="quiet">{over ? 'was due' : 'due'}</span>
				<span class="figure">{dayAndTime(timer.ends_at ?? '', clock.now)}</span>
			</span>
		{:else}
			<span class="due">
				<span class="figure time">{over ? '+' : ''}{minutesAndSeconds(left)}</span>
				<span class="quiet">{over ? 'time is up' : `of ${Math.round(whole / 60)} min left`}</span>
			</span>
		{/if}
	</div>
	<p class="hidden-text" role="status">{over ? `${step.title}: time is up` : ''}</p>
	{#if timer.more_minutes}
		<button class="button" onclick={() => bench.mark(step.key, 'extended')}>
			{step.waits_in ? 'Leave it' : 'Still warm:'}
			{timer.more_minutes} more min
		</button>
	{/if}
{/if}

<style>
	.timer {
		display: flex;
		align-items: center;
		gap: 12px;
	}
	.due {
		display: grid;
	}
	.due {
		line-height: 1.15;
	}
	.due .figure {
		font-size: 21px;
		font-weight: 600;
	}
	.over .due .figure {
		color: var(--act);
	}
	.due .time {
		font-size: 28px;
		font-weight: 600;
	}
	.over .time {
		color: var(--act);
	}
</style>
