/** The hazard statements of a safety data sheet: offered to a system of the shelf, whose plans then say them. */
import { useState } from "react";
import { Link } from "react-router";
import { takeHazards } from "../../../api/operations.generated";
import { useEverythingAnew, useShelf } from "../../../api/queries";
import type { Reading } from "../../../domain/sheet-reading";
import { complaint } from "../../../ui/FileDrop";

export function HazardsOffered({ reading }: { reading: Reading }) {
  const shelf = useShelf();
  const anew = useEverythingAnew();
  const [chosen, setChosen] = useState("");
  const [done, setDone] = useState("");
  const [problem, setProblem] = useState("");
  if (reading.document !== "safety data sheet" || !reading.hazards.length) return null;
  const sheets = shelf.data ?? [];
  const system = chosen || sheets[0]?.system.id || "";
  const take = async () => {
    try {
      await takeHazards(reading.file, {
        system_id: system,
        codes: reading.hazards.map((one) => one.code),
      });
      await anew();
      setDone(system);
      setProblem("");
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <section aria-label="Cautions of this sheet" className="my-3">
      <ul className="rule">
        {reading.hazards.map((one) => (
          <li key={one.code} className="py-1.5 grid grid-cols-[64px_1fr] gap-2">
            <b>{one.code}</b>
            <span>
              {one.says ? `${one.says}. ` : ""}
              <b className="font-semibold">{one.todo}</b>
            </span>
          </li>
        ))}
      </ul>
      {sheets.length ? (
        <div className="mt-3 flex flex-wrap gap-3 items-end">
          <div>
            <label className="label" htmlFor="hazards-of">
              it is the safety data sheet of
            </label>
            <select
              id="hazards-of"
              className="box"
              value={system}
              onChange={(event) => setChosen(event.target.value)}
            >
              {sheets.map((sheet) => (
                <option key={sheet.system.id} value={sheet.system.id}>
                  {sheet.system.name}
                </option>
              ))}
            </select>
          </div>
          <button className="key" onClick={() => void take()}>
            Say them in its plans
          </button>
        </div>
      ) : (
        <p className="text-[13px] text-slate">
          Put its resin on the shelf first; then its plans can say them.
        </p>
      )}
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      {done ? (
        <p role="status" className="text-spruce">
          Its plans say these cautions now.{" "}
          <Link className="quiet" to={`/shelf/${done}`}>
            To the system
          </Link>
        </p>
      ) : null}
    </section>
  );
}
