/** What was taken of a sheet goes on the shelf: as a new system, or as a new edition of one, with what that changes. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import {
  previewTaken,
  readClasses,
  readPiece,
  savePiece,
  takeSheet,
} from "../../../api/operations.generated";
import { useEverythingAnew, useShelf } from "../../../api/queries";
import type { Schemas } from "../../../api/client";
import { conditionsOf, missing, nameOf, type Reading, type Row } from "../../../domain/sheet-reading";
import { fieldName } from "../../../domain/system-fields";
import { freshId } from "../../../domain/shapes";
import { complaint } from "../../../ui/FileDrop";
import { Waiting } from "../../../ui/states";
import { Verdicts } from "../../../ui/Verdicts";

export interface Decision {
  state: "taken" | "left";
  as_typed?: string;
  basis?: string;
  part?: string;
}

export function PutOnShelf({
  reading,
  taken,
  decided,
  product,
  formRef,
}: {
  formRef: React.RefObject<HTMLFormElement | null>;
  reading: Reading;
  taken: Row[];
  decided: Record<number, Decision>;
  product: string;
}) {
  const classes = useQuery({ queryKey: ["classes"], queryFn: () => readClasses() });
  const shelf = useShelf();
  const anew = useEverythingAnew();
  const navigate = useNavigate();
  const forPiece = useSearchParams()[0].get("for");
  const [name, setName] = useState(product);
  const [like, setLike] = useState(`class ${reading.nearest}`);
  const called = (part: string) => reading.names.find((one) => one.part === part)?.name ?? "";
  const [names, setNames] = useState({ a: called("a"), b: called("b") });
  const [problem, setProblem] = useState("");
  const [isPut, setPut] = useState(false); // on its way, or there: nothing is previewed any more
  if (!classes.data || !shelf.data) return <Waiting error={classes.error ?? shelf.error} what="the shelf" />;
  const sheets = classes.data.sheets;
  const known = shelf.data.find((sheet) => `edition ${sheet.system.id}` === like);
  const silent = missing(taken);
  const id =
    known?.system.id ??
    freshId(
      "system",
      shelf.data.map((sheet) => sheet.system.id),
    );
  const body: Schemas["TakeSheetBody"] = {
    name: name.trim() || known?.system.name || "My resin",
    system_id: id,
    like: known ? null : like.replace("class ", ""),
    name_a: names.a.trim() || null,
    name_b: names.b.trim() || null,
    taken: taken.map((row) => ({
      number: row.number,
      as_typed: decided[row.number]?.as_typed ?? null,
      basis: decided[row.number]?.basis ?? null,
      part: decided[row.number]?.part ?? null,
    })),
  };
  const put = async () => {
    try {
      if (!taken.length) return setProblem("Take a value first.");
      setPut(true);
      await takeSheet(reading.file, body);
      if (forPiece) await chooseFor(Number(forPiece), id);
      await anew();
      navigate(forPiece ? `/pieces/${forPiece}/resin` : `/shelf/${id}`);
    } catch (error) {
      setPut(false);
      setProblem(complaint(error));
    }
  };
  return (
    <form
      ref={formRef}
      className="mt-5 border-t border-ink pt-3 grid gap-2 max-w-[460px]"
      aria-label="Put it on the shelf"
      onSubmit={(event) => {
        event.preventDefault();
        void put();
      }}
    >
      <label className="label" htmlFor="sheet-name">
        what you call it
      </label>
      <input id="sheet-name" className="box" value={name} onChange={(event) => setName(event.target.value)} />
      {(["a", "b"] as const).map((part) => (
        <div key={part}>
          <label className="label" htmlFor={`sheet-name-${part}`}>
            what its maker calls part {part.toUpperCase()}, if anything
          </label>
          <input
            id={`sheet-name-${part}`}
            className="box"
            value={names[part]}
            maxLength={120}
            onChange={(event) => setNames({ ...names, [part]: event.target.value })}
          />
        </div>
      ))}
      <label className="label" htmlFor="sheet-like">
        what the sheet does not say is typical of
      </label>
      <select id="sheet-like" className="box" value={like} onChange={(event) => setLike(event.target.value)}>
        {sheets.map((sheet) => (
          <option key={sheet.system.id} value={`class ${sheet.system.id}`}>
            {sheet.system.name}
          </option>
        ))}
        {shelf.data.length ? (
          <optgroup label="or it is a new edition of a sheet on the shelf">
            {shelf.data.map((sheet) => (
              <option key={sheet.system.id} value={`edition ${sheet.system.id}`}>
                {sheet.system.name}
              </option>
            ))}
          </optgroup>
        ) : null}
      </select>
      {taken.length && silent.length ? (
        <p className="text-[13px] text-slate">
          Not on the sheet, or not taken, so typical: {silent.join(", ")}.
        </p>
      ) : null}
      {taken.length && !isPut ? (
        <Preview file={reading.file} body={body} rows={taken} isEdition={!!known} />
      ) : null}
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <button className="key" disabled={!taken.length}>
        {forPiece ? "Plan the piece with it:" : "Put it on the shelf with"} {taken.length}{" "}
        {taken.length === 1 ? "value" : "values"}
      </button>
    </form>
  );
}

/** The piece that somebody came from is planned with it. */
async function chooseFor(pieceId: number, system_id: string) {
  const { revision, piece } = await readPiece(pieceId);
  await savePiece(pieceId, {
    base_revision: revision,
    piece: {
      ...piece,
      system_id,
      layering: !piece.layering || piece.layering === "own" ? "fewest" : piece.layering,
    },
    what: "resin system",
  });
}

