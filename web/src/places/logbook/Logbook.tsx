/** The Logbook: every run, found while typing; two of them side by side. */
import { searchLogbook } from "../../api/operations.generated";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { date, text } from "../../domain/format";
import { KINDS_OF_WORK } from "../../domain/work";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { LogbookHead } from "./LogbookHead";

const PAGE = 30;

export function Logbook() {
  const [q, setQ] = useState("");
  const [kind, setKind] = useState("");
  const [stars, setStars] = useState("");
  const [troubled, setTroubled] = useState(false);
  const [offset, setOffset] = useState(0);
  const [pair, setPair] = useState<number[]>([]);
  const navigate = useNavigate();
  const query = {
    q,
    offset,
    limit: PAGE,
    kind: kind || undefined,
    stars: stars ? Number(stars) : undefined,
    troubled: troubled || undefined,
  };
  const list = useQuery({
    queryKey: ["logbook", query],
    queryFn: () => searchLogbook(query),
    placeholderData: keepPreviousData,
  });
  const filtered = !!(q || kind || stars || troubled);
  const pick = (id: number) =>
    setPair((now) => (now.includes(id) ? now.filter((one) => one !== id) : [...now.slice(-1), id]));
  if (!list.data) return <Waiting error={list.error} what="the logbook" />;
  const { rows, total } = list.data;
  const changed = (work: () => void) => {
    work();
    setOffset(0);
  };
  return (
    <div className="px-7 py-5 max-w-[1160px] max-sm:px-3">
      <LogbookHead />
      <div className="flex flex-wrap gap-3 items-center mt-3">
        <input
          type="search"
          aria-label="Search the logbook"
          placeholder="piece, resin, colour, lot, mishap, note"
          className="box max-w-80"
          value={q}
          onChange={(event) => changed(() => setQ(event.target.value))}
        />
        <select
          aria-label="Kind of work"
          className="box max-w-44"
          value={kind}
          onChange={(event) => changed(() => setKind(event.target.value))}
        >
          <option value="">every kind of work</option>
          {KINDS_OF_WORK.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        <select
          aria-label="Stars"
          className="box max-w-36"
          value={stars}
          onChange={(event) => changed(() => setStars(event.target.value))}
        >
          <option value="">any stars</option>
          {[5, 4, 3, 2].map((one) => (
            <option key={one} value={one}>
              {one} and up
            </option>
          ))}
        </select>
        <label className="flex gap-2 items-center min-h-7">
          <input
            type="checkbox"
            checked={troubled}
            onChange={(event) => changed(() => setTroubled(event.target.checked))}
          />{" "}
          with trouble
        </label>
        <span className="ml-auto flex flex-wrap gap-4 max-sm:ml-0">
          {pair.length === 2 ? (
            <button className="key" onClick={() => navigate(`/logbook/compare?a=${pair[0]}&b=${pair[1]}`)}>
              Compare the two
            </button>
          ) : (
            <span className="text-[13px] text-slate self-center">
              {pair.length === 1 ? "tick one more to compare" : "tick two to compare"}
            </span>
          )}
          <a className="quiet self-center" href={`/api/v1/logbook.csv?${query}`}>
            As a table (CSV)
          </a>
        </span>
      </div>
      {rows.length === 0 ? (
        <Empty title={filtered ? "No run like that" : "Nothing in the logbook yet"}>
          {filtered ? (
            <button
              className="quiet"
              onClick={() =>
                changed(() => {
                  setQ("");
                  setKind("");
                  setStars("");
                  setTroubled(false);
                })
              }
            >
              Show all
            </button>
          ) : (
            "It fills by itself: begin a run on a piece's Pour stage."
          )}
        </Empty>
      ) : (
        <ul className="rule mt-3 border-t border-ink" aria-label="Runs">
          {rows.map((row) => (
            <Row
              key={row.run_id}
              row={row}
              picked={pair.includes(row.run_id)}
              onPick={() => pick(row.run_id)}
            />
          ))}
        </ul>
      )}
      {total > PAGE ? (
        <p className="mt-3 flex gap-4 items-center text-slate">
          {offset + 1} to {Math.min(offset + PAGE, total)} of {total}
          <button
            className="quiet"
            disabled={offset === 0}
            onClick={() => setOffset(Math.max(0, offset - PAGE))}
          >
            newer
          </button>
          <button
            className="quiet"
            disabled={offset + PAGE >= total}
            onClick={() => setOffset(offset + PAGE)}
          >
            older
          </button>
        </p>
      ) : null}
    </div>
  );
}

function Row({ row, picked, onPick }: { row: Schemas["LogRow"]; picked: boolean; onPick: () => void }) {
  const { units, zone } = useUnits();
  return (
    <li className="grid grid-cols-[28px_minmax(0,1fr)] items-center">
      <input
        type="checkbox"
        aria-label={`Compare ${row.piece}, run ${row.run_id}`}
        checked={picked}
        onChange={onPick}
        className="h-5 w-5"
      />
      <Link
        to={`/logbook/${row.run_id}`}
        className="grid grid-cols-[minmax(0,2fr)_minmax(0,1.4fr)_170px_130px_80px] gap-3 py-2 items-baseline max-sm:grid-cols-[1fr_auto]"
      >
        <span>
          <b className="font-semibold text-[15px]">{row.piece}</b>{" "}
          <span className="text-slate text-[13px] block">{row.systems.join(", ") || row.kind_of_work}</span>
        </span>
        <span className="text-[13px] max-sm:hidden">
          {date(row.begun_at, zone)}
          <span className="text-slate block">{row.ended_at ? row.how : "still open"}</span>
        </span>
        <span className="text-[13px] tabular-nums">
          {text(row.planned_kg, "mass", units)} planned
          <span className="text-slate block">
            {row.used_kg === null || row.used_kg === undefined
              ? "not all weighed"
              : `${text(row.used_kg, "mass", units)} weighed`}
          </span>
        </span>
        <span className="text-[13px] tabular-nums max-sm:hidden">
          {row.peak_predicted_c !== null && row.peak_predicted_c !== undefined
            ? `${text(row.peak_predicted_c, "temperature", units)} foretold`
            : ""}
          <span className="text-slate block">
            {row.peak_measured_c !== null && row.peak_measured_c !== undefined
              ? `${text(row.peak_measured_c, "temperature", units)} read`
              : ""}
          </span>
        </span>
        <span className="text-right">
          {row.stars ? (
            <span aria-label={`${row.stars} of 5`} className="text-amber">
              {"★".repeat(row.stars)}
            </span>
          ) : (
            ""
          )}
          {row.troubled ? <span className="block text-rust text-[13px] font-medium">trouble</span> : null}
        </span>
      </Link>
    </li>
  );
}
