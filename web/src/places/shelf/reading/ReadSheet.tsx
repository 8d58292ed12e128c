/** Reads a data sheet that was dropped: each value beside its place on the page, taken, corrected or left by one key.
 *  Nothing counts before. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { keepFile, readSheet } from "../../../api/operations.generated";
import {
  conditionsOf,
  doubtsOf,
  isSure,
  nameOf,
  productsOf,
  rowAt,
  valueOf,
  type Reading,
  type Row,
} from "../../../domain/sheet-reading";
import { complaint, FileDrop } from "../../../ui/FileDrop";
import { HazardsOffered } from "./Hazards";
import { PutOnShelf, type Decision } from "./PutOnShelf";
import { SheetPage } from "./SheetPage";

const SHEETS = ".pdf,.html,.htm,.txt,image/*";

export function ReadSheet() {
  const { sha } = useParams();
  return sha ? <OpenSheet key={sha} sha={sha} /> : <DropSheet />;
}

export function DropSheet() {
  const navigate = useNavigate();
  const search = useLocation().search; // of a piece it is read for
  const [pasted, setPasted] = useState("");
  const [problem, setProblem] = useState("");
  const paste = async () => {
    try {
      const kept = await keepFile(new Blob([pasted], { type: "text/plain" }), { name: "pasted.sheet" });
      navigate(`/shelf/read/${kept.sha256}${search}`);
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <section className="px-7 py-3 max-w-[820px] max-sm:px-3" aria-label="Read a data sheet">
      <h2 className="text-[25px]">Read my data sheet</h2>
      <p className="mt-1 mb-3">
        Drop the technical data sheet of your resin: a PDF, a saved web page, or a photo of a page. It stays
        on this computer. Each value is shown beside its place on the page; nothing counts before you take it.
        A photo is read with gaps and slips: compare each of its values.
      </p>
      <FileDrop
        label="Choose a data sheet"
        accept={SHEETS}
        onKept={(kept) => navigate(`/shelf/read/${kept.sha256}${search}`)}
      />
      <label className="label mt-4 block" htmlFor="pasted-sheet">
        or paste its text
      </label>
      <textarea
        id="pasted-sheet"
        className="box h-40"
        value={pasted}
        onChange={(event) => setPasted(event.target.value)}
      />
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <button className="key mt-2" disabled={!pasted.trim()} onClick={() => void paste()}>
        Read this text
      </button>
    </section>
  );
}

function OpenSheet({ sha }: { sha: string }) {
  const reading = useQuery({ queryKey: ["sheet", sha], queryFn: () => readSheet(sha), retry: false });
  if (reading.isPending) return <p className="px-7 py-5">Reading the sheet …</p>;
  if (reading.error)
    return (
      <section className="px-7 py-3 max-sm:px-3">
        <p role="alert" className="text-rust font-medium">
          {complaint(reading.error)}
        </p>
        <Link className="quiet" to="/shelf/read">
          Drop another
        </Link>
      </section>
    );
  return <Confirming reading={reading.data} />;
}

const needsPart = (row: Row) => row.found.quantity === "density" && !row.found.part;

/** Of use to a plan; a ratio only once its basis is said, a density once it is said of which part. */
const mayBeTaken = (row: Row, decision: Decision | undefined) =>
  needsPart(row)
    ? !!decision?.part
    : row.fields.length > 0 && (row.found.quantity !== "ratio" || !!(row.found.basis || decision?.basis));

