import { MediaQuery } from 'svelte/reactivity';

/** Room for three columns, such as a desk's screen or a laptop. */
export const wide = new MediaQuery('min-width: 1180px');
/** Room for one column only: a phone, or a page enlarged to twice its size. */
export const narrow = new MediaQuery('max-width: 699px');
