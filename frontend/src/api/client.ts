/** The one place that talks to the server. */
import type { components } from '../../generated/api';
import { clock } from '../ui/clock.svelte';
import { asked, rehearses } from './place';

type Schemas = components['schemas'];
export type RunView = Schemas['RunView'];
export type RunListView = Schemas['RunListView'];
export type RunSummary = Schemas['RunSummaryView'];
export type ShelfView = Schemas['ShelfView'];
export type ProcedureView = Schemas['ProcedureView'];
export type StepView = Schemas['StepView'];
export type MarksView = Schemas['MarksView'];
export type EntryView = Schemas['EntryView'];
export type ReadingView = Schemas['ReadingView'];
export type Tread = Schemas['Tread'];
export type Loss = Schemas['Loss'];
export type GasPicture = Schemas['GasPicture'];
export type ScaleView = Schemas['ScaleView'];
export type MethodView = Schemas['MethodView'];
export type RulerView = Schemas['RulerView'];
export type Verdict = Schemas['Verdict'];
export type Fault = Schemas['FaultBody'];
export type InstrumentView = Schemas['InstrumentView'];
export type PlanShelfView = Schemas['PlanShelfView'];
export type PlanView = Schemas['PlanView'];
export type PlanBody = Schemas['PlanBody'];
export type Sizing = Schemas['Sizing'];
export type Look = Schemas['Look'];
export type Recipe = Schemas['Recipe'];
export type TodayView = Schemas['TodayView'];
export type RoomReadingView = Schemas['RoomReadingView'];
export type RoomSlotView = Schemas['RoomSlotView'];
export type InstrumentBody = Schemas['InstrumentBody'];
export type ReagentTableView = Schemas['ReagentTable'];
export type CurvePicture = Schemas['CurvePicture'];
export type SizesPicture = Schemas['SizesPicture'];
export type Reacting = Schemas['Reacting'];
export type SubstanceView = Schemas['SubstanceView'];
export type SubstanceBody = Schemas['SubstanceBody'];
export type RegisterView = Schemas['RegisterView'];
export type RunSubstancesView = Schemas['RunSubstancesView'];
export type WasteView = Schemas['WasteView'];
export type DryingView = Schemas['DryingView'];
export type RestingView = Schemas['RestingView'];
export type CalibrationView = Schemas['CalibrationView'];
export type StartBody = Schemas['StartBody'];
export type ReadingBody = Schemas['ReadingBody'];
export type WorkedTrial = Schemas['WorkedTrialView'];
export type Candidate = Schemas['Candidate'];
export type CandidateView = Schemas['CandidateView'];
export type Replay = Schemas['ReplayView'];
export type FormulaSheetView = Schemas['FormulaSheetView'];
export type CompositionSheet = Schemas['CompositionSheet'];
export type FormulaDeskView = Schemas['FormulaDeskView'];
export type CorrectionBody = Schemas['CorrectionBody'];
export type BoardView = Schemas['BoardView'];
export type CardView = Schemas['CardView'];
export type CallView = Schemas['CallView'];
export type ClassScaleView = Schemas['ClassScaleView'];
export type RoomStrip = Schemas['RoomView'];
export type MessageView = Schemas['MessageView'];
export type AnswerCallBody = Schemas['AnswerCallBody'];

/** What came back: the value, a problem to show, or nobody there (server or database away). */
export type Outcome<T> =
	| { kind: 'done'; value: T }
	| {
			kind: 'problem';
			code: string;
			title: string;
			faults: Fault[];
			doubt: string | null;
			suggestion: string | null;
	  }
	| { kind: 'away'; title: string };

export const SIGNED_OUT = 'kettle:signed-out';
const AWAY = 'The server does not answer just now.';
const PATIENCE_MS = 6_000;
/* an archive holds up to 200 runs */
const PATIENCE_WITH_ARCHIVES_MS = 180_000;

