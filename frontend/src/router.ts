import { createRouter } from 'sv-router';
import NotFound from './ui/NotFound.svelte';

/* each page by itself: who opens a bench does not wait for the desks */
const PAGES = {
	'/': () => import('./runs/RunsPage.svelte'),
	'/runs/:uuid': () => import('./bench/BenchPage.svelte'),
	'/runs/:uuid/working': () => import('./log/WorkingPage.svelte'),
	'/runs/:uuid/log': () => import('./log/LogPage.svelte'),
	'/runs/:uuid/slip': () => import('./log/SlipPage.svelte'),
	'/runs/:uuid/suspects': () => import('./suspects/SuspectsPage.svelte'),
	'/runs/:uuid/own-figures': () => import('./own/OwnFiguresPage.svelte'),
	'/runs/:uuid/trials': () => import('./trials/TrialsPage.svelte'),
	'/sign-in': () => import('./doors/SignInPage.svelte'),
	'/join': () => import('./doors/JoinPage.svelte'),
	'/board': () => import('./doors/BoardPage.svelte'),
	'/lab': () => import('./lab/LabPage.svelte'),
	'/lab/:number/round': () => import('./lab/RoundPage.svelte'),
	'/lab/:number': () => import('./lab/LabPage.svelte'),
	'/practice': () => import('./practice/PracticePage.svelte'),
	'/practice/drills': () => import('./practice/DrillsPage.svelte'),
	'/practice/class/:uuid': () => import('./practice/ClassRoom.svelte'),
	'/practice/:uuid': () => import('./practice/BenchRoom.svelte'),
	'/find': () => import('./runs/FindPage.svelte'),
	'/desk': () => import('./marking/DeskPage.svelte'),
	'/desk/:number': () => import('./marking/DeskPage.svelte'),
	'/desk/:number/table': () => import('./marking/TablePage.svelte'),
	'/shelf': () => import('./doors/ShelfPage.svelte'),
	'/today': () => import('./today/TodayPage.svelte'),
	'/prepare': () => import('./prepare/PreparePage.svelte'),
	'/classes/:number': () => import('./prepare/ClassPage.svelte'),
	'/plan': () => import('./plan/PlanPage.svelte'),
	'/plan/reagents': () => import('./plan/ReagentsPage.svelte'),
	'/drying': () => import('./afterwards/DryingPage.svelte'),
	'/waste': () => import('./afterwards/WastePage.svelte'),
	'/runs/:uuid/waste': () => import('./afterwards/WastePage.svelte'),
	'/substances': () => import('./afterwards/SubstancesPage.svelte'),
	'/formula': () => import('./desk/FormulaPage.svelte'),
	'/equation': () => import('./desk/EquationPage.svelte')
};

export { searchParams } from 'sv-router';
export const { p, navigate, route } = createRouter({ ...PAGES, '*': NotFound });

let ahead = false;
/** Whether pages are being fetched that nobody has asked for yet. */
export const isAhead = (): boolean => ahead;

/* a browser that tells no idle moment is given one between two tasks */
const idle = (): Promise<unknown> =>
	new Promise((done) => ('requestIdleCallback' in window ? requestIdleCallback(done) : setTimeout(done, 50)));

/**
 * Fetch the other pages one by one while nothing else is to be done: they are there then when the server is away.
 */
export async function fetchTheRest(): Promise<void> {
	for (const page of Object.values(PAGES)) {
		await idle();
		ahead = true;
		// one that does not come now is fetched when it is opened
		await page().catch(() => undefined);
		ahead = false;
	}
}
