/** What the parts of the sentence are called, where they are asked about. */
const CALLED: Record<string, string> = {
	benches: 'Benches and students',
	method: 'What they do',
	material: 'What with',
	trials: 'How many trials',
	tolerance: 'When it is constant',
	apparatus: 'Apparatus and room',
	date: 'Day, time and name',
	length: 'Length of the class',
	room: 'What the room has',
	sample: 'The amount',
	practical: 'The practical'
};

export const NAMES = (key: string): string =>
	key.startsWith('school:') ? 'How it is done' : (CALLED[key] ?? 'The class');