/** Twice where the same may be asked twice: a tablet that slept finds its patience over before it reads what came. */
async function send<T>(
	path: string,
	init: RequestInit = {},
	tries = 2,
	patience = PATIENCE_MS
): Promise<Outcome<T>> {
	let response: Response;
	let body: unknown = null;
	try {
		const headers = rehearses ? { ...init.headers, 'Kettle-Rehearsal': 'yes' } : init.headers;
		response = await fetch(path, { ...init, headers, signal: AbortSignal.timeout(patience) });
		if (rehearses) clock.go(Number(response.headers.get('Kettle-Pace') ?? 1));
		if (response.status === 204) return { kind: 'done', value: null as T };
		body = await response.json();
	} catch (lost) {
		const late = lost instanceof DOMException && lost.name === 'TimeoutError';
		return late && tries > 1 ? send<T>(path, init, tries - 1, patience) : { kind: 'away', title: AWAY };
	}
	if (response.ok) return { kind: 'done', value: body as T };
	const problem = (body ?? {}) as Partial<Schemas['Problem']>;
	if (problem.code === 'not-signed-in' && path !== '/api/session') {
		// what was typed waits on this device until somebody has signed in again
		window.dispatchEvent(new CustomEvent(SIGNED_OUT));
		return { kind: 'away', title: 'Sign in again; what you typed is kept.' };
	}
	if (response.status >= 502) return { kind: 'away', title: problem.title ?? AWAY };
	return {
		kind: 'problem',
		code: problem.code ?? 'unexpected',
		title: problem.title ?? `The server answered ${response.status}.`,
		faults: problem.faults ?? [],
		doubt: problem.doubt ?? null,
		suggestion: problem.suggestion ?? null
	};
}

/** What names itself by a UUID is kept once however often it comes; anything else is sent once. */
function post<T>(path: string, body: object): Promise<Outcome<T>> {
	const init = {
		method: 'POST',
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify(body)
	};
	return send<T>(path, init, 'uuid' in body ? 2 : 1);
}

/** Made of random bytes: over plain HTTP from another machine the browser offers nothing more ready. */
export function newUuid(): string {
	const bytes = crypto.getRandomValues(new Uint8Array(16));
	bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
	bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
	const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
	return [0, 8, 12, 16, 20].map((at, row) => hex.slice(at, [8, 12, 16, 20, 32][row])).join('-');
}

export type WhoView = Schemas['WhoView'];
export type DoorView = Schemas['DoorView'];
export type ClassView = Schemas['ClassView'];
export type SectionsView = Schemas['SectionsView'];
export type AccountsView = Schemas['AccountsView'];
export type AuditView = Schemas['AuditView'];
export type BackupsView = Schemas['BackupsView'];
export type AddressesView = Schemas['AddressesView'];
export const getDoor = () => send<DoorView>('/door');
export const getWho = () => send<WhoView>('/api/session');
export const signIn = (login: string, password: string) => post<null>('/api/session', { login, password });
export const firstAccount = (body: Schemas['FirstBody']) => post<null>('/door/first', body);
export const atBoard = (link: string) => post<null>('/door/board', { link });
export type JoinView = Schemas['JoinView'];
export const benchesToJoin = (code: string) => post<JoinView>('/api/join/benches', { code });
export const joinBench = (code: string, bench: string) => post<null>('/api/join', { code, bench });
const remove = <T>(path: string) => send<T>(path, { method: 'DELETE' }, 1);
export const signOut = () => remove<null>('/api/session');
export const signOutEverywhere = () => remove<null>('/api/session/everywhere');
export const changePassword = (before: string, after: string) =>
	post<null>('/api/session/password', { old: before, new: after });
/* a class by its number; 0 is the one at work now */
export const getClass = (number = 0) => send<ClassView>(`/api/class?number=${number}`);
export const getAddresses = (number = 0) => send<AddressesView>(`/api/class/addresses?number=${number}`);
export const renewCode = (number: number) => post<ClassView>(`/api/class/code?number=${number}`, {});
export const closeClass = (number: number, closed: boolean) =>
	post<ClassView>(`/api/class/closed?number=${number}`, { closed });
export const boardLink = (number: number, answers: boolean) =>
	post<ClassView>(`/api/class/board?number=${number}`, { answers });
export const turnOut = (number: number, tablet: number) =>
	remove<ClassView>(`/api/class/tablets/${tablet}?number=${number}`);
export const nameBench = (body: Schemas['BenchBody']) => post<ClassView>('/api/class/benches', body);
export const getSections = () => send<SectionsView>('/api/sections');
export const makeSection = (name: string) => post<SectionsView>('/api/sections', { name });
export const renameSection = (section: number, name: string) =>
	post<SectionsView>(`/api/sections/${section}/name`, { name });
export const goToSection = (section: number) => post<SectionsView>('/api/sections/here', { section });
export const shareSection = (section: number, login: string, ends: boolean) =>
	post<SectionsView>(`/api/sections/${section}/shares`, { login, ends });
