/** The working times of a sheet: the first, and what it says of other batches and temperatures, with how well all of
 *  them go together. */
import type { Schemas, Present } from "../../api/client";
import { text } from "../../domain/format";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Choice, Compared, Section, type PartProps } from "./sheet-parts";

type Work = Schemas["WorkingTime"];
type Key = "time_s" | "mass_kg" | "temperature_c";

export function WorkingTimes({ rows, ...props }: PartProps & { rows: Schemas["FittedRow"][] }) {
  return (
    <>
      <WorkingTime {...props} />
      <More {...props} />
      <HowTheyFit rows={rows} />
    </>
  );
}

function WorkingTime({ system, change }: PartProps) {
  const work = system.working_time;
  const put = (key: "time_s" | "mass_kg" | "temperature_c") => (reading: Reading | null) =>
    reading ? change({ working_time: { ...work, [key]: { ...reading, origin: "sheet" } } }) : undefined;
  const rows: ["time_s" | "mass_kg" | "temperature_c", string, string][] = [
    ["time_s", "working time", "duration"],
    ["mass_kg", "… of a batch of", "mass"],
    ["temperature_c", "… at", "temperature"],
  ];
  return (
    <Section title="Working time">
      {rows.map(([key, label, kind]) => (
        <Compared key={key} reading={work[key]} onSame={put(key)}>
          <QuantityField label={label} kind={kind} origin="sheet" reading={work[key]} onCommit={put(key)} />
        </Compared>
      ))}
      <Choice
        label="working time ends when"
        value={work.criterion ?? "not said"}
        options={["not said", "gel", "doubled viscosity", "too thick to pour", "a temperature"].map((one) => [
          one,
          one,
        ])}
        onChange={(criterion) =>
          change({ working_time: { ...work, criterion: criterion as Present<typeof work.criterion> } })
        }
      />
      {work.criterion === "a temperature" ? (
        <QuantityField
          label="… it reads"
          kind="temperature"
          optional
          origin="sheet"
          reading={work.until_c as Reading | null}
          onCommit={(until_c) => change({ working_time: { ...work, until_c: until_c } })}
        />
      ) : null}
    </Section>
  );
}

function More({ system, change }: PartProps) {
  const more = system.more_working ?? [];
  const put = (rows: Work[]) => change({ more_working: rows.length ? rows : null });
  const swap = (index: number, part: Partial<Work>) =>
    put(more.map((one, at) => (at === index ? { ...one, ...part } : one)));
  const fields: [Key, string, string][] = [
    ["time_s", "another working time", "duration"],
    ["mass_kg", "… of a batch of", "mass"],
    ["temperature_c", "… at", "temperature"],
  ];
  return (
    <div className="grid gap-2 mt-2">
      {more.map((row, index) => (
        <div key={index} className="grid grid-cols-[1fr_1fr_1fr_auto] gap-3 items-start max-sm:grid-cols-2">
          {fields.map(([key, label, kind]) => (
            <QuantityField
              key={key}
              label={label}
              kind={kind}
              origin="sheet"
              reading={row[key] as Reading}
              onCommit={(reading) =>
                reading ? swap(index, { [key]: { ...reading, origin: "sheet" } }) : undefined
              }
            />
          ))}
          <button
            className="quiet mt-5"
            onClick={() => void put(more.filter((_, at) => at !== index))}
            aria-label={`Remove working time ${index + 2}`}
          >
            remove
          </button>
        </div>
      ))}
      <button className="quiet text-left" onClick={() => void put([...more, { ...system.working_time }])}>
        Add a working time of another batch or temperature
      </button>
    </div>
  );
}

/** The rows that the cure was fitted to, and how near each is met. */
function HowTheyFit({ rows }: { rows: Schemas["FittedRow"][] }) {
  const { units } = useUnits();
  if (rows.length < 2) return null;
  const off = (row: Schemas["FittedRow"]) => Math.round(100 * (row.computed_s / row.said_s - 1));
  return (
    <table className="plain mt-2 max-w-[560px]">
      <caption className="text-left text-[13px] pb-1">
        The cure is worked out from these {rows.length} together: the first is met, the others as near as one
        resin can have them.
      </caption>
      <thead>
        <tr>
          <th scope="col">batch</th>
          <th scope="col">at</th>
          <th scope="col">the sheet</th>
          <th scope="col">computed</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={index}>
            <td>{text(row.mass_kg, "mass", units)}</td>
            <td>{text(row.at_c, "temperature", units)}</td>
            <td>{text(row.said_s, "duration", units)}</td>
            <td className={Math.abs(off(row)) > 15 ? "text-rust font-semibold" : ""}>
              {text(row.computed_s, "duration", units)}
              {off(row) ? ` (${off(row) > 0 ? "+" : "−"}${Math.abs(off(row))} %)` : ""}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
