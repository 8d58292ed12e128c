/** Every operation of the server by its name. Written by operations.mjs from openapi.json: change the server, not this file. */
import { call, type Schemas } from "./client";

export const listPieces = (query: { search?: string | undefined; limit?: number | undefined; offset?: number | undefined } = {}) =>
  call<Schemas["PieceList"]>("GET", `/pieces`, { query, names: ["pieces","total"] });

export const makePiece = (body: Schemas["Piece"]) =>
  call<Schemas["PieceAnswer"]>("POST", `/pieces`, { body, names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const readPiece = (pieceId: number) =>
  call<Schemas["PieceAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}`, { names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const savePiece = (pieceId: number, body: Schemas["SaveBody"]) =>
  call<Schemas["PieceAnswer"]>("PUT", `/pieces/${encodeURIComponent(pieceId)}`, { body, names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const removePiece = (pieceId: number) =>
  call<void>("DELETE", `/pieces/${encodeURIComponent(pieceId)}`);

export const bringBackPiece = (pieceId: number) =>
  call<Schemas["PieceAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/bring-back`, { names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const undoPiece = (pieceId: number, body: Schemas["StepBody"]) =>
  call<Schemas["PieceAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/undo`, { body, names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const redoPiece = (pieceId: number, body: Schemas["StepBody"]) =>
  call<Schemas["PieceAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/redo`, { body, names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

export const readPlan = (pieceId: number) =>
  call<Schemas["PlanAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/plan`, { names: ["plan","revision"] });

/** For the sheet that stands at the bench. */
export const readPourAddress = (pieceId: number) =>
  call<Schemas["PourAddress"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/address`);

export const readOptions = (pieceId: number) =>
  call<Schemas["OptionsAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/options`, { names: ["options"] });

/** The plan of a piece as it would be, for figures that follow a drag. Nothing is stored. */
export const tryPlan = (body: Schemas["TryBody"]) =>
  call<Schemas["PlanAnswer"]>("POST", `/pieces/try`, { body, names: ["plan","revision"] });

export const exportPiece = (pieceId: number) =>
  call<Schemas["Piece"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/file`, { names: ["name"] });

/** A piece file as the request's body. Sheets that the shelf holds alike are used; others are added under */
export const importPiece = (body: BodyInit) =>
  call<Schemas["PieceAnswer"]>("POST", `/pieces/file`, { raw: body, names: ["id","revision","piece","changed_at","can_undo","can_redo","merged"] });

/** What to weigh for what lies on the bench. Nothing is kept. */
export const firstLook = (body: Schemas["FirstLook"]) =>
  call<Schemas["FirstAnswer"]>("POST", `/first-look`, { body, names: ["asks","choices","is_coat","missing","system_id","system","is_typical"] });

/** Keeps it as a piece; the typical class it took goes onto the shelf. */
export const keepFirstLook = (body: Schemas["KeepLookBody"]) =>
  call<Schemas["KeptPiece"]>("POST", `/first-look/keep`, { body, names: ["id"] });

/** Every system on the shelf tried on this piece, with its fewest pours. */
export const readCandidates = (pieceId: number, query: { chances?: boolean | undefined } = {}) =>
  call<Schemas["CandidatesAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/candidates`, { query, names: ["candidates","is_pending"] });

/** The plan's needs against bottles, other plans' reservations and kits. */
export const readPieceStock = (pieceId: number) =>
  call<Schemas["StockAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/stock`, { names: ["needs","buy","verdicts"] });

/** 200 with the result where it is known already. */
export const askForWork = (pieceId: number, body: Schemas["WorkBody"]) =>
  call<Schemas["JobAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/work`, { body, names: ["id","kind","state","progress","says"] });

export const layProbeOver = (pieceId: number, body: Schemas["ProbeBody"]) =>
  call<Schemas["ProbeAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/probe`, { body, names: ["refit","left_out","system_id","fit","air"] });

export const readJob = (jobId: number) =>
  call<Schemas["JobAnswer"]>("GET", `/jobs/${encodeURIComponent(jobId)}`, { names: ["id","kind","state","progress","says"] });

export const endJob = (jobId: number) =>
  call<Schemas["JobAnswer"]>("DELETE", `/jobs/${encodeURIComponent(jobId)}`, { names: ["id","kind","state","progress","says"] });

/** Every batch of this piece that was begun, oldest first. */
export const listWeighings = (pieceId: number) =>
  call<Schemas["WeighingList"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/weighings`, { names: ["weighings"] });

/** The batch that is open already, else a new one, frozen as the plan has it now. */
export const beginWeighing = (pieceId: number, body: Schemas["BeginBody"]) =>
  call<Schemas["WeighingAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/weighings`, { body, names: ["id","piece_id","pour","batch","task","state","entries","live","made_at","ended_at"] });

export const readWeighing = (weighingId: number) =>
  call<Schemas["WeighingAnswer"]>("GET", `/weighings/${encodeURIComponent(weighingId)}`, { names: ["id","piece_id","pour","batch","task","state","entries","live","made_at","ended_at"] });

/** Keep one entry. The last one, mixed, books what was taken from the bottles that were named. */
export const enterWeighing = (weighingId: number, body: Schemas["EntryBody"]) =>
  call<Schemas["WeighingAnswer"]>("POST", `/weighings/${encodeURIComponent(weighingId)}/entries`, { body, names: ["id","piece_id","pour","batch","task","state","entries","live","made_at","ended_at"] });

/** The newest hundred batches of the workshop: what a colour can be repeated from. */
export const listAllWeighings = () =>
  call<Schemas["WeighingList"]>("GET", `/weighings`, { names: ["weighings"] });

/** Which part a known volume weighs like. Nothing is stored. */
export const testBottle = (weighingId: number, body: Schemas["TestBody"]) =>
  call<Schemas["TestAnswer"]>("POST", `/weighings/${encodeURIComponent(weighingId)}/bottle-test`, { body, names: ["verdict"] });

export const readScale = () =>
  call<Schemas["ScaleAnswer"]>("GET", `/scale`, { names: ["connected","device","stand_in","mass_kg","age_s"] });

/** Tare any scale; the others move what lies on the stand-in, and are refused on a real one. */
export const commandScale = (body: Schemas["CommandBody"]) =>
  call<void>("POST", `/scale/commands`, { body });

/** The piece's open run, else a new one that carries out the plan as it is now. A rehearsal is a run of */
export const beginRun = (pieceId: number, body: Schemas["BeginRunBody"]) =>
  call<Schemas["RunAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/runs`, { body, names: ["now","speed","events","ended","id","piece_id","is_rehearsal","script","mishaps","begun_at","made_at","ended_at"] });

/** A run that was made before it was entered, with the times a person remembers. */
export const enterRun = (pieceId: number, body: Schemas["Afterwards"]) =>
  call<Schemas["RunAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/runs/afterwards`, { body, names: ["now","speed","events","ended","id","piece_id","is_rehearsal","script","mishaps","begun_at","made_at","ended_at"] });

export const readRun = (runId: number) =>
  call<Schemas["RunAnswer"]>("GET", `/runs/${encodeURIComponent(runId)}`, { names: ["now","speed","events","ended","id","piece_id","is_rehearsal","script","mishaps","begun_at","made_at","ended_at"] });

export const readRunEvents = (runId: number, query: { since?: number | undefined } = {}) =>
  call<Schemas["EventsAnswer"]>("GET", `/runs/${encodeURIComponent(runId)}/events`, { query, names: ["now","speed","events","ended"] });

/** Keeps each event once, and answers with all that this device does not know yet. */
export const sendRunEvents = (runId: number, body: Schemas["EventsBody"]) =>
  call<Schemas["EventsAnswer"]>("POST", `/runs/${encodeURIComponent(runId)}/events`, { body, names: ["now","speed","events","ended"] });

/** On to a moment of a rehearsal: the waits between are left out. Refused in a real run. */
export const jumpRun = (runId: number, body: Schemas["JumpBody"]) =>
  call<Schemas["EventsAnswer"]>("POST", `/runs/${encodeURIComponent(runId)}/jump`, { body, names: ["now","speed","events","ended"] });

/** Open runs as they stand, newest first; rehearsals too, marked so. */
export const listRuns = (query: { piece_id?: number | null | undefined; only_open?: boolean | undefined } = {}) =>
  call<Schemas["RunList"]>("GET", `/runs`, { query, names: ["runs"] });

/** What was read over what was predicted, pour by pour. */
export const readRunHeat = (runId: number) =>
  call<Schemas["RunHeat"]>("GET", `/runs/${encodeURIComponent(runId)}/heat`, { names: ["pours","room","attached"] });

export const readDebrief = (runId: number) =>
  call<Schemas["Debrief"]>("GET", `/runs/${encodeURIComponent(runId)}/debrief`, { names: ["steps","done","skipped","late","early","tests","mishaps","absurd","repeats","says"] });

/** All open pieces on one clock: long work. 200 where the answer to the same question of this half hour is */
export const askForSchedule = (body: Schemas["ScheduleBody"]) =>
  call<Schemas["ScheduleAnswer"]>("POST", `/schedule`, { body, names: ["job_id","state","progress","says"] });

export const readSchedule = (jobId: number) =>
  call<Schemas["ScheduleAnswer"]>("GET", `/schedule/${encodeURIComponent(jobId)}`, { names: ["job_id","state","progress","says"] });

/** Sets the starts that were proposed; each is an edit of its piece and can be undone there. */
export const keepStarts = (body: Schemas["KeepBody"]) =>
  call<Schemas["KeptAnswer"]>("POST", `/schedule/keep`, { body, names: ["kept"] });

/** When to begin: for some starts of the next two working days when the first window opens. */
export const adviseStarts = (pieceId: number) =>
  call<Schemas["AdviceAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/starts`, { names: ["starts"] });

/** The feed a calendar subscribes to: every moment that wants hands, by the run where one is on, else by */
export const readCalendarFeed = (secret: string) =>
  call<void>("GET", `/calendar/${encodeURIComponent(secret)}.ics`);

export const readCalendar = () =>
  call<void>("GET", `/calendar.ics`);

export const readFeedAddress = () =>
  call<Schemas["FeedAnswer"]>("GET", `/calendar`, { names: ["path"] });

export const renewFeedAddress = () =>
  call<Schemas["FeedAnswer"]>("POST", `/calendar/new`, { names: ["path"] });

/** An iCalendar file as the request's body: its busy times take the place of those taken in before; typed */
export const takeInBusy = (body: BodyInit, query: { zone?: string | undefined } = {}) =>
  call<Schemas["BusyAnswer"]>("POST", `/calendar/busy`, { raw: body, query, names: ["taken","left_out"] });

export const readFinish = (pieceId: number) =>
  call<Schemas["FinishAnswer"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/finish`, { names: ["plan","run_id"] });

/** Real runs, newest first. Every word has to be found in piece, resin, colour, lot, mishap, note or words */
export const searchLogbook = (query: { q?: string | undefined; kind?: string | null | undefined; stars?: number | null | undefined; troubled?: boolean | undefined; offset?: number | undefined; limit?: number | undefined } = {}) =>
  call<Schemas["LogList"]>("GET", `/logbook`, { query, names: ["rows","total"] });

export const readRecord = (runId: number) =>
  call<Schemas["RunDossier"]>("GET", `/runs/${encodeURIComponent(runId)}/record`, { names: ["record","debrief","shown","events","undone","revision"] });

/** A logger's CSV laid on one pour of the run; what lies outside the run is left out and said. The same */
export const takeLogFile = (runId: number, body: Schemas["LogFileBody"]) =>
  call<Schemas["LogFileAnswer"]>("POST", `/runs/${encodeURIComponent(runId)}/log-file`, { body, names: ["kept","from_at","to_at","says"] });

/** What the finished runs taught, with its band and the runs it rests on, and whether it made the next */
export const readLearned = () =>
  call<Schemas["LearnedAnswer"]>("GET", `/learned`, { names: ["learned","progress","runs"] });

/** Not used any more, or used again; the runs stay. */
export const setAside = (body: Schemas["AsideBody"]) =>
  call<Schemas["LearnedAnswer"]>("PUT", `/learned`, { body, names: ["learned","progress","runs"] });

/** This piece's plan with typical values and with learned ones, side by side. */
export const learnedForPiece = (pieceId: number) =>
  call<Schemas["LearnedForPiece"]>("GET", `/pieces/${encodeURIComponent(pieceId)}/learned`, { names: ["taken","compared"] });

export const listTrials = () =>
  call<Schemas["TrialList"]>("GET", `/trials`, { names: ["table","trials"] });

export const planTrial = (body: Schemas["NewTrialBody"]) =>
  call<Schemas["TrialList"]>("POST", `/trials`, { body, names: ["table","trials"] });

/** Stars and what was seen, and which of them is kept as the workshop's own rule. */
export const judgeTrial = (trialId: number, body: Schemas["Trial"]) =>
  call<Schemas["TrialList"]>("PUT", `/trials/${encodeURIComponent(trialId)}`, { body, names: ["table","trials"] });

export const removeTrial = (trialId: number) =>
  call<Schemas["TrialList"]>("DELETE", `/trials/${encodeURIComponent(trialId)}`, { names: ["table","trials"] });

export const readMendTable = () =>
  call<Schemas["MendTable"]>("GET", `/mend`, { names: ["troubles"] });

/** Causes with their shares and what spoke for each; nothing is kept. */
export const diagnose = (body: Schemas["DiagnoseBody"]) =>
  call<Schemas["DiagnoseAnswer"]>("POST", `/mend/diagnose`, { body, names: ["ranked","shown","ways","now","rests_on","film_m"] });

/** The way back as a piece of its own, planned from now on like any other: steps with their waits, resin */
export const planMending = (pieceId: number, body: Schemas["MendBody"]) =>
  call<Schemas["MendAnswer"]>("POST", `/pieces/${encodeURIComponent(pieceId)}/mend`, { body, names: ["piece_id","needs_system"] });

/** The file as the request's body. Its kind is told by its content. */
export const keepFile = (body: BodyInit, query: { name?: string | undefined } = {}) =>
  call<Schemas["FileAnswer"]>("POST", `/files`, { raw: body, query, names: ["sha256","kind","name","size"] });

export const readOutlines = (sha: string, body: Schemas["OutlinesBody"]) =>
  call<Schemas["OutlinesAnswer"]>("POST", `/files/${encodeURIComponent(sha)}/outlines`, { body, names: ["layers","declared","unit","size","size_m","problems","left_out","notes","shapes","found"] });

export const aboutMesh = (sha: string) =>
  call<Schemas["MeshAbout"]>("GET", `/files/${encodeURIComponent(sha)}/mesh`, { names: ["triangles","size","declared","notes"] });

export const readMesh = (sha: string, body: Schemas["MeshBody"]) =>
  call<Schemas["Mesh"]>("POST", `/files/${encodeURIComponent(sha)}/mesh`, { body, names: ["source","unit","size_m","rows","rim_m"] });

export const previewMesh = (sha: string, query: { unit?: "mm" | "cm" | "m" | "in" | undefined; up?: "x" | "y" | "z" | "-x" | "-y" | "-z" | undefined } = {}) =>
  call<Schemas["MeshPreview"]>("GET", `/files/${encodeURIComponent(sha)}/preview`, { query, names: ["corners","triangles","of","shown","size_m"] });

export const aboutPhoto = (sha: string) =>
  call<Schemas["PhotoAbout"]>("GET", `/files/${encodeURIComponent(sha)}/photo`, { names: ["width","height"] });

export const tracePhoto = (sha: string, body: Schemas["TraceBody"]) =>
  call<Schemas["TraceAnswer"]>("POST", `/files/${encodeURIComponent(sha)}/trace`, { body, names: ["outline_px","points_m","area_m2","half_m2","shares","reference_px","corner_sigma_px","by_hand","doubts","is_good"] });

export const readStations = (sha: string, body: Schemas["StationsBody"]) =>
  call<Schemas["StationsAnswer"]>("POST", `/files/${encodeURIComponent(sha)}/stations`, { body, names: ["stations"] });

/** What stands on a stored file, as a data sheet. */
export const readSheet = (sha: string) =>
  call<Schemas["SheetReading"]>("GET", `/sheets/${encodeURIComponent(sha)}`, { names: ["file","language","document","pages","rows","names","hazards","nearest","has_pictures","left_out"] });

/** What the person took becomes a system, or the next version of one. Each value keeps its place on the */
export const takeSheet = (sha: string, body: Schemas["TakeSheetBody"]) =>
  call<Schemas["Sheet"]>("POST", `/sheets/${encodeURIComponent(sha)}/take`, { body, names: ["system","verdicts","typical","rows"] });

/** What taking this would change, which pieces are planned with it, and what finds no room. Nothing is */
export const previewTaken = (sha: string, body: Schemas["TakeSheetBody"]) =>
  call<Schemas["TakenPreview"]>("POST", `/sheets/${encodeURIComponent(sha)}/preview`, { body, names: ["changes","pieces","unused","verdicts"] });

/** Hazard statements of a safety data sheet, taken for a system: its plans say them among their */
export const takeHazards = (sha: string, body: Schemas["TakeHazardsBody"]) =>
  call<Schemas["Sheet"]>("POST", `/sheets/${encodeURIComponent(sha)}/hazards`, { body, names: ["system","verdicts","typical","rows"] });

/** What the label says, and whether it is the bottle that is due. Nothing is stored. */
export const readLabel = (weighingId: number, body: Schemas["LabelBody"]) =>
  call<Schemas["LabelAnswer"]>("POST", `/weighings/${encodeURIComponent(weighingId)}/label`, { body, names: ["label","verdicts","bottle_id"] });

export const readShelf = () =>
  call<Schemas["Shelf"]>("GET", `/systems`, { names: ["sheets"] });

export const addSystem = (body: Schemas["System"]) =>
  call<Schemas["Sheet"]>("POST", `/systems`, { body, names: ["system","verdicts","typical","rows"] });

/** The typical classes to start a sheet from. */
export const readClasses = () =>
  call<Schemas["Shelf"]>("GET", `/systems/classes`, { names: ["sheets"] });

/** A change makes a new version. `version` in the body is the one it was made on; what was changed since */
export const changeSystem = (systemId: string, body: Schemas["System"]) =>
  call<Schemas["Sheet"]>("PUT", `/systems/${encodeURIComponent(systemId)}`, { body, names: ["system","verdicts","typical","rows"] });

/** Off the shelf; its versions stay, so that old plans still explain themselves. */
export const retireSystem = (systemId: string) =>
  call<void>("DELETE", `/systems/${encodeURIComponent(systemId)}`);

/** The person has compared every typical value with the own sheet: they become the sheet's. made_on: the */
export const confirmSystem = (systemId: string, query: { made_on?: number | undefined } = {}) =>
  call<Schemas["Sheet"]>("POST", `/systems/${encodeURIComponent(systemId)}/confirm`, { query, names: ["system","verdicts","typical","rows"] });

/** Both parts for any amount, by a sheet of the shelf or a typical class. Nothing is stored; what was not */
export const weighOut = (systemId: string, body: Schemas["AmountBody"]) =>
  call<Schemas["AmountAnswer"]>("POST", `/systems/${encodeURIComponent(systemId)}/amount`, { body, names: ["weigh","on_piece"] });

export const readVersions = (systemId: string) =>
  call<Schemas["Versions"]>("GET", `/systems/${encodeURIComponent(systemId)}/versions`, { names: ["versions"] });

export const readGoods = () =>
  call<Schemas["ShelfItems"]>("GET", `/goods`);

/** Generic kinds to start from, every value typical. */
export const readGoodsClasses = () =>
  call<Schemas["Classes"]>("GET", `/goods/classes`, { names: ["colourants","materials"] });

export const keepColourant = (goodId: string, body: Schemas["Colourant"]) =>
  call<Schemas["Colourant"]>("PUT", `/goods/colourant/${encodeURIComponent(goodId)}`, { body, names: ["id","name","kind","density_kg_m3","most"] });

export const keepRecipe = (goodId: string, body: Schemas["Recipe"]) =>
  call<Schemas["Recipe"]>("PUT", `/goods/recipe/${encodeURIComponent(goodId)}`, { body, names: ["id","name","parts"] });

export const keepMaterial = (goodId: string, body: Schemas["FormMaterial"]) =>
  call<Schemas["FormMaterial"]>("PUT", `/goods/material/${encodeURIComponent(goodId)}`, { body, names: ["id","name","like","conductivity_w_m_k","density_kg_m3","heat_capacity_j_kg_k"] });

/** Off the shelf; its versions stay, so that old plans still explain themselves. */
export const retireGood = (kind: "colourant" | "recipe" | "material", goodId: string) =>
  call<void>("DELETE", `/goods/${encodeURIComponent(kind)}/${encodeURIComponent(goodId)}`);

export const bringBackGood = (kind: "colourant" | "recipe" | "material", goodId: string) =>
  call<void>("POST", `/goods/${encodeURIComponent(kind)}/${encodeURIComponent(goodId)}/bring-back`);

/** The recipe for so much clear mix, to the workshop's scale. Nothing is stored. */
export const scaleRecipe = (goodId: string, body: Schemas["ScaleBody"]) =>
  call<Schemas["ScaledAnswer"]>("POST", `/goods/recipe/${encodeURIComponent(goodId)}/scale`, { body, names: ["doses","least_clear_kg"] });

/** The colour that comes of pouring coloured mixes together. Nothing is stored. */
export const blendRecipes = (body: Schemas["BlendBody"]) =>
  call<Schemas["PartsAnswer"]>("POST", `/goods/blend`, { body, names: ["parts","total"] });

/** The colour of a weighed batch as a recipe, with what its lots are now. */
export const repeatColour = (body: Schemas["RecordBody"]) =>
  call<Schemas["PartsAnswer"]>("POST", `/goods/repeat`, { body, names: ["parts","total"] });

/** One drop from a weighed number of them. */
export const calibrateDrops = (body: Schemas["DropsBody"]) =>
  call<Schemas["DropsAnswer"]>("POST", `/goods/drops`, { body, names: ["drop_kg","off"] });

/** How much light a layer of this recipe lets through, by its swatch. */
export const readOpacity = (goodId: string, body: Schemas["OpacityBody"]) =>
  call<Schemas["OpacityAnswer"]>("POST", `/goods/recipe/${encodeURIComponent(goodId)}/opacity`, { body, names: ["through","looks","times","note"] });

/** The swatch's colour under the light that makes the patch its printed grey, and which recipes look like */
export const readSwatch = (body: Schemas["SwatchBody"]) =>
  call<Schemas["SwatchAnswer"]>("POST", `/goods/swatch`, { body, names: ["lab","tint","patch_off","against"] });

export const readStock = () =>
  call<Schemas["StockList"]>("GET", `/stock`, { names: ["bottles","reserved"] });

export const addBottle = (body: Schemas["AddBottleBody"]) =>
  call<Schemas["BottleRow"]>("POST", `/stock`, { body, names: ["standing","good_until","verdicts"] });

export const addKit = (body: Schemas["AddKitBody"]) =>
  call<Schemas["StockList"]>("POST", `/stock/kits`, { body, names: ["bottles","reserved"] });

/** Changed on a revision, joined with what was changed since; 409 where both changed the same value. */
export const changeBottle = (bottleId: number, body: Schemas["Bottle"], query: { made_on?: number | undefined } = {}) =>
  call<Schemas["BottleRow"]>("PUT", `/stock/${encodeURIComponent(bottleId)}`, { body, query, names: ["standing","good_until","verdicts"] });

export const removeBottle = (bottleId: number) =>
  call<void>("DELETE", `/stock/${encodeURIComponent(bottleId)}`);

/** Refused below zero: the bottle's figure is wrong then, and has to be weighed. */
export const takeFromBottle = (bottleId: number, body: Schemas["TakeBody"]) =>
  call<Schemas["BottleRow"]>("POST", `/stock/${encodeURIComponent(bottleId)}/take`, { body, names: ["standing","good_until","verdicts"] });

export const weighBottle = (bottleId: number, body: Schemas["WeighBody"]) =>
  call<Schemas["BottleRow"]>("POST", `/stock/${encodeURIComponent(bottleId)}/weigh`, { body, names: ["standing","good_until","verdicts"] });

export const readMoves = (bottleId: number) =>
  call<Schemas["MoveList"]>("GET", `/stock/${encodeURIComponent(bottleId)}/moves`, { names: ["moves"] });

export const bringBackBottle = (bottleId: number) =>
  call<Schemas["BottleRow"]>("POST", `/stock/${encodeURIComponent(bottleId)}/bring-back`, { names: ["standing","good_until","verdicts"] });

/** The cheapest kits for these pieces together, each system's needs sharing its kits. Nothing is */
export const planPurchase = (body: Schemas["BuyBody"]) =>
  call<Schemas["BuyAnswer"]>("POST", `/purchase`, { body, names: ["buy","price_minor","unplanned"] });

/** Voids of other pieces that wait for this very resin and colour and take whole hollows of it. */
export const placeLeftover = (query: { volume_m3?: number | undefined; system_id?: string | undefined; colour?: string | undefined; piece_id?: number | null | undefined } = {}) =>
  call<Schemas["LeftoverAnswer"]>("GET", `/leftovers`, { query, names: ["offers"] });

export const readSession = () =>
  call<Schemas["Session"]>("GET", `/session`, { names: ["csrf_token","now","workshop","revision","dew_point","is_demo","is_untouched","unsaid","role","how","who","command"] });

/** Changed on a revision, joined with what was changed since; 409 where both changed the same value. */
export const saveWorkshop = (body: Schemas["Workshop"], query: { made_on?: number | undefined } = {}) =>
  call<Schemas["Session"]>("PUT", `/workshop`, { body, query, names: ["csrf_token","now","workshop","revision","dew_point","is_demo","is_untouched","unsaid","role","how","who","command"] });

/** What a spoken quantity means. Nothing is stored. */
export const understandQuantity = (body: Schemas["Spoken"]) =>
  call<Schemas["Understood"]>("POST", `/quantities`, { body, names: ["value","as_typed","words","notes"] });

/** The points of a typed outline. Nothing is stored. */
export const understandOutline = (body: Schemas["TypedOutline"]) =>
  call<Schemas["UnderstoodOutline"]>("POST", `/outlines`, { body, names: ["points_m"] });

/** Stations or a profile typed in one go, one reading a line. Nothing is stored. */
export const understandRows = (body: Schemas["TypedRows"]) =>
  call<Schemas["UnderstoodRows"]>("POST", `/rows`, { body });

/** The void that a marked defect most likely is. Nothing is stored. */
export const shapeOfDefect = (body: Schemas["DefectBody"]) =>
  call<Schemas["DefectShape"]>("POST", `/defect-shape`, { body, names: ["shape"] });

/** Lay out the demo anew around today. Refused in a workshop that is not the demo's: real work is never */
export const layOutDemo = () =>
  call<Schemas["Session"]>("POST", `/demo`, { names: ["csrf_token","now","workshop","revision","dew_point","is_demo","is_untouched","unsaid","role","how","who","command"] });

export const readBench = () =>
  call<Schemas["Bench"]>("GET", `/bench`, { names: ["now","pieces","more","runs","room","low"] });

export const readVoice = () =>
  call<Schemas["VoiceAnswer"]>("GET", `/voice`, { names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

export const readCalls = () =>
  call<Schemas["CallsAnswer"]>("GET", `/voice/calls`, { names: ["now","calls","people"] });

/** I have it: nobody else is told. Whoever was first stays. */
export const answerCall = (callId: number, body: Schemas["AnswerBody"]) =>
  call<Schemas["CallAnswer"]>("POST", `/voice/calls/${encodeURIComponent(callId)}/answer`, { body, names: ["id","run_id","piece_id","kind","urgency","title","text","at","latest","answered_at","answered_by","is_over","sent"] });

export const addListener = (body: Schemas["ListenerBody"]) =>
  call<Schemas["VoiceAnswer"]>("POST", `/voice/people`, { body, names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

export const changeListener = (listenerId: number, body: Schemas["ListenerBody"]) =>
  call<Schemas["VoiceAnswer"]>("PUT", `/voice/people/${encodeURIComponent(listenerId)}`, { body, names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

export const removeListener = (listenerId: number) =>
  call<Schemas["VoiceAnswer"]>("DELETE", `/voice/people/${encodeURIComponent(listenerId)}`, { names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

/** In which order people are asked. */
export const orderListeners = (body: Schemas["OrderBody"]) =>
  call<Schemas["VoiceAnswer"]>("PUT", `/voice/order`, { body, names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

/** A message to try, by each of their ways, now. */
export const tryListener = (listenerId: number) =>
  call<Schemas["TriedList"]>("POST", `/voice/people/${encodeURIComponent(listenerId)}/try`, { names: ["tried"] });

export const keepVoiceSettings = (body: Schemas["VoiceSettingsBody"]) =>
  call<Schemas["VoiceAnswer"]>("PUT", `/voice/settings`, { body, names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

/** The server's own public key, by which a browser knows whose messages it takes. */
export const askPushKey = () =>
  call<Schemas["PushKeyAnswer"]>("POST", `/voice/push-key`, { names: ["key"] });

/** This browser takes push messages for a person from now on. */
export const registerBrowser = (body: Schemas["RegisterBody"]) =>
  call<void>("POST", `/voice/browsers`, { body });

/** This browser takes no more push messages. */
export const leaveVoice = (body: Schemas["LeaveBody"]) =>
  call<void>("POST", `/voice/browsers/leave`, { body });

export const endBrowser = (browserId: number) =>
  call<Schemas["VoiceAnswer"]>("DELETE", `/voice/browsers/${encodeURIComponent(browserId)}`, { names: ["people","mail","broker","contact","has_mail_password","has_broker_password","local","may_change_local","address","problem","recent"] });

export const listWatches = (runId: number) =>
  call<Schemas["WatchList"]>("GET", `/runs/${encodeURIComponent(runId)}/watches`, { names: ["now","watches"] });

/** A device has marked the piece and sends its pictures from now on. */
export const beginWatch = (runId: number, body: Schemas["WatchTold"]) =>
  call<Schemas["WatchAnswer"]>("POST", `/runs/${encodeURIComponent(runId)}/watches`, { body, names: ["id","run_id","told","begun_at","ended_at","why","pictures","last_at","unfollowed","problem","seen","kept","kept_bytes"] });

/** Four-cornered faces in one picture, the request's body, JPEG; it is not kept. */
export const findFaces = (body: BodyInit) =>
  call<Schemas["FacesAnswer"]>("POST", `/faces`, { raw: body, names: ["size","faces"] });

/** One picture as the request's body, JPEG; its moment is that of its arrival. */
export const sendFrame = (watchId: number, body: BodyInit) =>
  call<Schemas["FrameAnswer"]>("POST", `/watches/${encodeURIComponent(watchId)}/frames`, { raw: body, names: ["number","now"] });

export const endWatch = (watchId: number) =>
  call<Schemas["WatchAnswer"]>("POST", `/watches/${encodeURIComponent(watchId)}/end`, { names: ["id","run_id","told","begun_at","ended_at","why","pictures","last_at","unfollowed","problem","seen","kept","kept_bytes"] });

/** Somebody looked, and there was nothing: kept beside it, so that anybody can count how often. */
export const callSeenWrong = (seenId: number) =>
  call<Schemas["SeenAnswer"]>("POST", `/seen/${encodeURIComponent(seenId)}/wrong`, { names: ["id","event_id","number","kind","at","words","sure","marks","wrong_at","wrong_by"] });

/** A photo in low side light: what stands out is counted, marked and kept in the run. */
export const markSideLight = (runId: number, body: Schemas["SideLightBody"]) =>
  call<Schemas["SideLightAnswer"]>("POST", `/runs/${encodeURIComponent(runId)}/side-light`, { body, names: ["words","flaws","size"] });

/** The tilt of this moment. Refused when the level has been quiet for ten seconds: an old reading would */
export const readLevel = () =>
  call<Schemas["LevelReading"]>("GET", `/level`, { names: ["device","pitch_deg","roll_deg","read_at"] });

/** Every kind that ever spoke, with what it said last. One that has been quiet says so; its last value is */
export const listInstruments = () =>
  call<Schemas["InstrumentList"]>("GET", `/instruments`, { names: ["instruments"] });

export const sayInstrument = (body: Schemas["SaidBody"]) =>
  call<Schemas["SaidAnswer"]>("POST", `/instruments/said`, { body, names: ["understood","commands"] });

export const readPairing = () =>
  call<Schemas["PairingState"]>("GET", `/pairing`, { names: ["csrf_token","is_network","paired"] });

/** A device enters its code once. What is wrong with a code is not told: no such, used, too late are one */
export const enterPairing = (body: Schemas["EnterBody"]) =>
  call<void>("POST", `/pairing/enter`, { body });

export const listPhones = () =>
  call<Schemas["PhoneList"]>("GET", `/phones`, { names: ["address","fingerprint","phones"] });

export const offerPairing = (body: Schemas["OfferBody"]) =>
  call<Schemas["Offered"]>("POST", `/phones`, { body, names: ["code","address","qr_path","qr_size","expires_at","until_at"] });

export const endPhone = (pairingId: number) =>
  call<void>("DELETE", `/phones/${encodeURIComponent(pairingId)}`);

/** The workshop's own certificate authority, to be installed on a phone. Public by its nature. */
export const readAuthority = () =>
  call<void>("GET", `/authority.crt`);

export const listHandedIn = () =>
  call<Schemas["WaitingList"]>("GET", `/handed-in`, { names: ["waiting"] });

/** By a device that was put out, with the cookie it came in with, within a month. Nothing of it counts */
export const handIn = (body: Schemas["HandInBody"]) =>
  call<Schemas["HandInAnswer"]>("POST", `/handed-in`, { body, names: ["device","taken"] });

/** Accepted, an entry is kept as if the device had sent it; one that cannot be kept any more is said. */
export const decideHandedIn = (body: Schemas["DecideBody"]) =>
  call<Schemas["DecidedAnswer"]>("POST", `/handed-in/decide`, { body, names: ["accepted","refused"] });

export const readDoor = () =>
  call<Schemas["DoorState"]>("GET", `/door`, { names: ["csrf_token","is_network","is_in","passkeys"] });

/** An account's address and password. The same answer, after the same time, whether there is such an */
export const logIn = (body: Schemas["LogInBody"]) =>
  call<void>("POST", `/door/login`, { body });

export const askPasskeyLogin = () =>
  call<Schemas["PasskeyQuestion"]>("POST", `/door/passkey`, { names: ["options"] });

export const logInByPasskey = (body: Schemas["PasskeyAnswer"]) =>
  call<void>("POST", `/door/passkey/login`, { body });

export const readInvitation = (body: Schemas["InvitationBody"]) =>
  call<Schemas["InvitationAnswer"]>("POST", `/door/invitation`, { body, names: ["workshop","role","name","again","email"] });

/** Makes the account, joins with the one that this address and password open, or sets the account's new */
export const takeInvitation = (body: Schemas["JoinBody"]) =>
  call<void>("POST", `/door/join`, { body });

export const logOut = () =>
  call<void>("POST", `/door/logout`);

export const readAccount = () =>
  call<Schemas["AccountAnswer"]>("GET", `/account`, { names: ["name","email","entries","passkeys","can_passkey","workshops"] });

/** Every other browser of this account is put out. */
export const changePassword = (body: Schemas["PasswordBody"]) =>
  call<void>("PUT", `/account/password`, { body });

export const endEntry = (entryId: number) =>
  call<void>("DELETE", `/account/entries/${encodeURIComponent(entryId)}`);

export const endOtherEntries = () =>
  call<void>("DELETE", `/account/entries`);

export const askPasskey = () =>
  call<Schemas["PasskeyQuestion"]>("POST", `/account/passkeys/ask`, { names: ["options"] });

export const keepPasskey = (body: Schemas["NewPasskeyBody"]) =>
  call<void>("POST", `/account/passkeys`, { body });

export const removePasskey = (passkeyId: number) =>
  call<void>("DELETE", `/account/passkeys/${encodeURIComponent(passkeyId)}`);

export const switchWorkshop = (body: Schemas["WorkshopBody"]) =>
  call<void>("POST", `/account/workshop`, { body });

export const readPeople = () =>
  call<Schemas["PeopleAnswer"]>("GET", `/people`, { names: ["address","people","invited","tokens"] });

export const invitePerson = (body: Schemas["InviteBody"]) =>
  call<Schemas["InviteAnswer"]>("POST", `/people/invitations`, { body, names: ["link","qr_path","qr_size","expires_at"] });

export const endInvitation = (invitationId: number) =>
  call<void>("DELETE", `/people/invitations/${encodeURIComponent(invitationId)}`);

/** For somebody who forgot the password: a link by which they set another. Nobody else gets to know it. */
export const offerWayIn = (accountId: number) =>
  call<Schemas["InviteAnswer"]>("POST", `/people/${encodeURIComponent(accountId)}/way-in`, { names: ["link","qr_path","qr_size","expires_at"] });

/** What an owner made to let others in ends with that role; the calendar's address with the maker's. */
export const changePerson = (accountId: number, body: Schemas["RoleBody"]) =>
  call<Schemas["EndedAnswer"]>("PUT", `/people/${encodeURIComponent(accountId)}`, { body, names: ["browsers","invitations","tokens","devices","feeds","unknown"] });

export const putOutPerson = (accountId: number) =>
  call<Schemas["EndedAnswer"]>("DELETE", `/people/${encodeURIComponent(accountId)}`, { names: ["browsers","invitations","tokens","devices","feeds","unknown"] });

export const makeToken = (body: Schemas["TokenBody"]) =>
  call<Schemas["TokenAnswer"]>("POST", `/people/tokens`, { body, names: ["token","until_at"] });

export const endToken = (tokenId: number) =>
  call<void>("DELETE", `/people/tokens/${encodeURIComponent(tokenId)}`);

export const readTrail = (query: { before?: number | null | undefined } = {}) =>
  call<Schemas["TrailAnswer"]>("GET", `/people/trail`, { query, names: ["trail"] });

/** Alive: the process answers, and the database does. */
export const readHealth = () =>
  call<Schemas["Health"]>("GET", `/health`, { names: ["status","version"] });

/** Ready: the database is as new as this version. For a proxy that chooses between hosts. */
export const readReady = () =>
  call<Schemas["Ready"]>("GET", `/ready`, { names: ["status","changes_applied","changes_known"] });

/** Of all processes of this host, and of the database. */
export const readMetrics = () =>
  call<void>("GET", `/metrics`);

/** Written to a file of the server's own first: what is sent is whole or is not sent. */
export const exportWorkshop = () =>
  call<void>("GET", `/workshop/export.zip`);