export const getAccounts = () => send<AccountsView>('/api/accounts');
export const addAccount = (body: Schemas['AccountBody']) => post<AccountsView>('/api/accounts', body);
export const resetAccount = (account: number) => post<AccountsView>(`/api/accounts/${account}/reset`, {});
export const disableAccount = (account: number, disabled: boolean) =>
	post<AccountsView>(`/api/accounts/${account}/disabled`, { disabled });
export const getAudit = () => send<AuditView>('/api/audit');
export type SealView = Schemas['SealView'];
export const getSeal = () => send<SealView>('/api/seal');
export const getBackups = () => send<BackupsView>('/api/backups');

/* what is asked every few seconds anyway is asked once each time */
export const getRuns = () => send<RunListView>('/api/runs', {}, 1);
/** Runs before those of a page, by its `older`; of one day where a day is given. */
export const getOlderRuns = (older: string, day: string) =>
	send<RunListView>(
		`/api/runs?${new URLSearchParams({ ...(older && { older }), ...(day && { day }) }).toString()}`
	);
export const getShelf = () => send<ShelfView>('/api/shelf');
const ofTrial = (label: string | null) => (label === null ? '' : `&trial=${encodeURIComponent(label)}`);
/** The run, seen from one of its trials or (null) from that which has its turn. */
export const getRun = (uuid: string, trial: string | null) =>
	send<RunView>(`/api/runs/${uuid}?seen=-1${ofTrial(trial)}`);
/** The run, or null where the page has seen this version. */
export const lookAtRun = (uuid: string, trial: string | null, seen: number) =>
	send<RunView | null>(`/api/runs/${uuid}?brief=1&seen=${seen}${ofTrial(trial)}`, {}, 1);
export const startTrial = (run: string, label: string) => post<RunView>(`/api/runs/${run}/trials`, { label });
export type ComparisonView = Schemas['ComparisonView'];
export const getComparison = (uuid: string) => send<ComparisonView>(`/api/runs/${uuid}/comparison`);
export type Suspicion = Schemas['Suspicion'];
export type Suspect = Schemas['Suspect'];
export const getSuspects = (uuid: string, trial: string | null, expect: string) =>
	send<Schemas['SuspicionView']>(
		`/api/runs/${uuid}/suspects?expect=${encodeURIComponent(expect)}${ofTrial(trial)}`
	);
export const getReplay = (uuid: string, trial: string | null, expect: string, code: string, dose: number) =>
	send<Replay>(
		`/api/runs/${uuid}/suspects/replay?expect=${encodeURIComponent(expect)}&code=${code}&dose=${dose}${ofTrial(trial)}`
	);
export type WorkingPage = Schemas['WorkingPageView'];
export const getWorking = (uuid: string, pressure: string) =>
	send<WorkingPage>(`/api/runs/${uuid}/working?pressure=${pressure}`);
export type MeasuredLength = Schemas['MeasuredLength'];
export type PhotographSheet = Schemas['PhotographSheet'];
export const postPhotograph = (body: Schemas['PhotographBody']) =>
	post<Schemas['PhotographView']>('/api/photograph', body);
export type EquationSheet = Schemas['EquationSheet'];
export const postEquation = (text: string, given: Record<string, string>) =>
	post<Schemas['EquationSheetView']>('/api/equation', { text, given });
export const getFormula = (text: string) =>
	send<FormulaDeskView>(`/api/formula?text=${encodeURIComponent(text)}`);
export const startRun = (body: StartBody) => post<RunView>('/api/runs', body);
export const recordReading = (run: string, body: ReadingBody) =>
	post<RunView>(`/api/runs/${run}/readings`, body);
export const leaveReading = (run: string, body: Schemas['NotTakenBody']) =>
	post<RunView>(`/api/runs/${run}/not-taken`, body);
export const moveReading = (run: string, body: Schemas['MoveBody']) =>
	post<RunView>(`/api/runs/${run}/moves`, body);
export const changeRun = (run: string, body: Schemas['ChangeBody']) =>
	post<RunView>(`/api/runs/${run}/changes`, body);
export const takeBack = (run: string, row: string, reason = '', by = '') =>
	post<RunView>(`/api/runs/${run}/undo`, { uuid: newUuid(), row, reason, by });
export const correctReading = (run: string, body: Schemas['RunCorrectionBody']) =>
	post<RunView>(`/api/runs/${run}/corrections`, body);
