/** The frame round every place: the workshop's room, the places, units, theme, keys. */
import { useKeptSince } from "../api/kept";
import { FULL, useFullStore } from "../api/memory";
import { useChangeWorkshop } from "../api/changes";
import { Dialog } from "radix-ui";
import { lazy, Suspense, useCallback, useEffect, useState, type ReactNode } from "react";
import { NavLink, useNavigate } from "react-router";
import { moment, text } from "../domain/format";
import { useShop, useUnits } from "./session";
import { OpenWorkshopContext, type WorkshopField } from "./sheets";
import { keepTheme, storedTheme } from "./theme";
import { useFirstStart } from "./useFirstStart";
import { SheetContent } from "./SheetContent";

const WorkshopSheet = lazy(() =>
  import("./WorkshopSheet").then((found) => ({ default: found.WorkshopSheet })),
);

const KeysSheet = lazy(() => import("./KeysSheet").then((found) => ({ default: found.KeysSheet })));

export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return (
    !!target?.closest("input, textarea, select, [contenteditable]") ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey
  );
}

export function Frame({ children }: { children: ReactNode }) {
  const session = useShop();
  const { workshop, dew_point, how, role, who } = session;
  const [sheet, setSheet] = useState<"keys" | "workshop" | null>(null);
  const [field, setField] = useState<WorkshopField>(null);
  const { said, isSetting, hush } = useFirstStart(session);
  const openWorkshop = useCallback((wanted: WorkshopField) => {
    setField(wanted);
    setSheet("workshop");
  }, []);
  const { units } = useUnits();
  const [theme, setTheme] = useState(storedTheme);
  const navigate = useNavigate();

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || document.querySelector("[role=dialog]")) return;
      if (event.key === "?") setSheet("keys");
      else if (event.key === "/") {
        event.preventDefault();
        navigate("/pieces?find");
      } else if (event.key === "n") {
        event.preventDefault();
        navigate("/new");
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [navigate]);

  const change = useChangeWorkshop(workshop);
  const switchUnits = () => change({ units: units === "us" ? "metric" : "us" });
  const kept = useKeptSince();
  const isFull = useFullStore();
  const nextTheme = theme === "night" ? "paper" : "night";

  return (
    <>
      <a
        href="#main"
        className="sr-only focus:not-sr-only focus:absolute focus:p-2 focus:bg-paper focus:z-50"
      >
        Skip to the work
      </a>
      <header className="top flex flex-wrap items-center gap-x-6 px-5 min-h-11 border-b border-ink max-sm:px-3 max-sm:gap-x-3">
        <NavLink
          to="/"
          className="flex items-center gap-2 font-serif text-[21px] font-medium"
          aria-label="Cavatum, to the bench"
        >
          <Mark /> <span className="max-sm:sr-only">Cavatum</span>
        </NavLink>
        <nav aria-label="Places" className="flex gap-5 max-sm:gap-3">
          {(
            [
              ["/", "Bench"],
              ["/pieces", "Pieces"],
              ["/shelf", "Shelf"],
              ["/logbook", "Logbook"],
              ["/mend", "Mend"],
            ] as const
          ).map(([to, name]) => (
            <NavLink
              key={to}
              to={to}
              end={to === "/"}
              className={({ isActive }) =>
                `py-2.5 border-b-2 ${isActive ? "border-spruce font-semibold" : "border-transparent text-slate"}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex flex-wrap items-center gap-x-4 text-[13px] text-slate max-sm:ml-0 max-sm:w-full max-sm:pb-1.5 max-sm:justify-between max-sm:gap-x-2">
          <button
            className="flex gap-4 max-sm:gap-2 min-h-7 items-center"
            onClick={() => openWorkshop(null)}
            title="Workshop and room: change"
          >
            <span className="sr-only">Workshop and room, change: </span>
            <span className="max-md:hidden underline underline-offset-3">{workshop.name}</span>
            <b className="font-semibold text-ink">{text(workshop.room_c.value, "temperature", units)}</b>
            <span>
              air{" "}
              <b className="font-semibold text-ink">
                {text(workshop.room_humidity.value, "fraction", units)}
              </b>
            </span>
            <span>
              dew <b className="font-semibold text-ink">{text(dew_point.value, "temperature", units)}</b>
            </span>
          </button>
          <button
            className="min-h-7 min-w-7 px-1"
            onClick={switchUnits}
            aria-label={
              units === "us"
                ? "in · lb, the units: switch to millimetres and grams"
                : "mm · g, the units: switch to inches and pounds"
            }
          >
            {units === "us" ? "in · lb" : "mm · g"}
          </button>
          <button
            className="min-h-7 min-w-7"
            aria-label={`Theme: switch to ${nextTheme === "night" ? "night bench" : "paper"}`}
            onClick={() => {
              keepTheme(nextTheme);
              setTheme(nextTheme);
            }}
          >
            {theme === "night" ? "☀" : "☾"}
          </button>
          <button
            className={`min-h-7 px-1 ${how === "here" ? "" : "max-sm:hidden"}`}
            onClick={() => setSheet("keys")}
          >
            ? help
          </button>
          {how === "here" ? null : (
            <NavLink to="/account" className="min-h-7 px-1 grid content-center underline underline-offset-3">
              {how === "bench" ? "bench device" : role === "viewer" ? `${who}, looking` : who}
            </NavLink>
          )}
        </div>
      </header>
      {said ? (
        <p
          role="status"
          className={`px-5 py-1.5 border-b border-line text-[13px] max-sm:px-3 flex flex-wrap gap-x-4 ${isSetting ? "invisible" : ""}`}
        >
          {said}
          <button className="quiet" onClick={() => void switchUnits()}>
            Switch to {units === "us" ? "mm · g" : "in · lb"}
          </button>
          <button className="quiet" onClick={() => openWorkshop("room")}>
            Room and hours
          </button>
          <button className="quiet" onClick={hush}>
            All right
          </button>
        </p>
      ) : null}
      <OpenWorkshopContext value={openWorkshop}>
        <main id="main">{children}</main>
      </OpenWorkshopContext>
      {kept || isFull ? (
        <>
          <div className="no-print h-20" />
          {/* At the lower edge: they come at any time, and above the page they would move it under a finger. */}
          <div className="no-print fixed inset-x-0 bottom-0 z-20 text-[13.5px] font-medium *:px-5 *:py-1.5">
            {kept ? (
              <p role="status" className="bg-straw text-tape-ink">
                No connection: what you see is as it was {moment(kept, workshop.zone ?? "UTC")}. Nothing can
                be changed until it is back; what is done at the bench is kept and sent then.
              </p>
            ) : null}
            {isFull ? (
              <p role="alert" className="bg-rust text-paper">
                {FULL}
              </p>
            ) : null}
          </div>
        </>
      ) : null}
      <Dialog.Root open={sheet !== null} onOpenChange={(open) => !open && setSheet(null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="over" />
          <SheetContent className="sheet">
            {sheet === "keys" ? (
              <Suspense fallback={<Dialog.Title>Keys …</Dialog.Title>}>
                <KeysSheet />
              </Suspense>
            ) : sheet === "workshop" ? (
              <Suspense fallback={<Dialog.Title>Opening the workshop …</Dialog.Title>}>
                <WorkshopSheet field={field} onClose={() => setSheet(null)} />
              </Suspense>
            ) : null}
          </SheetContent>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

function Mark() {
  return (
    <svg width="24" height="20" aria-hidden="true">
      <path d="M1 3h4v3c0 5 3.200 8 7 8s7-3 7-8V3h4v15H1z" className="fill-ink" />
      <path d="M6.400 7.400c.3 3.200 2.600 5.200 5.600 5.200s5.300-2 5.600-5.200z" className="fill-amber" />
    </svg>
  );
}