function Confirming({ reading }: { reading: Reading }) {
  const [decided, setDecided] = useState<Record<number, Decision>>({});
  const opened = useOpenedLine(reading);
  const [product, setProduct] = useState(() => opened?.found.product || (productsOf(reading.rows)[0] ?? ""));
  const rows = reading.rows.filter((row) => !row.found.product || row.found.product === product);
  const [number, setNumber] = useState((opened ?? rows[0])?.number);
  const place = Math.max(
    0,
    rows.findIndex((row) => row.number === number),
  );
  const at = rows[place];
  const go = (step: number) => setNumber(rows[Math.min(rows.length - 1, Math.max(0, place + step))]?.number);
  const decide = (row: Row, decision: Decision) => setDecided((now) => ({ ...now, [row.number]: decision }));
  const form = useRef<HTMLFormElement>(null);
  const takeSure = () =>
    setDecided((now) => ({
      ...Object.fromEntries(
        rows
          .filter((row) => isSure(row, row.found.product ? product : ""))
          .map((row) => [row.number, { state: "taken" }]),
      ),
      ...now,
    }));
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const inField = (event.target as HTMLElement).closest("input, textarea, select, button, a");
      if (inField || event.metaKey || event.ctrlKey || event.altKey || !at) return;
      const keys: Record<string, () => void> = {
        j: () => go(1),
        k: () => go(-1),
        a: takeSure,
        p: () => form.current?.requestSubmit(),
        Enter: () => {
          if (mayBeTaken(at, decided[at.number])) decide(at, { ...decided[at.number], state: "taken" });
          go(1);
        },
        x: () => {
          decide(at, { state: "left" });
          go(1);
        },
      };
      keys[event.key]?.();
      if (keys[event.key]) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const taken = rows.filter((row) => decided[row.number]?.state === "taken");
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-6 px-7 py-3 max-lg:block max-sm:px-3">
      <div
        className="lg:max-h-[calc(100vh-24px)] lg:overflow-y-auto lg:sticky lg:top-3 lg:self-start"
        tabIndex={0}
        aria-label="The sheet"
      >
        {reading.pages.map((page) => (
          <SheetPage
            key={page.number}
            reading={reading}
            page={page}
            at={at}
            onChoose={(row) => setNumber(row.number)}
          />
        ))}
      </div>
      <section aria-label="What it says">
        <h2 className="text-[25px]">What the sheet says</h2>
        <About reading={reading} rows={rows} />
        {reading.left_out ? (
          <p role="note" className="border-l-4 border-straw pl-3 my-2">
            It is a scan of {reading.pages.length + reading.left_out} pages, and the first{" "}
            {reading.pages.length} were read. Drop the others as a file of their own.
          </p>
        ) : null}
        <HazardsOffered reading={reading} />
        {rows.length ? (
          <>
            <Products reading={reading} product={product} onChange={setProduct} />
            <p className="no-print text-[13px] text-slate max-sm:hidden">
              <kbd>J</kbd> <kbd>K</kbd> down and up, <kbd>Enter</kbd> takes, <kbd>X</kbd> leaves, <kbd>A</kbd>{" "}
              takes all that are sure, <kbd>P</kbd> puts it on the shelf
            </p>
            <button className="key mt-2" onClick={takeSure}>
              Take all that are sure
            </button>
            <ol className="rule mt-3" aria-label="Values found">
              {rows.map((row) => (
                <FoundLine
                  key={row.number}
                  row={row}
                  isHere={row === at}
                  decision={decided[row.number]}
                  onHere={() => setNumber(row.number)}
                  onDecide={(decision) => decide(row, decision)}
                />
              ))}
            </ol>
            <PutOnShelf formRef={form} reading={reading} taken={taken} decided={decided} product={product} />
          </>
        ) : null}
      </section>
    </div>
  );
}

/** The line that a figure's working leads to. */
function useOpenedLine(reading: Reading): Row | undefined {
  const at = useSearchParams()[0];
  const page = Number(at.get("page"));
  return page ? rowAt(reading, page, Number(at.get("down")), Number(at.get("right"))) : undefined;
}

function About({ reading, rows }: { reading: Reading; rows: Row[] }) {
  if (reading.document === "safety data sheet")
    return (
      <p role="alert" className="border-l-4 border-rust pl-3 my-2">
        This is a safety data sheet: it says how to protect yourself, not how the resin cures. Its cautions
        are below; drop the technical data sheet for the values.
      </p>
    );
  if (reading.document === "other" || !rows.length)
    return (
      <p role="alert" className="border-l-4 border-straw pl-3 my-2">
        Little on it looks like a casting or coating resin. Is it the technical data sheet?
      </p>
    );
  const sure = rows.filter((row) => row.found.sure === "sure").length;
  return (
    <p className="my-1">
      {rows.length} values found, {sure} of them sure.
    </p>
  );
}