export const signRun = (run: string, body: Schemas['SignatureBody']) =>
	post<RunView>(`/api/runs/${run}/signatures`, body);
export const getDrying = () => send<DryingView>('/api/drying');
export const getSubstances = () => send<RegisterView>('/api/substances');
export const addSubstance = (body: SubstanceBody) => post<RegisterView>('/api/substances', body);
export const getRunSubstances = (run: string) => send<RunSubstancesView>(`/api/runs/${run}/substances`);
export const getRunWaste = (run: string) => send<WasteView>(`/api/runs/${run}/waste`);
export const getDayWaste = () => send<WasteView>('/api/waste');
export const observe = (run: string, trial: string, tag: string, text = '', by = '') =>
	post<RunView>(`/api/runs/${run}/observations`, { uuid: newUuid(), trial, tag, text, by });
/** Note what somebody expects, of the run as a whole, before there is a result. */
export const predict = (run: string, text: string, by: string) =>
	post<RunView>(`/api/runs/${run}/observations`, { uuid: newUuid(), trial: '', tag: 'prediction', text, by });
export const markStep = (
	run: string,
	trial: string,
	step: string,
	kind: 'started' | 'extended' | 'finished' | 'skipped',
	reason = '',
	by = ''
) => post<RunView>(`/api/runs/${run}/steps`, { uuid: newUuid(), trial, step, kind, reason, by });
export const getMarks = (run: string) => send<MarksView>(`/api/runs/${run}/steps`);
export const importArchive = (file: Blob) =>
	send<Schemas['OpenedView']>(
		'/api/runs/import-archive',
		{ method: 'POST', body: file },
		1,
		PATIENCE_WITH_ARCHIVES_MS
	);
export const importRun = (file: Blob) => send<RunView>('/api/runs/import', { method: 'POST', body: file }, 1);
export const getPlanShelf = () => send<PlanShelfView>('/api/plan');
export const postPlan = (body: PlanBody) => post<PlanView>('/api/plan', body);
export type ReagentPlanView = Schemas['ReagentPlanView'];
export const postReagents = (method: string, options: Record<string, unknown>) =>
	post<ReagentPlanView>('/api/plan/reagents', { method, options });
export const postSolution = (wish: Record<string, string | number>) =>
	post<Schemas['RecipeView']>('/api/plan/solution', { wish });
export type WishBody = Schemas['WishBody'];
export type PreparedView = Schemas['PreparedView'];
export type TimedView = Schemas['TimedView'];
export type TimetableView = Schemas['TimetableView'];
export type LaidOutView = Schemas['LaidOutView'];
export type PracticalsView = Schemas['PracticalsView'];
export type PracticalFileView = Schemas['PracticalFileView'];
export type RosterView = Schemas['RosterView'];
export const postPrepare = (wish: WishBody) => post<PreparedView>('/api/prepare', wish);
export const layOut = (body: Schemas['LayOutBody']) => post<LaidOutView>('/api/classes', body);
export const postCourse = (document: Record<string, unknown>) =>
	post<Schemas['CourseView']>('/api/prepare/course', { document });
export const getPracticalOfRun = (run: string) => send<Schemas['CourseView']>(`/api/runs/${run}/practical`);
export const getClasses = () => send<Schemas['ClassesView']>('/api/classes');
export const getLaidOut = (number: number) => send<LaidOutView>(`/api/classes/${number}`);
export const takeBackClass = (number: number) => remove<LaidOutView>(`/api/classes/${number}`);
export const addSession = (number: number, body: Schemas['SessionBody']) =>
	post<LaidOutView>(`/api/classes/${number}/sessions`, body);
export const dropSession = (number: number, date: string) =>
	remove<LaidOutView>(`/api/classes/${number}/sessions/${date}`);
export const changePlace = (number: number, body: Schemas['PlaceBody']) =>
	post<LaidOutView>(`/api/classes/${number}/places`, body);
export const getPracticals = () => send<PracticalsView>('/api/practicals');
export const getPractical = (number: number, version?: number) =>
	send<PracticalFileView>(`/api/practicals/${number}${version === undefined ? '' : `?version=${version}`}`);
export const keepPractical = (body: Schemas['KeepPracticalBody']) =>
	post<PracticalFileView>('/api/practicals', body);
export const sharePractical = (number: number, isShared: boolean) =>
	post<PracticalsView>(`/api/practicals/${number}/sharing`, { is_shared: isShared });
