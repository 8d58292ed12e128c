/** Log: what happened, what do I change? What only the maker can say goes into the record here. */
import { keepFile, learnedForPiece, takeLogFile } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { Refused, type Schemas } from "../../api/client";
import { text } from "../../domain/format";
import { fromWall } from "../../domain/time";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { useAttempts } from "../../ui/useAttempts";
import { ChoiceField } from "../measure/ShapeFields";
import type { Edits } from "../usePieceEdits";
import { Spread } from "../Spread";
import type { StageProps } from "../props";
import { withLearned } from "./learned";
import { LogDrawing, useRunsOf } from "./LogDrawing";
import { useIsRecordRead, useRecord } from "./RecordView";
import { useSayInRun } from "./addRunEvent";

type What = Extract<Schemas["Kept"]["event"], { kind: "amount" }>["what"];
/** what, words, kind, of a batch, divided by: a known weight, a number of strokes. */
const AMOUNTS: [What, string, string, boolean, number, string][] = [
  [
    "residue_kg",
    "left in the cup",
    "mass",
    true,
    1,
    "cup and stick weighed after pouring, less the empty cup",
  ],
  ["leftover_kg", "mixed and left over", "mass", true, 1, ""],
  ["film_m", "film, by a comb", "length", false, 1, ""],
  ["soak_m3_m2", "drunk by the wood", "areal_volume", false, 1, "like 110 mL/m2"],
  [
    "scale_ratio",
    "scale, with 100 g on it",
    "mass",
    false,
    0.1,
    "what it shows with a known weight of 100 g",
  ],
  ["pump_a_kg", "ten strokes of pump A", "mass", false, 10, ""],
  ["pump_b_kg", "ten strokes of pump B", "mass", false, 10, ""],
  ["hours_s", "my hours in all", "duration", false, 1, ""],
  ["wall_m", "wall after turning", "length", false, 1, ""],
];
const GRAINS: [string, string][] = [
  ["dense", "dense wood"],
  ["open", "open-pored wood"],
  ["end or punky", "end grain, punky"],
];

const QUESTION = "What happened?";

export function LogStage({ stored, edits }: StageProps) {
  const runs = useRunsOf(stored.id);
  const run = (runs.data ?? []).find((one) => !one.is_rehearsal);
  const isRead = useIsRecordRead(run?.id ?? null);
  if (runs.isPending || !isRead)
    return (
      <Spread question={QUESTION} strip="none">
        <Waiting error={null} what="the record" />
      </Spread>
    );
  return (
    <Spread
      question={QUESTION}
      strip="none"
      side={
        <>
          {run ? (
            <Write runId={run.id} pieceId={stored.id} />
          ) : (
            <p className="mt-1 text-slate">The record begins with the run.</p>
          )}
          <LearnedHere pieceId={stored.id} revision={stored.revision} edits={edits} />
        </>
      }
    >
      <LogDrawing stored={stored} />
    </Spread>
  );
}

function Write({ runId, pieceId }: { runId: number; pieceId: number }) {
  const answer = useRecord(runId);
  const say = useSayInRun(runId);
  const [what, setWhat] = useState<What>("residue_kg");
  const [of, setOf] = useState("");
  const { told, problem, attempt } = useAttempts();
  const [amountsKept, setAmountsKept] = useState(0);
  const record = answer.data?.record;
  if (!record) return null;
  const row = AMOUNTS.find(([one]) => one === what)!;
  const batches = record.batches.map((one): [string, string] => [
    `p${one.pour}/b${one.batch}`,
    `batch ${one.pour}.${one.batch}`,
  ]);
  const places: [string, string][] = row[3]
    ? batches
    : what === "soak_m3_m2"
      ? GRAINS
      : what.startsWith("pump")
        ? [...new Map(record.batches.map((one): [string, string] => [one.system_id, one.system]))]
        : what === "film_m"
          ? record.pours.filter((one) => one.is_coat).map((one) => [`p${one.pour}`, one.called])
          : [];
  const place = places.some(([one]) => one === of) ? of : (places[0]?.[0] ?? "");
  return (
    <>
      <Rating
        stars={record.stars ?? 0}
        words={record.words}
        onSay={(stars, words) =>
          attempt(async () => {
            await say({ kind: "rating", stars, text: words });
            return "Kept.";
          })
        }
      />
      <fieldset className="mt-4 grid gap-2">
        <legend className="text-[13px] font-semibold">Write down what was measured</legend>
        <ChoiceField
          choice={{ key: "what", label: "what", options: AMOUNTS.map(([one, words]) => [one, words]) }}
          value={what}
          onChoose={(one) => setWhat(one as What)}
        />
        {places.length > 1 || what === "soak_m3_m2" ? (
          <ChoiceField
            choice={{ key: "of", label: "of which", options: places }}
            value={place}
            onChoose={setOf}
          />
        ) : null}
        <QuantityField
          key={`${what}${place}${amountsKept}`}
          label={row[1]}
          kind={row[2]}
          optional
          reading={null}
          help={row[5] || undefined}
          onCommit={(reading) =>
            reading
              ? attempt(async () => {
                  await say({
                    kind: "amount",
                    what,
                    value: reading.value / row[4],
                    of: place,
                    as_typed: reading.as_typed ?? "",
                  });
                  setAmountsKept((count) => count + 1);
                  return `Kept: ${row[1]} ${reading.as_typed ?? ""}`;
                })
              : undefined
          }
        />
      </fieldset>
      <NoteField
        onSay={(words) =>
          attempt(async () => {
            await say({ kind: "note", text: words });
            return "Note kept.";
          })
        }
      />
      <Drop
        pours={record.pours.filter((one) => one.poured_at).map((one) => [one.pour, one.called])}
        runId={runId}
        onPhoto={(sha) => say({ kind: "photo", sha256: sha })}
        attempt={attempt}
      />
      <p role="status" className="mt-1 text-[13px] text-spruce">
        {told}
      </p>
      {problem ? (
        <p role="alert" className="text-rust font-medium">
          {problem}
        </p>
      ) : null}
      <p className="mt-2 flex flex-wrap gap-x-4">
        <Link className="quiet" to={`/mend?run=${runId}&piece=${pieceId}`}>
          Something went wrong
        </Link>
        {record.ended_at ? null : (
          <button
            className="quiet"
            onClick={() =>
              void attempt(async () => {
                await say({ kind: "end", how: "finished" });
                return "The run is over; what is measured later can still be added.";
              })
            }
          >
            The run is over
          </button>
        )}
      </p>
    </>
  );
}

