/** The workshop's settings: room now, scale, cup, habits, hours. Saved as they are made. */
import { layOutDemo } from "../api/operations.generated";
import { useChangeWorkshop } from "../api/changes";
import { Dialog } from "radix-ui";
import { useEffect, useId, useRef } from "react";
import { Link } from "react-router";
import type { Present } from "../api/client";
import { useEverythingAnew, type Session } from "../api/queries";
import { WorkingPanel } from "./Fig";
import { readSpans, spansText } from "../domain/hours";
import { QuantityField, TextField } from "./QuantityField";
import { useShop } from "./session";
import type { WorkshopField } from "./sheets";

const DAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
type Workshop = Session["workshop"];

/** field: the one that somebody asked for has the focus. */
const CURRENCIES = [
  "EUR",
  "USD",
  "GBP",
  "CAD",
  "AUD",
  "NZD",
  "CHF",
  "SEK",
  "NOK",
  "DKK",
  "PLN",
  "CZK",
  "JPY",
  "INR",
];

export function WorkshopSheet({ field, onClose }: { field: WorkshopField; onClose: () => void }) {
  const top = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (field)
      top.current?.parentElement?.querySelector<HTMLInputElement>(`[data-field="${field}"] input`)?.focus();
  }, [field]);
  const { workshop, dew_point, is_demo, role } = useShop();
  const anew = useEverythingAnew();
  const save = useChangeWorkshop(workshop);
  const layOut = async () => {
    await layOutDemo();
    await anew();
    onClose();
  };
  return (
    <>
      <Dialog.Title className="mb-3">Workshop</Dialog.Title>
      <div ref={top} className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <TextField label="name" required value={workshop.name} onCommit={(name) => save({ name })} />
        <TextField
          label="time zone, like Europe/Berlin"
          required
          value={workshop.zone ?? "UTC"}
          onCommit={(zone) => save({ zone })}
        />
        <div data-field="room">
          <QuantityField
            label="room now"
            kind="temperature"
            reading={workshop.room_c}
            onCommit={(r) => (r ? save({ room_c: r }) : undefined)}
          />
        </div>
        <QuantityField
          label="humidity now"
          kind="fraction"
          reading={workshop.room_humidity}
          onCommit={(r) => (r ? save({ room_humidity: r }) : undefined)}
        />
        <QuantityField
          label="room at night"
          kind="temperature"
          optional
          help="empty: as by day"
          reading={workshop.night?.room_c}
          onCommit={(r) =>
            save({ night: r ? { from_min: 1320, to_min: 360, ...workshop.night, room_c: r } : null })
          }
        />
        {workshop.night ? (
          <TextField
            label="night, as 22:00-06:00"
            value={spanText(workshop.night)}
            onCommit={(typed) => save({ night: { ...workshop.night!, ...readNight(typed) } })}
          />
        ) : (
          <span />
        )}
        <QuantityField
          label="mixing cup holds"
          kind="volume"
          reading={workshop.cup_m3}
          help="filled two thirds at most"
          onCommit={(r) => (r ? save({ cup_m3: r }) : undefined)}
        />
        <div data-field="cup">
          <QuantityField
            label="Left in cup, % of mix"
            kind="fraction"
            reading={workshop.residue_fraction}
            onCommit={(r) => (r ? save({ residue_fraction: r }) : undefined)}
          />
        </div>
        <QuantityField
          label="stays in the cup, fixed"
          kind="volume"
          reading={workshop.residue_m3}
          onCommit={(r) => (r ? save({ residue_m3: r }) : undefined)}
        />
        <QuantityField
          label="scale reaches"
          kind="mass"
          reading={workshop.scale.most_kg}
          onCommit={(r) => (r ? save({ scale: { ...workshop.scale, most_kg: r } }) : undefined)}
        />
        <TextField
          label="poured by hand, litres a minute"
          value={String(Number(((workshop.pour_rate_m3_s ?? 1e-3 / 60) * 60_000).toPrecision(3)))}
          onCommit={(typed) => {
            const litres = Number(typed.replace(",", "."));
            if (!(litres > 0 && litres <= 60)) throw new Error("More than 0 and at most 60 litres a minute.");
            return save({ pour_rate_m3_s: litres / 60_000 });
          }}
        />
        <Choice
          label="prices in"
          value={workshop.currency ?? "EUR"}
          options={[...new Set([workshop.currency ?? "EUR", ...CURRENCIES])].map((one) => [one, one])}
          onChange={(currency) => save({ currency })}
        />
        <QuantityField
          label="scale steps"
          kind="mass"
          reading={workshop.scale.step_kg}
          onCommit={(r) => (r ? save({ scale: { ...workshop.scale, step_kg: r } }) : undefined)}
        />
        <div>
          <label className="label" htmlFor="first-part">
            first into the cup
          </label>
          <select
            id="first-part"
            className="box"
            value={workshop.first_part ?? "A"}
            onChange={(event) => void save({ first_part: event.target.value as "A" | "B" })}
          >
            <option value="A">part A, the resin</option>
            <option value="B">part B, the hardener</option>
          </select>
        </div>
        <QuantityField
          label="empty mixing cup weighs"
          kind="mass"
          optional
          help="the scale carries it too"
          reading={workshop.cup_kg}
          onCommit={(r) => save({ cup_kg: r })}
        />
        <QuantityField
          label="cup lines are apart by"
          kind="volume"
          optional
          help="empty: nothing is measured in the cup"
          reading={workshop.cup_line_m3}
          onCommit={(r) => save({ cup_line_m3: r })}
        />
        <Choice
          label="several colours in one pour"
          value={workshop.colours ?? "one clear mix"}
          options={[
            ["one clear mix", "out of one clear mix"],
            ["each by itself", "each mixed by itself"],
          ]}
          onChange={(colours) => save({ colours: colours as Present<Workshop["colours"]> })}
        />
        <Choice
          label="stirred by"
          value={workshop.stir_with ?? "hand"}
          options={[
            ["hand", "hand: fewer bubbles"],
            ["drill", "drill: large volumes"],
          ]}
          onChange={(stir_with) => save({ stir_with: stir_with as Present<Workshop["stir_with"]> })}
        />
        <Choice
          label="second, clean cup"
          value={(workshop.second_cup ?? true) ? "yes" : "no"}
          options={[
            ["yes", "where the sheet gives a time for it"],
            ["no", "never: one cup"],
          ]}
          onChange={(value) => save({ second_cup: value === "yes" })}
        />
        <Choice
          label="the last film in a cup"
          value={workshop.scrape_cup ?? "leave the last film"}
          options={[
            ["leave the last film", "is left, and counted"],
            ["scrape all out", "is scraped out: a cup keeps nothing"],
          ]}
          onChange={(scrape_cup) => save({ scrape_cup: scrape_cup as Present<Workshop["scrape_cup"]> })}
        />
        <Choice
          label="printed on"
          value={workshop.paper ?? "by its units"}
          options={[
            ["by its units", "letter with inches, A4 with millimetres"],
            ["A4", "A4"],
            ["letter", "letter"],
          ]}
          onChange={(paper) => save({ paper: paper as Present<Workshop["paper"]> })}
        />
        <Choice
          label="bubbles are driven out by"
          value={workshop.defoam ?? "flame"}
          options={[
            ["flame", "a flame, short and moving"],
            ["heat gun", "a heat gun on low"],
            ["alcohol mist", "a mist of alcohol, no flame near"],
            ["breath", "breath, from the side"],
            ["nothing", "nothing"],
          ]}
          onChange={(defoam) => save({ defoam: defoam as Present<Workshop["defoam"]> })}
        />
        <Choice
          label="rounds"
          value={workshop.flame_rounds ?? "three"}
          options={[
            ["three", "at once, 15, 30 to 45 min"],
            ["every 15 min", "every 15 min for an hour or two"],
          ]}
          onChange={(rounds) => save({ flame_rounds: rounds as Present<Workshop["flame_rounds"]> })}
        />
        <Choice
          label="tape is peeled"
          value={workshop.peel_tape ?? "while gummy"}
          options={[
            ["while gummy", "while it is gummy"],
            ["after cure", "after cure, cut first"],
          ]}
          onChange={(peel) => save({ peel_tape: peel as Present<Workshop["peel_tape"]> })}
        />
        <Choice
          label="the next layer"
          value={workshop.recoat ?? "bond in the window"}
          options={[
            ["bond in the window", "in the bond window"],
            ["cure and sand", "cured and sanded first"],
          ]}
          onChange={(recoat) => save({ recoat: recoat as Present<Workshop["recoat"]> })}
        />
        <NumberOf
          label="people at the bench at once"
          value={workshop.people ?? 1}
          least={1}
          onCommit={(people) => save({ people })}
        />
        <NumberOf
          label="pressure chambers"
          value={workshop.chambers ?? 0}
          onCommit={(chambers) => save({ chambers })}
        />
        <QuantityField
          label="chamber's usable volume"
          kind="volume"
          optional
          help="empty: fit is not checked"
          reading={workshop.chamber_m3}
          onCommit={(r) => save({ chamber_m3: r })}
        />
        <QuantityField
          label="lid down and pressure up in"
          kind="duration"
          help="from the last pour on; taken off the time for pouring"
          reading={workshop.chamber_close_s}
          onCommit={(r) => (r ? save({ chamber_close_s: r }) : undefined)}
        />
        <NumberOf
          label="places on rotators"
          value={workshop.rotator_places ?? 0}
          onCommit={(rotator_places) => save({ rotator_places })}
        />
        <NumberOf
          label="places on curing shelves"
          help="0: not counted"
          value={workshop.shelves ?? 0}
          onCommit={(shelves) => save({ shelves })}
        />
        <Choice
          label="hand that stays clean"
          value={workshop.clean_hand ?? "left"}
          options={[
            ["left", "the left"],
            ["right", "the right"],
          ]}
          onChange={(hand) => save({ clean_hand: hand as Present<Workshop["clean_hand"]> })}
        />
      </div>
      {workshop.learned_air ? (
        <p className="mt-3 text-[13px]">
          Heat leaves here × {workshop.learned_air.top_times.toFixed(2)} at the top and ×{" "}
          {workshop.learned_air.side_times.toFixed(2)} at the sides of what is usual, by a measured curve
          {workshop.learned_air.note ? ` (${workshop.learned_air.note})` : ""}.{" "}
          <button className="quiet" onClick={() => void save({ learned_air: null })}>
            Do not use this
          </button>
        </p>
      ) : null}
      <details className="mt-3">
        <summary className="quiet">How the dew point is worked out</summary>
        <WorkingPanel working={dew_point} />
      </details>
      <h2 className="mt-5 mb-1">Hours someone is at the bench</h2>
      <div data-field="hours" className="grid grid-cols-2 gap-x-3 gap-y-1 max-sm:grid-cols-1">
        {DAYS.map((day, index) => (
          <TextField
            key={day}
            label={day}
            value={spansText(workshop.week[index]!)}
            onCommit={(typed) => {
              const week = workshop.week.map((spans, at) => (at === index ? readSpans(typed) : spans));
              return save({ week });
            }}
          />
        ))}
      </div>
      <div className="mt-5 flex flex-wrap gap-4 items-center">
        <Dialog.Close className="key">Close</Dialog.Close>
        {role === "owner" ? (
          <Link className="quiet" to="/people" onClick={onClose}>
            People
          </Link>
        ) : null}
        {role === "owner" ? (
          <Link className="quiet" to="/phones" onClick={onClose}>
            Phones and the wall
          </Link>
        ) : (
          <Link className="quiet" to="/wall" onClick={onClose}>
            The wall page
          </Link>
        )}
        {is_demo && (role === "owner" || role === "maker") ? (
          <button
            className="quiet"
            onClick={() =>
              window.confirm("Lay out the demo anew? Pieces you made or changed in it are cleared.") &&
              void layOut()
            }
          >
            Lay out the demo anew
          </button>
        ) : null}
      </div>
    </>
  );
}

