/** What each kind of instrument is called in a form. */
export const KIND_NAMES: Record<string, string> = {
	balance: 'Balance',
	coarse_balance: 'Balance for large loads',
	volume: 'Gas tube',
	liquid_volume: 'Measure for the liquid',
	thermometer: 'Thermometer',
	barometer: 'Barometer',
	ruler: 'Ruler',
	hygrometer: 'Hygrometer',
	clock: 'Clock'
};

/** A quantity as typed, its unit set for the page. */
export const shown = (text: string): string => text.replace('degC', '°C').replace('degF', '°F');