function Rating({
  stars,
  words,
  onSay,
}: {
  stars: number;
  words: string;
  onSay: (stars: number, words: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <div className="mt-2">
      <div role="radiogroup" aria-label="How good did it come out?" className="flex gap-1">
        {[1, 2, 3, 4, 5].map((one) => (
          <button
            key={one}
            role="radio"
            aria-checked={stars === one}
            aria-label={`${one} of 5`}
            className={`text-[24px] min-h-9 min-w-9 leading-none ${one <= stars ? "text-amber" : "text-slate"}`}
            onClick={() => onSay(one, typed ?? words)}
          >
            {one <= stars ? "★" : "☆"}
          </button>
        ))}
      </div>
      <label className="block text-[13px] text-slate mt-1" htmlFor="rating-words">
        what I would change next time
      </label>
      <textarea
        id="rating-words"
        className="box"
        rows={2}
        maxLength={2000}
        value={typed ?? words}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          if (typed !== null && typed !== words && stars) onSay(stars, typed);
        }}
      />
      {typed && !stars ? <p className="text-[12px] text-slate">Kept with your stars.</p> : null}
    </div>
  );
}

function NoteField({ onSay }: { onSay: (words: string) => void }) {
  const [typed, setTyped] = useState("");
  return (
    <form
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim()) {
          onSay(typed.trim());
          setTyped("");
        }
      }}
    >
      <label className="label" htmlFor="log-note">
        note
      </label>
      <div className="flex gap-2">
        <input
          id="log-note"
          className="box"
          maxLength={2000}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <button className="quiet" type="submit">
          Keep
        </button>
      </div>
    </form>
  );
}

const PHOTO_MOST = 32 * 1024 * 1024;