function NumberOf({
  label,
  value,
  least = 0,
  help,
  onCommit,
}: {
  label: string;
  value: number;
  least?: number;
  help?: string | undefined;
  onCommit: (value: number) => Promise<void>;
}) {
  return (
    <TextField
      label={help ? `${label} (${help})` : label}
      value={String(value)}
      onCommit={(typed) => {
        const read = Number(typed);
        if (!Number.isInteger(read) || read < least) throw new Error(`A whole number from ${least} up.`);
        return onCommit(read);
      }}
    />
  );
}

function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => Promise<void>;
}) {
  const id = useId();
  return (
    <div>
      <label className="label" htmlFor={id}>
        {label}
      </label>
      <select id={id} className="box" value={value} onChange={(event) => void onChange(event.target.value)}>
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}

function spanText(night: { from_min: number; to_min: number }): string {
  const clock = (minutes: number) =>
    `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
  return `${clock(night.from_min)}-${clock(night.to_min)}`;
}

/** "22:00-06:00"; it may pass midnight. */
function readNight(typed: string): { from_min: number; to_min: number } {
  const found = /^\s*(\d{1,2})(?::(\d{2}))?\s*[-–]\s*(\d{1,2})(?::(\d{2}))?\s*$/.exec(typed);
  if (!found) throw new Error("Write it like 22:00-06:00.");
  const [from_min, to_min] = [
    Number(found[1]) * 60 + Number(found[2] ?? 0),
    Number(found[3]) * 60 + Number(found[4] ?? 0),
  ];
  if (from_min >= 1440 || to_min >= 1440) throw new Error("Hours run from 00:00 to 23:59.");
  return { from_min, to_min };
}
