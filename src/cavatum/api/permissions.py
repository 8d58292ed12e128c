"""Who may do what: every operation of the API with the roles that may use it. An operation that is missing
here does not start.

owner   all of it, and who else may come in
maker   all of the work: plans, pours, shelf, stock, records, the workshop's settings
viewer  looks, tries plans out and prints; changes nothing
bench   a device paired for a time: looks, weighs, pours, records; plans and shelf are changed by a maker
"""

from __future__ import annotations

from typing import Literal

Role = Literal["owner", "maker", "viewer", "bench"]

LOOK = frozenset[Role]({"owner", "maker", "viewer", "bench"})
BENCH = frozenset[Role]({"owner", "maker", "bench"})
MAKE = frozenset[Role]({"owner", "maker"})
OWN = frozenset[Role]({"owner"})

# Answered before anybody is known: coming in itself, and what is public or secret by its address.
OPEN = frozenset(
    {
        "readHealth",
        "readReady",
        "readPairing",
        "enterPairing",
        "handIn",
        "readAuthority",
        "readCalendarFeed",
        "readDoor",
        "logIn",
        "readInvitation",
        "takeInvitation",
        "askPasskeyLogin",
        "logInByPasskey",
    }
)

_LOOK = """
    listPieces readPiece readPourAddress readPlan readOptions tryPlan exportPiece readCandidates
    readPieceStock readJob listWeighings readWeighing listAllWeighings readScale readRun readRunEvents
    listRuns readRunHeat
    readDebrief readSchedule adviseStarts readCalendar readFinish printCare searchLogbook readRecord
    exportLogbook exportRecord printRecord readLearned learnedForPiece listTrials readMendTable diagnose
    exportVoid exportPatch aboutMesh previewMesh aboutPhoto viewPhoto readShelf readClasses weighOut
    readVersions readGoods readGoodsClasses scaleRecipe blendRecipes repeatColour calibrateDrops
    readOpacity readSwatch readStock readMoves planPurchase placeLeftover readSession understandQuantity
    understandOutline understandRows shapeOfDefect readBench readLevel listInstruments askForWork
    layProbeOver firstLook logOut readOutlines readMesh readStations tracePhoto testBottle readSheet
    viewSheetPage previewTaken readLabel readCalls
    listWatches viewFrame findFaces
"""
_BENCH = """
    beginWeighing enterWeighing commandScale beginRun enterRun sendRunEvents jumpRun takeLogFile keepFile
    takeFromBottle weighBottle answerCall askPushKey registerBrowser leaveVoice
    beginWatch sendFrame endWatch callSeenWrong markSideLight sayInstrument
"""
_MAKE = """
    makePiece keepFirstLook savePiece removePiece bringBackPiece undoPiece redoPiece importPiece
    endJob askForSchedule
    keepStarts readFeedAddress renewFeedAddress takeInBusy setAside planTrial judgeTrial removeTrial
    planMending addSystem changeSystem retireSystem confirmSystem keepColourant keepRecipe keepMaterial
    retireGood bringBackGood addBottle addKit changeBottle removeBottle bringBackBottle saveWorkshop
    layOutDemo takeSheet takeHazards readVoice addListener changeListener removeListener orderListeners
    tryListener endBrowser
"""
_OWN = """
    listPhones offerPairing endPhone readPeople invitePerson endInvitation changePerson putOutPerson
    offerWayIn makeToken endToken readTrail exportWorkshop readMetrics listHandedIn decideHandedIn
    keepVoiceSettings
"""
# Of one's own account, whatever one's role; a device or script has none.
_ACCOUNT = """
    readAccount changePassword endEntry endOtherEntries askPasskey keepPasskey removePasskey
    switchWorkshop
"""

MAY: dict[str, frozenset[Role]] = {
    **dict.fromkeys(_LOOK.split(), LOOK),
    **dict.fromkeys(_BENCH.split(), BENCH),
    **dict.fromkeys(_MAKE.split(), MAKE),
    **dict.fromkeys(_OWN.split(), OWN),
    **dict.fromkeys(_ACCOUNT.split(), LOOK - {"bench"}),
}

WHY = {
    "viewer": "You can view this workshop but not change it. Ask its owner for another role.",
    "bench": "This device is paired for the bench: it weighs, pours and records. Plans, shelf and "
    "settings are changed by a maker who is logged in.",
    "maker": "Only the owner of the workshop lets people in and takes everything out.",
    "owner": "That belongs to an account; log in with one.",
}
