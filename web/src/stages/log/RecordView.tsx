/** A run in figures: planned and used, measured over predicted, tests, what went wrong, and every entry
 *  with those taken back. */
import { readRecord } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { date, moment, signedPercent, text } from "../../domain/format";
import { fileUrl, Marked } from "../../ui/Marked";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { Verdicts } from "../../ui/Verdicts";
import { MeasuredCurves, useRunHeat } from "../pour/MeasuredCurves";
import { useSayInRun } from "./addRunEvent";

export function useRecord(runId: number | null) {
  return useQuery({
    queryKey: ["record", runId],
    queryFn: () => readRecord(runId!),
    enabled: runId !== null,
  });
}

/** The record and the curves in its middle have come, or never will: what stands below them can be shown and does not
 *  move any more. No run: there is nothing to wait for. */
export function useIsRecordRead(runId: number | null): boolean {
  const record = useRecord(runId);
  const heat = useRunHeat(runId);
  return !record.isLoading && !heat.isLoading;
}

export function RecordView({ runId }: { runId: number }) {
  const { units, zone, currency } = useUnits();
  const answer = useRecord(runId);
  const isRead = useIsRecordRead(runId);
  if (!answer.data || !isRead) return <Waiting error={answer.error} what="the record" />;
  const { record, debrief, events, undone } = answer.data;
  const used = record.used_kg ?? null;
  return (
    <>
      <p className="text-[13px] text-slate">
        Run {record.run_id}, begun {date(record.begun_at, zone)},{" "}
        {record.ended_at ? `${record.how} ${date(record.ended_at, zone)}` : "still open"}; room{" "}
        {text(record.room_c, "temperature", units)}.
      </p>
      <dl className="flex flex-wrap gap-x-8 gap-y-2 mt-2">
        <Total name="planned" value={text(record.planned_kg, "mass", units)} />
        <Total
          name="on the scale"
          value={used === null ? "not all weighed" : text(used, "mass", units)}
          note={used === null ? "" : signedPercent(used / record.planned_kg - 1)}
        />
        {record.leftover_kg !== null && record.leftover_kg !== undefined ? (
          <Total name="left over" value={text(record.leftover_kg, "mass", units)} />
        ) : null}
        {record.hours_s ? (
          <Total
            name="hands"
            value={text(record.hours_s, "duration", units)}
            note={record.planned_hours_s ? `of ${text(record.planned_hours_s, "duration", units)}` : ""}
          />
        ) : null}
        {record.cost_minor ? (
          <Total name="resin" value={text(record.cost_minor, "money", units, currency)} />
        ) : null}
        {record.stars ? (
          <Total name="the maker" value={`${"★".repeat(record.stars)}${"☆".repeat(5 - record.stars)}`} />
        ) : null}
      </dl>
      {record.words ? <p className="mt-2 font-serif text-[17px]">“{record.words}”</p> : null}
      <div className="overflow-x-auto mt-4">
        <table className="plain" aria-label="Batches">
          <thead>
            <tr>
              <th>batch</th>
              <th>resin</th>
              <th className="text-right">planned</th>
              <th className="text-right">weighed</th>
              <th className="text-right">ratio off</th>
              <th>stirred</th>
              <th>lots</th>
              <th>colours</th>
              <th className="text-right">left in cup</th>
              <th className="text-right">left over</th>
            </tr>
          </thead>
          <tbody>
            {record.batches.map((one) => (
              <tr key={`${one.pour}.${one.batch}`}>
                <td>
                  {one.pour}.{one.batch}
                </td>
                <td>{one.system}</td>
                <td className="text-right">{text(one.planned_kg, "mass", units)}</td>
                <td className="text-right">
                  {one.weighed_kg === null || one.weighed_kg === undefined ? (
                    <span className="text-slate">not weighed</span>
                  ) : (
                    text(one.weighed_kg, "mass", units)
                  )}
                </td>
                <td
                  className={`text-right ${Math.abs(one.ratio_off ?? 0) > 0.02 ? "text-rust font-semibold" : ""}`}
                >
                  {one.ratio_off === null || one.ratio_off === undefined ? "" : signedPercent(one.ratio_off)}
                </td>
                <td>{one.stir_s ? text(one.stir_s, "duration", units) : ""}</td>
                <td>{(one.lots ?? []).join(", ")}</td>
                <td>
                  {(one.colours ?? [])
                    .map((colour) => `${colour.name} ${text(colour.kg, "mass", units)}`)
                    .join(", ")}
                </td>
                <td className="text-right">
                  {one.residue_kg === null || one.residue_kg === undefined
                    ? ""
                    : text(one.residue_kg, "mass", units)}
                </td>
                <td className="text-right">
                  {one.leftover_kg === null || one.leftover_kg === undefined
                    ? ""
                    : text(one.leftover_kg, "mass", units)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <MeasuredCurves runId={runId} wide />
      {record.tests.length ? (
        <table className="plain mt-4" aria-label="Tests">
          <thead>
            <tr>
              <th>test</th>
              <th>expected after</th>
              <th>tried</th>
            </tr>
          </thead>
          <tbody>
            {record.tests.map((one) => (
              <tr key={one.step}>
                <td>
                  {one.title}
                  {record.pours.length > 1 ? `, pour ${one.pour}` : ""}
                </td>
                <td>{text(one.expected_s, "duration", units)}</td>
                <td>
                  {one.skipped
                    ? "left out"
                    : one.tried
                        .map(([at, result]) => `${text(Math.max(at, 0), "duration", units)}: ${result}`)
                        .join("; ") || "not yet"}
                  {one.found?.length ? `; seen: ${one.found.join(", ")}` : ""}
                  {one.branch ? <b className="font-semibold">; {one.branch}</b> : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {(record.photos ?? []).length ? (
        <ul className="flex flex-wrap gap-2 mt-4" aria-label="Photos">
          {record.photos.map((sha) => (
            <li key={sha}>
              <a href={`/api/v1/files/${sha}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/v1/files/${sha}`}
                  alt="As it looked during the run"
                  className="h-28 border border-line"
                  loading="lazy"
                />
              </a>
            </li>
          ))}
        </ul>
      ) : null}
      {record.seen?.length ? <Seen seen={record.seen} zone={zone} /> : null}
      {record.went_wrong.length ? (
        <p className="mt-3">
          <b className="font-semibold">Went wrong:</b> {record.went_wrong.join(", ")}.{" "}
          <Link
            className="quiet"
            to={`/mend?run=${record.run_id}${record.piece_id ? `&piece=${record.piece_id}` : ""}`}
          >
            The way back
          </Link>
        </p>
      ) : null}
      <Verdicts verdicts={debrief.says} title="How it went" />
      <Entries runId={runId} events={events} undone={undone} />
      <p className="mt-4 flex flex-wrap gap-x-5 text-[13px]">
        <a className="quiet" href={`/api/v1/runs/${runId}/record.pdf`} target="_blank" rel="noreferrer">
          Print it (PDF)
        </a>
        <a className="quiet" href={`/api/v1/runs/${runId}/record.json`}>
          All of it as JSON
        </a>
        <Link className="quiet" to={`/runs/${runId}`}>
          Bench mode
        </Link>
      </p>
    </>
  );
}

function Total({ name, value, note = "" }: { name: string; value: string; note?: string }) {
  return (
    <div>
      <dt className="text-[13px] text-slate">{name}</dt>
      <dd className="text-[20px] font-semibold tabular-nums leading-tight">
        {value} <span className="text-[13px] font-normal text-slate">{note}</span>
      </dd>
    </div>
  );
}

/** What a camera saw, and what photos in low side light showed. */
function Seen({ seen, zone }: { seen: Schemas["SeenRecord"][]; zone: string }) {
  return (
    <section aria-label="Seen" className="mt-4">
      <h3 className="font-semibold">Seen</h3>
      <ul className="grid grid-cols-3 max-lg:grid-cols-2 max-sm:grid-cols-1 gap-4 mt-1">
        {seen.slice(0, 12).map((one) => (
          <li key={one.at + one.what}>
            {one.sha256 && one.size ? (
              <Marked
                src={fileUrl(one.sha256)}
                size={one.size as [number, number]}
                marks={one.marks ?? []}
                alt={one.words}
                className="w-full"
              />
            ) : null}
            <p className="text-[13.5px]">
              <b className="font-semibold">{moment(one.at, zone)}</b> {one.words}.
            </p>
          </li>
        ))}
      </ul>
      {seen.length > 12 ? <p className="text-slate">and {seen.length - 12} more</p> : null}
    </section>
  );
}

const NAMES: Record<string, string> = {
  begin: "begun",
  done: "done",
  skip: "left out",
  test: "test",
  gate: "test",
  reading: "reading",
  note: "note",
  photo: "photo",
  saw: "camera",
  amount: "amount",
  rating: "rating",
  mishap: "mishap",
  "mishap-over": "mishap over",
  trouble: "trouble",
  pace: "pace",
  end: "end",
  undo: "taken back",
  later: "later",
  heard: "heard",
  attach: "probe",
};

/** Append-only: what is taken back stays, struck through. */
function Entries({ runId, events, undone }: { runId: number; events: Schemas["Kept"][]; undone: string[] }) {
  const { zone } = useUnits();
  const say = useSayInRun(runId);
  const [problem, setProblem] = useState("");
  const gone = new Set(undone);
  const back = async (id: string) => {
    try {
      await say({ kind: "undo", event_id: id });
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const shown = events.filter((one) => one.event.kind !== "heard");
  return (
    <details className="mt-4">
      <summary className="quiet">Every entry ({shown.length})</summary>
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <div className="overflow-x-auto">
        <table className="plain" aria-label="Every entry">
          <tbody>
            {[...shown]
              .reverse()
              .slice(0, 400)
              .map((one) => {
                const isGone = gone.has(one.event_id);
                return (
                  <tr key={one.number} className={isGone ? "line-through text-slate" : ""}>
                    <td className="whitespace-nowrap">
                      {date(one.at, zone)}
                      {one.doubted ? " (by the server)" : ""}
                    </td>
                    <td>{NAMES[one.event.kind]}</td>
                    <td>{wordsOf(one.event)}</td>
                    <td>{one.who}</td>
                    <td>
                      {!isGone &&
                      ["reading", "note", "amount", "rating", "gate", "photo", "trouble"].includes(
                        one.event.kind,
                      ) ? (
                        <button className="quiet" onClick={() => void back(one.event_id)}>
                          take back
                        </button>
                      ) : isGone ? (
                        "taken back"
                      ) : (
                        ""
                      )}
                    </td>
                  </tr>
                );
              })}
          </tbody>
        </table>
      </div>
    </details>
  );
}

function wordsOf(event: Schemas["Kept"]["event"]): string {
  switch (event.kind) {
    case "reading":
      return `${event.what.replace("_", " ")} ${event.value}${event.pour ? `, pour ${event.pour}` : ""}`;
    case "note":
      return event.text;
    case "saw":
      return event.words;
    case "amount":
      return `${event.what.replace(/_.*/, "")} ${event.as_typed || event.value}${event.of ? ` (${event.of})` : ""}`;
    case "rating":
      return `${event.stars} of 5 ${event.text ?? ""}`;
    case "gate":
      return `${event.gate}, pour ${event.pour}: ${event.result}`;
    case "test":
      return `${event.step}: ${event.result}`;
    case "trouble":
      return [event.code, event.cause, event.back].filter(Boolean).join(", ");
    case "mishap":
      return event.code;
    case "pace":
      return `pour ${event.pour}: ${event.times.toFixed(2)} times as long. ${event.why ?? ""}`;
    case "end":
      return event.how;
    default:
      return "step" in event && event.step ? event.step : "";
  }
}