/** What taking would change, before it is done. */
function Preview({
  file,
  body,
  rows,
  isEdition,
}: {
  file: string;
  body: Schemas["TakeSheetBody"];
  rows: Row[];
  isEdition: boolean;
}) {
  const preview = useQuery({
    queryKey: ["sheet-preview", file, body.system_id, body.like, body.taken],
    queryFn: () => previewTaken(file, body),
    placeholderData: (before) => before,
    retry: false,
  });
  if (preview.error) return <p className="text-[13px] text-rust">{complaint(preview.error)}</p>;
  if (!preview.data) return null;
  const { changes, pieces, unused, verdicts } = preview.data;
  const idle = rows.filter((row) => unused.includes(row.number));
  return (
    <div aria-label="What it changes" role="group" className="grid gap-2">
      {idle.map((row) => (
        <p key={row.number} className="text-[13px] text-rust">
          Not used: {[nameOf(row), row.found.as_typed, conditionsOf(row)].filter(Boolean).join(" ")}. Another
          value taken stands in its place: leave out the one that is not yours.
        </p>
      ))}
      {isEdition ? (
        changes.length ? (
          <table className="plain">
            <caption className="text-left font-semibold pb-1">
              What this edition changes ({changes.length})
            </caption>
            <thead>
              <tr>
                <th scope="col">value</th>
                <th scope="col">on the shelf</th>
                <th scope="col">new</th>
              </tr>
            </thead>
            <tbody>
              {changes.map((one) => (
                <tr key={one.field}>
                  <th scope="row" className="font-normal!">
                    {fieldName(one.field)}
                  </th>
                  <td>{one.before || "not said"}</td>
                  <td className="font-semibold">{one.after || "not said"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <p className="text-[13px]">Nothing of it differs from the sheet on the shelf.</p>
        )
      ) : null}
      {isEdition && changes.length ? (
        <p className="text-[13px]">
          {pieces.length ? (
            <>
              {pieces.length === 1 ? "One piece is" : `${pieces.length} pieces are`} planned with it, and{" "}
              {pieces.length === 1 ? "is" : "are"} worked out anew:{" "}
              {pieces.map((one, index) => (
                <span key={one.id}>
                  {index ? ", " : ""}
                  <Link className="quiet" to={`/pieces/${one.id}`}>
                    {one.name}
                  </Link>
                </span>
              ))}
              .
            </>
          ) : (
            "No piece is planned with it."
          )}
        </p>
      ) : null}
      <Verdicts verdicts={verdicts} title="Doubts about this sheet" />
    </div>
  );
}