export const retirePractical = (number: number) => remove<PracticalsView>(`/api/practicals/${number}`);
export const comparePractical = (number: number, before: number, after: number) =>
	send<Schemas['ComparedView']>(`/api/practicals/${number}/changes?before=${before}&after=${after}`);
const sendFile = <T>(path: string, file: Blob) => send<T>(path, { method: 'POST', body: file }, 1);
export const openPractical = (file: Blob) => sendFile<PracticalFileView>('/api/practicals/file', file);
export type OwnFiguresView = Schemas['OwnFiguresView'];
export const getOwnFigures = (run: string) => send<OwnFiguresView>(`/api/runs/${run}/own-figures`);
export const handIn = (run: string, body: Schemas['HandInBody']) =>
	post<OwnFiguresView>(`/api/runs/${run}/own-figures`, body);
export type ClassMarkingView = Schemas['ClassMarkingView'];
export type MarkedSheet = Schemas['MarkedSheetView'];
export type MarkedLine = Schemas['MarkedLineView'];
export const chooseSheet = (number: number, body: Schemas['ChooseSheetBody']) =>
	post<ClassMarkingView>(`/api/classes/${number}/sheets`, body);
export const getMarking = (number: number) => send<ClassMarkingView>(`/api/classes/${number}/marking`);
export const handOver = () => post<Schemas['HandOverView']>('/api/session/hand-over', {});
export const getRoster = () => send<RosterView>('/api/roster');
export const readList = (file: Blob) => sendFile<Schemas['ListView']>('/api/roster/file', file);
export const putRoster = (names: string[]) =>
	send<RosterView>('/api/roster', {
		method: 'PUT',
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify({ names })
	});

/** The timetable line by line as the server gets to know it; an aborted one stops the computing there. */
export async function timetable(
	wish: WishBody,
	session: number,
	signal: AbortSignal,
	take: (line: TimedView) => void
): Promise<Outcome<null>> {
	try {
		const response = await fetch(asked(`/api/prepare/timetable?session=${session}`), {
			method: 'POST',
			headers: { 'Content-Type': 'application/json' },
			body: JSON.stringify(wish),
			signal
		});
		if (!response.ok || !response.body) {
			const problem = (await response.json().catch(() => ({}))) as Partial<Schemas['Problem']>;
			const { code = 'unexpected', title = AWAY, faults = [] } = problem;
			return response.status >= 502
				? { kind: 'away', title }
				: { kind: 'problem', code, title, faults, doubt: null, suggestion: null };
		}
		const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
		let rest = '';
		for (let part = await reader.read(); !part.done; part = await reader.read()) {
			const lines = (rest + part.value).split('\n');
			rest = lines.pop() ?? '';
			for (const line of lines) take(JSON.parse(line) as TimedView);
		}
		return { kind: 'done', value: null };
	} catch {
		return { kind: 'away', title: signal.aborted ? '' : AWAY };
	}
}
export const getToday = () => send<TodayView>('/api/today');
export const readRoom = (body: Schemas['RoomBody']) => post<TodayView>('/api/today/room', body);
export const correctRoom = (body: CorrectionBody) => post<TodayView>('/api/today/room/corrections', body);
export const setElevation = (elevation: string) => post<TodayView>('/api/today/elevation', { elevation });
export const setDefault = (kind: string, instrument: number) =>
	post<TodayView>('/api/today/defaults', { kind, instrument });
export const keepInstrument = (body: InstrumentBody) => post<TodayView>('/api/today/instruments', body);
export const retireInstrument = (number: number) =>
	post<TodayView>(`/api/today/instruments/${number}/retire`, {});
export const restoreInstrument = (number: number) =>
	post<TodayView>(`/api/today/instruments/${number}/restore`, {});
export const getCalibrations = (method: string) =>
	send<Schemas['CalibrationsView']>(`/api/runs/calibrations?method=${encodeURIComponent(method)}`);

/** What has changed of a class since the token that came with the answer before. */
export const getChanges = (number: number, since: string, lists = false): Promise<Outcome<BoardView>> =>
	send(`/api/classes/${number}/changes?since=${encodeURIComponent(since)}${lists ? '&lists=1' : ''}`, {}, 1);

export const answerCall = (number: number, body: AnswerCallBody): Promise<Outcome<BoardView>> =>
	post(`/api/classes/${number}/calls`, body);

export const sayToBenches = (
	number: number,
	body: { uuid: string; text: string; bench: number | null; by: string; since: string }
): Promise<Outcome<BoardView>> => post(`/api/classes/${number}/messages`, body);