function Drop({
  pours,
  runId,
  onPhoto,
  attempt,
}: {
  pours: [number, string][];
  runId: number;
  onPhoto: (sha: string) => Promise<void>;
  attempt: (work: () => Promise<string>) => Promise<void>;
}) {
  const { zone } = useUnits();
  const input = useRef<HTMLInputElement>(null);
  const [pour, setPour] = useState<number | null>(null);
  const [pending, setPending] = useState<{ text: string; name: string } | null>(null);
  const [begins, setBegins] = useState("");
  const [shift, setShift] = useState("0");
  const chosen = pour ?? pours[0]?.[0] ?? 1;
  const log = async (content: string, name: string) => {
    const body: Schemas["LogFileBody"] = {
      text: content,
      name: name.slice(0, 120),
      pour: chosen,
      shift_s: Number(shift.replace(",", ".")) * 3600 || 0,
      begins_at: begins ? fromWall(begins, zone) : null,
    };
    const found = await takeLogFile(runId, body);
    setPending(null);
    return `${found.kept} readings taken in. ${found.says.join("; ")}`;
  };
  const take = (files: FileList | null) =>
    attempt(async () => {
      const said: string[] = [];
      for (const file of Array.from(files ?? [])) {
        if (/\.(csv|txt|tsv)$/i.test(file.name) || file.type.startsWith("text/")) {
          if (file.size > 2 * 1024 * 1024)
            throw new Error(
              `${file.name} has ${(file.size / 1e6).toFixed(1)} MB; a log has at most 2 MB. Cut it down to the pour.`,
            );
          const content = await file.text();
          setPending({ text: content, name: file.name });
          try {
            said.push(`${file.name}: ${await log(content, file.name)}`);
          } catch (error) {
            throw error instanceof Refused ? new Error(`${file.name}: ${error.message}`) : error;
          }
        } else {
          if (file.size > PHOTO_MOST)
            throw new Error(
              `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; a photo has at most 32 MB. Save it smaller.`,
            );
          const kept = await keepFile(file, { name: file.name.slice(-120) });
          if (kept.kind !== "photo") throw new Error(`${file.name} is no photo and no temperature log.`);
          await onPhoto(kept.sha256);
          said.push(`${file.name}: photo kept.`);
        }
      }
      return said.join(" ");
    });
  return (
    <div
      className="mt-3 border border-dashed border-slate p-3 text-[13px]"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void take(event.dataTransfer.files);
      }}
    >
      <p>
        Drop photos and temperature logs (CSV) here, or{" "}
        <button className="quiet" onClick={() => input.current?.click()}>
          choose files
        </button>
        .
      </p>
      <input
        ref={input}
        type="file"
        multiple
        accept="image/*,.csv,.txt,.tsv"
        className="hidden"
        aria-label="Photos and temperature logs"
        onChange={(event) => {
          void take(event.target.files).then(() => {
            event.target.value = "";
          });
        }}
      />
      {pours.length > 1 ? (
        <label className="block mt-1">
          a log belongs to{" "}
          <select className="box" value={chosen} onChange={(event) => setPour(Number(event.target.value))}>
            {pours.map(([number, called]) => (
              <option key={number} value={number}>
                {called}
              </option>
            ))}
          </select>
        </label>
      ) : null}
      {pending ? (
        <div className="grid grid-cols-2 gap-2 mt-2">
          <label>
            the log began{" "}
            <input
              className="box"
              type="datetime-local"
              value={begins}
              onChange={(event) => setBegins(event.target.value)}
            />
          </label>
          <label>
            its clock is off by, hours{" "}
            <input className="box" value={shift} onChange={(event) => setShift(event.target.value)} />
          </label>
          <button
            className="quiet text-left"
            onClick={() => void attempt(async () => log(pending.text, pending.name))}
          >
            Take {pending.name} in with this
          </button>
        </div>
      ) : null}
    </div>
  );
}

/** What the runs taught and this plan uses: before and after. */
function LearnedHere({ pieceId, revision, edits }: { pieceId: number; revision: number; edits: Edits }) {
  const { units } = useUnits();
  const found = useQuery({
    queryKey: ["learned", "piece", pieceId, revision],
    queryFn: () => learnedForPiece(pieceId),
  });
  if (!found.data) return null;
  const { taken, compared } = found.data;
  const shown = (value: number | null | undefined, quantity: string) =>
    value === null || value === undefined
      ? "–"
      : quantity === "count"
        ? String(value)
        : text(value, quantity, units);
  return (
    <section className="mt-5 border-t border-line pt-3" aria-label="Learned">
      <h2>What this plan has learned</h2>
      {taken.length ? (
        <>
          <ul className="list-disc pl-5 text-[13px]">
            {taken.map((one) => (
              <li key={one.code + one.key}>{one.says}</li>
            ))}
          </ul>
          <table className="plain mt-2" aria-label="Before and after">
            <thead>
              <tr>
                <th>
                  <span className="sr-only">what</span>
                </th>
                <th className="text-right">typical</th>
                <th className="text-right">learned</th>
              </tr>
            </thead>
            <tbody>
              {compared.map((one) => (
                <tr key={one.name}>
                  <th scope="row" className="font-normal!">
                    {one.name}
                  </th>
                  <td className="text-right whitespace-nowrap">{shown(one.before, one.quantity)}</td>
                  <td className="text-right font-semibold whitespace-nowrap">
                    {shown(one.after, one.quantity)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : (
        <p className="text-[13px] text-slate">
          Nothing yet: from three runs up, and only where nothing was measured.
        </p>
      )}
      {(found.data.advice ?? []).map((one) => (
        <p key={one.pointer} className="text-[13px] mt-1">
          {one.says}.{" "}
          <button
            className="quiet"
            onClick={() =>
              void edits.edit("learned value", (piece) => withLearned(piece, one.pointer, one.value))
            }
          >
            Take it into this piece
          </button>
        </p>
      ))}
      <Link className="quiet" to="/logbook/learned">
        All that was learned
      </Link>
    </section>
  );
}
