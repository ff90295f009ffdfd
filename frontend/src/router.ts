import { createRouter } from 'sv-router';
import DryingPage from './afterwards/DryingPage.svelte';
import SubstancesPage from './afterwards/SubstancesPage.svelte';
import WastePage from './afterwards/WastePage.svelte';
import EquationPage from './desk/EquationPage.svelte';
import FormulaPage from './desk/FormulaPage.svelte';
import BenchPage from './bench/BenchPage.svelte';
import LogPage from './log/LogPage.svelte';
import SlipPage from './log/SlipPage.svelte';
import WorkingPage from './log/WorkingPage.svelte';
import ReagentsPage from './plan/ReagentsPage.svelte';
import PlanPage from './plan/PlanPage.svelte';
import RunsPage from './runs/RunsPage.svelte';
import SuspectsPage from './suspects/SuspectsPage.svelte';
import TrialsPage from './trials/TrialsPage.svelte';
import TodayPage from './today/TodayPage.svelte';
import NotFound from './ui/NotFound.svelte';

export { searchParams } from 'sv-router';
export const { p, navigate, route } = createRouter({
	'/': RunsPage,
	'/runs/:uuid': BenchPage,
	'/runs/:uuid/working': WorkingPage,
	'/runs/:uuid/log': LogPage,
	'/runs/:uuid/slip': SlipPage,
	'/runs/:uuid/suspects': SuspectsPage,
	'/runs/:uuid/trials': TrialsPage,
	'/today': TodayPage,
	'/plan': PlanPage,
	'/plan/reagents': ReagentsPage,
	'/drying': DryingPage,
	'/waste': WastePage,
	'/runs/:uuid/waste': WastePage,
	'/substances': SubstancesPage,
	'/formula': FormulaPage,
	'/equation': EquationPage,
	'*': NotFound
});