export const openAnswers = (
	number: number,
	reveal: Schemas['HeadView']['reveal'],
	since: string
): Promise<Outcome<BoardView>> => post(`/api/classes/${number}/answers`, { reveal, since });

export const endClass = (number: number, ended: boolean, since: string): Promise<Outcome<BoardView>> =>
	post(`/api/classes/${number}/ended`, { ended, since });

export const moveEnd = (number: number, minutes: number, since: string): Promise<Outcome<BoardView>> =>
	post(`/api/classes/${number}/end`, { minutes, since });

export type RoundRow = Schemas['RoundRowView'];
export const getRound = (number: number): Promise<Outcome<Schemas['RoundView']>> =>
	send(`/api/classes/${number}/round`);
export type MarkedBench = Schemas['MarkedBenchView'];
export type GivenAnswer = Schemas['GivenAnswerView'];
export type AskedQuestion = Schemas['AskedQuestionView'];
export type ClassTableView = Schemas['ClassTableView'];
export type TableRow = Schemas['TableRowView'];
export const giveAnswer = (run: string, body: Schemas['AnswerBody']) =>
	post<OwnFiguresView>(`/api/runs/${run}/answers`, body);
export const changeMark = (number: number, body: Schemas['MarkBody']) =>
	post<ClassMarkingView>(`/api/classes/${number}/marks`, body);
export const giveBack = (number: number, sheets: string[]) =>
	post<ClassMarkingView>(`/api/classes/${number}/given-back`, { uuid: newUuid(), sheets, by: '' });
export const getTable = (number: number, beside: number | null) =>
	send<ClassTableView>(`/api/classes/${number}/table${beside === null ? '' : `?beside=${beside}`}`);
export type SearchView = Schemas['SearchView'];
export type FoundRun = Schemas['FoundRunView'];
export const search = (query: string) => send<SearchView>(`/api/search?${query}`);
export type ClassSignaturesView = Schemas['ClassSignaturesView'];
export const getClassSignatures = (number: number) =>
	send<ClassSignaturesView>(`/api/classes/${number}/signatures`);
export const signClass = (number: number, name: string) =>
	post<ClassSignaturesView>(`/api/classes/${number}/signatures`, { uuid: newUuid(), name });

export type PracticeView = Schemas['PracticeView'];
export type PracticesView = Schemas['PracticesView'];
export type DebriefView = Schemas['DebriefView'];
export const getPractices = () => send<PracticesView>('/api/practice');
export const beginPractice = (body: Schemas['BeginBody']) => post<PracticeView>('/api/practice', body);
export const getPractice = (uuid: string) => send<PracticeView>(`/api/practice/${uuid}`, {}, 1);
export const doAtPractice = (uuid: string, body: Schemas['DoBody']) =>
	post<PracticeView>(`/api/practice/${uuid}/acts`, body);
export const answerPractice = (uuid: string, body: Schemas['WhatItWasBody']) =>
	post<PracticeView>(`/api/practice/${uuid}/answer`, body);

export type DeviceLook = Schemas['LookView'];
export const getDevices = () => send<Schemas['DevicesView']>('/api/devices');
export const lookAtDevice = (name: string) =>
	send<DeviceLook>(`/api/devices/look?${new URLSearchParams({ name }).toString()}`, {}, 1);
export type EveningView = Schemas['EveningView'];
export const getRehearsals = () => send<Schemas['RehearsalsView']>('/api/practice/classes');
export const beginClass = (body: Schemas['BeginClassBody']) =>
	post<EveningView>('/api/practice/classes', body);
export const getEvening = (uuid: string) => send<EveningView>(`/api/practice/classes/${uuid}`, {}, 1);
export const setEvening = (uuid: string, body: Schemas['PaceBody']) =>
	post<EveningView>(`/api/practice/classes/${uuid}/clock`, body);
export const endEvening = (uuid: string) => post<EveningView>(`/api/practice/classes/${uuid}/end`, {});
export type DrillView = Schemas['DrillView'];
export type SolvedView = Schemas['SolvedView'];
export const getDrills = () => send<Schemas['DrillsView']>('/api/practice/drills');
export const askDrill = (kind: string, seed = '') =>
	send<DrillView>(`/api/practice/drill?${new URLSearchParams({ kind, seed }).toString()}`);
export const solveDrill = (body: Schemas['SolvedBody']) => post<SolvedView>('/api/practice/drill', body);