function Products({
  reading,
  product,
  onChange,
}: {
  reading: Reading;
  product: string;
  onChange: (one: string) => void;
}) {
  const products = productsOf(reading.rows);
  if (products.length < 2) return null;
  return (
    <fieldset className="my-2">
      <legend className="label">It is for several products. Which is yours?</legend>
      {products.map((one) => (
        <label key={one} className="mr-4">
          <input type="radio" name="product" checked={one === product} onChange={() => onChange(one)} /> {one}
        </label>
      ))}
    </fieldset>
  );
}

const SURE = { sure: "sure", likely: "likely", unsure: "not sure" };

function FoundLine({
  row,
  isHere,
  decision,
  onHere,
  onDecide,
}: {
  row: Row;
  isHere: boolean;
  decision: Decision | undefined;
  onHere: () => void;
  onDecide: (decision: Decision) => void;
}) {
  const needsBasis = row.found.quantity === "ratio" && !row.found.basis;
  const taken = decision?.state === "taken";
  return (
    <li
      aria-current={isHere ? "true" : undefined}
      className={`py-1.5 pl-2 border-l-4 ${isHere ? "border-spruce bg-spruce-soft" : "border-transparent"}`}
      onFocus={onHere}
    >
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="text-slate min-w-40">{nameOf(row)}</span>
        <input
          aria-label={nameOf(row)}
          className="box w-36! tabular-nums"
          readOnly={!row.fields.length && !needsPart(row)}
          defaultValue={decision?.as_typed ?? row.found.as_typed}
          onChange={(event) => onDecide({ ...decision, state: "taken", as_typed: event.target.value })}
        />
        {needsBasis ? (
          <select
            aria-label="by volume or by weight"
            className="box w-auto!"
            value={decision?.basis ?? ""}
            onChange={(event) =>
              onDecide({
                ...decision,
                state: event.target.value ? "taken" : "left",
                basis: event.target.value,
              })
            }
          >
            <option value="">by …?</option>
            <option value="volume">by volume</option>
            <option value="weight">by weight</option>
          </select>
        ) : null}
        {needsPart(row) ? (
          <select
            aria-label="of which part"
            className="box w-auto!"
            value={decision?.part ?? ""}
            onChange={(event) =>
              onDecide({
                ...decision,
                state: event.target.value ? "taken" : "left",
                part: event.target.value,
              })
            }
          >
            <option value="">of …?</option>
            <option value="a">of A</option>
            <option value="b">of B</option>
            <option value="mix">of the mix</option>
          </select>
        ) : null}
        <span className="text-[13px]">
          {needsBasis ? "" : valueOf(row).replace(row.found.as_typed, "").trim()}
        </span>
        <span className="text-[13px]">{conditionsOf(row)}</span>
        <span className={row.fields.length || needsPart(row) ? "ml-auto flex gap-3" : "hidden"}>
          <button
            className={taken ? "quiet font-semibold" : "quiet"}
            aria-pressed={taken}
            disabled={!mayBeTaken(row, decision)}
            onClick={() => onDecide({ ...decision, state: "taken" })}
          >
            {taken ? "✓ taken" : "Take"}
          </button>
          <button
            className="quiet"
            aria-pressed={decision?.state === "left"}
            onClick={() => onDecide({ state: "left" })}
          >
            {decision?.state === "left" ? "left out" : "Leave"}
          </button>
        </span>
      </div>
      <p className={`text-[12.5px] ${row.found.sure === "sure" ? "text-slate" : "text-rust"}`}>
        {SURE[row.found.sure]}: read “{row.found.written}”
        {row.fields.length || needsPart(row) ? "" : "; kept with the sheet, no plan computes with it"}
        {doubtsOf(row).map((one) => (
          <span key={one}>; {one}</span>
        ))}
      </p>
    </li>
  );
}
