/** Two soft tones at the end of a timer. A browser that wants a tap first stays silent; the page still shows it. */
export function chime(): void {
	try {
		const context = new AudioContext();
		for (const [index, frequency] of [660, 880].entries()) {
			const tone = context.createOscillator();
			const volume = context.createGain();
			const start = context.currentTime + index * 0.35;
			tone.frequency.value = frequency;
			volume.gain.setValueAtTime(0.0001, start);
			volume.gain.exponentialRampToValueAtTime(0.3, start + 0.03);
			volume.gain.exponentialRampToValueAtTime(0.0001, start + 0.6);
			tone.connect(volume).connect(context.destination);
			tone.start(start);
			tone.stop(start + 0.65);
		}
		setTimeout(() => void context.close(), 2000);
	} catch {
		// no sound on this device
	}
}
