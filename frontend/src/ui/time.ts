/** A moment in milliseconds as ISO 8601 in UTC. */
export const isoTime = (moment: number): string => new Date(moment).toISOString();
