/** One run of the logbook; and two of them side by side. */
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { date, signedPercent, text } from "../../domain/format";
import { RecordView, useRecord } from "../../stages/log/RecordView";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";

export function RunPage() {
  const id = Number(useParams().run);
  const answer = useRecord(id);
  if (!answer.data) return <Waiting error={answer.error} what="the run" />;
  const { record } = answer.data;
  return (
    <div className="px-7 py-5 max-w-[1000px] max-sm:px-3">
      <p className="text-[13px]">
        <Link className="quiet" to="/logbook">
          Logbook
        </Link>
      </p>
      <h1 className="text-[30px]">{record.piece}</h1>
      {record.piece_id ? (
        <p className="text-[13px]">
          <Link className="quiet" to={`/pieces/${record.piece_id}/log`}>
            To the piece
          </Link>
        </p>
      ) : null}
      <div className="mt-2">
        <RecordView runId={id} />
      </div>
    </div>
  );
}

type Record = Schemas["RunRecord"];

export function Compare() {
  const [params] = useSearchParams();
  const [a, b] = [useRecord(Number(params.get("a"))), useRecord(Number(params.get("b")))];
  const { units, zone, currency } = useUnits();
  if (!a.data || !b.data) return <Waiting error={a.error ?? b.error} what="the two runs" />;
  const pair = [a.data.record, b.data.record];
  const some = (value: number | null | undefined, quantity: string) =>
    value === null || value === undefined ? "–" : text(value, quantity, units, currency);
  const hottest = (one: Record, key: "peak_predicted_c" | "peak_measured_c") => {
    const found = one.pours
      .map((pour) => pour[key])
      .filter((value): value is number => value !== null && value !== undefined);
    return found.length ? Math.max(...found) : null;
  };
  const rows: [string, (one: Record) => string][] = [
    ["begun", (one) => date(one.begun_at, zone)],
    ["resin", (one) => one.systems.join(", ")],
    ["room", (one) => text(one.room_c, "temperature", units)],
    ["pours", (one) => String(one.pours.length)],
    ["deepest layer", (one) => some(Math.max(...one.pours.map((pour) => pour.depth_m)), "length")],
    ["planned", (one) => some(one.planned_kg, "mass")],
    ["weighed", (one) => some(one.used_kg, "mass")],
    ["left over", (one) => some(one.leftover_kg, "mass")],
    ["hottest foretold", (one) => some(hottest(one, "peak_predicted_c"), "temperature")],
    ["hottest read", (one) => some(hottest(one, "peak_measured_c"), "temperature")],
    [
      "took, of the time predicted",
      (one) => one.pours.map((pour) => pour.pace?.toFixed(2) ?? "–").join(", "),
    ],
    [
      "tests",
      (one) =>
        one.tests
          .map(
            (test) =>
              `${test.title} ${test.passed_s ? text(test.passed_s, "duration", units) : "not passed"}`,
          )
          .join("; ") || "–",
    ],
    [
      "worst ratio",
      (one) => {
        const off = one.batches
          .map((batch) => batch.ratio_off)
          .filter((value): value is number => value !== null && value !== undefined);
        return off.length
          ? signedPercent(off.reduce((worst, now) => (Math.abs(now) > Math.abs(worst) ? now : worst)))
          : "–";
      },
    ],
    ["hands", (one) => some(one.hours_s, "duration")],
    ["resin cost", (one) => some(one.cost_minor, "money")],
    ["went wrong", (one) => one.went_wrong.join(", ") || "nothing written down"],
    ["left out", (one) => one.left_out.join(", ") || "nothing"],
    ["stars", (one) => (one.stars ? `${one.stars} of 5` : "–")],
    ["next time", (one) => one.words || "–"],
  ];
  if (pair[0]!.run_id === pair[1]!.run_id)
    return (
      <div className="p-7">
        <Empty title="The same run twice">
          Tick two of them in the{" "}
          <Link className="quiet" to="/logbook">
            logbook
          </Link>
          .
        </Empty>
      </div>
    );
  return (
    <div className="px-7 py-5 max-w-[1000px] max-sm:px-3">
      <p className="text-[13px]">
        <Link className="quiet" to="/logbook">
          Logbook
        </Link>
      </p>
      <h1 className="text-[30px]">Side by side</h1>
      <table className="plain mt-3 text-[14px]!" aria-label="Two runs">
        <thead>
          <tr>
            <th>
              <span className="sr-only">what</span>
            </th>
            {pair.map((one) => (
              <th key={one.run_id}>
                <Link className="quiet" to={`/logbook/${one.run_id}`}>
                  {one.piece}, run {one.run_id}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, read]) => {
            const [left, right] = pair.map(read);
            return (
              <tr key={name}>
                <th scope="row" className="font-normal!">
                  {name}
                </th>
                <td className={left === right ? "text-slate" : ""}>{left}</td>
                <td className={left === right ? "text-slate" : "font-medium"}>{right}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
